"""Who did what and when is true, and a paper can be made of whatever was written."""

import csv
import io

from django.core.management import call_command
from django.test import SimpleTestCase
from django.utils import timezone
from pypdf import PdfReader

from tests.replay.play_again import kept
from tests.server import works
from tests.server.base import ApiCase
from tests.server.test_papers import paper
from tests.server.works import event
from verifyloop.accounts.models import User
from verifyloop.plant.models import Plan
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
            answer = self.ana.get(f"/api/v1/records/{job}/certificate.pdf")
            self.assertEqual(answer.status_code, 200)
            pages = PdfReader(io.BytesIO(answer.content)).pages
            printed = "".join("".join(p.extract_text().split()) for p in pages)
            self.assertIn("".join(text.split())[-200:], printed)


class AnyText(SimpleTestCase):
    def setUp(self):
        self.said = paper(kept("smart_transmitter")[1])
        signed = self.said["performed"]["signed_at"]
        self.said["review"] = {"outcome": "redo", "by": "Rea", "at": signed, "comment": ""}

    def test_a_long_text_anywhere_is_printed(self):
        for where, key in (
            (self.said["instrument"], "description"),
            (self.said["instrument"], "tolerance_source"),
            (self.said["review"], "comment"),
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

    def test_every_sign_is_printed_or_named(self):
        """Other alphabets and signs of the trade are printed; what no font has is named."""
        signs = "→ ≥ ≤ ≈ Δ Ω µ √ ² Łukasz Šimůnek Čapek Жуков Ωμέγα"
        self.said["instrument"]["description"] = signs
        self.said["notes"] = [f"{signs} 中 \u200b\x07 end"]
        pages = PdfReader(io.BytesIO(render(self.said))).pages
        printed = "".join("".join(p.extract_text().split()) for p in pages)
        self.assertEqual(printed.count("".join(signs.split())), 2)
        self.assertIn("[cjkunifiedideograph-4e2d]", printed)

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


class Outcomes(ApiCase):
    """What a job came to is what every place says of it."""

    BAD = [(applied, f"{float(read.replace(',', '.')) + 0.9:.2f}") for applied, read in works.GOOD]

    def ended(self, choice, reason, values):
        """A whole job, decided so; its instrument was due yesterday."""
        before = self.plan().next_due
        job = self.open()
        decided = event("decided", step="judge", choice=choice, reason=reason)
        sent = [*works.prepared(), *self.kept(values), decided, *works.returned()[1:]]
        self.must(self.send(job, *sent))
        self.answer(job)
        self.assertTrue(self.state(job)["outcome"]["id"], "said before it is signed")
        self.must(self.send(job, event("signed"), password=works.PASSWORD))
        return job, before

    def kept(self, values):
        for one in works.readings(values=values):
            one["data"]["kept"] = True
            yield one

    def plan(self):
        return Plan.objects.get(instrument__tag="PT-1")

    def said(self, job):
        """Return what state, certificate, records, history and Today say."""
        page = self.must(self.ana.get("/api/v1/instruments/PT-1"))
        today = self.must(self.ana.get("/api/v1/today"))
        due = [d for a in today["areas"] for d in a["due"] if d["tag"] == "PT-1"]
        return {
            "state": self.state(job)["outcome"]["id"],
            "paper": self.must(self.ana.get(f"/api/v1/records/{job}/certificate.json"))["verdict"],
            "record": self.must(self.ana.get("/api/v1/records"))["records"][0],
            "past": page["past"][0],
            "due": due[0] if due else None,
        }

    def test_within_takes_the_interval(self):
        job, _ = self.ended("leave", "", works.GOOD)
        said = self.said(job)
        self.assertEqual((said["state"], said["paper"]["outcome"]["good"]), ("within", True))
        self.assertEqual((said["record"]["outcome"], said["past"]["outcome"]), ("", ""))
        self.assertIsNone(said["due"])
        self.assertGreater(self.plan().next_due, timezone.localdate())

    def test_failed_is_out_of_service_and_stays_on_today(self):
        job, _ = self.ended("stop", "the diaphragm is torn", self.BAD)
        said = self.said(job)
        self.assertEqual((said["state"], said["paper"]["outcome"]["good"]), ("failed", False))
        self.assertIn("torn", said["paper"]["outcome"]["why"])
        for words in (said["paper"]["as_left"], said["record"]["outcome"], said["past"]["outcome"]):
            self.assertEqual(words, "failed, out of service")
        self.assertIn("out of service since", said["due"]["due_text"])
        self.assertEqual((said["due"]["last_mark"], said["record"]["mark_left"]), ("outside",) * 2)
        self.assertIsNone(self.plan().next_due)
        found = self.must(self.ana.get("/api/v1/instruments", {"q": "PT-1"}))["found"]
        self.assertIn("out of service", [f["next_due"] for f in found])

    def test_a_later_job_brings_it_back(self):
        self.ended("stop", "the diaphragm is torn", self.BAD)
        job, _ = self.ended("leave", "", works.GOOD)
        self.assertIsNone(self.said(job)["due"])
        self.assertGreater(self.plan().next_due, timezone.localdate())

    def test_stopped_keeps_its_date(self):
        job, before = self.ended("stop", "the shift ended", works.GOOD)
        said = self.said(job)
        self.assertEqual(said["state"], "stopped")
        self.assertEqual(said["record"]["outcome"], "stopped, not judged")
        self.assertEqual(self.plan().next_due, before)
        self.assertEqual((said["record"]["mark_left"], said["past"]["mark_left"]), ("", ""))

    def test_kept_in_service_outside_limits_is_limited_use(self):
        job, _ = self.ended("leave", "until the stop in May", self.BAD)
        said = self.said(job)
        self.assertEqual(said["state"], "limited")
        self.assertIn("until the stop", said["paper"]["outcome"]["why"])
        self.assertIn("limited use", said["record"]["outcome"])
        self.assertEqual(said["record"]["mark_left"], "outside")
        self.assertGreater(self.plan().next_due, timezone.localdate())

    def test_the_projection_made_anew_is_the_same(self):
        job, _ = self.ended("stop", "the diaphragm is torn", self.BAD)
        Job.objects.filter(number=job).update(outcome="within", mark_left="within")
        call_command("rebuild", stdout=io.StringIO())
        self.assertEqual(Job.objects.get(number=job).outcome, "failed")
        self.assertEqual(self.said(job)["record"]["mark_left"], "outside")
