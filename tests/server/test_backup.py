"""The drill: a backup is made while work goes on, the data are lost, and the copy is put back."""

from __future__ import annotations

import hashlib
import json
import shutil
import sqlite3
import tempfile
import threading
import time
from datetime import timedelta
from pathlib import Path

from django.test import SimpleTestCase
from django.utils import timezone

from tests.databases import on_sqlite
from tests.long import several
from tests.process import RealServer
from tests.server.test_killed import Poster
from verifyloop.records.backup import (
    DATA,
    MANIFEST,
    BackupError,
    back_up,
    copy_keys,
    restore,
)


@on_sqlite
class Drill(SimpleTestCase):
    def setUp(self):
        place = tempfile.TemporaryDirectory()
        self.addCleanup(place.cleanup)
        self.into = Path(place.name)
        self.server = RealServer()
        self.addCleanup(self.server.close)
        self.server.seed("tests.seed")

    def stored(self, database):
        with sqlite3.connect(database) as store:
            rows = store.execute("SELECT uuid FROM work_event").fetchall()
        return {row[0].replace("-", "") for row in rows}

    def test_nothing_that_was_acknowledged_is_lost(self):
        self.server.start()
        posters = []
        for tag in ("PT-1", "PT-2"):
            poster = Poster(self.server.address)
            poster.sign_in()
            job = poster.call("jobs", {"tag": tag})["job"]
            worker = threading.Thread(target=poster.post_until_it_dies, args=(job,))
            worker.start()
            posters.append((poster, worker))
        backups = []
        for _ in range(several(full=3, small=1)):
            time.sleep(1.5)
            known = {id.replace("-", "") for p, _ in posters for id in set(p.acknowledged)}
            said = self.server.manage("backup", str(self.into), "--keys", str(self.into / "apart"))
            self.assertEqual(said.returncode, 0, said.stderr)
            backups.append((Path(said.stdout.split(":")[0]), known))
        self.server.kill()
        for poster, worker in posters:
            worker.join(timeout=30)
            self.assertGreater(len(poster.acknowledged), 5)
        for folder, known in backups:
            with self.subTest(folder.name):
                self.assertGreater(len(known), 0)
                for end in ("", "-wal", "-shm"):
                    Path(f"{self.server.database}{end}").unlink(missing_ok=True)
                said = self.server.manage("restore", str(folder))
                self.assertEqual(said.returncode, 0, said.stdout + said.stderr)
                self.assertIn("every record is as it was written", said.stdout)
                self.assertLessEqual(known, self.stored(self.server.database))

    def test_a_copy_that_nobody_could_verify_is_not_put_into_place(self):
        """Into a new folder, and the keys are not there yet: told, and nothing is written."""
        folder = back_up(self.server.database, self.into, timezone.now()).folder
        new = RealServer()
        self.addCleanup(new.close)
        said = new.manage("restore", str(folder))
        self.assertNotEqual(said.returncode, 0)
        self.assertIn("Bring them back", said.stderr)
        # A start makes the secret of its cookies, whatever it is for.
        self.assertLessEqual({p.name for p in Path(new.folder).iterdir()}, {"secret.key"})
        shutil.copy(self.server.keys, new.keys)
        said = new.manage("restore", str(folder))
        self.assertEqual(said.returncode, 0, said.stdout + said.stderr)

    def attached(self):
        """Attachments go with their database, and one that was changed stops the backup."""
        content = b"a paper"
        digest = hashlib.sha256(content).hexdigest()
        there = self.into / "there"
        place = there / digest[:2] / digest
        place.parent.mkdir(parents=True)
        place.write_bytes(content)
        with sqlite3.connect(self.server.database) as store:
            store.execute(
                "INSERT INTO files_attachment (about, key, name, kind, size, digest, note, by, at,"
                " removed, removed_by, on_paper, account) VALUES ('job', 'J', 'a.txt', 'txt', 7, ?,"
                " '', 'Ana', '2026-01-01', '', '', 0, 'ana')",
                (digest,),
            )
        now = timezone.now() + timedelta(seconds=5)
        copied = back_up(self.server.database, self.into, now, attachments=there)
        self.assertEqual(copied.files, 1)
        back = self.into / "back"
        back.mkdir()
        restore(copied.folder, back / "new.sqlite3", back / "attachments")
        self.assertEqual((back / "attachments" / digest[:2] / digest).read_bytes(), content)
        place.write_bytes(b"another")
        with self.assertRaisesMessage(BackupError, "not as it was kept"):
            back_up(self.server.database, self.into, now + timedelta(seconds=5), attachments=there)

    def test_nothing_that_is_there_is_overwritten_and_a_changed_copy_is_refused(self):
        folder = back_up(self.server.database, self.into, timezone.now()).folder
        with self.assertRaisesMessage(BackupError, "move it away"):
            restore(folder, self.server.database)
        self.assertFalse((folder / "seal.keys").exists())
        elsewhere = self.into / "new.sqlite3"
        for change in ("data", "manifest", "line"):
            with self.subTest(change):
                bad = self.into / change
                shutil.copytree(folder, bad)
                if change == "data":
                    (bad / DATA).write_bytes((bad / DATA).read_bytes()[:-1] + b"x")
                elif change == "manifest":
                    (bad / MANIFEST).write_text("{")
                else:
                    manifest = json.loads((bad / MANIFEST).read_text())
                    manifest["register_line"] += 1
                    (bad / MANIFEST).write_text(json.dumps(manifest))
                with self.assertRaises(BackupError):
                    restore(bad, elsewhere)
                self.assertFalse(elsewhere.exists())
        self.attached()
        with self.assertRaisesMessage(BackupError, "do not go together"):
            copy_keys(self.server.keys, folder / "keys")
