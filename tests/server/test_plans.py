"""What is planned at an instrument, and what a job does to its plans and to the kit."""

from datetime import timedelta

from django.utils import timezone

from tests.server import works
from tests.server.base import ApiCase
from tests.server.test_gas import GasCase
from verifyloop.plant.models import Instrument, Plan
from verifyloop.work.models import Job
from verifyloop.work.services import open_job


class TwoPlans(GasCase):
    def setUp(self):
        super().setUp()
        visit = self.visit("GD-1")
        visit.until("")
        self.detector = Instrument.objects.get(tag="GD-1")
        self.today = timezone.localdate()
        Plan.objects.create(
            instrument=self.detector,
            method="gas_bump",
            parameters={"interval_days": {"value": "30", "source": "site rule"}},
            next_due=self.today,
        )

    def due(self):
        return {p.method: p.next_due for p in self.detector.plans.all()}

    def test_a_calibration_counts_for_the_bump_and_a_bump_for_nothing_else(self):
        before = self.due()["gas_zero_span"]
        self.open_by("gas_bump")
        self.visit("GD-1").until("")
        self.assertEqual(self.due()["gas_bump"], self.signed_on() + timedelta(days=30))
        self.assertEqual(self.due()["gas_zero_span"], before)
        Plan.objects.filter(method="gas_bump").update(next_due=self.today - timedelta(days=3))
        self.open_by("gas_zero_span")
        self.visit("GD-1").until("")
        self.assertEqual(self.due()["gas_bump"], self.signed_on() + timedelta(days=30))
        said = self.detector.plans.get(method="gas_bump").due_reason
        self.assertIn("done with: Zero and span", said)

    def signed_on(self):
        """The day of the last signature: not today where a visit of hours began before midnight."""
        return timezone.localdate(Job.objects.order_by("-signed_at").first().signed_at)

    def open_by(self, method):
        start = timezone.now() - timedelta(hours=3, seconds=1)
        open_job(actor=self.people["ana"], tag="GD-1", now=start, method_id=method)

    def test_what_is_due_is_named_on_today_and_the_wider_one_is_begun(self):
        Plan.objects.filter(method="gas_zero_span").update(next_due=self.today)
        found = self.ana.get("/api/v1/today").json()["areas"]
        (line,) = [d for a in found for d in a["due"] if d["tag"] == "GD-1"]
        self.assertEqual(line["what"], "zero and span, bump check")
        self.assertEqual(self.state(self.open("GD-1"))["method"][:13], "Zero and span")


class Failed(ApiCase):
    def test_out_of_service_what_failed_is_done_and_not_what_is_due_in_years(self):
        Plan.objects.create(
            instrument=self.instrument,
            method="smart_transmitter",
            next_due=timezone.localdate() + timedelta(days=900),
        )
        self.instrument.plans.filter(method="pressure_transmitter").update(next_due=None)
        Instrument.objects.filter(tag="PT-1").update(out_of_service={"since": "2026-01-01"})
        self.assertEqual(self.state(self.open())["method"][:8], "Pressure")


class Kit(ApiCase):
    def test_where_a_reference_is_connected_is_said_where_it_is_chosen(self):
        works.instrument("PT-2")
        first = self.open()
        self.must(self.send(first, *works.prepared()))
        second = self.open("PT-2")
        found = self.must(self.ana.get(f"/api/v1/jobs/{second}/kit?quantity=pressure"))
        said = {o["asset"]: o["elsewhere"] for o in found}
        self.assertEqual(said["R-1"], f"PT-1 ({first})")


class Said(ApiCase):
    def test_history_says_a_line_as_it_was_shown_whatever_a_client_claims(self):
        job = self.open()
        prepared = works.prepared()
        until = next(n for n, e in enumerate(prepared) if e["kind"] == "confirmed")
        line = {**prepared[until], "data": {**prepared[until]["data"], "said": "All is well"}}
        self.must(self.send(job, *prepared[:until], line))
        text = self.ana.get(f"/api/v1/jobs/{job}/history").json()[0]["text"]
        self.assertNotIn("All is well", text)
        self.assertIn("Isolation valve closed", text)
