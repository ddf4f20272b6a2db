"""pH loops from Today to the certificate: with buffers by rig, a check only by typing."""

from __future__ import annotations

from dataclasses import replace

from playwright.sync_api import expect

from calibration.simulate.technician import Technician
from tests.browser.base import ON_PHONE, BrowserCase
from tests.browser.looking import Look
from tests.browser.walker import Walker
from tests.long import in_long
from tests.server.electrodes import PLANTED, POURED, SOUND


class Electrodes(BrowserCase):
    def ended(self, page, job: str, cause: str) -> None:
        """The certificate opens; it names the cause and says what was poured."""
        expect(page.get_by_role("link", name="Open the certificate")).to_be_visible()
        files = f"{self.server().address}/api/v1/records/{job}/certificate"
        said = page.context.request.get(f"{files}.json").json()
        self.assertIn(cause, said["judgement"]["causes"])
        self.assertTrue(said["tables"][-1]["rows"])
        self.assertEqual(page.context.request.get(f"{files}.pdf").body()[:4], b"%PDF")

    def test_with_buffers_by_rig(self):
        page, job = self.begin("R-ph_buffers")
        walker = Walker(page, self.server().address, job)
        walker.walk("as_found")
        expect(page.get_by_text("Two portions: rinse in the first")).to_be_visible()
        self.axe(page)
        walker.walk("judge")
        region = page.get_by_role("region", name="Now")
        expect(region).to_contain_text("as it would after counting by the technical set")
        walker.walk()
        self.ended(page, job, PLANTED["ph_buffers"][1])
        self.go(page, "/kit?show=references")
        shelf = page.get_by_role("region", name="References")
        expect(shelf.get_by_role("listitem").filter(has_text="B-6.865")).to_contain_text(
            "primary 6.865"
        )

    @in_long
    def test_a_check_by_typing(self):
        faults, cause = PLANTED["ph_check"]
        typist = Technician(replace(SOUND, **faults), seed=5, bottles=POURED)
        page, job = self.begin("T-ph_check", **ON_PHONE)
        look = Look(self, page, glove=True)
        walker = Walker(page, self.server().address, job, typist, touch=True, look=look)
        walker.left = "in_service"
        walker.walk("compare")
        page.get_by_label("Process as shown").fill("8.0")
        page.get_by_label("Grab sample").fill("9.2")
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_role("alert")).to_contain_text("earth current")
        page.get_by_label("Why go on?").fill("the sample stood open")
        page.get_by_role("button", name="Go on with the difference").click()
        self.see(page, "Loop back to automatic")
        walker.walk()
        self.ended(page, job, cause)
