"""make shots: one current picture of each main view, from demo data."""

from datetime import date
from pathlib import Path

from playwright.sync_api import expect

from calibration.families.temperature.methods import BARE
from tests.browser.base import PHONE, TABLET, BrowserCase
from tests.browser.walker import Walker
from tests.process import RealServer
from verifyloop.demo.history import serial_of
from verifyloop.demo.works import PASSWORD

FOLDER = Path(__file__).resolve().parents[2] / "docs/screenshots"


class Shots(BrowserCase):
    """Not run by ``make test``; its own server holds the demo."""

    def server(self):
        if not hasattr(self, "own"):
            self.own = RealServer()
            self.addCleanup(self.own.close)
            done = self.own.manage("demo")
            self.assertEqual(done.returncode, 0, done.stderr)
            self.own.start()
        return self.own

    def shoot(self, page, name):
        page.wait_for_timeout(700)
        page.screenshot(path=FOLDER / f"{name}.png")

    def test_main_views(self):
        base = self.server().address
        page = self.person("tessa", PASSWORD)
        self.shoot(page, "today")
        page.goto(f"{base}/instruments?q=pan")
        expect(page.get_by_role("table")).to_be_visible()
        self.shoot(page, "instruments")
        self.bench(page)
        page.goto(f"{base}/records")
        expect(page.get_by_role("list").last).to_be_visible()
        self.shoot(page, "records")
        self.job(page)

    def bench(self, page):
        """The Bench, and two of its calculators."""
        for path, name, figure in (("", "bench", ""),):
            page.goto(f"{self.server().address}/bench{path}")
            expect(page.get_by_role("heading", name="Bench", exact=True)).to_be_visible()
            if figure:
                expect(page.locator("output").first).to_have_text(figure)
            else:
                expect(page.get_by_role("link", name="Scale a signal")).to_be_visible()
            self.shoot(page, name)

    def job(self, page):
        """The job with the output fault, by rig, with a picture of each stage."""
        page.goto(self.server().address)
        self.due(page, "PT-4107").click()
        expect(page.get_by_role("heading", name="Pressure reference", exact=True)).to_be_visible()
        for asset in ("R-105", "R-201"):
            page.get_by_role("button", name=asset).press("Enter")
        page.get_by_label("Operator told").fill("Control room, shift B")
        page.get_by_role("button", name="Save").click()
        self.see(page, "Loop in manual, trips in bypass")
        page.locator("[data-main]").press("Enter")
        for line in ("Isolation valve closed", "Vented and drained", "No pressure left"):
            expect(page.locator("[data-main]")).to_contain_text(line)
            page.locator("[data-main]").press("Enter")
        page.get_by_label("Serial number on the plate").fill("KF-25282-07")
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_text("The record says")).to_be_visible()
        said = page.get_by_text("The record says").inner_text()
        page.get_by_label("Serial number on the plate").fill(said.split("says ")[1].split(". ")[0])
        page.get_by_role("button", name="Save").click()
        page.get_by_label("Lower range value found").fill("0")
        page.get_by_label("Upper range value found").fill("4000")
        page.get_by_role("button", name="Save").click()
        for line in ("No severe alarm", "Not in fixed-current"):
            expect(page.locator("[data-main]")).to_contain_text(line)
            page.locator("[data-main]").press("Enter")
        self.see(page, "Connect the references")
        page.locator("[data-main]").press("Enter")
        page.get_by_label("Ambient temperature").fill("24")
        page.get_by_role("button", name="Save").click()
        page.get_by_role("button", name="No wait is needed").click()
        page.get_by_role("button", name="In service and powered").click()
        page.get_by_role("button", name="Go on without waiting").click()
        page.get_by_label("Go on by itself").click()
        expect(page.get_by_role("region", name="Now")).to_contain_text(
            "point 7 of 9", timeout=120_000
        )
        page.wait_for_timeout(6_000)
        self.shoot(page, "job-4-as-found")
        advised = page.get_by_role("button", name="Adjust it (advised)")
        expect(advised).to_be_visible(timeout=90_000)
        self.shoot(page, "job-5-judge")
        self.others(page.url)
        advised.press("Enter")
        for end in ("zero", "span"):
            self.see(page, f"set {end} until")
            if end == "span":
                page.get_by_role("button", name="Go to 4000 kPa").press("Enter")
            page.get_by_role("button", name=f"Do the output trim, {end}").press(
                "Enter", timeout=60_000
            )
            page.get_by_role("button", name="Record the result").click(timeout=60_000)
        self.see(page, "As left · point 1 of 9")
        page.get_by_label("Go on by itself").click()
        expect(page.get_by_role("region", name="Now")).to_contain_text(
            "Take the references off", timeout=180_000
        )
        self.return_by_keyboard(page, PASSWORD)
        expect(page.get_by_role("link", name="Open the certificate")).to_be_visible()

    def others(self, address):
        """The same job on a tablet held upright, and an instrument on a phone."""
        tablet = self.person("bram", PASSWORD, viewport=TABLET, has_touch=True, is_mobile=True)
        tablet.goto(address)
        expect(tablet.get_by_role("region", name="Now")).to_be_visible()
        self.shoot(tablet, "job-tablet")
        phone = self.person("bram", PASSWORD, viewport=PHONE)
        phone.goto(f"{self.server().address}/instruments/PT-6202")
        expect(phone.get_by_role("heading", name="PT-6202")).to_be_visible()
        self.shoot(phone, "instrument-phone")

    def opened(self, page, tag):
        """Open a job; return a walker that knows the serial number of the works."""
        page.goto(self.server().address)
        self.due(page, tag).click()
        expect(page.locator("main[data-seq]")).to_be_visible()
        job = page.url.rsplit("/", 1)[1]
        answers = {"serial": serial_of(tag)}
        return Walker(page, self.server().address, job, answers=answers)

    def test_set_up(self):
        """A new instrument as a copy, and a list that is looked at."""
        base = self.server().address
        page = self.person("pia", PASSWORD)
        page.goto(f"{base}/instruments/new?like=PT-2204")
        expect(
            page.get_by_text("What a job will ask").or_(page.get_by_text("Not whole"))
        ).to_be_visible()
        page.get_by_label("Tag", exact=True).fill("PT-2206")
        page.get_by_label("Serial number on record").fill("KF-24001-11")
        parts = page.get_by_role("navigation", name="Parts of the form")
        parts.get_by_role("button", name="Method and when due").click()
        page.get_by_label("First due").fill(str(date.today()))
        parts.get_by_role("button", name="Range and output").click()
        expect(page.get_by_text("What a job will ask")).to_be_visible()
        self.shoot(page, "setup")
        page.goto(f"{base}/site?show=lists")
        file = page.context.request.get(f"{base}/api/v1/lists/instruments/list.csv").text()
        file = file.replace("PT-4107", "PT-4198").replace(",600,", ",-600,", 1)
        changed = {"name": "plant.csv", "mimeType": "text/csv", "buffer": file.encode()}
        page.locator("input[type=file]").set_input_files(changed)
        expect(page.get_by_text("refused").first).to_be_visible()
        self.shoot(page, "site-lists")

    def test_families(self):
        """Sensors in two blocks, and the methods."""
        page = self.person("tessa", PASSWORD)
        for number, tag in enumerate(("TE-2101", "TE-2102", "TE-2103", "TE-2104")):
            walker = self.opened(page, tag)
            block = page.get_by_role("button", name="D-402" if number > 1 else "D-401")
            page.get_by_label(BARE, exact=True).press("Space")
            page.get_by_role("button", name="Save").press("Enter")
            expect(page.locator("[data-main]").first).to_contain_text("due")
            page.locator("[data-main]").first.press("Enter")
            block.press("Enter")
            walker.walk("as_found")
            page.get_by_role("button", name="and let it run").click()
            expect(page.get_by_role("region", name="Blocks")).to_be_visible()
        page.wait_for_timeout(40_000)
        self.shoot(page, "job-blocks")
        planner = self.person("pia", PASSWORD)
        planner.goto(f"{self.server().address}/methods?m=displacer_level")
        expect(planner.get_by_role("heading", name="Methods")).to_be_visible()
        self.shoot(planner, "methods")

    def test_ph(self):
        """The set that an analyzer counts by, found by its readings in two bottles."""
        page = self.person("tessa", PASSWORD)
        self.opened(page, "AT-4220").walk("judge")
        region = page.get_by_role("region", name="Now")
        expect(region).to_contain_text("counting by the technical set")
        self.shoot(page, "ph-job")

    def test_flow_and_weighing(self):
        """Where each plug of a tester goes; hands at a belt, two people's locks on it."""
        page = self.person("tessa", PASSWORD)
        self.opened(page, "FT-2120").walk("plugs_in")
        for _ in range(2):
            page.locator("[data-main]").press("Enter")
            page.wait_for_timeout(500)
        self.shoot(page, "job-plugs")
        self.opened(page, "WT-1120").walk("weights_on")
        other = self.person("bram", PASSWORD)
        other.goto(page.url)
        locks = other.get_by_role("region", name="Locks")
        locks.get_by_role("button", name="My hands go in too").click()
        locks.get_by_label("How is it proven").fill("start pressed: it stays still")
        locks.get_by_role("button", name="My lock is on").click()
        region = page.get_by_role("region", name="Locks")
        expect(region.get_by_text("Bram", exact=False).first).to_be_visible(timeout=20_000)
        self.shoot(page, "job-locks")

    def test_gas(self):
        """Span gas on, a round of bump checks, the shelf, and how long a sensor will last."""
        base = self.server().address
        page = self.person("tessa", PASSWORD)
        walker = self.opened(page, "GD-4181")
        walker.walk("as_found")
        for point in (1, 2):
            button = page.get_by_role("button", name="Open G-6")
            expect(button).to_be_visible(timeout=90_000)
            button.press("Enter")
            page.wait_for_timeout(4_500 if point == 2 else 100)
        self.shoot(page, "gas-job")
        page.goto(base)
        page.get_by_label("Tag, words or area").fill("biogas")
        page.get_by_role("button", name="Walk 6 checks").click()
        expect(page.locator("main[data-seq]")).to_be_visible()
        job = page.url.rsplit("/", 1)[1]
        Walker(page, base, job, answers={"serial": serial_of("GD-8101")}).walk("bypass")
        self.shoot(page, "gas-round")
        page.goto(f"{base}/kit?c=G-611")
        expect(page.get_by_role("region", name="Used with")).to_contain_text("drawn")
        self.shoot(page, "kit")
        page.goto(f"{base}/instruments/GD-8131")
        life = page.get_by_role("region", name="Sensor life")
        life.scroll_into_view_if_needed()
        self.shoot(page, "gas-sensor")
