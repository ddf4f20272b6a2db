"""Who did what and when is true, and a paper can be made of whatever was written."""

import csv
import io

from django.test import SimpleTestCase
from pypdf import PdfReader

from tests.replay.play_again import kept
from tests.server import works
from tests.server.base import ApiCase
from tests.server.test_papers import paper
from tests.server.works import event
from verifyloop.accounts.models import User
from verifyloop.records.csv import as_csv
from verifyloop.records.pdf import render
from verifyloop.work.models import Event, Job

#: Two thousand three hundred signs, in words and in one.
LONG = ("the impulse line was steamed out again and the valve renewed; " * 40)[:2300]
UNBROKEN = "x" * 2300


class Signing(ApiCase):
    def ready(self, client=None):
        job = self.open()
        sent = (*works.prepared(), *works.readings(), *works.returned())
        self.must(self.send(job, *sent, client=client))
        return job

    def sign(self, job, name):
        return self.send(job, event("signed"), client=self.client_of(name), password=works.PASSWORD)

    def test_who_recorded_nothing_cannot_sign_that_they_did_it(self):
        job = self.ready()
        said = self.must(self.sign(job, "ben"), 422)
        self.assertEqual(said["code"], "signature.nothing_recorded")
        self.assertTrue(said["remedy"])
        self.assertEqual(Job.objects.get(number=job).status, Job.Status.OPEN)
        self.must(self.sign(job, "ana"))

    def test_opening_a_job_is_no_work_in_it(self):
        ben = self.client_of("ben")
        job = self.open(client=ben)
        sent = (*works.prepared(), *works.readings(), *works.returned())
        self.must(self.send(job, *sent))
        self.assertEqual(
            self.must(self.sign(job, "ben"), 422)["code"], "signature.nothing_recorded"
        )

    def test_one_of_two_who_worked_signs(self):
        job = self.ready()
        self.must(self.send(job, event("noted", text="seen"), client=self.client_of("ben")))
        self.must(self.sign(job, "ben"))

    def test_work_and_signature_in_one_batch(self):
        job = self.open()
        sent = (*works.prepared(), *works.readings(), *works.returned(), event("signed"))
        self.must(self.send(job, *sent, password=works.PASSWORD))

    def test_people_are_compared_and_not_their_names(self):
        """Two people of one name: the other one did nothing, whatever the papers show."""
        double = User(username="ana2", first_name="Ana", last_name="Test", role="technician")
        double.set_password(works.PASSWORD)
        double.save()
        self.people["ana2"] = double
        job = self.ready()
        self.assertEqual(
            self.must(self.sign(job, "ana2"), 422)["code"], "signature.nothing_recorded"
        )

    def test_a_reviewer_has_no_entry_in_the_job(self):
        job = self.ready()
        User.objects.filter(username="rea").update(role="technician")
        self.must(self.send(job, event("noted", text="seen"), client=self.client_of("rea")))
        self.must(self.sign(job, "ana"))
        User.objects.filter(username="rea").update(role="reviewer")
        review = event("reviewed", outcome="accepted", comment="")
        said = self.must(
            self.send(job, review, client=self.client_of("rea"), password=works.PASSWORD), 422
        )
        self.assertEqual(said["code"], "review.own_work")

    def test_a_time_without_its_zone_is_refused(self):
        job = self.open()
        before = Event.objects.count()
        one = {**event("noted", text="seen"), "at": "2026-03-01T08:00:00"}
        said = self.must(self.send(job, one), 422)
        self.assertEqual((said["code"], said["field"]), ("event.time", "at"))
        self.assertEqual(Event.objects.count(), before)


class Papers(ApiCase):
    def test_a_long_comment_never_breaks_the_paper(self):
        for n, text in enumerate((LONG, UNBROKEN)):
            works.instrument(f"PT-{50 + n}")
            job = self.signed_job(f"PT-{50 + n}")
            review = event("reviewed", outcome="redo", comment=text)
            rea = self.client_of("rea")
            self.must(self.send(job, review, client=rea, password=works.PASSWORD))
            answer = self.ana.get(f"/api/records/{job}/certificate.pdf")
            self.assertEqual(answer.status_code, 200)
            pages = PdfReader(io.BytesIO(answer.content)).pages
            printed = "".join("".join(p.extract_text().split()) for p in pages)
            self.assertIn("".join(text.split())[-200:], printed)


class AnyText(SimpleTestCase):
    def setUp(self):
        self.said = paper(kept("smart_transmitter")[1])

    def test_a_long_text_anywhere_is_printed(self):
        for where, key in (
            (self.said["instrument"], "description"),
            (self.said["instrument"], "tolerance_source"),
            (self.said["performed"], "review"),
            (self.said["references"][0], "description"),
            (self.said["references"][0], "reason"),
            (self.said["environment"][0], "value"),
        ):
            for text in (LONG, UNBROKEN):
                with self.subTest(key=key, text=text[:10]):
                    was, where[key] = where[key], text
                    self.assertEqual(render(self.said)[:4], b"%PDF")
                    where[key] = was
        self.said["notes"] = [LONG] * 8
        self.assertEqual(render(self.said)[:4], b"%PDF")

    def test_no_cell_of_the_csv_is_a_formula(self):
        self.said["instrument"]["tag"] = "=cmd|' /C calc'!A0"
        self.said["instrument"]["serial"] = "+1"
        self.said["notes"] = ["@SUM(A1)"]
        self.said["performed"]["signed_by"] = "-Ana"
        rows = list(csv.DictReader(io.StringIO(as_csv(self.said))))
        for row in rows:
            for column in ("tag", "serial", "notes", "signed_by"):
                self.assertEqual(row[column][0], "'", column)
            float(row["error_percent_of_span"])

    def test_the_csv_says_who_with_what_and_when(self):
        row = next(csv.DictReader(io.StringIO(as_csv(self.said))))
        self.assertEqual(row["serial"], self.said["instrument"]["serial"])
        self.assertEqual(row["signed_by"], self.said["performed"]["signed_by"])
        self.assertEqual(row["signed_at"], self.said["performed"]["signed_at"])
        self.assertEqual(len(row["references"].split(", ")), len(self.said["references"]))
