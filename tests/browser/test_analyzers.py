"""Process analyzers up to the certificate: by rig, with keys alone, and typed on the phone."""

from __future__ import annotations

from playwright.sync_api import expect

from calibration.simulate.technician import Technician
from tests.browser.base import ON_PHONE, BrowserCase
from tests.browser.looking import Look
from tests.browser.walker import Walker
from tests.long import in_long
from tests.server import gcs, mixtures, traces


class Analyzers(BrowserCase):
    def ended(self, page, job: str, cause: str) -> dict:
        """The certificate opens and names the cause."""
        expect(page.get_by_role("link", name="Open the certificate")).to_be_visible()
        files = f"{self.server().address}/api/v1/records/{job}/certificate"
        said = page.context.request.get(f"{files}.json").json()
        self.assertIn(cause, said["judgement"]["causes"])
        self.assertEqual(page.context.request.get(f"{files}.pdf").body()[:4], b"%PDF")
        return {table["title"]: table["rows"] for table in said["tables"]}

    def test_trace_oxygen_by_rig(self):
        page, job = self.begin("R-trace_oxygen")
        walker = Walker(page, self.server().address, job)
        walker.walk("bleed")
        expect(page.get_by_role("button", name="All 4 are done")).to_be_visible()
        self.axe(page)
        walker.walk("judge")
        held = page.get_by_text("until the device ends the hold-off by itself")
        expect(held.first).to_be_visible()
        walker.walk()
        tables = self.ended(page, job, "Sensor weaker")
        self.assertEqual([r[2] for r in tables["Regulator, filled and vented"]], ["4", "9"])

    @in_long
    def test_a_new_sensor_typed_on_the_phone(self):
        typist = Technician(traces.sound(), seed=5, answers=traces.TOLD)
        page, job = self.begin("T-trace_new_sensor", **ON_PHONE)
        look = Look(self, page, glove=True)
        told = {"air_seconds": "20", "sensor_serial": "N-2"}
        walker = Walker(
            page, self.server().address, job, typist, answers=told, touch=True, look=look
        )
        walker.walk("come_down")
        self.see(page, "It can only reach what the process is")
        walker.walk("judge")
        expect(page.get_by_role("button", name="Leave it as it is")).to_have_count(0)
        walker.walk()
        expect(page.get_by_role("link", name="Open the certificate")).to_be_visible()

    def test_a_mixture_by_rig_with_keys_alone(self):
        page, job = self.begin("R-mixture_calibrate")
        walker = Walker(page, self.server().address, job, keys=True)
        walker.walk("in_span")
        self.axe(page)
        walker.walk()
        tables = self.ended(page, job, "Span moved")
        left = {tuple(r[:2]): r[4] for r in tables["Every component"]}
        self.assertTrue(left["Carbon monoxide", "mixture"])
        self.assertEqual(left["Carbon dioxide", "mixture"], "")

    @in_long
    def test_a_mixture_typed_on_the_phone(self):
        typist = Technician(
            mixtures.sound(gain=0.96), seed=5, answers=mixtures.TOLD, bottles=mixtures.POURED
        )
        page, job = self.begin("T-mixture_calibrate", **ON_PHONE)
        look = Look(self, page, glove=True)
        walker = Walker(page, self.server().address, job, typist, touch=True, look=look)
        walker.walk("in_zero")
        self.axe(page)
        walker.walk()
        self.ended(page, job, "Span moved")

    @in_long
    def test_a_chromatograph_by_rig(self):
        page, job = self.begin("R-gc_calibrate")
        walker = Walker(page, self.server().address, job)
        walker.walk("inject_2")
        self.axe(page)
        walker.walk("judge")
        expect(
            page.get_by_role("table", name="Injections, ppm")
            .or_(page.get_by_text("Injections 1 and 2 agree."))
            .first
        ).to_be_visible()
        walker.walk()
        tables = self.ended(page, job, "Detector weaker")
        self.assertEqual(len(tables["Every injection, ppm at s"]), 4)

    def test_a_chromatograph_typed(self):
        typist = Technician(
            gcs.sound(aged_percent=8.0), seed=5, answers=gcs.TOLD, bottles=gcs.POURED
        )
        page, job = self.begin("T-gc_calibrate")
        Walker(page, self.server().address, job, typist).walk()
        self.ended(page, job, "Detector weaker")
        self.ended_by_power_off(page, "T-gc_calibrate")

    def ended_by_power_off(self, page, tag: str) -> None:
        """It is good now; a time to come is refused and stays; now ends it, on Today too."""
        self.go(page, f"/instruments/{tag}")
        holds = page.get_by_role("region", name="Does it hold?")
        expect(holds.get_by_text("Good now.")).to_be_visible()
        holds.get_by_role("button", name="It was switched off").click()
        when = holds.get_by_label("It was switched off: when?")
        when.fill("2199-01-01T10:00")
        holds.get_by_role("button", name="Note it").click()
        expect(holds.get_by_text("That is still to come.")).to_be_visible()
        expect(when).to_have_value("2199-01-01T10:00")
        when.fill("")
        holds.get_by_role("button", name="Note it").click()
        expect(holds.get_by_text("Not good now.")).to_be_visible()
        expect(holds.get_by_text("switched off, noted by Ana Test")).to_be_visible()
        self.axe(page)
        self.go(page, "/")
        line = page.get_by_role("region", name="Still valid?").get_by_role("link", name=tag)
        off = line.filter(has_text="switched off")
        expect(off.filter(has_text="Not valid now").first).to_be_visible()
