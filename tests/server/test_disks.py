"""Disks that are full or read-only, and migrations that are killed on their way."""

from __future__ import annotations

import errno
import os
import random
import shutil
import sqlite3
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from unittest import mock, skipUnless

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import SimpleTestCase
from django.utils import timezone

from tests.process import POSTGRES, RealServer
from tests.server.base import ApiCase
from verifyloop.files.models import Attachment
from verifyloop.records.backup import BackupError, back_up

LONG = bool(os.environ.get("VERIFYLOOP_LONG"))
ROOT = Path(__file__).resolve().parents[2]


class Full(ApiCase):
    def setUp(self):
        super().setUp()
        place = tempfile.TemporaryDirectory()
        self.addCleanup(place.cleanup)
        self.folder = Path(place.name)
        beside = self.settings(DATA_DIR=self.folder)
        beside.enable()
        self.addCleanup(beside.disable)

    def test_while_a_file_is_sent_it_is_said_and_no_half_is_left(self):
        for number, code in (
            (errno.ENOSPC, "storage.full"),
            (errno.EDQUOT, "storage.full"),
            (errno.EROFS, "storage.read_only"),
            (errno.EIO, "storage.damaged"),
        ):
            with (
                self.subTest(code),
                mock.patch("verifyloop.files.services.os.fsync", side_effect=OSError(number, "x")),
            ):
                sent = {"file": SimpleUploadedFile("a.txt", b"plain text")}
                said = self.must(self.ana.post("/api/v1/files/instrument/PT-1", sent), 503)
                self.assertEqual(said["code"], code)
                self.assertTrue(said["remedy"])
        self.assertFalse(Attachment.objects.exists())
        self.assertEqual([p for p in self.folder.rglob("*.half")], [])

    def test_while_a_large_file_comes_in(self):
        """Before anything of the product sees it: where the server keeps what is coming."""
        with mock.patch(
            "django.core.files.uploadedfile.TemporaryUploadedFile.__init__",
            side_effect=OSError(errno.ENOSPC, "No space left on device"),
        ):
            sent = {"file": SimpleUploadedFile("a.txt", b"x" * 5_000_000)}
            said = self.must(self.ana.post("/api/v1/files/instrument/PT-1", sent), 503)
        self.assertEqual(said["code"], "storage.full")


@skipUnless(not POSTGRES, "about the file of SQLite")
class Files(SimpleTestCase):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.server = RealServer()
        cls.addClassCleanup(cls.server.close)
        cls.server.seed("tests.seed")

    def test_a_backup_that_fails_leaves_nothing(self):
        with tempfile.TemporaryDirectory() as into:
            full = OSError(errno.ENOSPC, "No space left on device")
            with (
                mock.patch("verifyloop.records.backup._flush", side_effect=full),
                self.assertRaisesMessage(BackupError, "No space left"),
            ):
                back_up(self.server.database, Path(into), timezone.now())
            self.assertEqual(list(Path(into).iterdir()), [])
            made = back_up(self.server.database, Path(into), timezone.now())
            self.assertEqual(list(Path(into).iterdir()), [made.folder])

    @skipUnless(os.geteuid() == 0 and shutil.which("setpriv"), "gives up writing everywhere")
    def test_on_a_disk_that_is_read_only_everything_is_still_read(self):
        # A copy: beside the file of a database that was opened lies its journal.
        alone = RealServer()
        self.addCleanup(alone.close)
        shutil.copy(self.server.database, alone.database)
        shutil.copy(self.server.keys, alone.keys)
        # As root, but without the right to write where modes forbid it.
        said = subprocess.run(
            ["setpriv", "--bounding-set=-dac_override", sys.executable, "-c", READS],
            cwd=ROOT,
            env=alone.environment,
            capture_output=True,
            text=True,
            check=False,
        )
        self.assertEqual(said.returncode, 0, said.stdout + said.stderr)
        self.assertIn("all was read", said.stdout)


READS = """
import os
import django
django.setup()
from django.conf import settings
from django.db import close_old_connections, connection
from django.test import Client
from verifyloop.accounts.models import User

settings.ALLOWED_HOSTS.append("testserver")
client = Client()
client.force_login(User.objects.get(username="ana"))
session = client.get("/api/v1/session").json()
connection.close()
folder = settings.DATA_DIR
before = os.stat(folder).st_mode
names = [os.path.join(folder, n) for n in os.listdir(folder)]
assert not [n for n in names if n.endswith("-wal")], names
try:
    for name in names:
        os.chmod(name, 0o444)
    os.chmod(folder, 0o555)
    for path in ("session", "today", "safety", "instruments", "instruments/PT-1", "tokens",
                 "records", "site/choices", "lists", "methods", "find?q=PT"):
        answer = client.get(f"/api/v1/{path}")
        assert answer.status_code == 200, (path, answer.content[:300])
    token = {"HTTP_X_CSRFTOKEN": session["csrf_token"]}
    answer = client.post("/api/v1/jobs", {"tag": "PT-1"}, "application/json", **token)
    assert answer.json()["code"] == "storage.read_only", answer.content[:300]
finally:
    os.chmod(folder, before)
    for name in names:
        os.chmod(name, 0o600)
# As at the end of each request to a real server.
close_old_connections()
answer = client.post("/api/v1/jobs", {"tag": "PT-1"}, "application/json", **token)
assert answer.status_code == 200, answer.content[:300]
print("all was read")
"""


@skipUnless(not POSTGRES, "about the file of SQLite")
class Killed(SimpleTestCase):
    """A migration that is killed anywhere is done, or is not: it is never half done."""

    def migrating(self, folder):
        environment = {
            **os.environ,
            "VERIFYLOOP_DATA": folder,
            "DJANGO_SETTINGS_MODULE": "tests.settings",
        }
        return subprocess.Popen(
            [sys.executable, "manage.py", "migrate", "--verbosity", "2"],
            cwd=ROOT,
            env=environment,
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
        )

    def test_it_goes_on_afterwards(self):
        chance = random.Random("killed")
        with tempfile.TemporaryDirectory() as folder:
            for n in range(40 if LONG else 2):
                running = self.migrating(folder)
                seen = 0
                wanted = chance.randint(1, 60)
                for line in running.stdout:
                    seen += b"Applying" in line
                    if seen >= wanted:
                        break
                time.sleep(chance.random() * 0.05)
                running.kill()
                running.communicate()
                again = self.migrating(folder)
                said = again.communicate()[0].decode()
                with self.subTest(n=n, killed_at=wanted):
                    self.assertEqual(again.returncode, 0, said[-800:])
                    with sqlite3.connect(Path(folder) / "verifyloop.sqlite3") as store:
                        tables = store.execute("SELECT count(*) FROM work_event").fetchone()
                    self.assertEqual(tables, (0,))
                for name in os.listdir(folder):
                    (Path(folder) / name).unlink()
