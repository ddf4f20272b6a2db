"""Long work in the background: it survives its worker, is stopped, and goes on."""

from __future__ import annotations

import json
import os
import signal
import threading
import time
import urllib.request
import uuid
from pathlib import Path

from django.test import SimpleTestCase, override_settings

from tests.process import RealServer
from tests.server.test_at_once import Person
from verifyloop.edge.health import worker_silent


def processes(folder, words):
    """Return the processes of one server's folder whose command has these words."""
    found = []
    for place in Path("/proc").glob("[0-9]*"):
        try:
            command = (place / "cmdline").read_bytes().replace(b"\0", b" ").decode()
            mine = f"VERIFYLOOP_DATA={folder}\0".encode() in (place / "environ").read_bytes()
        except OSError:
            continue
        if words in command and mine:
            found.append(int(place.name))
    return found


class Background(SimpleTestCase):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.server = RealServer.of_class(cls, VERIFYLOOP_BACKGROUND="worker")
        cls.pia = Person(cls.server.address)
        cls.pia.sign_in("pia")

    def bring(self, content, accept=""):
        """Send a list, and return the lines of the answer."""
        mark, parts = uuid.uuid4().hex, []
        for name, value in (("accept", accept),):
            said = f'--{mark}\r\nContent-Disposition: form-data; name="{name}"\r\n\r\n{value}\r\n'
            parts.append(said.encode())
        head = f'--{mark}\r\nContent-Disposition: form-data; name="file"; filename="l.csv"\r\n\r\n'
        body = b"".join([*parts, head.encode(), content, f"\r\n--{mark}--\r\n".encode()])
        asked = urllib.request.Request(
            f"{self.server.address}/api/v1/lists/instruments",
            body,
            {
                "Content-Type": f"multipart/form-data; boundary={mark}",
                "Cookie": "; ".join(f"{k}={v}" for k, v in self.pia.cookies.items()),
                "X-CSRFToken": self.pia.token,
            },
        )
        with urllib.request.urlopen(asked, timeout=120) as answer:
            return [json.loads(line) for line in answer.read().splitlines()]

    def rows(self, prefix, count):
        head = (
            "tag,serial,description,area,method,loop_role,input_unit,input_lower,input_upper,"
            "output_unit,output_lower,output_upper,tolerance.percent_of_span,"
            "tolerance_source\n"
        )
        lines = (
            f"{prefix}-{n:05},{n},Made of a list,Hall,pressure_transmitter,indication,kPa,0,400,"
            "mA,4,20,0.5,plant rule\n"
            for n in range(count)
        )
        return (head + "".join(lines)).encode()

    def accepted(self, content):
        """Accept what a list would do, by somebody who does not wait for it."""
        said = self.bring(content)[-1]
        self.assertEqual(said["sums"].get("refused"), 0, json.dumps(said)[:900])
        waits = threading.Thread(target=self.bring, args=(content, said["mark"]), daemon=True)
        waits.start()
        return waits

    def newest(self):
        found = self.pia.call("lists/brought")
        return found[0] if found else {"state": "", "name": "", "done": 0}

    def until(self, true, seconds=90):
        end = time.monotonic() + seconds
        while time.monotonic() < end:
            one = self.newest()
            if true(one):
                return one
            time.sleep(0.05)
        raise AssertionError(one)

    def there(self, prefix):
        question = f"SELECT count(*) FROM plant_instrument WHERE tag LIKE '{prefix}-%'"
        return self.server.rows(question)[0][0]

    def test_a_worker_that_is_killed_goes_on_and_nothing_is_stored_twice(self):
        waits = self.accepted(self.rows("K", 600))
        self.until(lambda one: one["done"] >= 100)
        for pid in processes(self.server.folder, "manage.py worker"):
            os.kill(pid, signal.SIGKILL)
        one = self.until(lambda one: one["state"] == "done")
        self.assertEqual((one["done"], one["total"], one["skipped"]), (600, 600, []))
        self.assertEqual(self.there("K"), 600)
        waits.join(30)

    def test_b_stopped_says_how_far_it_came_and_goes_on(self):
        waits = self.accepted(self.rows("S", 600))
        one = self.until(lambda one: one["state"] == "running" and 50 <= one["done"] < 400)
        self.pia.call(f"lists/brought/{one['number']}/stop", {})
        one = self.until(lambda one: one["state"] == "stopped")
        self.assertEqual(one["done"], self.there("S"))
        self.assertLess(one["done"], 600)
        waits.join(30)
        self.pia.call(f"lists/brought/{one['number']}/go-on", {})
        one = self.until(lambda one: one["state"] == "done")
        self.assertEqual((self.there("S"), one["done"], one["total"]), (600, 600, 600))

    def test_c_entries_wait_for_no_list(self):
        ana = Person(self.server.address)
        ana.sign_in("ana")
        job = ana.call("jobs", {"tag": "PT-1"})
        number, seq, waited = job["job"], 1, []
        waits = self.accepted(self.rows("W", 800))
        while waits.is_alive():
            note = {"id": str(uuid.uuid4()), "kind": "noted", "data": {"text": "meanwhile"}}
            begun = time.monotonic()
            seq = ana.call(f"jobs/{number}/events", {"expected_seq": seq, "events": [note]})["seq"]
            waited.append(time.monotonic() - begun)
            time.sleep(0.05)
        self.assertGreater(len(waited), 10)
        # Bounds for a machine that others share; `make bench` measures.
        self.assertLess(sorted(waited)[len(waited) // 2], 1.0)
        self.assertLess(max(waited), 5.0)
        self.assertEqual(self.there("W"), 800)

    def test_d_the_worker_ends_with_its_server_and_a_dead_one_is_told(self):
        self.assertEqual(len(processes(self.server.folder, "manage.py worker")), 1)
        with override_settings(BACKGROUND="worker", DATA_DIR=Path(self.server.folder)):
            self.assertEqual(worker_silent(), "")
            os.utime(Path(self.server.folder) / "worker.alive", (0, 0))
            self.assertIn("does not run", worker_silent())
        self.server.kill()
        end = time.monotonic() + 40
        while processes(self.server.folder, "verifyloop.background") or processes(
            self.server.folder, "manage.py worker"
        ):
            self.assertLess(time.monotonic(), end, "the worker outlives its server")
            time.sleep(0.2)
