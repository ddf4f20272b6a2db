"""Every address at every width: something is there, nothing sticks out, nothing fails."""

from playwright.sync_api import expect

from tests.browser.base import DESK, PHONE, TABLET, BrowserCase
from tests.server.works import PASSWORD

#: a screen at 400 % of its size
NARROW = {"width": 320, "height": 600}
#: address and the heading that says where one is
PLACES = (
    ("/", "Today"),
    ("/instruments", "Instruments"),
    ("/instruments/PT-1", "PT-1"),
    ("/instruments/R-gas_portable", "R-gas_portable"),
    ("/instruments/R-ph_buffers", "R-ph_buffers"),
    ("/records", "Records"),
    ("/kit", "Kit"),
    ("/methods", "Methods"),
    ("/bench", "Bench"),
    ("/bench/tables", "tables"),
    ("/bench/loop.supply", "Does the supply reach"),
    ("/bench/ph.evaluate", "pH"),
    ("/instruments/new?template=pressure", "New instrument"),
    ("/instruments/new?template=gas_portable", "New instrument"),
    ("/instruments/PT-1/record", "PT-1"),
    ("/kit/R-1", "R-1"),
    ("/kit/new?kind=gas", "New in the kit"),
    ("/site?show=people", "Invite somebody"),
    ("/site?show=areas", "A new area"),
    ("/site?show=lists", "Instruments: in"),
    ("/instruments?state=due", "Instruments"),
    ("/site?show=calendar", "Site"),
    ("/site?show=scripts", "A token for a script"),
    ("/site?show=password", "Site"),
)
#: where a dialog is opened, and by what: a key, or the button of that name
DIALOGS = (
    ("/", "?"),
    ("/instruments", "New instrument"),
    ("/instruments/PT-1", "Move due date"),
    ("/instruments/PT-1", "Work order"),
    ("/instruments/PT-1", "Plan more"),
    ("/kit", "New in the kit"),
)
#: addresses of nothing, as a wrong link or an old bookmark has them
NOWHERE = (
    "/instruments/NO-SUCH",
    "/jobs/J99-99999",
    "/bench/coffee.brew",
    "/no/such/place",
    "/jobs/%20",
    "/instruments/%3Cb%3E",
)


class Everywhere(BrowserCase):
    def visit(self, page, address):
        """Go there; collect what the console says and what is answered with an error."""
        said = []
        page.on("console", lambda m: said.append(m.text) if m.type == "error" else None)
        page.goto(f"{self.server().address}{address}")
        expect(page.locator("main")).not_to_be_empty()
        return said

    def sticks_out(self, page):
        """Return how much wider the page is than its window. [px]"""
        return page.evaluate("document.documentElement.scrollWidth - window.innerWidth")

    def hangs_over(self, page):
        """Return how much longer the document is than its window. [px]"""
        return page.evaluate("document.documentElement.scrollHeight - window.innerHeight")

    def test_every_place_shows_itself_at_every_width(self):
        page = self.person("pia")
        for address, heading in PLACES:
            with self.subTest(address=address):
                page.set_viewport_size(DESK)
                said = self.visit(page, address)
                for size in (DESK, TABLET, PHONE):
                    page.set_viewport_size(size)
                    expect(page.get_by_role("heading", name=heading).first).to_be_visible()
                    self.assertLessEqual(self.sticks_out(page), 0)
                # A page scrolls inside its frame: the document is no longer than a phone's screen.
                self.assertLessEqual(self.hangs_over(page), 0)
                page.set_viewport_size(NARROW)
                self.assertLessEqual(self.sticks_out(page), 0)
                self.assertEqual(said, [])
                self.axe(page)

    def test_nowhere_says_so_and_leads_back(self):
        page = self.person()
        for address in NOWHERE:
            with self.subTest(address=address):
                page.goto(f"{self.server().address}{address}")
                expect(page.locator("main")).not_to_be_empty()
                ways = (
                    page.locator("main")
                    .get_by_role("link")
                    .or_(page.locator("main").get_by_role("button"))
                )
                expect(ways.first).to_be_visible()
                ways.first.click()
                expect(page.locator("main").get_by_role("heading").first).to_be_visible()

    def test_back_and_forward_go_where_one_was(self):
        page = self.person()
        walked = PLACES[:4]
        for address, heading in walked:
            page.goto(f"{self.server().address}{address}")
            expect(page.get_by_role("heading", name=heading).first).to_be_visible()
        for _, heading in reversed(walked[:-1]):
            page.go_back()
            expect(page.get_by_role("heading", name=heading).first).to_be_visible()
        page.go_forward()
        expect(page.get_by_role("heading", name=walked[1][1]).first).to_be_visible()

    def test_without_a_session_every_place_asks_who_is_there(self):
        page = self.person()
        page.context.clear_cookies()
        for address, _ in PLACES[::5]:
            with self.subTest(address=address):
                page.goto(f"{self.server().address}{address}")
                expect(page.get_by_label("Password")).to_be_visible()

    def open_dialog(self, page, opened_by):
        if len(opened_by) == 1:
            page.keyboard.press(opened_by)
        else:
            page.get_by_role("button", name=opened_by).first.click()
        dialog = page.get_by_role("dialog")
        expect(dialog.get_by_role("heading").first).to_be_visible()
        return dialog

    def test_every_dialog_fits_a_screen_at_400_percent(self):
        page = self.person("pia")
        page.set_viewport_size(NARROW)
        for address, opened_by in DIALOGS:
            with self.subTest(address=address, by=opened_by):
                self.visit(page, address)
                expect(page.get_by_role("heading").first).to_be_visible()
                dialog = self.open_dialog(page, opened_by)
                panel = dialog.locator(".overflow-auto").first
                over = panel.evaluate("e => e.scrollWidth - e.clientWidth")
                self.assertLessEqual(over, 0)
                self.assertLessEqual(self.sticks_out(page), 0)
                page.keyboard.press("Escape")
                expect(dialog).to_have_count(0)

    def test_what_the_first_screen_asks_is_asked_once_and_used(self):
        """public/first.js asks before the scripts are there; the page takes its answers."""
        page = self.person()
        asked = []
        page.on("request", lambda request: asked.append(request.url.split("/api/v1/")[-1]))
        page.goto(self.server().address)
        expect(page.get_by_role("heading", name="Today")).to_be_visible()
        page.wait_for_function("Object.keys(window.askedEarly).length === 0")
        for path in ("session", "today?", "safety"):
            self.assertEqual(len([a for a in asked if a.startswith(path)]), 1, asked)
        self.assertLess(
            next(n for n, a in enumerate(asked) if a.startswith("today?")),
            next(n for n, a in enumerate(asked) if a.endswith(".woff2")),
        )

    def test_a_refusal_that_came_before_the_sign_in_is_not_taken_for_todays(self):
        page = self.person("ben")
        page.goto(self.server().address)
        expect(page.get_by_role("heading", name="Today")).to_be_visible()
        page.context.clear_cookies()
        page.goto(self.server().address)
        page.get_by_label("Name").fill("ben")
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Sign in", exact=True).click()
        expect(page.get_by_role("heading", name="Today")).to_be_visible()
        expect(page.get_by_text("in the next 14 days")).to_be_visible()
        expect(page.get_by_role("alert")).to_have_count(0)
