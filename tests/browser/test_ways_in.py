"""Ways into an account in the real browser; a virtual authenticator of its own keeps passkeys."""

from __future__ import annotations

import re

import pyotp
from playwright.sync_api import Page, expect

from tests.browser.base import AXE, ON_PHONE, BrowserCase, browser
from tests.process import RealServer
from tests.server.works import PASSWORD

GOOD = "three quiet words"
PIN = "738152"


class WaysIn(BrowserCase):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.own = RealServer.of_class(cls)
        cls.address = cls.own.address.replace("127.0.0.1", "localhost")

    def fresh(self, **options) -> Page:
        """A device on which nobody was before."""
        context = browser().new_context(**options)
        self.addCleanup(context.close)
        return context.new_page()

    def sign_in(self, page: Page, name: str, password: str = PASSWORD) -> None:
        page.goto(self.address)
        page.get_by_label("Name").fill(name)
        page.get_by_label("Password").fill(password)
        page.get_by_role("button", name="Sign in", exact=True).click()

    def at_own(self, page: Page) -> None:
        expect(page.get_by_role("heading", name="Today")).to_be_visible()
        page.goto(f"{self.address}/site?show=password")
        expect(page.get_by_role("region", name="Second factor")).to_be_visible()

    def sound(self, page: Page) -> None:
        page.evaluate(AXE.read_text())
        found = page.evaluate(
            "async () => (await axe.run({runOnly: ['wcag2a', 'wcag2aa']})).violations"
            ".map(v => v.id + ': ' + v.nodes[0].html)"
        )
        self.assertEqual(found, [])
        wide = page.evaluate("document.documentElement.scrollWidth > innerWidth + 1")
        self.assertFalse(wide, "scrolls sideways")

    def test_an_app_then_a_recovery_code(self):
        page = self.fresh(**ON_PHONE)
        self.sign_in(page, "ben")
        self.at_own(page)
        self.sound(page)
        factor = page.get_by_role("region", name="Second factor")
        factor.get_by_label("Your own password").fill(PASSWORD)
        factor.get_by_role("button", name="Add an app").click()
        expect(factor.get_by_role("img")).to_be_visible()
        secret = factor.locator("p.digits").inner_text()
        factor.get_by_label("Code that the app shows").fill(pyotp.TOTP(secret).now())
        factor.get_by_role("button", name="Take it into use").click()
        paper = page.get_by_role("region", name="Recovery codes")
        expect(paper.get_by_role("listitem")).to_have_count(10)
        codes = paper.get_by_role("listitem").all_inner_texts()
        self.sound(page)
        other = self.fresh()
        self.sign_in(other, "ben")
        code = other.get_by_label("Code of your app")
        expect(code).to_be_visible()
        code.fill("000000")
        other.get_by_role("button", name="Sign in", exact=True).click()
        expect(other.get_by_role("alert")).to_contain_text("That code is not right")
        code.fill(codes[0])
        other.get_by_role("button", name="Sign in", exact=True).click()
        expect(other.get_by_role("heading", name="Today")).to_be_visible()
        expect(other.get_by_role("alert", name="Your account")).to_contain_text("9 are left")

    def authenticator(self, page: Page) -> None:
        """The browser's own stand-in for a device that keeps passkeys."""
        tools = page.context.new_cdp_session(page)
        tools.send("WebAuthn.enable")
        options = {
            "protocol": "ctap2",
            "transport": "internal",
            "hasResidentKey": True,
            "hasUserVerification": True,
            "isUserVerified": True,
            "automaticPresenceSimulation": True,
        }
        tools.send("WebAuthn.addVirtualAuthenticator", {"options": options})

    def test_a_passkey_signs_in_and_signs(self):
        page = self.fresh()
        self.authenticator(page)
        self.sign_in(page, "rea")
        self.at_own(page)
        factor = page.get_by_role("region", name="Second factor")
        factor.get_by_label("Your own password").fill(PASSWORD)
        factor.get_by_role("button", name="Add a passkey").click()
        expect(page.get_by_role("region", name="Recovery codes")).to_be_visible()
        expect(factor).to_contain_text("Passkey of")
        page.context.clear_cookies()
        page.goto(self.address)
        page.get_by_role("button", name="Sign in by a passkey").click()
        expect(page.get_by_role("heading", name="Today")).to_be_visible()
        proof = page.evaluate(
            """async () => {
              const headers = { "Content-Type": "application/json" };
              const session = await (await fetch("/api/v1/session")).json();
              headers["X-CSRFToken"] = session.csrf_token;
              const post = async (path, body) => (await fetch("/api/v1/ways-in/" + path,
                { method: "POST", headers, body: JSON.stringify(body) })).json();
              const { options } = await post("passkey/options");
              const publicKey = PublicKeyCredential.parseRequestOptionsFromJSON(
                JSON.parse(options));
              const made = await navigator.credentials.get({ publicKey });
              const body = { credential: made.toJSON() };
              const first = await post("passkey/prove", body);
              const again = await post("passkey/prove", body);
              // A question for a known key makes no new one: that takes the whole proof.
              await post("passkey/options");
              const made2 = await post("passkeys", { credential: made.toJSON(), name: "x" });
              const used = await post("app", { own: "x", code: first.proof });
              return [first.proof, again.code, used.field, made2.code];
            }"""
        )
        self.assertRegex(proof[0], "^pk[0-9a-f]{32}$")
        self.assertEqual(proof[1:], ["passkey.refused", "own", "passkey.refused"])

    def test_a_pin_is_set_where_the_site_allows_it(self):
        planner = self.fresh()
        self.sign_in(planner, "pia")
        expect(planner.get_by_role("heading", name="Today")).to_be_visible()
        planner.goto(f"{self.address}/site?show=people")
        rules = planner.get_by_role("form", name="Rules of the sign-in")
        rules.get_by_label("A PIN signs").check()
        rules.get_by_label("Your own password").fill(PASSWORD)
        rules.get_by_role("button", name="Store the rules").click()
        expect(rules.get_by_label("Your own password")).to_have_value("")
        self.sound(planner)
        page = planner
        page.goto(f"{self.address}/site?show=password")
        form = page.get_by_role("form", name="PIN")
        form.get_by_label("Your own password").fill(PASSWORD)
        form.get_by_label("New PIN").fill("123456")
        form.get_by_role("button", name="Set the PIN").click()
        expect(form.get_by_role("alert")).to_contain_text("one that is guessed")
        form.get_by_label("New PIN").fill(PIN)
        form.get_by_role("button", name="Set the PIN").click()
        expect(form).to_contain_text("Yours is good.")

    def test_a_link_takes_ones_own_password_and_its_person_is_told(self):
        planner = self.fresh()
        self.sign_in(planner, "pia")
        expect(planner.get_by_role("heading", name="Today")).to_be_visible()
        planner.goto(f"{self.address}/site?show=people")
        line = planner.get_by_role("listitem").filter(has_text="Ana Test")
        line.get_by_role("button", name="New link").click()
        asked = planner.get_by_role("dialog")
        self.sound(planner)
        asked.get_by_label("Your own password").fill("guess")
        asked.get_by_role("button", name="Make the link").click()
        expect(asked.get_by_role("alert")).to_contain_text("not your own password")
        asked.get_by_label("Your own password").fill(PASSWORD)
        asked.get_by_role("button", name="Make the link").click()
        box = planner.get_by_role("region", name="Link")
        path = re.search(r"/welcome/\S+", box.inner_text())[0]
        page = self.fresh()
        page.goto(self.address + path)
        page.get_by_label("Password, ten").fill(GOOD)
        page.get_by_role("button", name="Set it and sign in").click()
        told = page.get_by_role("alert", name="Your account")
        expect(told).to_contain_text("Pia Test (pia) made a link")
        self.sound(page)
        told.get_by_role("button", name="I have read it").click()
        expect(told).to_be_hidden()
