"""In service: health that can fail, a log without secrets, and stops that lose nothing."""

from __future__ import annotations

import json
import os
import re
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import threading
import time
import unittest
from pathlib import Path
from unittest import mock

from django.db import DatabaseError, OperationalError
from django.test import Client, SimpleTestCase, override_settings

from tests.process import ROOT, RealServer
from tests.server.base import ApiCase
from tests.server.test_at_once import devices, note
from verifyloop.edge import health
from verifyloop.edge.proxied import Proxied
from verifyloop.environment import Environment
from verifyloop.register.models import Entry


class Health(ApiCase):
    def ready(self):
        answer = Client().get("/health/ready")
        return answer.status_code, answer.json()["wrong"]

    def test_all_is_well(self):
        self.assertEqual(Client().get("/health/alive").json()["alive"], True)
        self.assertEqual(self.ready(), (200, {}))

    def test_a_database_that_does_not_answer(self):
        with mock.patch.object(health.connection, "cursor", side_effect=DatabaseError):
            self.assertEqual(self.ready()[0], 503)

    def test_tables_of_another_version(self):
        with mock.patch.object(
            health.MigrationExecutor, "migration_plan", return_value=[("a", False)]
        ):
            status, wrong = self.ready()
        self.assertEqual((status, list(wrong)), (503, ["database"]))
        self.assertIn("manage.py migrate", wrong["database"])

    def test_keys_that_are_gone_or_are_others(self):
        with override_settings(SEAL_KEYS=Path("/none/there")):
            status, wrong = self.ready()
        self.assertEqual((status, list(wrong)), (503, ["seals"]))
        self.assertNotIn("/none", str(wrong))
        Entry.objects.filter(pk=Entry.objects.latest("pk").pk).update(seal="77.ab")
        self.assertIn("Key 77", self.ready()[1]["seals"])

    def test_a_disk_that_is_nearly_full(self):
        with mock.patch.object(health, "LEAST_FREE", 10**18):
            self.assertEqual(list(self.ready()[1]), ["disk"])

    def test_a_store_that_is_away_before_the_api_is_asked_is_no_500(self):
        client = Client(raise_request_exception=False)
        with mock.patch("verifyloop.plant.zone.zone_now", side_effect=OperationalError("gone")):
            answer = client.get("/api/v1/session")
        self.assertEqual((answer.status_code, answer.json()["code"]), (503, "storage.busy"))
        with mock.patch("verifyloop.plant.zone.zone_now", side_effect=RuntimeError("a fault")):
            answer = client.get("/api/v1/session")
        self.assertEqual((answer.status_code, answer.json()["code"]), (500, "server.failed"))

    def test_pages_that_are_not_built(self):
        with override_settings(WEB_DIST=Path("/none/there")):
            self.assertEqual(list(self.ready()[1]), ["page"])


class Proxies(SimpleTestCase):
    """Who asks, as the product sees it behind a proxy."""

    def seen(self, base="/", proxies="10.0.0.7", **environ):
        found = {}
        said = Environment({"VERIFYLOOP_PROXIES": proxies}).networks("PROXIES", "")
        around = Proxied(lambda e, _: found.update(e) or [], base=base, proxies=said)
        around({"PATH_INFO": "/kit", "wsgi.url_scheme": "http", **environ}, lambda *_: None)
        return found

    def test_a_proxy_that_is_named_is_believed(self):
        seen = self.seen(
            REMOTE_ADDR="10.0.0.7", HTTP_X_FORWARDED_FOR="10.9.9.9", HTTP_X_FORWARDED_PROTO="https"
        )
        self.assertEqual((seen["REMOTE_ADDR"], seen["wsgi.url_scheme"]), ("10.9.9.9", "https"))

    def test_what_somebody_else_writes_is_not(self):
        forged = {"HTTP_X_FORWARDED_FOR": "10.9.9.9", "HTTP_X_FORWARDED_PROTO": "https"}
        seen = self.seen(REMOTE_ADDR="192.0.2.1", **forged)
        self.assertEqual((seen["REMOTE_ADDR"], seen["wsgi.url_scheme"]), ("192.0.2.1", "http"))

    def test_of_many_addresses_the_last_that_is_no_proxy_counts(self):
        seen = self.seen(
            proxies="10.0.0.0/24",
            REMOTE_ADDR="10.0.0.7",
            HTTP_X_FORWARDED_FOR="1.2.3.4, 192.0.2.9, 10.0.0.8",
        )
        self.assertEqual(seen["REMOTE_ADDR"], "192.0.2.9")
        for nonsense in ("", "unknown", "<x>"):
            seen = self.seen(REMOTE_ADDR="10.0.0.7", HTTP_X_FORWARDED_FOR=nonsense)
            self.assertEqual(seen["REMOTE_ADDR"], "10.0.0.7")

    def test_a_path_is_taken_away_once_whether_the_proxy_did_or_not(self):
        for path in ("/loops/kit", "/kit"):
            seen = self.seen(base="/loops/", REMOTE_ADDR="", PATH_INFO=path)
            self.assertEqual((seen["SCRIPT_NAME"], seen["PATH_INFO"]), ("/loops", "/kit"))


class Working(SimpleTestCase):
    """Four people who write notes on a server of two processes."""

    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.log = cls.enterClassContext(tempfile.NamedTemporaryFile("w+"))
        said = {"VERIFYLOOP_WORKERS": "2", "VERIFYLOOP_LOG": "json"}
        cls.server = RealServer.of_class(cls, cls.log, **said)
        cls.people = devices(cls.server.address, 4)
        cls.stored: list[str] = []

    @classmethod
    def work(cls, n, until):
        """Write notes until told to end; remember each that was acknowledged."""
        person, tag = cls.people[n], f"PT-{n + 1}"
        job = person.call("jobs", {"tag": tag})["job"]
        while not until.is_set():
            event = note(f"{n}")
            try:
                seq = person.call(f"jobs/{job}")["seq"]
                person.call(f"jobs/{job}/events", {"expected_seq": seq, "events": [event]})
                cls.stored.append(event["id"])
            except (OSError, ValueError):
                time.sleep(0.05)

    @classmethod
    def under_load(cls, doing):
        until = threading.Event()
        workers = [threading.Thread(target=cls.work, args=(n, until)) for n in range(4)]
        for worker in workers:
            worker.start()
        begun = time.monotonic()
        while len(cls.stored) < 8 and time.monotonic() < begun + 60:
            time.sleep(0.05)
        doing()
        time.sleep(1)
        until.set()
        for worker in workers:
            worker.join(30)

    def nothing_is_lost(self):
        there = {str(row[0]).replace("-", "") for row in self.server.rows(UUIDS)}
        self.assertGreaterEqual(len(self.stored), 8)
        self.assertEqual({id.replace("-", "") for id in self.stored} - there, set())


class Stops(Working):
    """Told to stop while everybody works, with a connection that somebody keeps open."""

    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.token = cls.people[0].call("calendar", {})["path"].rsplit("/", 1)[1]
        cls.people[0].raw(f"calendar/{cls.token}")
        cls.people[0].said("jobs/none")
        with socket.create_connection(("127.0.0.1", cls.server.port)) as idle:
            idle.sendall(b"GET /health/alive HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n")
            cls.alive = idle.recv(100)
            cls.under_load(cls.stop)

    @classmethod
    def stop(cls):
        begun = time.monotonic()
        os.kill(cls.server.process.pid, signal.SIGTERM)
        cls.ended = cls.server.process.wait(30)
        cls.took = time.monotonic() - begun

    def test_it_stops_within_seconds_though_a_connection_is_kept_open(self):
        self.assertIn(b"200", self.alive)
        self.assertEqual(self.ended, 0)
        self.assertLess(self.took, 10)

    def test_what_was_acknowledged_is_there(self):
        self.nothing_is_lost()

    def test_the_log_is_one_object_a_line_and_holds_no_secret(self):
        text = Path(self.log.name).read_text()
        lines = [json.loads(line) for line in text.splitlines()]
        asked = [line for line in lines if line["name"] == "verifyloop.request"]
        self.assertGreater(len(asked), 4)
        for line in asked:
            self.assertRegex(line["request_id"], r"^[\w-]{8,}$")
            self.assertLessEqual({"method", "route", "status", "took_ms", "account"}, set(line))
        self.assertIn(404, [line["status"] for line in asked])
        self.assertIn("ana", [line["account"] for line in asked])
        self.assertNotIn(self.token.removesuffix(".ics"), text)


class Replaced(Working):
    def test_processes_are_replaced_while_everybody_works(self):
        self.under_load(lambda: os.kill(self.server.process.pid, signal.SIGHUP))
        self.nothing_is_lost()
        self.assertIsNone(self.server.process.poll())
        self.assertTrue(self.people[0].call("jobs", {"tag": "PT-9"})["job"])


UUIDS = "SELECT uuid FROM work_event"


@unittest.skipUnless(shutil.which("systemd-analyze"), "systemd is not on this machine")
class Units(SimpleTestCase):
    def test_they_are_sound(self):
        with tempfile.TemporaryDirectory() as folder:
            names = sorted(path.name for path in (ROOT / "deploy").glob("verify-loop*.service"))
            for name in names:
                text = (ROOT / "deploy" / name).read_text()
                # The programs lie elsewhere here; everything else is looked at as it is.
                text = re.sub(r"/opt/verify-loop/\.venv/bin/\w+", sys.executable, text)
                (Path(folder) / name).write_text(text.replace("/opt/verify-loop", str(ROOT)))
            for timer in (ROOT / "deploy").glob("*.timer"):
                shutil.copy(timer, folder)
            for name in sorted(os.listdir(folder)):
                said = subprocess.run(
                    ["systemd-analyze", "verify", f"{folder}/{name}"],
                    capture_output=True,
                    text=True,
                    check=False,
                )
                self.assertEqual((said.returncode, said.stderr), (0, ""), name)
