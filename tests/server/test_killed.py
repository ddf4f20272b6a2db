"""Again and again the plug is pulled while readings are posted."""

import contextlib
import json
import random
import sqlite3
import threading
import time
import urllib.request
import uuid
from http.client import HTTPException

from django.test import SimpleTestCase

from tests.long import several
from tests.process import POSTGRES, RealServer
from tests.server.works import PASSWORD

#: Fewer where it is another's process that holds the data and is not killed.
KILLS = several(full=500, small=3 if POSTGRES else 6)


class Poster:
    """A client that posts one event after the other and remembers what was acknowledged."""

    def __init__(self, address: str) -> None:
        self.address = address
        self.cookies: dict[str, str] = {}
        self.token = ""
        self.acknowledged: set[str] = set()
        self.waiting: str | None = None

    def call(self, path: str, body: object = None, method: str | None = None) -> dict:
        request = urllib.request.Request(f"{self.address}/api/v1/{path}", method=method)
        request.add_header("Cookie", "; ".join(f"{k}={v}" for k, v in self.cookies.items()))
        request.add_header("X-CSRFToken", self.token)
        if body is not None:
            request.add_header("Content-Type", "application/json")
            request.data = json.dumps(body).encode()
        with urllib.request.urlopen(request, timeout=30) as answer:
            for cookie in answer.headers.get_all("Set-Cookie") or []:
                name, _, value = cookie.split(";")[0].partition("=")
                self.cookies[name] = value
            return json.load(answer)

    def sign_in(self, name: str = "ana") -> None:
        self.token = self.call("session")["csrf_token"]
        said = self.call("session", {"username": name, "password": PASSWORD})
        self.token = said["csrf_token"]

    def look(self, path: str) -> None:
        """Ask for something; the server may die over it."""
        with contextlib.suppress(OSError, ValueError, HTTPException):
            self.call(path)

    def post_until_it_dies(self, job: str) -> None:
        """Post notes; one that was not acknowledged is sent again first, with the same id."""
        try:
            seq = self.call(f"jobs/{job}")["seq"]
            while True:
                self.waiting = self.waiting or str(uuid.uuid4())
                event = {"id": self.waiting, "kind": "noted", "data": {"text": self.waiting}}
                body = {"expected_seq": seq, "events": [event]}
                seq = self.call(f"jobs/{job}/events", body)["seq"]
                self.acknowledged.add(self.waiting)
                self.waiting = None
        except (OSError, ValueError, HTTPException):
            return


class Killed(SimpleTestCase):
    def test_an_automatic_zero_of_four_days_is_told_once_each(self):
        """The plug is pulled while the log of a device is stored; nobody had looked for days."""
        server = RealServer()
        self.addCleanup(server.close)
        server.seed("tests.seed")
        for pause in (0.0, 0.03):
            server.start()
            looker = Poster(server.address)
            looker.sign_in()
            worker = threading.Thread(target=looker.look, args=("instruments/A-kiln",))
            worker.start()
            time.sleep(pause)
            server.kill()
            worker.join(timeout=10)
        server.start()
        looker = Poster(server.address)
        looker.sign_in()
        said = looker.call("instruments/A-kiln")["by_itself"]
        stored = server.rows("SELECT at FROM work_ownact ORDER BY at")
        self.assertEqual((said["count"], said["late"]), (96, False))
        self.assertEqual(len(set(stored)), 96)

    def test_every_acknowledged_event_is_there_once_and_one_changed_byte_is_found(self):
        server, chance = RealServer(), random.Random(20417)
        self.addCleanup(server.close)
        server.environment["VERIFYLOOP_WORKERS"] = "2"
        server.seed("tests.seed")
        server.start()
        poster = Poster(server.address)
        poster.sign_in()
        jobs = [poster.call("jobs", {"tag": f"PT-{n}"})["job"] for n in range(1, 11)]
        for round_number in range(KILLS):
            # An unacknowledged event belongs to its job: stay there until it is through.
            job = jobs[(round_number // 5) % len(jobs)]
            if round_number % 5 == 0:
                poster.waiting = None
            worker = threading.Thread(target=poster.post_until_it_dies, args=(job,))
            before = len(poster.acknowledged)
            worker.start()
            # Every second time something was acknowledged before the plug is pulled, however slow.
            until = time.monotonic() + 30 * (round_number % 2)
            while len(poster.acknowledged) == before and time.monotonic() < until:
                time.sleep(0.01)
            time.sleep(chance.uniform(0.02, 0.25))
            server.kill()
            worker.join(timeout=10)
            server.start()
        self.check(server, poster)

    def check(self, server, poster):
        found = server.rows("SELECT uuid FROM work_event WHERE kind = 'noted'")
        stored = [str(uuid.UUID(str(row[0]))) for row in found]
        self.assertGreaterEqual(len(poster.acknowledged), KILLS // 2)
        self.assertEqual(len(stored), len(set(stored)))
        self.assertEqual(poster.acknowledged - set(stored), set())
        said = server.manage("verify_records")
        self.assertEqual(said.returncode, 0, said.stdout)
        if not POSTGRES:
            self.damage(server, stored)

    def damage(self, server, stored):
        """Change one byte in the file of SQLite: it is found."""
        server.kill()
        with sqlite3.connect(server.database) as store:
            store.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        victim = stored[len(stored) // 2]
        raw = server.database.read_bytes()
        self.assertIn(victim.encode(), raw)
        changed = victim.encode().replace(victim[:1].encode(), b"z", 1)
        server.database.write_bytes(raw.replace(victim.encode(), changed))
        said = server.manage("verify_records")
        self.assertEqual(said.returncode, 1, said.stdout)
        self.assertRegex(said.stdout, r"J\d\d-\d{5} \(PT-\d+\), event \d+: the content")
