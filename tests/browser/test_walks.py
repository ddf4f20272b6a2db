"""A walk on the tablet and on the phone: what the typist types elsewhere is pressed here."""

from __future__ import annotations

import json

from playwright.sync_api import expect

from tests.browser.base import ON_PHONE, ON_TABLET, BrowserCase
from tests.walks import test_two_channels


class Answer:
    """An answer of the real server, as the typist reads one."""

    def __init__(self, got):
        self.status_code, self.content = got.status, got.body()

    def json(self):
        return json.loads(self.content)


class Client:
    """A person who is signed in, by the requests that their page would send."""

    def __init__(self, page, address):
        self.page, self.address = page, address

    def get(self, path, query=None):
        return Answer(self.page.request.get(self.address + path, params=query or {}))

    def post(self, path, data=None, content_type="application/json"):
        cookies = {c["name"].lower(): c["value"] for c in self.page.context.cookies()}
        token = next(value for name, value in cookies.items() if "csrf" in name)
        head = {
            "X-CSRFToken": token,
            "Content-Type": content_type,
            "Origin": self.address,
            "Referer": f"{self.address}/",
        }
        sent = self.page.request.post(self.address + path, data=json.dumps(data), headers=head)
        return Answer(sent)


class Walks(BrowserCase):
    def planned(self, tag, page):
        """Return the walk for an instrument of its own, at the server of the browser."""

        class Walk(test_two_channels.Forced):
            def runTest(self):
                """Nothing by itself."""

        walk, address = Walk(), self.server().address
        walk.tag = tag
        walk.pia, walk.ana = Client(self.person("pia"), address), Client(page, address)
        return walk

    def test_refused_and_forced_on_a_tablet_left_as_refused_on_a_phone(self):
        walk = self.planned("AT-2141", self.person(**ON_TABLET))
        walk.plant()
        self._forced_by_checks(walk.ana.page, walk.begun().job)
        walk = self.planned("AT-2142", self.person(**ON_PHONE))
        walk.plant(kit=False)
        self._left_as_refused(walk.ana.page, walk.begun(school="").job)

    def _forced_by_checks(self, page, job):
        page.goto(f"{self.server().address}/jobs/{job}")
        expect(page.get_by_text("It refused: too low")).to_be_visible()
        page.get_by_role("button", name="Force it all the same").click()
        page.get_by_label("Why is it forced?").fill("negative drift")
        page.get_by_label("Value on its label").fill("synthetic air")
        page.get_by_label("Good until").fill("2027-12-31")
        page.get_by_role("button", name="Agree to force").click()
        expect(page.get_by_text("The flow at the regulator is missing").first).to_be_visible()
        page.get_by_label("Flow seen at the regulator").fill("0.8")
        page.get_by_role("button", name="Agree to force").click()
        page.get_by_role("button", name="Open CY-11").first.click()
        page.get_by_label("Methane, %LEL: Shows").fill("-7.5")
        page.get_by_label("Methane, %LEL: Set to 0").fill("0.0")
        page.get_by_role("button", name="Taken: CY-11 is shut").click()
        expect(page.get_by_role("button", name="Open CY-13")).to_be_visible()

    def _left_as_refused(self, page, job):
        page.goto(f"{self.server().address}/jobs/{job}")
        page.get_by_role("button", name="Open CY-11").first.click()
        page.get_by_label("Methane, %LEL: Shows").fill("-7.5")
        page.get_by_label("Its word, if it refused").fill("too low")
        page.get_by_role("button", name="Taken: CY-11 is shut").click()
        expect(page.get_by_text("It refused: too low")).to_be_visible()
        page.get_by_role("button", name="Leave it as refused, go on").click()
        expect(page.get_by_role("button", name="Open CY-13")).to_be_visible()
