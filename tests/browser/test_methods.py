"""Changing limits and methods as a planner; seeing them as a technician."""

from playwright.sync_api import expect

from tests.browser.base import BrowserCase


class Methods(BrowserCase):
    def test_a_rule_is_changed_with_its_source_and_stays_on_record(self):
        page = self.person("pia")
        self.go(page, "/methods?m=dp_flow")
        page.get_by_role("button", name="Change Low-flow cut-off").click()
        box = page.get_by_role("textbox", name="Low-flow cut-off")
        box.fill("70")
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_text("goes from 0 to 50")).to_be_visible()
        expect(box).to_have_value("70")
        box.fill("8")
        page.get_by_label("Where does it come from").fill("flow procedure 3")
        page.get_by_role("button", name="Save").click()
        row = page.get_by_role("row").filter(has_text="Low-flow cut-off")
        expect(row).to_contain_text("8 % of flow")
        expect(row).to_contain_text("flow procedure 3, version 1")
        row.get_by_text("What changed").click()
        expect(row).to_contain_text("Pia Test")
        page.get_by_role("button", name="Change Low-flow cut-off").click()
        page.get_by_label("Where does it come from").fill("as before")
        page.get_by_role("button", name="Back to the default").click()
        expect(row).to_contain_text("product default")

    def test_an_instrument_gets_a_second_plan_with_limits_of_its_own(self):
        page = self.person("pia")
        self.go(page, "/instruments/PT-30")
        page.get_by_role("button", name="Plan more").click()
        page.get_by_text("Smart transmitter, digital value").click()
        page.get_by_label("First due on").fill("2031-05-04")
        page.get_by_role("button", name="Plan it").click()
        expect(page.get_by_text("takes a reason")).to_be_visible()
        page.get_by_label("Reason, kept on record").fill("has a digital value")
        page.get_by_role("button", name="Plan it").click()
        plan = page.get_by_role("group", name="Plans").get_by_role("button").nth(1)
        expect(plan).to_contain_text("2031-05-04")
        plan.click()
        expect(page.get_by_role("link", name="Smart transmitter, digital value")).to_be_visible()
        page.get_by_role("button", name="Change Cycles").click()
        page.get_by_role("textbox", name="Cycles").fill("2")
        page.get_by_label("Where does it come from").fill("manual, 4.2")
        page.get_by_label("Reason, kept on record").fill("new manual")
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_text("cycles: none to 2, because: new manual")).to_be_visible()

    def test_a_technician_sees_the_rules_and_changes_nothing(self):
        page = self.person("ana")
        self.go(page, "/methods")
        expect(page.get_by_text("A planner changes the rules")).to_be_visible()
        expect(page.get_by_role("button", name="Change Points")).to_have_count(0)
