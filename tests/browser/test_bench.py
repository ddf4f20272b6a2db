"""The Bench, driven like a technician does: by typing what one has in mind."""

from __future__ import annotations

import contextlib
import re

from playwright.sync_api import Error, expect

from tests.browser.base import PHONE, BrowserCase


class Bench(BrowserCase):
    def bench(self, path: str = "", **options: object):
        page = self.person("ana", **options)
        self.go(page, f"/bench{path}")
        return page

    def hero(self, page):
        return page.locator("output").first

    def test_any_calculator_within_ten_keystrokes_after_b(self):
        page = self.person("ana")
        for words, title, figure in (
            ("250 ohm", "Does the supply reach the transmitter?", "19.00"),
            ("K 500", "Emf of a thermocouple", "20.644"),
            ("12 ma", "Scale a signal", "2000"),
            ("slope", "pH electrode: slope and offset", "97.0"),
            ("bleed", "Block and bleed: how many cycles?", "7"),
            ("displ", "Weights for a displacer", "1362.0"),
        ):
            self.assertLess(len(words) + 1, 10)
            page.locator("body").click(position={"x": 400, "y": 4})
            page.evaluate("document.activeElement?.blur()")
            page.keyboard.press("b")
            expect(page.get_by_label("What do you need?")).to_be_focused()
            page.keyboard.type(words)
            page.keyboard.press("Enter")
            expect(page.get_by_role("heading", name=title)).to_be_visible()
            expect(self.hero(page)).to_have_text(figure)
            self.assertTrue(page.evaluate("document.activeElement.matches('form *')"))

    def test_arrows_choose_and_the_last_used_stay_on_top(self):
        page = self.bench()
        expect(page.get_by_label("What do you need?")).to_be_focused()
        page.keyboard.type("thermocouple")
        found = page.get_by_role("list", name="Found").get_by_role("link")
        expect(found).to_have_count(2)
        second = found.nth(1).inner_text()
        self.assertIn("thermocouple", second)
        page.keyboard.press("ArrowDown")
        expect(found.nth(1)).to_have_attribute("aria-current", "true")
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name=second)).to_be_visible()
        self.go(page, "/bench")
        expect(page.get_by_role("region", name="Used last").get_by_role("link").first).to_have_text(
            second
        )

    def test_result_as_it_is_typed_in_the_unit_chosen(self):
        page = self.bench("/rtd.resistance")
        expect(self.hero(page)).to_have_text("194.098")
        page.get_by_role("textbox", name="Temperature").fill("100")
        expect(self.hero(page)).to_have_text("138.505")
        page.get_by_label("Unit of Temperature").select_option("°F")
        # 100 °F is 37.778 °C; IEC 60751 prints 114.38 at 37 and 114.77 at 38 °C.
        expect(self.hero(page)).to_have_text("114.682")
        page.get_by_label("Unit of Resistance", exact=True).select_option("kΩ")
        expect(self.hero(page)).to_have_text("0.114682")

    def test_a_bad_value_is_named_beside_its_field_and_nothing_is_lost(self):
        page = self.bench("/loop.supply")
        page.get_by_label("Supply", exact=True).fill("30")
        page.get_by_label("Resistor", exact=True).fill("2,5,0")
        problem = page.get_by_role("alert")
        expect(problem).to_contain_text("several commas")
        expect(page.get_by_label("Resistor", exact=True)).to_have_attribute("aria-invalid", "true")
        expect(page.get_by_label("Supply", exact=True)).to_have_value("30")
        page.get_by_label("Resistor", exact=True).fill("250")
        expect(self.hero(page)).to_have_text("23.80")
        expect(problem).to_have_count(0)

    def test_the_address_holds_the_inputs(self):
        page = self.bench("/ph.evaluate")
        page.get_by_label("Electrode").nth(1).fill("170.1")
        expect(self.hero(page)).not_to_have_text("97.0")
        figure = self.hero(page).inner_text()
        expect(page).to_have_url(re.compile("170.1"))
        other = self.bench(page.url.split("/bench")[1])
        expect(self.hero(other)).to_have_text(figure)
        expect(other.get_by_label("Electrode").nth(1)).to_have_value("170.1")
        other.reload()
        expect(self.hero(other)).to_have_text(figure)

    def test_one_given_clears_the_others(self):
        page = self.bench("/signal.scale")
        page.get_by_label("Output", exact=False).last.fill("12")
        expect(page.get_by_label("Input", exact=False).last).to_have_value("")
        expect(self.hero(page)).to_have_text("2000")

    def test_the_other_way_round(self):
        page = self.bench("/thermocouple.emf")
        page.get_by_label("Measuring junction", exact=True).fill("300")
        expect(self.hero(page)).to_have_text("11.289")
        page.get_by_role("button", name="The other way round").click()
        expect(page.get_by_role("heading", name="Temperature of a thermocouple")).to_be_visible()
        expect(self.hero(page)).to_have_text("300.00")

    def test_an_answer_that_comes_late_never_shows(self):
        page = self.bench("/response.step")
        expect(self.hero(page)).to_have_text("45")

        held = []

        def hold(route):
            if '"77"' in (route.request.post_data or ""):
                held.append(route)
            else:
                route.continue_()

        page.route("**/api/v1/operations/response.step/bench", hold)
        end = page.get_by_label("Value it settles to")
        end.fill("77")
        while not held:
            page.wait_for_timeout(50)
        end.fill("100")
        expect(self.hero(page)).to_have_text("90")
        with contextlib.suppress(Error):  # the page has given the stale request up already
            held[0].continue_()
        page.wait_for_timeout(400)
        expect(self.hero(page)).to_have_text("90")

    def test_lines_are_added_and_taken_away(self):
        page = self.bench("/uncertainty.combine")
        # U first, to two digits as uncertainties are given; u = 0.0352373 stands below it.
        expect(self.hero(page)).to_have_text("0.073")
        expect(page.get_by_text("in full 0.072")).to_be_visible()
        expect(page.get_by_text("0.0352", exact=True)).to_be_visible()
        page.get_by_role("button", name="Remove line 3").click()
        # Two limits: sqrt(0.05^2/3 + 0.01^2/12) = 0.0290115, k = 2.
        expect(self.hero(page)).to_have_text("0.058")
        page.get_by_role("button", name="Add a line").click()
        expect(page.get_by_role("button", name="Remove line 3")).to_be_visible()

    def test_a_table_on_the_screen_and_as_files(self):
        page = self.bench("/rtd.resistance")
        page.get_by_label("From").fill("0")
        page.get_by_label("To", exact=True).fill("100")
        page.get_by_label("Step").fill("50")
        page.get_by_role("button", name="Show").click()
        table = page.get_by_role("region", name="Table")
        # IEC 60751 prints 119.40 at 50 °C and 138.51 at 100 °C.
        expect(table.get_by_role("row")).to_have_count(4)
        expect(table).to_contain_text("138.505")
        for kind in ("CSV", "PDF"):
            with page.expect_download() as held:
                page.get_by_role("button", name=kind).click()
            self.assertEqual(held.value.suggested_filename, f"rtd.resistance.{kind.lower()}")
        page.get_by_label("Step").fill("0")
        page.get_by_role("button", name="Show").click()
        expect(table.get_by_role("alert")).to_contain_text("step must be above 0")

    def test_copied_as_text(self):
        page = self.person("ana", permissions=["clipboard-read", "clipboard-write"])
        self.go(page, "/bench/loop.supply")
        page.get_by_role("button", name="Copy as text").click()
        expect(page.get_by_role("button", name="Copied")).to_be_visible()
        text = page.evaluate("navigator.clipboard.readText()")
        self.assertIn("At the transmitter: 17.80 V", text)

    def test_nobody_is_left_with_a_blank_page(self):
        page = self.bench("/coffee.brew")
        expect(page.get_by_role("alert")).to_contain_text("no computation called")
        page.keyboard.press("b")
        expect(page.get_by_label("What do you need?")).to_be_focused()
        page.keyboard.type("xyzzy")
        expect(page.get_by_text("Nothing fits.")).to_be_visible()
        page.goto(f"{self.server().address}/bench/loop.supply?supply_v=%7Bbroken&loop_ohm=9")
        expect(page.get_by_role("alert")).to_be_visible()
        expect(page.get_by_label("Wiring, barrier and input card", exact=True)).to_have_value("9")

    def test_a_planner_adds_a_buffer_of_the_site(self):
        page = self.person("pia")
        self.go(page, "/bench/tables")
        form = page.get_by_role("form", name="Add a buffer of the site")
        for label, text in (
            ("Set", "works"),
            ("Buffer", "6.95"),
            ("Temperatures", "20; 25; 30"),
            ("pH at these temperatures", "6.97; 6.95"),
            ("Source", "label"),
        ):
            form.get_by_label(label, exact=True).fill(text)
        form.get_by_role("button", name="Save the buffer").click()
        expect(form.get_by_role("alert")).to_contain_text("cannot be used")
        form.get_by_label("pH at these temperatures").fill("6.97; 6.95; 6.94")
        form.get_by_role("button", name="Save the buffer").click()
        expect(form.get_by_text("Saved.")).to_be_visible()
        expect(page.get_by_role("region", name="pH buffers")).to_contain_text("works")

    def test_it_can_be_read_by_everybody_and_on_a_phone(self):
        page = self.bench()
        self.axe(page)
        for name in ("ph.evaluate", "decision.assess", "loop.supply", "displacer.weights"):
            self.go(page, f"/bench/{name}")
            expect(self.hero(page)).to_be_visible()
            self.axe(page)
        self.go(page, "/bench/tables")
        expect(page.get_by_role("heading", name="Units")).to_be_visible()
        self.axe(page)
        phone = self.bench("/thermocouple.emf", viewport=PHONE)
        expect(self.hero(phone)).to_be_visible()
        self.assertLessEqual(phone.evaluate("document.documentElement.scrollWidth"), 390)
