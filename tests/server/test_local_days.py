"""A day is a day at the site: far from Greenwich every place still says the same one."""

from __future__ import annotations

from datetime import UTC, date, datetime
from io import BytesIO
from unittest import mock

from django.test import override_settings
from pypdf import PdfReader

from calibration.engine.job.events import AssetFacts
from tests.server import works
from tests.server.base import ApiCase
from tests.server.works import event
from verifyloop.kit.models import Reference
from verifyloop.plant.models import Instrument, Plan

#: the morning of the second of March in Auckland, the evening of the first in Greenwich
AT = datetime(2026, 3, 1, 20, 0, tzinfo=UTC)
DAY = date(2026, 3, 2)


@override_settings(TIME_ZONE="Pacific/Auckland")
class Auckland(ApiCase):
    def setUp(self):
        clock = mock.patch("django.utils.timezone.now", return_value=AT)
        clock.start()
        self.addCleanup(clock.stop)
        super().setUp()

    def test_every_place_says_the_day_at_the_site(self):
        job = self.signed_job()
        record = self.must(self.ana.get("/api/v1/records"))["records"][0]
        page = self.must(self.ana.get("/api/v1/instruments/PT-1"))
        self.assertEqual(record["day"], str(DAY))
        self.assertEqual(page["past"][0]["day"], str(DAY))
        self.assertEqual(Instrument.objects.get().last_on, DAY)
        self.assertIn(f"after {DAY}", Plan.objects.get().due_reason)
        self.assertEqual(self.must(self.ana.get("/api/v1/today"))["date"], str(DAY))
        answer = self.ana.get(f"/api/v1/records/{job}/certificate.pdf")
        text = " ".join(PdfReader(BytesIO(answer.content)).pages[0].extract_text().split())
        self.assertIn(f"{DAY} 09:00", text)
        self.assertIn("Pacific/Auckland", text)
        self.assertNotIn("2026-03-01", text)

    def test_a_reference_is_in_date_by_the_day_at_the_site(self):
        """Due on the first of March: over at the site, though not yet in Greenwich."""
        Reference.objects.filter(asset="R-1").update(due_on=date(2026, 3, 1))
        job = self.open()
        role = self.state(job)["tasks"][0]["asks"][0]["id"]
        said = self.must(self.send(job, event("kit_chosen", role=role, asset="R-1")), 422)
        self.assertEqual(said["code"], "reference.expired")
        Reference.objects.filter(asset="R-1").update(due_on=DAY)
        self.must(self.send(job, event("kit_chosen", role=role, asset="R-1")))

    def test_facts_of_a_reference_name_who_certified_it(self):
        self.assertIn("issued_by", AssetFacts.__dataclass_fields__)
        Reference.objects.filter(asset="R-1").update(issued_by="Saltmarsh")
        job = self.signed_job()
        paper = self.must(self.ana.get(f"/api/v1/records/{job}/certificate.json"))
        by = {r["asset"]: r["issued_by"] for r in paper["references"]}
        self.assertEqual(by["R-1"], "Saltmarsh")
        self.assertIn("not shown for M-1", paper["traceability"])

    def test_nothing_is_traced_without_references_on_record(self):
        job = self.signed_job()
        paper = self.must(self.ana.get(f"/api/v1/records/{job}/certificate.json"))
        self.assertIn("Traceability is not shown", paper["traceability"])
        self.assertEqual(works.PASSWORD in str(paper), False)
