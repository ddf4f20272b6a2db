"""Sign-in, roles, certificates, checks of the record."""

import csv
import io
from datetime import timedelta
from io import StringIO

from django.core.management import call_command
from django.db import connection
from django.test import Client, SimpleTestCase
from django.utils import timezone
from jsonschema import Draft202012Validator
from pypdf import PdfReader

from tests.server import works
from tests.server.base import ApiCase
from tests.server.works import event
from verifyloop.accounts.models import User
from verifyloop.accounts.permissions import ALLOWED, can
from verifyloop.plant.models import Instrument, Plan, Site
from verifyloop.register.kept import version_of
from verifyloop.work.models import Event, Job


class SignIn(ApiCase):
    def test_in_and_out(self):
        client = Client(enforce_csrf_checks=True)
        token = client.get("/api/v1/session").json()["csrf_token"]
        body = {"username": " ana ", "password": works.PASSWORD}
        post = {"data": body, "content_type": "application/json"}
        self.assertEqual(client.post("/api/v1/session", **post).status_code, 403)
        said = client.post("/api/v1/session", **post, headers={"X-CSRFToken": token}).json()
        self.assertEqual((said["user"]["role"], said["user"]["name"]), ("technician", "Ana Test"))
        self.assertEqual(client.get("/api/v1/today").status_code, 200)
        headers = {"X-CSRFToken": said["csrf_token"]}
        self.assertIsNone(client.delete("/api/v1/session", headers=headers).json()["user"])
        self.assertEqual(client.get("/api/v1/today").status_code, 401)

    def test_wrong_password_says_what_to_do(self):
        body = {"username": "ana", "password": "x"}
        said = self.must(
            self.ana.post("/api/v1/session", body, content_type="application/json"), 403
        )
        self.assertEqual((said["code"], said["field"]), ("session.refused", "password"))

    def test_every_place_asks_who_is_there(self):
        job = self.open()
        stranger = Client()
        for path in (
            "today",
            "safety",
            "instruments",
            "records",
            f"jobs/{job}",
            "instruments/PT-1",
        ):
            said = stranger.get(f"/api/v1/{path}")
            self.assertEqual((said.status_code, said.json()["code"]), (401, "session.none"), path)


class Roles(ApiCase):
    def test_who_may_do_what(self):
        job = self.signed_job()
        works.instrument("PT-2")
        for name, wanted in (
            ("ana", {"open": 200, "review": 403, "due": 403}),
            ("rea", {"open": 403, "review": 200, "due": 403}),
            ("pia", {"open": 200, "review": 403, "due": 200}),
        ):
            client = self.client_of(name)
            due = {"due": str(timezone.localdate() + timedelta(days=9)), "reason": "shutdown"}
            due["version"] = version_of(Plan.objects.get(instrument__tag="PT-2"))
            json = {"content_type": "application/json"}
            review = event("reviewed", outcome="accepted", comment="looks right")
            got = {
                "open": client.post("/api/v1/jobs", {"tag": "PT-2"}, **json).status_code,
                "review": self.send(
                    job, review, client=client, password=works.PASSWORD
                ).status_code,
                "due": client.post("/api/v1/instruments/PT-2/due", due, **json).status_code,
            }
            self.assertEqual(got, wanted, name)
        self.assertEqual(self.state(job)["status"], "reviewed")

    def test_a_planner_records_nothing(self):
        job = self.open()
        said = self.must(
            self.send(job, event("noted", text="x"), client=self.client_of("pia")), 403
        )
        self.assertEqual(said["code"], "role.not_allowed")

    def test_nobody_may_do_nothing(self):
        for code in ALLOWED:
            self.assertFalse(can(None, code))

    def test_moving_a_due_date_takes_a_reason_and_a_day_to_come(self):
        pia = self.client_of("pia")
        json = {"content_type": "application/json"}
        today = timezone.localdate()
        for body, field in (
            ({"due": str(today), "reason": " "}, "reason"),
            ({"due": str(today - timedelta(days=1)), "reason": "x"}, "due"),
            ({"due": "someday", "reason": "x"}, "due"),
        ):
            body["version"] = version_of(Plan.objects.get(instrument__tag="PT-1"))
            said = self.must(pia.post("/api/v1/instruments/PT-1/due", body, **json), 422)
            self.assertIn(field, said["field"])
        body = {"due": str(today + timedelta(days=4)), "reason": "shutdown"}
        body["version"] = version_of(Plan.objects.get(instrument__tag="PT-1"))
        said = self.must(pia.post("/api/v1/instruments/PT-1/due", body, **json))
        self.assertIn("because: shutdown", said["changes"][0]["text"])
        self.assertIn("moved by Pia Test", said["due_reason"])


class Lists(ApiCase):
    def test_today_and_the_safety_strip(self):
        works.instrument("PT-2", next_due=timezone.localdate() - timedelta(days=3))
        works.instrument("PT-3", next_due=timezone.localdate() + timedelta(days=40))
        job = self.open()
        self.must(self.send(job, *works.prepared()[:4]))
        today = self.must(self.ana.get("/api/v1/today"))
        self.assertEqual((today["overdue"], today["due_today"], today["soon"]), (1, 1, 0))
        due = {d["tag"]: d for area in today["areas"] for d in area["due"]}
        self.assertEqual(due["PT-2"]["due_text"], "3 days overdue")
        self.assertEqual(due["PT-1"]["open_job"], job)
        safety = self.must(self.ana.get("/api/v1/safety"))["items"]
        self.assertEqual([(s["tag"], s["kind"]) for s in safety], [("PT-1", "bypass")])

    def test_search_by_words(self):
        works.instrument("LT-9", description="Syrup level", serial="ZZ-1")
        for words, tags in (
            ("pt-1", ["PT-1"]),
            ("syrup lev", ["LT-9"]),
            ("zz-1", ["LT-9"]),
            ("boiler", ["LT-9", "PT-1"]),
            ("nothing", []),
        ):
            said = self.must(self.ana.get("/api/v1/instruments", {"q": words}))
            self.assertEqual([f["tag"] for f in said["found"]], tags, words)

    def test_lists_take_few_queries(self):
        for n in range(2, 12):
            works.instrument(f"PT-{n}")
        self.zone_known()
        # Session, person, own acts twice, jobs, what is out and what is due, what holds for a
        # while, rigs, instruments and their plans, what has no day, proposals, rounds; the line.
        with self.assertNumQueries(15):
            self.ana.get("/api/v1/today")
        # Nothing changed: what the register says is not worked out again.
        with self.assertNumQueries(9):
            self.ana.get("/api/v1/today")
        # Session, person, the line, and since it is another one the words; keys, rows, plans,
        # areas, kinds.
        with self.assertNumQueries(10):
            self.ana.get("/api/v1/instruments?q=pt")
        with self.assertNumQueries(7):
            self.ana.get("/api/v1/instruments?q=pt")

    def test_records_filter(self):
        job = self.signed_job()
        for query, count in (
            ("", 1),
            (f"q={job}", 1),
            ("q=R-1", 1),
            ("mark=outside", 0),
            ("mark=unreviewed", 1),
            ("page=99", 1),
        ):
            self.assertEqual(self.must(self.ana.get(f"/api/v1/records?{query}"))["total"], count)


class Certificates(ApiCase):
    def setUp(self):
        super().setUp()
        job = self.open()
        self.must(self.send(job, *works.prepared(), *works.readings()))
        self.must(self.send(job, event("noted", text="Impulse line <steam> & damp")))
        self.must(self.send(job, *works.returned()))
        self.must(self.send(job, event("signed"), password=works.PASSWORD))
        self.base = f"/api/v1/records/{job}/certificate"
        self.job = job

    def test_json_follows_its_published_schema_and_keeps_the_decimals(self):
        schema = self.must(Client().get("/api/v1/records/certificate.schema.json"))
        Draft202012Validator.check_schema(schema)
        said = self.must(self.ana.get(f"{self.base}.json"))
        Draft202012Validator(schema).validate(said)
        self.assertEqual(said["as_found"]["points"][0]["reading"], "4.00")
        signed = Event.objects.get(kind="signed")
        self.assertEqual(said["chain"]["seal"], signed.seal)
        self.assertEqual(said["as_found"]["points"][0]["numbers"]["reading"], 4.0)
        self.assertEqual(said["notes"], ["Impulse line <steam> & damp"])

    def test_pdf_holds_what_a_reader_needs(self):
        answer = self.ana.get(f"{self.base}.pdf")
        self.assertEqual(answer["Content-Type"], "application/pdf")
        text = "\n".join(p.extract_text() for p in PdfReader(io.BytesIO(answer.content)).pages)
        for wanted in ("PT-1, S-77", "4.00", "R-1", "Ana Test", "<steam> & damp", "within limits",
                       "Decision rule: simple acceptance", "21,5",
                       "page 1 of", "End of the certificate", "Who did what",
                       Event.objects.get(kind="signed").seal):  # fmt: skip
            self.assertIn(wanted, text)

    def test_csv_is_read_by_software(self):
        rows = list(csv.DictReader(io.StringIO(self.ana.get(f"{self.base}.csv").content.decode())))
        self.assertEqual(len(rows), 9)
        self.assertEqual(rows[4]["reading_mA"], "20.02")
        self.assertEqual(float(rows[4]["error_percent_of_span"]), 0.12)

    def test_there_is_none_before_the_signature(self):
        works.instrument("PT-2")
        job = self.open("PT-2")
        said = self.must(self.ana.get(f"/api/v1/records/{job}/certificate.pdf"), 422)
        self.assertEqual(said["code"], "certificate.not_signed")


class Audit(ApiCase):
    def verify(self):
        out = StringIO()
        try:
            call_command("verify_records", stdout=out)
        except SystemExit:
            return out.getvalue(), False
        return out.getvalue(), True

    def test_a_changed_byte_a_missing_event_and_a_moved_column_are_found(self):
        job = self.signed_job()
        said, clean = self.verify()
        self.assertTrue(clean, said)
        for damage, words in (
            ("UPDATE work_event SET payload = replace(payload, '12.01', '12.00')", "content"),
            ("DELETE FROM work_event WHERE seq = 20", "missing"),
            ("UPDATE work_event SET kind = 'noted' WHERE seq = 5", "column 'kind'"),
            ("DELETE FROM work_event WHERE seq > 30", "missing at the end"),
        ):
            with self.subTest(damage=damage), connection.cursor() as cursor:
                cursor.execute("SAVEPOINT before_damage")
                cursor.execute(damage)
                said, clean = self.verify()
                seal = self.must(self.ana.get(f"/api/v1/records/{job}/seal"))
                cursor.execute("ROLLBACK TO before_damage")
                self.assertFalse(clean)
                self.assertFalse(seal["intact"])
                self.assertIn(f"{job} (PT-1)", said)
                self.assertIn(words, said)
        self.assertTrue(self.must(self.ana.get(f"/api/v1/records/{job}/seal"))["intact"])

    def test_rebuild_restores_the_projection_from_the_events(self):
        self.signed_job()
        before = Job.objects.values().get()
        Job.objects.update(mark_found="outside", max_error_found=9, status="open", has_on=True)
        out = StringIO()
        call_command("rebuild", stdout=out)
        self.assertIn("1 jobs differed", out.getvalue())
        self.assertEqual(Job.objects.values().get(), before)


class Page(SimpleTestCase):
    databases = {"default"}

    def test_every_other_address_is_the_application(self):
        for path in ("/", "/jobs/J26-00001", "/nowhere/at/all"):
            answer = Client().get(path)
            self.assertEqual(answer.status_code, 200)
            self.assertIn(b'<div id="root">', answer.content)
            self.assertIn("default-src 'self'", answer["Content-Security-Policy"])
        self.assertEqual(Client().get("/api/v1/nonsense").status_code, 404)


class Demo(ApiCase):
    def test_the_demo_fills_only_an_empty_database(self):
        out = StringIO()
        Site.objects.create(name="Works", demo=True)
        call_command("demo", stdout=out)
        self.assertIn("kept", out.getvalue())
        self.assertEqual(User.objects.count(), 4)
        self.assertEqual(Instrument.objects.count(), 1)
