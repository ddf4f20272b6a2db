"""Without a network it says what was kept and what was not, and nothing happens by another name."""

from playwright.sync_api import expect

from tests.browser.base import BrowserCase
from tests.server import works
from tests.server.works import PASSWORD

EVENTS = "**/api/v1/jobs/*/events"


class NoNetwork(BrowserCase):
    def gone(self, page, address=EVENTS):
        """Nothing that is sent there arrives."""
        page.route(address, lambda route: route.abort())
        self.addCleanup(page.unroute_all)

    def test_a_signature_is_not_kept_and_says_so(self):
        page = self.person()
        done = [*works.readings(), *works.returned()]
        self.prepared(page, "PT-33", done, sees="Sign")
        self.gone(page)
        page.get_by_label("Your password").fill(PASSWORD)
        page.keyboard.press("Enter")
        expect(page.get_by_text("Nothing was kept, and nothing was signed")).to_be_visible()
        expect(page.get_by_text("Not stored yet")).to_be_hidden()
        page.unroute(EVENTS)
        page.get_by_label("Your password").fill(PASSWORD)
        page.keyboard.press("Enter")
        expect(page.get_by_role("link", name="Open the certificate")).to_be_visible()

    def test_what_waits_is_said_nobody_else_took_it_and_undo_takes_no_other_entry(self):
        page = self.person()
        self.prepared(page, "PT-34")
        expect(page.get_by_role("button", name="Undo last")).to_be_visible()
        self.gone(page)
        self.type_reading(page, "0", "", "4.000", "")
        expect(page.get_by_text("Your entry is kept on this device")).to_be_visible()
        expect(page.get_by_role("button", name="Undo last")).to_be_hidden()
        expect(page.get_by_text("Somebody else")).to_be_hidden()
        page.unroute(EVENTS)
        self.see(page, "point 2 of 9")
        expect(page.get_by_text("Not stored yet")).to_be_hidden()

    def test_signing_out_that_did_not_come_through_is_said(self):
        page = self.person("rea")
        self.gone(page, "**/api/v1/session")
        page.get_by_role("button", name="sign out").click()
        said = page.get_by_role("dialog", name="You are still signed in")
        expect(said).to_contain_text("nobody was signed out")
        said.get_by_role("button", name="Go on").click()
        expect(said).to_be_hidden()
