"""What a person does not have, or what is not there, has an answer on the screen that is true."""

from playwright.sync_api import expect

from tests.browser.base import TABLET, BrowserCase


class Answers(BrowserCase):
    def test_nothing_to_bypass_and_a_plate_that_cannot_be_read(self):
        page = self.person(viewport=TABLET)
        self.start(page, "PT-5")
        for asset in ("R-1", "M-1"):
            page.get_by_role("button", name=asset).first.press("Enter")
        self.see(page, "Tell the operator")
        page.get_by_label("Operator told").fill("Jo")
        page.get_by_role("button", name="Save").click()
        self.see(page, "Loop in manual")
        page.get_by_role("button", name="Nothing is to be bypassed here").click()
        page.get_by_role("button", name="no trip and no alarm hangs on it").click()
        page.get_by_role("button", name="Nothing is to be bypassed here").click()
        self.see(page, "Isolation valve closed")
        for line in ("Isolation valve closed", "Vented and drained", "No pressure left"):
            box = page.get_by_role("checkbox", name=line)
            box.press("Enter")
            expect(box.and_(page.locator("[aria-checked=false]"))).to_have_count(0)
        self.see(page, "Read the plate")
        page.get_by_role("button", name="It cannot be told").click()
        page.get_by_role("button", name="cannot be read here").click()
        page.get_by_role("button", name="Go on without it").click()
        self.see(page, "settings found")
        page.get_by_role("button", name="One of these cannot be told").click()
        page.get_by_label("Upper range value found").check()
        page.get_by_label("Why not?").fill("no communicator here")
        page.get_by_role("button", name="Go on without it").click()
        self.see(page, "not told: no communicator here")
        page.get_by_role("tab", name="History").click()
        history = page.get_by_role("region", name="History")
        expect(history).to_contain_text("nothing is to be bypassed here (no trip")
        expect(history).to_contain_text("not told (cannot be read here)")
        expect(page.get_by_role("contentinfo")).not_to_contain_text("PT-5 bypass")
