"""A disk that cannot be written, is full, or is damaged: said as such, and reading goes on."""

from __future__ import annotations

import json
import sqlite3
import urllib.error
import uuid

from django.db import connection
from django.test import SimpleTestCase

from tests.databases import on_sqlite
from tests.process import RealServer
from tests.server.base import ApiCase
from tests.server.test_killed import Poster
from tests.server.works import event


@on_sqlite
class Refuses(ApiCase):
    """SQLite's own refusals, brought about by its own settings."""

    def pragma(self, said):
        with connection.cursor() as cursor:
            cursor.execute(f"PRAGMA {said}")
            return cursor.fetchone()

    def told(self, code):
        job = self.job
        answer = self.send(job, event("noted", text="x" * 3000))
        self.assertEqual((answer.status_code, answer.json()["code"]), (503, code))
        self.assertIn("Nothing was stored", answer.json()["message"])
        self.must(self.ana.get(f"/api/v1/jobs/{job}"))

    def test_a_disk_that_cannot_be_written(self):
        self.job = self.open()
        self.pragma("query_only = 1")
        try:
            self.told("storage.read_only")
        finally:
            self.pragma("query_only = 0")

    def test_a_full_disk(self):
        self.job = self.open()
        self.pragma(f"max_page_count = {self.pragma('page_count')[0]}")
        try:
            for _ in range(20):
                answer = self.send(self.job, event("noted", text="x" * 3000))
                if answer.status_code != 200:
                    break
            self.told("storage.full")
        finally:
            self.pragma("max_page_count = 1073741823")


@on_sqlite
class Damaged(SimpleTestCase):
    """A page of the file is overwritten: that job is lost, all others are read."""

    def test_the_jobs_that_can_and_cannot_be_read_are_named(self):
        server = RealServer()
        self.addCleanup(server.close)
        server.seed("tests.seed")
        server.start()
        poster = Poster(server.address)
        poster.sign_in()
        jobs = [poster.call("jobs", {"tag": tag})["job"] for tag in ("PT-1", "PT-2")]
        for job in jobs:
            for n in range(12):
                self.note(poster, job, f"note {n} of {job} " + "z" * 2500)
        server.kill()
        self.overwrite(server.database, f"note 5 of {jobs[1]}")
        server.start()
        self.assertEqual(poster.call(f"jobs/{jobs[0]}")["job"], jobs[0])
        with self.assertRaises(urllib.error.HTTPError) as caught:
            poster.call(f"jobs/{jobs[1]}")
        self.assertEqual(caught.exception.code, 503)
        self.assertEqual(json.load(caught.exception)["code"], "storage.damaged")
        server.kill()
        said = server.manage("verify_records")
        self.assertEqual(said.returncode, 1, said.stderr)
        self.assertNotIn("Traceback", said.stderr)
        lost = [line for line in said.stdout.splitlines() if "cannot be read" in line]
        self.assertTrue(any(jobs[1] in line for line in lost), said.stdout)
        self.assertFalse(any(jobs[0] in line for line in lost), said.stdout)

    def note(self, poster, job, text):
        seq = poster.call(f"jobs/{job}")["seq"]
        entry = {"id": str(uuid.uuid4()), "kind": "noted", "data": {"text": text}}
        poster.call(f"jobs/{job}/events", {"expected_seq": seq, "events": [entry]})

    def overwrite(self, path, text):
        """Put noise over the page that holds a text, and over the pages right behind it."""
        with sqlite3.connect(path) as store:
            store.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        data = bytearray(path.read_bytes())
        size = int.from_bytes(data[16:18], "big")
        at = data.index(text.encode())
        page = at // size
        data[page * size : (page + 1) * size] = bytes([0x5A]) * size
        path.write_bytes(bytes(data))
