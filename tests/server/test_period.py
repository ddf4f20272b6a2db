"""Records of a period, as tables and as every certificate with a manifest of hashes."""

from __future__ import annotations

import csv
import hashlib
import io
import zipfile
from datetime import timedelta

from django.core import mail
from django.core.management import call_command
from django.utils import timezone

from tests.server import works
from tests.server.base import ApiCase
from verifyloop.plant.models import Instrument, Site
from verifyloop.work.models import Job


class Period(ApiCase):
    def setUp(self):
        super().setUp()
        works.instrument("PT/2", description="=1+1")
        self.jobs = [self.signed_job("PT-1"), self.signed_job("PT/2")]
        early = timezone.now() - timedelta(days=40)
        Job.objects.filter(number=self.jobs[0]).update(signed_at=early)
        self.day = str(timezone.localdate(early))

    def rows(self, query=""):
        content = self.ana.get(f"/api/v1/records/period/records.csv{query}").content
        return list(csv.DictReader(io.StringIO(content.decode("utf-8-sig"))))

    def test_days_and_area_narrow_it_down(self):
        today = timezone.localdate()
        for query, jobs in (
            ("", self.jobs),
            (f"?first={self.day}&last={self.day}", self.jobs[:1]),
            (f"?first={today - timedelta(days=3)}", self.jobs[1:]),
            ("?area=nowhere", []),
            ("?q=PT-1", self.jobs[:1]),
        ):
            self.assertEqual({r["job"] for r in self.rows(query)}, set(jobs), query)
            listed = self.must(self.ana.get(f"/api/v1/records{query}"))["records"]
            self.assertEqual({r["job"] for r in listed}, set(jobs), query)

    def test_a_table_says_what_was_measured_and_no_formula(self):
        row = next(r for r in self.rows() if r["tag"] == "PT/2")
        job = Job.objects.get(number=self.jobs[1])
        self.assertEqual(row["description"], "'=1+1")
        self.assertAlmostEqual(
            float(row["largest error found, % of span"]), job.max_error_found, places=4
        )
        self.assertEqual(row["largest error left, % of span"], "")
        self.assertEqual(row["seal"], job.head)
        self.assertEqual(self.ana.get("/api/v1/records/period/records.xlsx").status_code, 200)

    def test_figures_have_the_decimal_sign_of_the_site(self):
        Site.objects.create(name="Works", decimal_sign=",")
        content = self.ana.get("/api/v1/records/period/records.csv").content.decode("utf-8-sig")
        rows = list(csv.DictReader(io.StringIO(content), delimiter=";"))
        row = next(r for r in rows if r["tag"] == "PT/2")
        self.assertRegex(row["largest error found, % of span"], r"^\d+,\d+$")

    def test_every_certificate_with_its_hash(self):
        answer = self.ana.get("/api/v1/records/period/certificates.zip")
        packed = zipfile.ZipFile(io.BytesIO(b"".join(answer.streaming_content)))
        manifest = list(csv.DictReader(io.StringIO(packed.read("manifest.csv").decode())))
        self.assertEqual({m["job"] for m in manifest}, set(self.jobs))
        for line in manifest:
            content = packed.read(line["file"])
            self.assertTrue(content.startswith(b"%PDF"))
            self.assertEqual(hashlib.sha256(content).hexdigest(), line["sha256"])
            self.assertNotIn("..", line["file"])
            self.assertEqual(line["file"].count("/"), 1)

    def test_what_cannot_be_asked(self):
        for path, status, field in (
            ("certificates.zip?area=nowhere", 422, "first"),
            ("records.csv?first=2026-02-01&last=2026-01-01", 422, "last"),
            ("records.csv?last=9999-12-31", 422, "last"),
            ("records.csv?first=0001-01-01", 422, "first"),
            ("records.exe", 404, ""),
        ):
            said = self.must(self.ana.get(f"/api/v1/records/period/{path}"), status)
            self.assertEqual(said["field"], field, path)


class Morning(ApiCase):
    def want(self, name, on=True):
        client = self.client_of(name)
        body = {"on": on}
        return client.put("/api/v1/calendar/mail", body, content_type="application/json")

    def test_who_wants_it_gets_what_is_theirs_to_know(self):
        job = self.signed_job("PT-1")
        works.instrument("PT-2", next_due=timezone.localdate())
        works.instrument("PT-3", next_due=None)
        said = self.must(self.want("ana"), 422)
        self.assertEqual(said["code"], "email.missing")
        for name in ("ana", "rea", "pia"):
            self.people[name].email = f"{name}@example.org"
            self.people[name].save()
            self.assertTrue(self.must(self.want(name))["mail"])
        self.must(self.want("ana", on=False))
        call_command("morning_mail", address="https://loops.example.org", stdout=io.StringIO())
        sent = {m.to[0]: m for m in mail.outbox}
        self.assertEqual(set(sent), {"rea@example.org", "pia@example.org"})
        self.assertIn(job, sent["rea@example.org"].body)
        self.assertIn("PT-2", sent["rea@example.org"].body)
        self.assertNotIn("Waiting for review", sent["pia@example.org"].body)
        self.assertIn("1 in service without a day", sent["pia@example.org"].body)
        self.assertIn("1 due within a week, 0 overdue", sent["pia@example.org"].subject)

    def test_nothing_to_say_is_no_mail(self):
        Instrument.objects.get(tag="PT-1").plans.update(next_due="2099-01-01")
        self.people["ana"].email = "ana@example.org"
        self.people["ana"].daily_mail = True
        self.people["ana"].save()
        call_command("morning_mail", stdout=io.StringIO())
        self.assertEqual(mail.outbox, [])
