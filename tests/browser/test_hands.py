"""At the instrument, with gloves and in a hurry: no slip counts, and nothing is a dead end."""

from __future__ import annotations

from playwright.sync_api import expect

from tests.browser.base import DESK, ON_PHONE, ON_TABLET, BrowserCase, OwnServerCase
from tests.browser.looking import GLOVE, SMALL
from tests.browser.test_everywhere import PLACES
from tests.server import works
from tests.server.works import PASSWORD


class Hands(BrowserCase):
    """Shared: a job opened and brought to a step past the screen."""

    def opened(self, page, tag, entries):
        """Open a job and send entries past the screen; answer with its number."""
        api, base = page.context.request, self.server().address
        token = api.get(f"{base}/api/v1/session").json()["csrf_token"]
        headers = {"X-CSRFToken": token, "Origin": base}
        job = api.post(f"{base}/api/v1/jobs", data={"tag": tag}, headers=headers).json()["job"]
        body = {"expected_seq": 1, "events": entries, "password": ""}
        said = api.post(f"{base}/api/v1/jobs/{job}/events", data=body, headers=headers)
        self.assertEqual(said.status, 200, said.text())
        self.go(page, f"/jobs/{job}")
        return job

    def history(self, page, job):
        found = page.context.request.get(
            f"{self.server().address}/api/v1/jobs/{job}/history"
        ).json()
        return [line["text"] for line in found]


class Slips(Hands):
    def before(self, step):
        """The entries of a prepared job before a step."""
        said = works.prepared()
        at = next(n for n, e in enumerate(said) if e["data"].get("step") == step)
        return said[:at]

    def test_a_held_key_confirms_one_line(self):
        page = self.person()
        job = self.opened(page, "PT-1", self.before("isolate"))
        expect(page.locator("[data-main]")).to_be_focused()
        page.keyboard.down("Enter")
        for _ in range(20):
            page.wait_for_timeout(30)
            page.keyboard.down("Enter")  # sent again while it is down, this is a repeat
        page.keyboard.up("Enter")
        page.wait_for_timeout(600)
        confirmed = [t for t in self.history(page, job) if "Isolate" in t or "confirmed" in t]
        self.assertEqual(len(confirmed), 1, confirmed)

    def test_a_double_tap_confirms_one_line_and_the_next_is_elsewhere(self):
        page = self.person(**ON_TABLET)
        job = self.opened(page, "PT-2", self.before("bypass"))
        self.see(page, "Loop in manual, trips in bypass")
        box = page.locator("[data-main]").bounding_box()
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        for pause in (120, 90, 60):
            page.touchscreen.tap(x, y)
            page.wait_for_timeout(pause)
        self.see(page, "Isolation valve closed")
        page.wait_for_timeout(500)
        self.assertEqual(len(self.history(page, job)), 1 + len(self.before("isolate")))
        first = page.locator("[data-main]").bounding_box()
        page.locator("[data-main]").tap()
        expect(page.locator("[data-main]")).to_contain_text("Vented and drained")
        second = page.locator("[data-main]").bounding_box()
        self.assertGreaterEqual(second["y"], first["y"] + first["height"])

    def test_swapped_values_are_swapped_with_one_tap(self):
        page = self.person()
        self.prepared(page, "PT-3")
        self.type_reading(page, "0", "", "4.00", "")
        self.see(page, "point 2 of 9")
        self.type_reading(page, "8.01", "", "1000.2", "")
        alert = page.get_by_role("alert")
        expect(alert).to_contain_text("Applied 8.01 and loop current 1000.2 look swapped")
        alert.get_by_role("button", name="Swap them").click()
        self.see(page, "point 3 of 9")
        expect(page.get_by_role("cell", name="8.01", exact=True)).to_be_visible()
        expect(page.get_by_role("cell", name="1000.2", exact=True)).to_be_visible()

    def test_far_from_the_target_it_asks_why_and_the_target_stays_open(self):
        page = self.person()
        self.prepared(page, "PT-4")
        self.type_reading(page, "0", "", "4.00", "")
        self.see(page, "point 2 of 9")
        self.type_reading(page, "1700", "", "10.80", "")
        alert = page.get_by_role("alert")
        expect(alert).to_contain_text("Applied 1700 kPa is far from the target, 1000 kPa.")
        alert.get_by_role("button", name="The target cannot be reached").click()
        alert.get_by_role("button", name="Keep as extra point").click()
        expect(page.get_by_role("cell", name="1700", exact=True).last).to_be_visible()
        self.see(page, "point 2 of 10")
        page.get_by_role("button", name="This point cannot be reached").click()
        page.get_by_role("button", name="The process does not allow it today").click()
        page.get_by_role("button", name="Leave this point out").click()
        self.see(page, "point 3 of 10")
        expect(page.get_by_role("cell", name="left out")).to_be_visible()

    def test_a_plate_that_differs_goes_on_and_a_planner_puts_the_record_right(self):
        page = self.person()
        self.opened(page, "PT-5", self.before("identity"))
        page.get_by_label("Serial number on the plate").fill("S-99")
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_text("The record says S-77")).to_be_visible()
        expect(page.get_by_role("button", name="Range changed")).to_have_count(0)
        page.get_by_role("button", name="Device was replaced").click()
        page.get_by_role("button", name="Go on with the difference").click()
        self.see(page, "Write down the settings found")
        entries = [e for e in works.prepared() if e["data"].get("step") != "identity"]
        rest = entries[len(self.before("identity")) :]
        self.finish(page, [*rest, *works.readings(), *works.returned()])
        pia = self.person("pia")
        expect(pia.get_by_text("Found otherwise than on record")).to_be_visible()
        pia.get_by_role("link", name="PT-5").first.click()
        found = pia.get_by_role("region", name="Found otherwise than on record")
        expect(found).to_contain_text("on record S-77, found S-99")
        found.get_by_label("By what is it decided?").fill("delivery note")
        found.get_by_role("button", name="Put the record right").click()
        expect(found).to_be_hidden()
        expect(pia.get_by_text("S-99").first).to_be_visible()

    def finish(self, page, entries):
        """Send the rest past the screen, and sign."""
        api, base = page.context.request, self.server().address
        job = page.url.rsplit("/", 1)[1]
        headers = {"X-CSRFToken": api.get(f"{base}/api/v1/session").json()["csrf_token"]}
        headers["Origin"] = base
        for batch in (entries, [works.event("signed")]):
            seq = api.get(f"{base}/api/v1/jobs/{job}").json()["seq"]
            body = {"expected_seq": seq, "events": batch, "password": PASSWORD}
            said = api.post(f"{base}/api/v1/jobs/{job}/events", data=body, headers=headers)
            self.assertEqual(said.status, 200, said.text())


class Sessions(Hands):
    def test_signed_out_meanwhile_one_signs_in_on_the_spot(self):
        page = self.person()
        self.prepared(page, "PT-6")
        page.get_by_label("Applied", exact=True).fill("0")
        page.context.clear_cookies()
        page.get_by_label("Loop current").fill("4.00")
        page.get_by_role("button", name="Take reading").click()
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text("Your session is over")
        expect(dialog.get_by_label("Name")).to_have_value("ana")
        dialog.get_by_label("Password").fill(PASSWORD)
        dialog.get_by_role("button", name="Sign in", exact=True).click()
        self.see(page, "point 2 of 9")
        expect(page.get_by_role("cell", name="4.00", exact=True)).to_be_visible()

    def test_leaving_while_something_is_on_asks_and_names_it(self):
        page = self.person()
        self.prepared(page, "PT-7")
        page.get_by_role("button", name="sign out").click()
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text("PT-7: Loop in manual or bypass")
        expect(dialog).to_contain_text("PT-7: Reference connected")
        dialog.get_by_role("button", name="Stay").click()
        expect(page.get_by_text("Something of yours is still on")).to_be_hidden()
        self.see(page, "point 1 of 9")
        page.get_by_role("button", name="sign out").click()
        dialog.get_by_role("button", name="Sign out all the same").click()
        expect(page.get_by_label("Password")).to_be_visible()

    def test_two_in_one_job_see_each_other_and_nothing_typed_jumps(self):
        ana, ben = self.person(), self.person("ben")
        self.prepared(ana, "PT-9")
        ben.goto(ana.url)
        expect(ana.get_by_text("Also here: Ben Test")).to_be_visible()
        expect(ben.get_by_text("Also here: Ana Test")).to_be_visible()
        self.see(ben, "point 1 of 9")
        ben.get_by_label("Applied", exact=True).fill("0")
        ben.get_by_label("Loop current").fill("4.0")
        self.type_reading(ana, "0", "", "4.01", "")
        expect(ben.get_by_text("Somebody else took this one while you typed.")).to_be_visible()
        ben.keyboard.type("3")
        expect(ben.get_by_text("You had typed 0, 4.0.")).to_be_visible()
        ben.get_by_role("button", name="Drop it and go on").click()
        self.see(ben, "point 2 of 9")
        expect(ben.get_by_label("Loop current")).to_have_value("")


class Away(OwnServerCase):
    def test_a_reload_without_a_server_shows_our_own_page_with_what_is_kept(self):
        page = self.person(service_workers="allow")
        self.prepared(page, "PT-8")
        page.evaluate("navigator.serviceWorker.ready.then(() => true)")
        page.wait_for_function(
            "caches.open('shell').then((s) => s.keys()).then((k) => k.length > 10)"
        )
        self.server().kill()
        self.type_reading(page, "0", "", "4.00", "")
        expect(page.get_by_text("Not stored yet.")).to_be_visible()
        page.reload()
        expect(page.get_by_role("heading", name="The server does not answer")).to_be_visible()
        kept = page.get_by_role("region", name="Kept here")
        expect(kept).to_contain_text("entries of ana")
        expect(kept).to_contain_text("4.00")
        self.server().start()
        self.see(page, "point 2 of 9")


class Fits(BrowserCase):
    def test_every_place_can_be_used_with_gloves(self):
        for hands in (ON_TABLET, ON_PHONE):
            page = self.person("pia", **hands)
            for address, heading in PLACES:
                with self.subTest(address=address, width=hands["viewport"]["width"]):
                    self.go(page, address)
                    expect(page.get_by_role("heading", name=heading).first).to_be_visible()
                    self.assertEqual(page.evaluate(SMALL, GLOVE), [])

    def test_today_is_searched_and_filtered(self):
        page = self.person(viewport=DESK)
        page.keyboard.press("/")
        search = page.get_by_label("Tag, words or area")
        expect(search).to_be_focused()
        page.keyboard.type("pt-21")
        due = page.get_by_role("region", name="Due")
        expect(due.get_by_role("listitem")).to_have_count(1)
        expect(due).to_contain_text("PT-21")
        page.get_by_role("button", name="Show all").click()
        page.get_by_label("All kinds").select_option("pH analyzers")
        expect(due).to_contain_text("T-ph_check")
        expect(due.get_by_text("PT-21", exact=True)).to_have_count(0)
        page.get_by_role("button", name="Failed").click()
        expect(due).to_contain_text("Nothing that is due fits")

    def test_the_strip_says_each_instrument_once_and_all_in_a_tap(self):
        page = self.person()
        self.prepared(page, "PT-30")
        strip = page.get_by_role("contentinfo", name="Safety strip")
        chip = strip.get_by_role("link", name="PT-30")
        expect(chip).to_have_count(1)
        expect(chip).to_contain_text("bypass, connected")
        self.assertLessEqual(strip.bounding_box()["height"], 60)
        strip.get_by_role("button", name="instrument").click()
        every = page.get_by_role("link", name="PT-30").filter(has_text="Reference connected")
        expect(every).to_be_visible()

    def test_what_a_reader_hears_is_a_sentence(self):
        """Live value, verdict marks and pictures, by the accessibility tree."""
        page = self.person()
        self.prepared(page, "PT-24")
        page.get_by_label("Go on by itself").click()
        self.see(page, "point 3 of 9")
        heard = page.locator("main").aria_snapshot()
        for sentence in (
            r"[Ll]oop current [\d.]+ mA, (steady|not steady yet: .+)\.",
            r"Error across the range of as found: \d readings, the largest error is .+ of span, "
            r"the limit is ±[\d.]+ % of span\.",
            r"(within limits|within limits, but close|outside limits)",
        ):
            self.assertRegex(heard, sentence)
