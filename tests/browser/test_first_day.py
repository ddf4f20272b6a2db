"""A new plant's first day: an empty start to a reviewed certificate, each click counted."""

from __future__ import annotations

import re
from datetime import date, timedelta

from playwright.sync_api import Page, expect

from calibration.simulate.loop import LoopModel
from calibration.simulate.technician import Technician
from tests.browser.base import DESK, BrowserCase, browser
from tests.browser.walker import Walker
from tests.long import DOCS
from tests.process import RealServer
from tests.server.first_list import first_list

PASSWORD = "three quiet words"
#: What a hand takes for a click, and for a field. [s]
CLICK_S, FIELD_S, MOST_MINUTES = 2, 6, 45
COUNT = """
const add = (name) => localStorage.setItem(name, 1 + Number(localStorage.getItem(name) ?? 0));
document.addEventListener("click", (e) => e.isTrusted && e.detail !== undefined && add("clicks"),
  true);
document.addEventListener("change", (e) =>
  e.target.matches("input:not([type=file]), select, textarea") && add("fields"), true);
"""
DUE, YEAR = date.today(), date.today() + timedelta(days=360)
REFERENCES = (
    ("Pressure reference", "R-1", "Pressure module 16 bar", "bar", "16", "0.02"),
    ("Meter for the loop current", "M-1", "Loop meter", "mA", "24", "0.01"),
    ("Reference thermometer", "T-1", "Probe with readout", "°C", "200", "0.02"),
)


class FirstDay(BrowserCase):
    def setUp(self):
        self.plant = RealServer(settings="verifyloop.settings")
        self.addCleanup(self.plant.close)
        said = self.plant.manage("start", "--address", "http://here")
        self.key = re.search(r"key=(\S+)", said.stdout)[1]
        self.plant.start()
        self.pages: list[Page] = []
        self.lines: list[str] = []
        self.before = (0, 0)

    def server(self) -> RealServer:
        return self.plant

    def page_of(self, path: str) -> Page:
        context = browser().new_context(
            viewport=DESK, reduced_motion="reduce", service_workers="block"
        )
        self.addCleanup(context.close)
        context.add_init_script(COUNT)
        page = context.new_page()
        page.on("pageerror", lambda error: self.fail(f"the page failed: {error}"))
        page.goto(f"{self.plant.address}{path}")
        self.pages.append(page)
        return page

    def fill(self, page: Page, **fields: str) -> None:
        for label, value in fields.items():
            self.typed(page, label.replace("_", " "), value)

    def typed(self, page: Page, label: str, value: str) -> None:
        box = page.get_by_role("textbox", name=label).first
        box.fill(value)
        box.blur()

    def test_from_an_empty_start_to_a_reviewed_certificate(self):
        pia = self.site()
        self.stage("The site and its first planner")
        people = {
            name: self.invited(pia, name, last, role)
            for name, last, role in (("ana", "Alder", "technician"), ("rea", "Rook", "reviewer"))
        }
        self.stage("Two people invited, each sets a password")
        self.listed(pia)
        self.stage("A list of 200 instruments of every family")
        self.references(pia)
        self.stage("Three references by form")
        self.gas_and_buffer(pia)
        self.stage("A cylinder and a bottle of buffer by form")
        self.work(people["ana"])
        self.stage("The first job, typed, signed")
        self.review(people["rea"])
        self.stage("Its review")
        page = (DOCS.parent / "first-day.md").read_text()
        for line in self.lines[:5]:
            self.assertIn(line, page, "docs/first-day.md says something else")
        self.assertLessEqual(self.counted()[2], MOST_MINUTES)

    def stage(self, name: str) -> None:
        """Add a line for what was done since the last one."""
        clicks, fields, _ = self.counted()
        before = self.before
        self.before = (clicks, fields)
        self.lines.append(_line(name, clicks - before[0], fields - before[1]))

    def site(self) -> Page:
        page = self.page_of(f"/?key={self.key}")
        self.fill(page, Name_of_the_site="Alder Mill", Laboratory="Workshop", Address="Mill Lane 1")
        self.fill(page, First_name="Pia", Last_name="Test", Name_to_sign_in_with="pia")
        page.get_by_label("Password, ten").fill(PASSWORD)
        page.get_by_role("button", name="Make the site").click()
        expect(page.get_by_role("heading", name="Invite somebody")).to_be_visible()
        return page

    def invited(self, page: Page, name: str, last: str, role: str) -> Page:
        self.fill(page, First_name=name.title(), Last_name=last, Name_to_sign_in_with=name)
        page.get_by_label("Role", exact=True).select_option(role)
        form = page.get_by_role("form", name="Invite somebody")
        form.get_by_label("Your own password").fill(PASSWORD)
        form.get_by_role("button", name="Invite").click()
        box = page.get_by_role("region", name="Link")
        expect(box).to_contain_text(f"A link for {name.title()}")
        path = re.search(r"/welcome/\S+", box.inner_text())[0]
        own = self.page_of(path)
        own.get_by_label("Password, ten").fill(PASSWORD)
        own.get_by_role("button", name="Set it and sign in").click()
        expect(own.get_by_role("heading", name="Today")).to_be_visible()
        return own

    def listed(self, page: Page) -> None:
        page.get_by_role("tab", name="Lists").click()
        file = {"name": "plant.csv", "mimeType": "text/csv", "buffer": first_list(200, str(DUE))}
        page.locator("input[type=file]").set_input_files(file)
        page.get_by_role("button", name="Store 200 rows").click()
        expect(page.get_by_text("Stored: 200 new")).to_be_visible()

    def references(self, page: Page) -> None:
        for kind, asset, what, unit, upper, share in REFERENCES:
            self.new(page, kind, asset, what)
            self.fill(page, Its_unit=unit, Serial_number="1")
            self.fill(page, End_of_its_range=upper, Share_of_the_value=share)
            self.certificate(page, "Date of the certificate")

    def gas_and_buffer(self, page: Page) -> None:
        self.new(page, "Cylinder of calibration gas", "G-1", "Methane 2.2 % vol in air")
        page.get_by_role("button", name="Add a line").click()
        page.get_by_label("Gas", exact=True).select_option("methane")
        page.get_by_label("Concentration").fill("2.2")
        page.get_by_label("The rest").select_option("air")
        self.fill(page, Expanded_uncertainty="2")
        page.get_by_label("Unit", exact=True).select_option("% vol")
        self.fill(page, Volume_of_the_cylinder="10", Gauge_pressure="120")
        self.certificate(page, "Filled on")
        self.new(page, "Bottle of pH buffer", "B-7", "Buffer 7.00")
        self.fill(page, Serial_number="L1", End_of_its_range="14", Fixed_term="0.02")
        self.fill(page, How_much_it_held="500")
        own = page.get_by_role("region", name="Its own facts")
        for label, value in (("buffer set", "technical"), ("its pH", "7.00"), ("^lot", "L-1")):
            box = own.get_by_role("textbox", name=re.compile(label, re.I)).first
            box.fill(value)
        self.certificate(page, "Date of the certificate")

    def new(self, page: Page, kind: str, asset: str, what: str) -> None:
        page.get_by_role("link", name="Kit", exact=True).click()
        page.get_by_role("button", name="New in the kit").click()
        page.get_by_role("link", name=kind, exact=True).click()
        self.fill(page, Number_in_the_kit=asset, What_it_is=what)

    def certificate(self, page: Page, begins: str) -> None:
        asset = page.get_by_role("textbox", name="Number in the kit").input_value()
        self.typed(page, "Number of its certificate", f"C-{asset}")
        self.typed(page, begins, str(DUE - timedelta(days=5)))
        self.typed(page, "May be used until", str(YEAR))
        page.get_by_role("button", name="Store", exact=True).click()
        expect(page.get_by_role("heading", name=asset, exact=True)).to_be_visible()
        expect(page.get_by_role("region", name="Changes")).to_be_visible()

    def work(self, page: Page) -> None:
        page.reload()
        page.get_by_role("button", name="Start PRESSURE-000", exact=True).click()
        expect(page.locator("main[data-seq]")).to_be_visible()
        self.job = page.url.rsplit("/", 1)[1]
        sound = Technician(
            LoopModel(lower=0.0, upper=10.0, input_decimals=3, indicated_decimals=2), seed=5
        )
        walker = Walker(page, self.plant.address, self.job, sound, {"serial": "SN-00000"})
        walker.password = PASSWORD
        state = walker.walk()
        self.assertEqual((state["status"], state["outcome"]["id"]), ("signed", "within"))

    def review(self, page: Page) -> None:
        page.goto(f"{self.plant.address}/jobs/{self.job}")
        page.get_by_label("Your password").fill(PASSWORD)
        with page.expect_response("**/events") as sent:
            page.get_by_role("button", name="Accept").click()
        self.assertEqual(sent.value.status, 200, sent.value.text())
        state = page.context.request.get(f"{self.plant.address}/api/v1/jobs/{self.job}").json()
        self.assertEqual(state["status"], "reviewed")
        expect(page.get_by_role("region", name="Now")).to_contain_text("Rea Rook")
        paper = f"{self.plant.address}/api/v1/records/{self.job}/certificate.pdf"
        self.assertEqual(page.context.request.get(paper).body()[:4], b"%PDF")

    def counted(self) -> tuple[int, int, float]:
        """Return clicks and fields of all people, and the minutes that they stand for."""
        ask = "(n) => Number(localStorage.getItem(n) ?? 0)"
        clicks, fields = (
            sum(int(p.evaluate(ask, name)) for p in self.pages) for name in ("clicks", "fields")
        )
        return clicks, fields, (CLICK_S * clicks + FIELD_S * fields) / 60


def _line(name: str, clicks: int, fields: int) -> str:
    minutes = (CLICK_S * clicks + FIELD_S * fields) / 60
    return f"| {name} | {clicks} | {fields} | {minutes:.1f} |"
