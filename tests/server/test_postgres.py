"""What is only so on PostgreSQL: its rows in a backup, and the way from and to SQLite."""

from __future__ import annotations

import tempfile
import threading
import time
import unittest
from pathlib import Path

from django.test import SimpleTestCase

from tests.process import POSTGRES, RealServer
from tests.server.test_killed import Poster

QUESTION = "SELECT {} FROM work_event ORDER BY id"
WHOLE = "every record is as it was written"


@unittest.skipUnless(POSTGRES, "it needs PostgreSQL: python -m tests.postgres")
class Carried(SimpleTestCase):
    def setUp(self):
        place = tempfile.TemporaryDirectory()
        self.addCleanup(place.cleanup)
        self.into = Path(place.name)
        self.server = self.another()
        self.server.seed("tests.seed")

    def another(self, *, sqlite: bool = False) -> RealServer:
        server = RealServer()
        self.addCleanup(server.close)
        if sqlite:
            del server.environment["VERIFYLOOP_DATABASE"]
        return server

    def backup(self, server: RealServer) -> Path:
        said = server.manage("backup", str(self.into))
        self.assertEqual(said.returncode, 0, said.stderr)
        return Path(said.stdout.split(":")[0])

    def restored(self, folder: Path, *, sqlite: bool) -> RealServer:
        """Restore a backup on another machine, to which the keys came by another way."""
        server = self.another(sqlite=sqlite)
        server.keys.write_bytes(self.server.keys.read_bytes())
        said = server.manage("restore", str(folder))
        self.assertEqual(said.returncode, 0, said.stdout + said.stderr)
        self.assertIn(WHOLE, said.stdout)
        return server

    def work(self) -> Poster:
        """Let somebody work until the plug is pulled."""
        self.server.start()
        poster = Poster(self.server.address)
        poster.sign_in()
        job = poster.call("jobs", {"tag": "PT-1"})["job"]
        self.worker = threading.Thread(target=poster.post_until_it_dies, args=(job,))
        self.worker.start()
        return poster

    def test_a_backup_under_load_holds_all_that_was_acknowledged(self):
        poster = self.work()
        time.sleep(2)
        known = set(poster.acknowledged)
        folder = self.backup(self.server)
        self.server.kill()
        self.worker.join(30)
        self.assertGreater(len(known), 5)
        back = self.restored(folder, sqlite=False)
        there = {str(row[0]) for row in back.rows(QUESTION.format("uuid"))}
        self.assertLessEqual(known, there)

    def test_a_site_moves_from_one_to_the_other_and_goes_on(self):
        self.work()
        time.sleep(0.5)
        self.server.kill()
        self.worker.join(30)
        first = self.backup(self.server)
        small = self.restored(first, sqlite=True)
        time.sleep(1.1)
        large = self.restored(self.backup(small), sqlite=False)
        self.assertEqual(
            self.server.rows(QUESTION.format("seq, payload, seal")),
            large.rows(QUESTION.format("seq, payload, seal")),
        )
        large.start()
        poster = Poster(large.address)
        poster.sign_in()
        self.assertTrue(poster.call("jobs", {"tag": "PT-2"})["job"])

    def test_nothing_is_put_over_what_is_there(self):
        folder = self.backup(self.server)
        said = self.server.manage("restore", str(folder))
        self.assertEqual(said.returncode, 1)
        self.assertIn("Restore into an empty one", said.stderr)
