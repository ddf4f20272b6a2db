"""Heads leave the machine by themselves, and come back to be compared."""

from __future__ import annotations

import json
import socket
import tempfile
import threading
from http.server import BaseHTTPRequestHandler, HTTPServer
from io import StringIO
from pathlib import Path

from django.core import mail
from django.core.exceptions import ImproperlyConfigured
from django.core.management import call_command
from django.test import SimpleTestCase
from django.utils import timezone

from tests.process import RealServer
from tests.server import works
from tests.server.test_at_once import Person
from tests.server.test_set_back import SetBack
from tests.server.works import PASSWORD
from verifyloop.environment import Environment
from verifyloop.records import outside
from verifyloop.register import book
from verifyloop.register.models import Entry

JSON = "application/json"


class Keeper(BaseHTTPRequestHandler):
    """A stand-in for the address of a site's own: it keeps what comes, and gives the newest."""

    kept: list[bytes] = []

    def do_POST(self):
        self.kept.append(self.rfile.read(int(self.headers["Content-Length"])))
        self.send_response(204)
        self.end_headers()

    def do_GET(self):
        self.send_response(200)
        self.end_headers()
        self.wfile.write(self.kept[-1] if self.kept else b"")

    def log_message(self, *said):
        pass


def keeper(case):
    """Start the stand-in, and return its address."""
    Keeper.kept = []
    server = HTTPServer(("127.0.0.1", 0), Keeper)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    case.addCleanup(server.server_close)
    case.addCleanup(server.shutdown)
    return f"http://127.0.0.1:{server.server_port}/heads?key=secret"


class Outside(SetBack):
    def setUp(self):
        super().setUp()
        place = tempfile.TemporaryDirectory()
        self.addCleanup(place.cleanup)
        self.folder = Path(place.name)
        self.address = keeper(self)
        self.file = f"file:{self.folder / 'heads.jsonl'}"
        beside = self.settings(HEADS=[self.file, self.address], DATA_DIR=self.folder)
        beside.enable()
        self.addCleanup(beside.disable)

    def heads(self, *arguments, status=0):
        out = StringIO()
        if status:
            with self.assertRaises(SystemExit):
                call_command("heads", *arguments, stdout=out)
        else:
            call_command("heads", *arguments, stdout=out)
        return out.getvalue()

    def test_they_leave_and_fit(self):
        self.assertIn("sent to 2 places", self.heads())
        head = json.loads(Keeper.kept[-1])
        self.assertEqual(head["register_line"], book.head()[0])
        self.assertEqual(head["jobs"][self.job][0], self.then[-1][0]["seq"])
        self.must(self.send(self.job, works.event("noted", text="goes on")))
        self.assertIn("sent to 2 places", self.heads())

    def test_the_whole_database_set_back_is_found_by_itself_and_no_head_is_overwritten(self):
        self.heads()
        self.set_back(self.then[2], register=True)
        said = self.heads(status=1)
        self.assertIn(f"{self.job}: it had come to event", said)
        self.assertEqual(len(Keeper.kept), 1)
        out = StringIO()
        with self.assertRaises(SystemExit):
            call_command("verify_records", stdout=out)
        self.assertIn("when the head was kept; that event is gone", out.getvalue())
        seen = self.client_of("pia").get("/api/v1/session").json()["user"]
        self.assertEqual(len(seen["set_back"]), 2)
        self.assertEqual(self.ana.get("/api/v1/session").json()["user"]["set_back"], [])

    def test_a_place_that_does_not_answer_is_said_and_work_goes_on(self):
        with self.settings(HEADS=["http://127.0.0.1:9/?key=secret", self.file]):
            said = self.heads()
            self.assertIn("sent to 1 places", said)
            self.assertIn("does not answer: http://127.0.0.1:9", said)
            self.assertNotIn("secret", said)
            out = StringIO()
            call_command("verify_records", stdout=out)
            self.assertIn("does not answer; nothing is held against it", out.getvalue())
            self.assertIn("every record is as it was written", out.getvalue())

    def test_by_mail_and_to_the_log_system(self):
        with (
            self.settings(HEADS=["mail:safe@fen.example", "syslog"]),
            self.assertLogs("verifyloop.heads", "INFO") as logged,
        ):
            self.heads()
        self.assertEqual(json.loads(mail.outbox[0].body)["register_line"], book.head()[0])
        self.assertEqual(logged.records[0].head["register_line"], book.head()[0])

    def test_a_restore_names_what_is_lost_and_a_person_acknowledges_it(self):
        self.heads()
        self.set_back(self.then[2], register=True)
        lost = outside.restored("/srv/backup/verifyloop-1", "2026-12-01T02:30:00+00:00")
        self.assertEqual(len(lost), 2)
        self.assertIn(self.job, lost[0])
        call_command("rebuild", stdout=StringIO())
        call_command("verify_records", stdout=StringIO())
        self.assertIn("sent to 2 places", self.heads())
        pia = self.client_of("pia")
        shown = pia.get("/api/v1/session").json()["user"]["restores"]
        self.assertEqual((shown[0]["source"], shown[0]["lost"]), ("verifyloop-1", lost))
        path = f"/api/v1/site/restores/{shown[0]['line']}"
        self.must(self.ana.post(path, {"own": PASSWORD}, JSON), 403)
        self.assertEqual(self.must(pia.post(path, {"own": "no"}, JSON), 403)["field"], "own")
        said = self.must(pia.post(path, {"own": PASSWORD}, JSON))
        self.assertEqual(said["user"]["restores"], [])
        self.assertEqual(Entry.objects.get(kind="acknowledged").account, "pia")
        self.must(pia.post(path, {"own": PASSWORD}, JSON), 404)

    def test_a_place_that_was_silent_at_the_restore_is_accounted_for_afterwards(self):
        self.heads()
        self.set_back(self.then[2], register=True)
        with self.settings(HEADS=["http://127.0.0.1:9/"]):
            self.assertEqual(outside.restored("/srv/backup/x", ""), [])
        self.heads(status=1)
        line = Entry.objects.get(kind="restored").pk
        pia = self.client_of("pia")
        self.must(pia.post(f"/api/v1/site/restores/{line}", {"own": PASSWORD}, JSON))
        self.assertEqual(pia.get("/api/v1/session").json()["user"]["set_back"], [])
        self.heads()

    def test_set_back_once_more_after_a_restore_is_found(self):
        outside.restored("/srv/backup/x", "")
        outside.send(timezone.now())
        self.must(self.send(self.job, works.event("noted", text="more")))
        outside.send(timezone.now())
        lines = Entry.objects.count()
        self.set_back((*self.then[3][:2], lines), register=True)
        self.assertTrue(outside.compare().findings)


class Settings(SimpleTestCase):
    def test_each_wrong_place_is_named(self):
        for said in ("disk", "file:", "ftp://x", "syslog"):
            with self.subTest(said), self.assertRaises(ImproperlyConfigured):
                Environment({"VERIFYLOOP_HEADS": said}).heads()
        for said in ("udp:/x", "tcp://host:1", "/not/there", "udp://host:x"):
            with self.subTest(said), self.assertRaises(ImproperlyConfigured):
                Environment({"VERIFYLOOP_SYSLOG": said}).syslog()


class LogSystem(SimpleTestCase):
    def test_sign_ins_and_wrong_passwords_reach_it_as_json_and_heads_are_compared_at_start(self):
        """A real server, a socket that stands in for the log system, and a file outside."""
        with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as system:
            system.bind(("127.0.0.1", 0))
            system.settimeout(30)
            place = tempfile.TemporaryDirectory()
            self.addCleanup(place.cleanup)
            heads = Path(place.name) / "heads.jsonl"
            heads.write_text(json.dumps({"register_line": 9999, "register_seal": "1.x"}) + "\n")
            server = RealServer.of_class(
                type(self),
                VERIFYLOOP_SYSLOG=f"udp://127.0.0.1:{system.getsockname()[1]}",
                VERIFYLOOP_HEADS=f"file:{heads}",
            )
            person = Person(server.address)
            person.token = person.call("session")["csrf_token"]
            wrong = person.said("session", {"username": "ana", "password": "guess"})
            self.assertEqual(wrong[1]["code"], "session.refused")
            person.sign_in("ana")
            said = self.told(system, {"wrong password", "signed in", "set back"})
        self.assertEqual(said["wrong password"]["subject"], "ana")
        self.assertEqual(said["wrong password"]["remote"], "127.0.0.1")
        self.assertNotIn(PASSWORD, json.dumps(said))
        self.assertIn("9999", said["set back"]["message"])

    def told(self, system, wanted):
        said = {}
        while wanted - said.keys():
            text = system.recv(65536).decode().rstrip("\x00")
            line = json.loads(text[text.index("{") :])
            event = line.get("event") or line["message"].split(":")[0]
            said[event] = line
        return said
