"""Whole jobs in the browser: by simulated rig, typed, by touch."""

import re

from playwright.sync_api import expect

from tests.browser.base import TABLET, BrowserCase

#: applied, digital, read, control room; an output fault with zero +0.60 %, span +0.90 %
TYPED = [
    ("0", "0", "4.10", "24"),
    ("1000", "1000", "8,13", "1033"),
    ("2000", "2000", "12.17", "2042"),
    ("3000", "3000", "16.20", "3050"),
    ("4000", "4000", "20.24", "4060"),
    ("3000", "3000", "16.20", "3050"),
    ("2000", "2000", "12.17", "2042"),
    ("1000", "1000", "8.13", "1033"),
    ("0", "0", "4.10", "24"),
]
LEFT = [
    (applied, applied, read, applied)
    for applied, read in (
        ("0", "4.00"),
        ("1000", "8.01"),
        ("2000", "12.01"),
        ("3000", "16.00"),
        ("4000", "20.01"),
        ("3000", "16.01"),
        ("2000", "12.00"),
        ("1000", "8.00"),
        ("0", "4.00"),
    )
]


class ByRig(BrowserCase):
    def test_the_whole_job_with_an_output_fault(self):
        page = self.person()
        self.start(page, "PT-21")
        self.prepare_by_keyboard(page)
        expect(page.get_by_test_id("live-value")).to_contain_text("mA")
        page.get_by_label("Go on by itself").click()
        expect(page.get_by_role("button", name="Adjust it (advised)")).to_be_visible(timeout=60_000)
        result = page.get_by_role("region", name="Now")
        expect(result).to_contain_text("Outside limits.")
        expect(result).to_contain_text("enters at the output")
        expect(result).to_contain_text("trim the output against the milliampere meter")
        fit = page.get_by_text(re.compile("best fit"))
        zero, span = re.findall(r"[+\u2212]\d+\.\d+", fit.text_content())
        self.assertAlmostEqual(float(zero), 0.48, delta=0.021)
        self.assertAlmostEqual(float(span), 0.86, delta=0.021)
        page.get_by_role("button", name="Adjust it (advised)").press("Enter")
        self.see(page, "Output trim: apply 0 kPa and set zero until the meter reads 4.000 mA")
        for end in ("zero", "span"):
            self.see(page, f"set {end} until")
            if end == "span":
                page.get_by_role("button", name="Go to 4000 kPa").press("Enter")
            main = page.locator("[data-main]")
            expect(main).to_contain_text(f"Do the output trim, {end}")
            main.press("Enter")
            expect(main).to_contain_text("Record the result")
            main.press("Enter")
        self.see(page, "As left · point 1 of 9")
        # What was found is not what was left.
        beside = page.get_by_role("region", name="Points and judgement")
        expect(beside).to_contain_text("Nothing read yet.")
        expect(beside).not_to_contain_text("Largest error")
        page.get_by_label("Go on by itself").click()
        self.see_return(page)
        self.return_by_keyboard(page)
        certificate = page.get_by_role("link", name="Open the certificate")
        expect(certificate).to_be_visible()
        answer = page.context.request.get(
            f"{self.server().address}/{certificate.get_attribute('href')}"
        )
        self.assertTrue(answer.body().startswith(b"%PDF"))

    def see_return(self, page):
        expect(page.get_by_role("region", name="Now")).to_contain_text(
            "Take the references off", timeout=60_000
        )
        expect(page.get_by_role("region", name="Points and judgement")).to_contain_text(
            "Within limits."
        )

    def test_the_strip_names_the_hop_for_sensor_and_receiver(self):
        for tag, hop, remedy in (
            ("PT-23", "sensor", "trim the sensor"),
            ("PT-24", "control room", "scaling of the receiver"),
        ):
            with self.subTest(tag=tag):
                page = self.person()
                self.prepared(page, tag)
                page.get_by_label("Go on by itself").click()
                advised = page.get_by_role("button", name="Adjust it (advised)")
                expect(advised).to_be_visible(timeout=60_000)
                result = page.get_by_role("region", name="Now")
                expect(result).to_contain_text(f"enters at the {hop}")
                expect(result).to_contain_text(remedy)
                expect(page.get_by_role("region", name="Loop strip")).to_contain_text("enters here")

    def test_a_mixed_run_and_a_reading_taken_early_with_a_reason(self):
        page = self.person()
        self.prepared(page, "PT-22")
        page.get_by_role("button", name="Type it in").click()
        self.type_reading(page, "0.1", "0.1", "4.001", "0")
        self.see(page, "point 2 of 9")
        page.get_by_role("button", name="Back to the live value").click()
        page.get_by_role("button", name="Go to 1000 kPa").press("Enter")
        page.get_by_role("button", name="Take reading").press("Enter")
        self.see(page, "point 3 of 9")
        page.get_by_role("tab", name="History").click()
        lines = page.get_by_role("region", name="History")
        expect(lines).to_contain_text("from the simulated rig")
        expect(lines).to_contain_text("point 1: 0.1 kPa gives 4.001 mA")


class Typed(BrowserCase):
    def test_the_whole_job_by_keyboard_alone(self):
        page = self.person()
        self.start(page, "PT-1")
        self.prepare_by_keyboard(page)
        for number, values in enumerate(TYPED, start=1):
            self.see(page, f"point {number} of 9")
            self.type_reading(page, *values)
        result = page.get_by_role("region", name="Now")
        expect(result).to_contain_text("Zero shift")
        expect(result).to_contain_text("Span error")
        page.get_by_role("button", name="Adjust it (advised)").press("Enter")
        self.see(page, "set zero until the meter reads 4.000 mA")
        self.type_reading(page, "0", "4.10", "0", "4.00")
        self.see(page, "set span until the meter reads 20.000 mA")
        self.type_reading(page, "4000", "20.14", "4000", "20.01")
        for number, values in enumerate(LEFT, start=1):
            self.see(page, f"As left · point {number} of 9")
            self.type_reading(page, *values)
        expect(page.get_by_role("cell", name="4.00", exact=True).first).to_be_visible()
        self.return_by_keyboard(page, "not my password")
        expect(page.get_by_role("alert")).to_contain_text("The password is not right")
        page.get_by_label("Your password").fill("long-enough-7")
        page.keyboard.press("Enter")
        expect(page.get_by_role("link", name="Open the certificate")).to_be_visible()

    def unhurried(self, page, target):
        """Tap as a person does: sooner it would be the second half of a double tap."""
        page.wait_for_timeout(500)
        target.tap()

    def tick(self, page, *lines):
        """Tap the lines of a checklist; with the last one the step is done and gone."""
        for line in lines:
            box = page.get_by_role("checkbox", name=re.compile(line))
            self.unhurried(page, box)
            expect(box.and_(page.locator("[aria-checked=false]"))).to_have_count(0)

    def test_by_touch_alone_on_a_tablet(self):
        page = self.person(viewport=TABLET, has_touch=True, is_mobile=True)
        page.get_by_role("button", name="Start PT-2", exact=True).tap()
        for asset in ("R-1", "M-1"):
            self.unhurried(page, page.get_by_role("button", name=re.compile(f"^{asset}")))
        page.get_by_label("Operator told").fill("Jo")
        page.get_by_role("button", name="Save").tap()
        self.unhurried(page, page.get_by_role("button", name="Loop is in manual"))
        self.tick(page, "Isolation valve closed", "Vented and drained", "No pressure left")
        page.get_by_label("Serial number on the plate").fill("S-77")
        page.get_by_role("button", name="Save").tap()
        page.get_by_label("Lower range value found").fill("0")
        page.get_by_label("Upper range value found").fill("4000")
        page.get_by_role("button", name="Save").tap()
        self.tick(page, "No severe alarm", "Not in fixed-current")
        self.unhurried(page, page.get_by_role("button", name="References are connected"))
        page.get_by_role("button", name="No wait is needed").tap()
        page.get_by_role("button", name="In service and powered").tap()
        page.get_by_role("button", name="Go on without waiting").tap()
        self.see(page, "point 1 of 9")
        page.get_by_role("button", name="Note the surroundings").tap()
        page.get_by_label("Ambient temperature").fill("20")
        page.get_by_role("button", name="Save").tap()
        expect(page.get_by_role("button", name="Note the surroundings")).to_have_count(0)
        pad = page.get_by_role("group", name="Number pad")
        for applied, read in (("0", "4.00"), ("1000", "8.01")):
            for text, moves in ((applied, 2), (read, 2)):
                for digit in text:
                    pad.get_by_role("button", name=digit, exact=True).tap()
                for _ in range(moves):
                    pad.get_by_role("button", name="Next").tap()
            expect(page.get_by_role("cell", name=read, exact=True)).to_be_visible()
        wide = page.evaluate("document.documentElement.scrollWidth > innerWidth")
        self.assertFalse(wide, "the page scrolls sideways")
        for button in page.get_by_role("region", name="Now").get_by_role("button").all():
            box = button.bounding_box()
            self.assertGreaterEqual(round(box["height"]) if box else 44, 44, button.inner_text())
