"""What is signed is kept: papers are read from the chain, whatever the rules say later."""

from __future__ import annotations

from io import BytesIO, StringIO
from unittest import mock

from django.core.management import call_command
from pypdf import PdfReader

from calibration.engine.job.fold import fold
from calibration.engine.judging import evaluation
from calibration.engine.method.family import method_for
from tests.server import works
from tests.server.base import ApiCase
from tests.server.works import event
from verifyloop.work.folding import events_of
from verifyloop.work.models import Event, Job

FILES = ("json", "csv", "pdf")


def everything_is_outside(point, judged, rule, receiver):
    return "outside"


class OnePaper(ApiCase):
    def setUp(self):
        super().setUp()
        self.job = self.signed_job()

    def files(self, query=""):
        base = f"/api/v1/records/{self.job}/certificate"
        return {kind: self.ana.get(f"{base}.{kind}{query}").content for kind in FILES}

    def places(self):
        """Return what the lists and the job itself say of what it came to."""
        record = self.must(self.ana.get("/api/v1/records"))["records"][0]
        past = self.must(self.ana.get("/api/v1/instruments/PT-1"))["past"][0]
        return record, past, self.state(self.job)["outcome"]

    def verify(self):
        out = StringIO()
        call_command("verify_records", stdout=out)
        return out.getvalue()

    def text(self, pdf):
        return " ".join(
            " ".join(page.extract_text().split()) for page in PdfReader(BytesIO(pdf)).pages
        )


class Kept(OnePaper):
    def test_a_changed_rule_changes_no_signed_paper_and_is_named(self):
        before, said = self.files(), self.places()
        self.assertNotIn("today's rules", self.verify())
        with mock.patch.object(evaluation, "_mark", everything_is_outside):
            evaluation.evaluate.cache_clear()
            self.assertEqual(self.files(), before)
            self.assertEqual(self.places(), said)
            call_command("rebuild", stdout=StringIO())
            self.assertEqual(self.places(), said)
            told = self.verify()
        evaluation.evaluate.cache_clear()
        self.assertIn(f"{self.job}: kept as signed; today's rules would say otherwise in", told)
        self.assertIn("as_found", told)
        self.assertIn("every record is as it was written", told)

    def test_the_paper_is_an_event_behind_the_signature_with_the_rules_it_came_from(self):
        signed, issued = Event.objects.order_by("-seq")[:2][::-1]
        self.assertEqual((signed.kind, issued.kind), ("signed", "issued"))
        paper = self.must(self.ana.get(f"/api/v1/records/{self.job}/certificate.json"))
        self.assertEqual(paper["chain"]["seal"], signed.seal)
        self.assertEqual(paper["chain"]["events"], signed.seq)
        self.assertRegex(paper["rules"], r"^\d+\+[0-9a-f]{12}$")
        self.assertEqual(paper["performed"]["account"], "ana")
        self.assertEqual([p["account"] for p in paper["performed"]["people"]], ["ana"])

    def test_the_review_is_sealed_later_with_its_day_and_person(self):
        said = event("reviewed", outcome="accepted", comment="looks right")
        rea = self.client_of("rea")
        self.must(self.send(self.job, said, client=rea, password=works.PASSWORD))
        review = self.must(self.ana.get(f"/api/v1/records/{self.job}/certificate.json"))["review"]
        stored = Event.objects.get(kind="reviewed")
        self.assertEqual((review["by"], review["account"]), ("Rea Test", "rea"))
        self.assertEqual(review["at"], stored.at.isoformat(timespec="milliseconds"))
        text = self.text(self.files()["pdf"])
        self.assertIn("accepted by Rea Test", text)
        self.assertIn("every record is as it was written", self.verify())

    def test_nobody_issues_a_paper_by_sending_one(self):
        works.instrument("PT-2")
        job = self.open("PT-2")
        paper = {"issue": 1, "core": "x", "paper": {}}
        said = self.must(self.send(job, event("issued", **paper)), 422)
        self.assertEqual(said["code"], "event.not_here")
        said = self.must(self.send(self.job, event("issued", **paper)), 422)
        self.assertEqual(said["code"], "job.signed")

    def test_the_browser_computes_nothing_else(self):
        """A fold of the events alone gives the outcome that was sealed."""
        job = Job.objects.get()
        events = events_of(job)
        state = fold(method_for(job.method, job.method_version), events, events[-1].when)
        self.assertEqual(state.outcome.id, job.outcome)


class Amended(OnePaper):
    def amend(self, changes, reason="typed wrong", client=None, password=works.PASSWORD):
        return (client or self.client_of("rea")).post(
            f"/api/v1/records/{self.job}/issues",
            {"changes": changes, "reason": reason, "password": password},
            content_type="application/json",
        )

    def test_a_new_issue_says_what_and_why_and_the_first_stays(self):
        first = self.files()["json"]
        said = self.must(self.amend({"serial": "S-78", "customer": "Boiler house"}))
        self.assertEqual([i["issue"] for i in said["issues"]], [1, 2])
        self.assertEqual(
            said["issues"][1]["what"],
            "Serial number: 'S-77' to 'S-78'; Customer: 'none' to 'Boiler house'",
        )
        base = f"/api/v1/records/{self.job}/certificate.json"
        newest, oldest = self.must(self.ana.get(base)), self.must(self.ana.get(f"{base}?issue=1"))
        self.assertEqual(newest["instrument"]["serial"], "S-78")
        self.assertEqual((newest["issue"]["number"], newest["issue"]["replaces"]), (2, 1))
        self.assertEqual(newest["replaced_by"], None)
        self.assertEqual(oldest["instrument"]["serial"], "S-77")
        self.assertEqual(oldest["replaced_by"], 2)
        kept = self.must(self.ana.get(f"{base}?issue=1"))
        for name in ("issues", "replaced_by"):
            del kept[name]
        self.assertEqual(kept["chain"], oldest["chain"])
        self.assertIn(b'"serial": "S-77"', first)
        text = self.text(self.files()["pdf"])
        self.assertIn("Issue 2 replaces issue 1", text)
        self.assertIn("typed wrong", text)
        self.assertIn("replaced by issue 2", self.text(self.files("?issue=1")["pdf"]))
        self.assertIn("every record is as it was written", self.verify())

    def test_what_is_measured_and_who_may_not_are_refused(self):
        for changes, reason, code in (
            ({"reading": "12"}, "x", "amend.field"),
            ({"serial": "S-77"}, "x", "amend.nothing"),
            ({}, "x", "amend.nothing"),
            ({"serial": "S-78"}, "  ", "reason.missing"),
            ({"serial": "S" * 300}, "x", "text.too_long"),
        ):
            with self.subTest(code=code):
                self.assertEqual(self.must(self.amend(changes, reason), 422)["code"], code)
        self.must(self.amend({"serial": "S-78"}, client=self.ana), 403)
        self.must(self.amend({"serial": "S-78"}, password="wrong"), 403)
        self.must(self.ana.get(f"/api/v1/records/{self.job}/certificate.json?issue=2"), 404)
        self.assertEqual(Event.objects.filter(kind="issued").count(), 1)

    def test_an_open_job_has_nothing_to_amend(self):
        works.instrument("PT-2")
        self.job = self.open("PT-2")
        self.assertEqual(self.must(self.amend({"serial": "x"}), 422)["code"], "amend.not_signed")
