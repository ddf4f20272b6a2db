"""Gas detectors from Today to the certificate, by rig and by typing; rounds; the shelf."""

from __future__ import annotations

from dataclasses import replace

from playwright.sync_api import expect

from calibration.simulate.technician import Technician
from tests.browser.base import ON_TABLET, PHONE, BrowserCase
from tests.browser.looking import Look
from tests.browser.walker import Walker
from tests.core.detectors import ANSWERS, BOTTLES, DETECTORS, MIX
from tests.long import LONG
from tests.server.detectors import PLANTED
from tests.server.works import PASSWORD

TOLD = {**ANSWERS, "operator": "Jo, shift B", "air_a": "0", "air_b": "0", "air_c": "0"}


class Detectors(BrowserCase):
    def ended(self, page, job: str, cause: str) -> None:
        """The certificate opens; it names the cause, the answers, and the gas that was drawn."""
        expect(page.get_by_role("link", name="Open the certificate")).to_be_visible()
        files = f"{self.server().address}/api/v1/records/{job}/certificate"
        said = page.context.request.get(f"{files}.json").json()
        self.assertIn(cause, said["judgement"]["causes"])
        self.assertTrue(said["gas"]["answers"])
        self.assertEqual(page.context.request.get(f"{files}.pdf").body()[:4], b"%PDF")

    def by_rig(self, method: str) -> None:
        page, job = self.begin(f"R-{method}")
        walker = Walker(page, self.server().address, job, answers=TOLD)
        if method == "gas_two_channel":
            walker.walk("on_span")
            self.axe(page)
        walker.walk()
        self.ended(page, job, PLANTED[method][2])

    def by_typing(self, method: str) -> None:
        head, faults, cause = PLANTED[method]
        _, model = DETECTORS[method]
        heads = list(model.heads)
        heads[head] = replace(heads[head], **faults)
        roles = ("span_gas", "span_gas_b", "span_gas_c", "span_gas_d")
        bottles = BOTTLES if model.milliamps else dict.fromkeys(roles, MIX)
        typist = Technician(replace(model, heads=tuple(heads)), seed=5, bottles=bottles)
        touch = method == "gas_portable"
        page, job = self.begin(f"T-{method}", **(ON_TABLET if touch else {}))
        look = Look(self, page, glove=touch, axe=touch)
        Walker(page, self.server().address, job, typist, TOLD, touch, look=look).walk()
        self.ended(page, job, cause)


def _add(way: str, method: str) -> None:
    def test(self: Detectors) -> None:
        getattr(self, way)(method)

    setattr(Detectors, f"test_{method}_{way}", test)


#: A whole walk for each kind of panel; every method walks through the API in tests/server.
if LONG:
    _add("by_rig", "gas_two_channel")
    _add("by_typing", "gas_two_channel")
_add("by_typing", "gas_portable")


class Rounds(BrowserCase):
    """A bump of a hundred detectors: after the first, few actions a detector, none blind."""

    def walk(self, area: str):
        page = self.person()
        page.get_by_label("All areas").select_option(area)
        section = page.get_by_role("region", name="Due").locator("div", has_text=area)
        section.get_by_role("button", name="Walk 3 checks as one round").last.click()
        expect(page.locator("main[data-seq]")).to_be_visible()
        return page

    def job(self, page) -> str:
        return page.url.rsplit("/", 1)[1]

    def first(self, page) -> None:
        """What only the first detector of a round asks for: kit and operator."""
        walker = Walker(page, self.server().address, self.job(page), answers=TOLD)
        walker.walk("identity")

    def tap(self, page, text: str) -> None:
        expect(page.locator("[data-main]").first).to_contain_text(text, timeout=90_000)
        page.locator("[data-main]").first.press("Enter")

    def type(self, page, *values: str) -> None:
        expect(page.locator("form input").first).to_be_visible()
        for n, value in enumerate(values):
            page.locator("form input").nth(n).fill(value)
        page.locator("[data-main]").first.press("Enter")

    def sign(self, page, jobs) -> None:
        page.get_by_label("Your password").fill(PASSWORD)
        page.get_by_role("button", name="Sign the round").click()
        expect(page.get_by_role("link", name="Open the certificate")).to_be_visible()
        for job in jobs:
            state = page.context.request.get(f"{self.server().address}/api/v1/jobs/{job}").json()
            self.assertEqual((state["status"], state["as_found"]["mark"]), ("signed", "within"))

    def test_by_rig_it_takes_the_plate_and_four_taps(self):
        page, jobs = self.walk("Biogas hall"), []
        self.first(page)
        for n in (1, 2, 3):
            expect(page.get_by_role("heading", name=f"GR-{n}", exact=True)).to_be_visible()
            jobs.append(self.job(page))
            self.type(page, "S-77")
            self.tap(page, "All done")
            self.tap(page, "Open G-")
            self.tap(page, "Adapter is off")
            expect(page.get_by_role("region", name="Now")).to_contain_text(
                "Alarm reset, and it stays away", timeout=90_000
            )
            self.tap(page, "Bypass off" if n == 3 else f"Bypass off, next: GR-{n + 1}")
            if n < 3:
                expect(page).not_to_have_url(f"{self.server().address}/jobs/{jobs[-1]}")
        self.sign(page, jobs)

    def test_by_typing_it_takes_the_plate_two_values_and_four_taps(self):
        page, jobs = self.walk("Kiln"), []
        self.first(page)
        for n in (1, 2, 3):
            expect(page.get_by_role("heading", name=f"GT-{n}", exact=True)).to_be_visible()
            jobs.append(self.job(page))
            self.type(page, "S-77")
            self.tap(page, "All done")
            self.tap(page, "Open G-")
            expect(page.get_by_label("Time to 90 %")).to_be_visible()
            self.type(page, "49.6", "11.94", "18")
            # On for a second only: the job asks, once in each of these hurried tests.
            page.get_by_role("button", name="Keep it").click()
            self.tap(page, "Adapter is off")
            expect(
                page.get_by_role("button", name="Clean air, alarm reset, bypass off")
            ).to_be_visible()
            self.type(page, "0.1", "4.02")
            if n < 3:
                expect(page).not_to_have_url(f"{self.server().address}/jobs/{jobs[-1]}")
        self.sign(page, jobs)


class Shelf(BrowserCase):
    def test_what_speaks_against_a_cylinder_is_said_before_the_round(self):
        page = self.person()
        self.go(page, "/instruments/GT-3")
        self.go(page, "/kit")
        shelf = page.get_by_role("region", name="Cylinders")
        expect(shelf).to_contain_text("Past its date")
        expect(shelf).to_contain_text("50 %LEL (2.50 % vol by NFPA 325)")
        expect(shelf).to_contain_text("Nearly empty")
        page.get_by_role("button", name="G-2").click()
        expect(page.get_by_role("region", name="Used with")).to_contain_text("lot L-G-2")
        self.axe(page)
        page.get_by_role("tab", name="Sensors to order").click()
        expect(page.get_by_text("from the last calibration")).to_be_visible()
        self.axe(page)
        phone = self.person(viewport=PHONE)
        self.go(phone, "/kit")
        expect(phone.get_by_role("region", name="Cylinders")).to_be_visible()
        self.assertLessEqual(phone.evaluate("document.documentElement.scrollWidth"), 390)
