"""Behind a proxy by HTTPS, on another host name, below a path: as docs/running.md says."""

from __future__ import annotations

import http.client
import re

from playwright.sync_api import expect

from tests.browser import base
from tests.browser.base import ARGUMENTS, BrowserCase
from tests.process import RealServer
from tests.proxy import HOST, ProxiedServer


class Elsewhere(BrowserCase):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.proxied = ProxiedServer("/loops/")
        cls.addClassCleanup(cls.proxied.close)
        cls.proxied.seed("tests.seed")
        cls.proxied.start()

    def server(self):
        return self.proxied

    def browser(self):
        rules = f"--host-resolver-rules=MAP {HOST} 127.0.0.1"
        base.browser()
        playwright = base._shared["playwright"]
        found = playwright.chromium.launch(executable_path=base.CHROMIUM, args=[*ARGUMENTS, rules])
        self.addCleanup(found.close)
        return found

    def test_the_work_of_a_day_below_a_path(self):
        context = self.browser().new_context(
            ignore_https_errors=True, service_workers="block", viewport=base.DESK
        )
        asked, failed = [], []
        context.on("request", lambda request: asked.append(request.url))
        # The plant of the tests has said nothing of its site.
        unsaid = f"{self.proxied.address}api/v1/site"
        context.on(
            "response", lambda r: r.status >= 400 and r.url != unsaid and failed.append(r.url)
        )
        page = context.new_page()
        page.on("pageerror", lambda error: self.fail(f"the page failed: {error}"))
        page.goto(self.proxied.address)
        page.get_by_label("Name").fill("ana")
        page.get_by_label("Password").fill(base.PASSWORD)
        page.get_by_role("button", name="Sign in", exact=True).click()
        expect(page.get_by_role("heading", name="Today")).to_be_visible()
        for cookie in context.cookies():
            self.assertEqual((cookie["secure"], cookie["path"]), (True, "/loops/"), cookie["name"])
        self.places(page)
        page.goto(f"{self.proxied.address}instruments/PT-3")
        expect(page.get_by_role("heading", name="PT-3")).to_be_visible()
        form = page.get_by_role("link", name="Paper form").get_attribute("href")
        paper = page.evaluate("async (h) => (await fetch(h)).headers.get('content-type')", form)
        self.assertEqual(paper, "application/pdf")
        page.get_by_role("button", name="Start a job").click()
        expect(page.locator("main[data-seq]")).to_be_visible()
        page.reload()
        expect(page.locator("main[data-seq]")).to_be_visible()
        page.get_by_role("button", name=re.compile("^Ana")).click()
        expect(page.get_by_label("Password")).to_be_visible()
        self.assertEqual(failed, [])
        for url in asked:
            self.assertTrue(url.startswith((self.proxied.address, "blob:", "data:")), url)

    def places(self, page):
        for name in ("Instruments", "Kit", "Bench", "Records", "Site"):
            page.get_by_role("navigation", name="Places").get_by_role("link", name=name).click()
            expect(page.get_by_role("heading", name=name, exact=True).first).to_be_visible()
            self.assertTrue(page.url.startswith(self.proxied.address), page.url)

    def test_plain_requests_are_sent_on(self):
        connection = http.client.HTTPConnection("127.0.0.1", self.proxied.http)
        connection.request("GET", "/loops/kit", headers={"Host": HOST})
        answer = connection.getresponse()
        self.assertEqual(answer.status, 301)
        self.assertEqual(answer.headers["Location"], f"https://{HOST}/loops/kit")

    def test_another_host_name_is_refused(self):
        status, _, _ = self.proxied.get("/loops/api/v1/session", Host="evil.example")
        self.assertEqual(status, 400)

    def test_browsers_are_told_to_ask_by_https(self):
        _, headers, _ = self.proxied.get("/loops/api/v1/session")
        self.assertEqual(headers["strict-transport-security"], "max-age=31536000")
        self.assertIn("Secure", headers["set-cookie"])

    def test_links_that_are_printed_lead_below_the_path(self):
        said = self.proxied.manage("start")
        self.assertIn(self.proxied.address.rstrip("/"), said.stdout)


class BelowAPath(BrowserCase):
    """Without a proxy, so that the browser keeps the page for a reload without a server."""

    def setUp(self):
        self.own = RealServer()
        self.addCleanup(self.own.close)
        self.own.seed("tests.seed")
        self.own.address += "/loops"
        self.own.environment["VERIFYLOOP_ADDRESS"] = self.own.address
        self.own.start()

    def server(self):
        return self.own

    def test_a_reload_without_a_server_shows_the_page(self):
        page = self.person(service_workers="allow")
        page.evaluate("navigator.serviceWorker.ready.then(() => true)")
        page.wait_for_function(
            "caches.open('shell').then((s) => s.keys()).then((k) => k.length > 10)"
        )
        self.own.kill()
        page.goto(f"{self.own.address}/kit")
        expect(page.get_by_text("does not answer").first).to_be_visible()


class Upgraded(BrowserCase):
    """A page that is open while another release is put into service."""

    def setUp(self):
        self.own = RealServer()
        self.addCleanup(self.own.close)
        self.own.seed("tests.seed")
        self.own.start()

    def server(self):
        return self.own

    def renew(self):
        """Start the server again as the next release: only its number is another one."""
        self.own.kill()
        self.own.environment["VERIFYLOOP_TEST_RELEASE"] = "9.9.9"
        self.own.start()

    def test_an_open_page_notices_and_loads_the_new_one_at_the_next_place(self):
        page, number = self.begin("PT-1")
        old = page.locator("meta[name=release]").get_attribute("content")
        self.renew()
        notice = page.get_by_role("status").filter(has_text="newer release")
        expect(notice).to_be_visible()
        page.get_by_role("button", name="Add note").click()
        page.get_by_role("dialog").get_by_role("textbox").fill("typed in the old page")
        page.get_by_role("button", name="Save the note").click()
        expect(page.get_by_role("dialog")).to_be_hidden()
        page.get_by_role("link", name="Kit", exact=True).click()
        expect(page.get_by_role("heading", name="Kit", exact=True)).to_be_visible()
        expect(notice).to_be_hidden()
        new = page.locator("meta[name=release]").get_attribute("content")
        self.assertNotEqual(new, old)
        self.assertTrue(new.startswith("9.9.9+"))
        state = page.context.request.get(f"{self.own.address}/api/v1/jobs/{number}").json()
        self.assertEqual(state["notes"], ["typed in the old page"])
