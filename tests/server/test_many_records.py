"""Verifying and rebuilding a large store: by several processes, gone on with, in nobody's way."""

from __future__ import annotations

import sqlite3
import threading
from unittest import skipIf

from django.test import SimpleTestCase

from tests.process import POSTGRES, RealServer
from tests.server.test_at_once import devices, note

#: By as many processes as there are, in small pieces, told of each.
SMALL = """
import django; django.setup()
from django.core.management import call_command
from verifyloop.records.verify import many
many.FEW, many.CHUNK, many.TELL_S = 1, 2, 0
call_command("verify_records", *{arguments})
"""
JOBS = 7


class ManyRecords(SimpleTestCase):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.server = RealServer.of_class(cls)
        (cls.ana,) = devices(cls.server.address, 1)
        cls.jobs = [cls.ana.call("jobs", {"tag": f"PT-{n}"})["job"] for n in range(1, JOBS + 1)]

    def verify(self, *arguments):
        return self.server.python("-c", SMALL.format(arguments=list(arguments)))

    def test_several_processes_say_how_far_they_are_and_find_the_same(self):
        said = self.verify()
        self.assertEqual(said.returncode, 0, said.stdout + said.stderr)
        self.assertRegex(said.stderr, rf"2 of {JOBS} jobs, \d+\.\d min left")
        self.assertIn("every record is as it was written", said.stdout)

    def test_it_is_gone_on_with_behind_a_job(self):
        said = self.verify("--after", self.jobs[4])
        self.assertIn(f"of {JOBS - 5} jobs", said.stderr)

    @skipIf(POSTGRES, "changes the file of SQLite")
    def test_quick_looks_at_seals_and_does_not_make_anything_again(self):
        number = self.jobs[2]
        change = "UPDATE work_job SET step_title = ? WHERE number = ?"
        with sqlite3.connect(self.server.database) as store:
            before = store.execute(
                "SELECT step_title FROM work_job WHERE number = ?", [number]
            ).fetchone()[0]
            store.execute(change, ["Elsewhere", number])
        self.assertEqual(self.verify("--quick").returncode, 0)
        whole = self.verify()
        self.assertEqual(whole.returncode, 1)
        self.assertIn(f"{number} (PT-3): not as its events say: step_title", whole.stdout)
        done = self.server.manage("rebuild")
        self.assertIn("1 jobs differed", done.stdout)
        with sqlite3.connect(self.server.database) as store:
            (now,) = store.execute(
                "SELECT step_title FROM work_job WHERE number = ?", [number]
            ).fetchone()
        self.assertEqual(now, before)

    def test_people_go_on_writing_while_everything_is_made_again_and_looked_at(self):
        """And what they write meanwhile is not taken for tampering."""
        done = []

        def look():
            for command in ("rebuild", "verify_records", "verify_records", "rebuild"):
                said = self.server.manage(command)
                done.append((said.returncode, said.stdout))

        beside = threading.Thread(target=look)
        beside.start()
        job, seq = self.jobs[0], self.ana.call(f"jobs/{self.jobs[0]}")["seq"]
        written = 0
        while beside.is_alive():
            body = {"expected_seq": seq, "events": [note("meanwhile")]}
            seq = self.ana.call(f"jobs/{job}/events", body)["seq"]
            written += 1
        beside.join()
        self.assertEqual([code for code, _ in done], [0] * 4, done)
        self.assertGreater(written, 5)
        self.assertEqual(self.verify().returncode, 0)
