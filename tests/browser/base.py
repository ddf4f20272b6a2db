"""Driving the real interface: Debian's Chromium against the real server."""

from __future__ import annotations

import atexit
import os
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

from django.test import SimpleTestCase
from playwright.sync_api import Browser, BrowserContext, Locator, Page, expect, sync_playwright

from tests.process import RealServer
from tests.server import works
from tests.server.works import PASSWORD

# Playwright's loop runs in this thread; nothing here touches the database in-process.
os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")
#: Debian's headless Chromium; the whole one where that is what there is.
CHROMIUM = next(
    (p for p in ("/usr/bin/chromium-headless-shell", "/usr/bin/chromium") if Path(p).exists()), ""
)
ARGUMENTS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--no-first-run",
]
AXE = Path(__file__).resolve().parents[2] / "web/node_modules/axe-core/axe.min.js"
DESK = {"width": 1280, "height": 800}
TABLET = {"width": 820, "height": 1180}
PHONE = {"width": 390, "height": 844}
#: What is in the hand: a tablet and a phone, used with a finger.
ON_TABLET = {"viewport": TABLET, "has_touch": True, "is_mobile": True}
ON_PHONE = {"viewport": PHONE, "has_touch": True, "is_mobile": True}
# Long, because a shared machine may stand still for seconds; nothing is measured here.
expect.set_options(timeout=30_000)

_shared: dict[str, object] = {}
#: Cookies of people who signed in once, by server and name.
_signed_in: dict[tuple[str, str], Any] = {}
#: Pages that earlier tests are done with, by server, name and options.
_left: dict[tuple[str, ...], list[Page]] = {}
#: Goes within the page to another address, as a link does.
GO = """(to) => {
  history.pushState({ idx: (history.state?.idx ?? 0) + 1 }, '', to);
  dispatchEvent(new PopStateEvent('popstate'));
}"""


def shared_server() -> RealServer:
    """Return the one server that all tests share which do not kill it."""
    if "server" not in _shared:
        server = RealServer()
        atexit.register(server.close)
        server.seed("tests.seed")
        server.start()
        _shared["server"] = server
    return _shared["server"]  # type: ignore[return-value]


def browser() -> Browser:
    """Return the one browser."""
    if "browser" not in _shared:
        playwright = sync_playwright().start()
        _shared["playwright"] = playwright
        _shared["browser"] = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS)
        atexit.register(playwright.stop)
    return _shared["browser"]  # type: ignore[return-value]


class BrowserCase(SimpleTestCase):
    """A person at the screen."""

    # The server is another process; Django need not guard connections of this one.
    databases = "__all__"

    def server(self) -> RealServer:
        return shared_server()

    def person(self, name: str = "ana", password: str = PASSWORD, **options: object) -> Page:
        """Return a page on which somebody has signed in; its errors fail the test."""
        options.setdefault("viewport", DESK)
        options.setdefault("reduced_motion", "reduce")
        # The page that is kept for a reload without a server would hide what is served now.
        options.setdefault("service_workers", "block")
        kept = (self.server().address, name)
        page = self.window((*kept, repr(sorted(options.items()))), _signed_in.get(kept), options)
        page.goto(self.server().address)
        today = page.get_by_role("heading", name="Today")
        expect(today.or_(page.get_by_label("Password"))).to_be_visible()
        if not today.is_visible():
            page.get_by_label("Name").fill(name)
            page.get_by_label("Password").fill(password)
            page.get_by_role("button", name="Sign in", exact=True).click()
            expect(today).to_be_visible()
            _signed_in[kept] = {"cookies": page.context.cookies(), "origins": []}
        return page

    def window(self, key: tuple[str, ...], state: Any, options: dict[str, Any]) -> Page:
        """Return a page of a browser of its own: one that a test before left, or a new one."""

        def failed(error: object) -> None:
            self.fail(f"the page failed: {error}")

        if _left.get(key):
            page = _left[key].pop()
            page.context.clear_cookies()
            page.context.add_cookies(state["cookies"] if state else [])
            page.set_viewport_size(options["viewport"])
        else:
            context: BrowserContext = browser().new_context(storage_state=state, **options)
            page = context.new_page()
        page.on("pageerror", failed)
        plain = options["service_workers"] == "block"
        if plain and self.server() is _shared.get("server"):
            self.addCleanup(self.leave, page, key, failed)
        else:
            self.addCleanup(page.context.close)
        return page

    def leave(self, page: Page, key: tuple[str, ...], failed: Callable[[object], None]) -> None:
        """Keep a page for the next test as if nobody had been there; beside others it is closed."""
        page.remove_listener("pageerror", failed)
        if len(page.context.pages) > 1:
            page.context.close()
            return
        page.unroute_all()
        page.context.unroute_all()
        # Of the same server, so that what was compiled stays; it asks for nothing.
        page.goto(f"{self.server().address}/mark.svg")
        page.evaluate("localStorage.clear(), sessionStorage.clear()")
        _left.setdefault(key, []).append(page)

    def go(self, page: Page, address: str) -> None:
        """Go to another address without loading the page anew, as whoever presses a link."""
        page.evaluate(GO, address)

    def whole(self, page: Page) -> None:
        """Wait until every part of the page is fetched: none needs the server any more."""
        expect(page.locator("html")).to_have_attribute("data-parts", "here")

    def due(self, page: Page, tag: str) -> Locator:
        """Look for an instrument that is due, among the many; return its button."""
        box = page.get_by_label("Tag, words or area")
        if box.input_value() != tag:
            # A list that changes under the pointer takes no click.
            with page.expect_response(lambda said: f"q={tag}" in said.url):
                box.fill(tag)
        return page.get_by_role("button", name=f"Start {tag}", exact=True)

    def start(self, page: Page, tag: str) -> None:
        self.due(page, tag).click()
        expect(page.get_by_role("heading", name="Choose the pressure reference")).to_be_visible()

    #: where pictures of each step are put, by hand; none in tests
    pictures = os.environ.get("VERIFYLOOP_PICTURES", "")

    def begin(self, tag: str, **options: object) -> tuple[Page, str]:
        """Start a job from Today; return its page and its number."""
        page = self.person(**options)
        self.due(page, tag).click()
        expect(page.locator("main[data-seq]")).to_be_visible()
        return page, page.url.rsplit("/", 1)[1]

    def see(self, page: Page, text: str) -> None:
        expect(page.get_by_role("region", name="Now")).to_contain_text(text)

    def prepared(
        self, page: Page, tag: str, more: Sequence[dict] = (), sees: str = "point 1 of 9"
    ) -> None:
        """Open a job that is prepared up to its as-found run, or past ``more`` of its entries."""
        api, base = page.context.request, self.server().address
        token = api.get(f"{base}/api/v1/session").json()["csrf_token"]
        headers = {"X-CSRFToken": token, "Origin": base}
        job = api.post(f"{base}/api/v1/jobs", data={"tag": tag}, headers=headers).json()["job"]
        body = {"expected_seq": 1, "events": [*works.prepared(), *more], "password": ""}
        said = api.post(f"{base}/api/v1/jobs/{job}/events", data=body, headers=headers)
        self.assertEqual(said.status, 200, said.text())
        self.go(page, f"/jobs/{job}")
        self.see(page, sees)

    def prepare_by_keyboard(self, page: Page) -> None:
        """Everything up to the as-found run with the keyboard alone."""
        keys = page.keyboard
        expect(page.locator("[data-main]")).to_be_focused()
        keys.press("Enter")
        expect(page.get_by_role("heading", name="Milliampere meter", exact=True)).to_be_visible()
        expect(page.locator("[data-main]")).to_be_focused()
        keys.press("Enter")
        self.fill(page, "Tell the operator", "Jo, shift B", "")
        self.see(page, "Loop in manual, trips in bypass")
        keys.press("Enter")
        for line in ("Isolation valve closed", "Vented and drained", "No pressure left"):
            expect(page.locator("[data-main]")).to_contain_text(line)
            keys.press("Enter")
        self.fill(page, "Read the plate", "S-77")
        self.fill(page, "Write down the settings found", "0", "4000", "")
        for line in ("No severe alarm", "Not in fixed-current"):
            expect(page.locator("[data-main]")).to_contain_text(line)
            keys.press("Enter")
        self.see(page, "Connect the references")
        expect(page.locator("[data-main]")).to_contain_text("References are connected")
        keys.press("Enter")
        self.see(page, "Let it warm up")
        page.get_by_role("button", name="No wait is needed").press("Enter")
        keys.type("powered all week")
        keys.press("Enter")
        self.see(page, "point 1 of 9")

    def fill(self, page: Page, step: str, *values: str) -> None:
        """Type one value after the other into the fields of a step, Enter after each."""
        self.see(page, step)
        expect(page.locator("form input").first).to_be_focused()
        for value in values:
            page.keyboard.type(value)
            page.keyboard.press("Enter")

    def type_reading(self, page: Page, *values: str) -> None:
        expect(page.get_by_label("Applied", exact=True)).to_be_focused()
        for value in values:
            page.keyboard.type(value)
            page.keyboard.press("Enter")

    def return_by_keyboard(self, page: Page, password: str = PASSWORD) -> None:
        self.see(page, "Take the references off")
        page.locator("[data-main]").press("Enter")
        for line in ("Valves back as found", "Wiring and covers", "Settings written"):
            expect(page.locator("[data-main]")).to_contain_text(line)
            page.keyboard.press("Enter")
        self.see(page, "Loop back to automatic")
        page.locator("[data-main]").press("Enter")
        self.see(page, "Out of limits: what was affected?")
        expect(page.get_by_label("Last known good")).to_be_focused()
        for words in ("check of May", "nothing, it only indicates", "shift lead"):
            page.keyboard.type(words)
            page.get_by_label("May have affected" if "May" in words else "Who was told").focus()
        page.keyboard.press("Enter")
        expect(page.get_by_label("Your password")).to_be_focused()
        page.keyboard.type(password)
        page.keyboard.press("Enter")

    def axe(self, page: Page) -> None:
        """No violation of any weight, in daylight and at night, once the page is there."""
        page.wait_for_selector("h1", state="attached")
        for theme in ("light", "dark"):
            page.evaluate(f"document.documentElement.dataset.theme = '{theme}'")
            page.wait_for_timeout(120)
            if not page.evaluate("'axe' in window"):
                page.evaluate(AXE.read_text())
            # At night only the colours are others.
            night = ", runOnly: ['color-contrast']" if theme == "dark" else ""
            found = page.evaluate(f"axe.run({{resultTypes: ['violations']{night}}})")
            bad = [
                (v["id"], [n["html"][:160] for n in v["nodes"][:3]]) for v in found["violations"]
            ]
            self.assertEqual(bad, [], f"{page.url} {theme}")


class OwnServerCase(BrowserCase):
    """With a server of its own, as it is killed and started again."""

    def server(self) -> RealServer:
        if not hasattr(self, "own"):
            self.own = RealServer()
            self.addCleanup(self.own.close)
            self.own.seed("tests.seed")
            self.own.start()
        return self.own
