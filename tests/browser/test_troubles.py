"""What goes wrong on a working day, and what must not be lost."""

import time

from playwright.sync_api import expect

from tests.browser.base import PHONE, BrowserCase, OwnServerCase
from tests.browser.walker import Walker
from tests.server import works
from tests.server.works import PASSWORD


class Entries(BrowserCase):
    def ready(self, tag):
        page = self.person()
        self.prepared(page, tag)
        return page

    def test_bad_values_are_said_beside_the_field_and_nothing_is_lost(self):
        page = self.ready("PT-3")
        for bad, words in (
            ("abc", "is not a number"),
            ("NaN", "cannot be recorded"),
            ("1e309", "beyond any reading"),
            ("", "The field is empty"),
        ):
            page.get_by_label("Applied", exact=True).fill("2.5")
            page.get_by_label("Control room").fill("3")
            page.get_by_label("Loop current").fill(bad)
            page.get_by_role("button", name="Take reading").click()
            field = page.get_by_label("Loop current")
            expect(page.get_by_role("alert")).to_contain_text(words)
            expect(field).to_have_attribute("aria-invalid", "true")
            expect(page.get_by_label("Applied", exact=True)).to_have_value("2.5")
            expect(page.get_by_label("Control room")).to_have_value("3")
        page.get_by_label("Loop current").fill("4,01")
        page.get_by_role("button", name="Take reading").click()
        expect(page.get_by_role("cell", name="4.01", exact=True)).to_be_visible()

    def test_ten_open_pages_of_a_live_job_answer(self):
        """A page that held its connection would stop the seventh: a browser allows six."""
        page = self.person()
        self.prepared(page, "PT-24")
        pages = [page, *(page.context.new_page() for _ in range(9))]
        for other in pages[1:]:
            other.goto(page.url)
        for other in pages:
            other.bring_to_front()
            expect(other.get_by_role("region", name="Now")).to_contain_text("point 1 of 9")
            expect(other.get_by_role("region", name="Loop strip")).to_contain_text("mA")
        pages[9].get_by_role("tab", name="History").click()
        expect(pages[9].get_by_text("Job opened on PT-24")).to_be_visible()

    def test_a_slip_is_asked_about_with_one_tap_answers(self):
        page = self.ready("PT-4")
        self.type_reading(page, "0", "", "40.0", "")
        alert = page.get_by_role("alert")
        expect(alert).to_contain_text("Did you mean 4.00?")
        # The keyboard is not lost: the answers are the next that Tab comes to.
        page.keyboard.press("Tab")
        expect(alert.get_by_role("button", name="Use 4.00")).to_be_focused()
        page.keyboard.press("Enter")
        expect(page.get_by_role("cell", name="4.00", exact=True)).to_be_visible()
        self.see(page, "point 2 of 9")
        self.type_reading(page, "1000", "", "9.5", "")
        page.get_by_role("alert").get_by_role("button", name="Keep it").click()
        expect(page.get_by_role("cell", name="9.5", exact=True)).to_be_visible()

    def test_undo_takes_a_reason_and_stays_in_the_history(self):
        page = self.ready("PT-5")
        self.type_reading(page, "0", "", "4.05", "")
        self.see(page, "point 2 of 9")
        page.get_by_role("button", name="Undo last").click()
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text("gives 4.05 mA")
        dialog.get_by_role("button", name="Take it back").click()
        expect(dialog.get_by_role("alert")).to_contain_text("takes a reason")
        dialog.get_by_role("button", name="Typed wrong").click()
        dialog.get_by_role("button", name="Take it back").click()
        self.see(page, "point 1 of 9")
        page.get_by_role("tab", name="History").click()
        expect(page.get_by_role("region", name="History")).to_contain_text(
            "taken back: Typed wrong"
        )

    def test_it_refuses_to_close_and_says_what_is_still_on(self):
        page = self.ready("PT-6")
        page.get_by_role("button", name="Close the job").click()
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text("It cannot be closed yet")
        expect(dialog).to_contain_text("Loop in manual or bypass is still on")
        expect(dialog).to_contain_text("Reference connected is still on")
        dialog.get_by_role("button", name="Back to the job").click()
        strip = page.get_by_role("contentinfo", name="Safety strip")
        expect(strip).to_contain_text("bypass")
        expect(strip.get_by_role("link", name="PT-6").first).to_be_visible()

    def test_a_reload_in_the_middle_of_a_run_keeps_what_was_typed(self):
        page = self.ready("PT-7")
        self.type_reading(page, "0", "", "4.00", "")
        self.see(page, "point 2 of 9")
        page.get_by_label("Applied", exact=True).fill("1000.4")
        page.get_by_label("Loop current").fill("8.0")
        page.reload()
        self.see(page, "point 2 of 9")
        expect(page.get_by_label("Applied", exact=True)).to_have_value("1000.4")
        expect(page.get_by_label("Loop current")).to_have_value("8.0")

    def test_a_note_too_long_is_refused_beside_the_field(self):
        page = self.ready("PT-8")
        page.get_by_role("button", name="Add note").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_role("textbox").fill("x" * 5000)
        dialog.get_by_role("button", name="Save the note").click()
        expect(dialog.get_by_role("alert")).to_contain_text("5000 characters")
        dialog.get_by_role("textbox").fill("Impulse line is damp")
        dialog.get_by_role("button", name="Save the note").click()
        expect(dialog).to_be_hidden()

    def test_two_browsers_on_one_job_see_each_other_without_reloading(self):
        ana, ben = self.ready("PT-9"), self.person("ben")
        ben.goto(ana.url)
        self.see(ben, "point 1 of 9")
        self.type_reading(ana, "0", "", "4.03", "")
        expect(ben.get_by_role("cell", name="4.03", exact=True)).to_be_visible()


class Away(OwnServerCase):
    """The server dies and comes back."""

    def test_an_entry_made_meanwhile_is_kept_and_sent_by_itself(self):
        page = self.person()
        self.prepared(page, "PT-1")
        self.type_reading(page, "0", "", "4.00", "")
        self.see(page, "point 2 of 9")
        self.server().kill()
        self.type_reading(page, "1000", "", "8.02", "")
        expect(page.get_by_role("status").filter(has_text="Not stored yet")).to_be_visible()
        expect(page.get_by_role("contentinfo")).to_contain_text("No connection", timeout=20_000)
        self.server().start()
        expect(page.get_by_role("cell", name="8.02", exact=True)).to_be_visible()
        self.see(page, "point 3 of 9")
        expect(page.get_by_text("Not stored yet")).to_be_hidden()

    def note(self, page, text):
        page.get_by_role("button", name="Add note").click()
        page.get_by_role("dialog").get_by_role("textbox").fill(text)
        page.get_by_role("dialog").get_by_role("button", name="Save the note").click()
        expect(page.get_by_text("Not stored yet")).to_be_visible()
        page.keyboard.press("Escape")

    def sign_in(self, page, name):
        page.context.clear_cookies()
        page.goto(self.server().address)
        page.get_by_label("Name").fill(name)
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Sign in", exact=True).click()
        expect(page.get_by_role("heading", name="Today")).to_be_visible()

    def test_entries_wait_for_the_person_who_made_them_and_none_is_lost(self):
        """Two entries of one, the server gone; the next person at the tablet does not get them."""
        page = self.person()
        self.prepared(page, "PT-2")
        job = page.url
        self.whole(page)
        self.server().kill()
        for text in ("the first of ana", "the second of ana"):
            self.note(page, text)
        expect(page.get_by_text("Your 2 entries are kept")).to_be_visible()
        page.goto("about:blank")
        self.server().start()
        self.sign_in(page, "ben")
        page.goto(job)
        self.see(page, "Entries of ana wait on this device")
        page.get_by_role("tab", name="History").click()
        expect(page.get_by_role("region", name="History")).not_to_contain_text("of ana")
        self.sign_in(page, "ana")
        page.goto(job)
        page.get_by_role("tab", name="History").click()
        lines = page.get_by_role("region", name="History").get_by_role("listitem")
        expect(lines.filter(has_text="the second of ana")).to_contain_text("Ana Test")
        expect(lines.filter(has_text="the first of ana")).to_contain_text("Ana Test")
        expect(page.get_by_text("Not stored yet")).to_be_hidden()

    def test_what_was_never_opened_opens_without_a_server(self):
        page = self.person()
        self.prepared(page, "PT-3")
        self.whole(page)
        self.server().kill()
        strip = page.get_by_role("contentinfo", name="Safety strip")
        for name in ("find", "Keys"):
            strip.get_by_role("button", name=name).click()
            expect(page.get_by_role("dialog").get_by_role("heading")).to_be_visible()
            page.keyboard.press("Escape")
            expect(page.get_by_role("dialog")).to_be_hidden()
        places = page.get_by_role("navigation", name="Places")
        places.get_by_role("link", name="Kit").click()
        expect(page.get_by_text("does not answer")).to_be_visible(timeout=20_000)
        self.server().start()
        page.get_by_role("button", name="Try again").click()
        expect(page.get_by_role("heading", name="Kit", exact=True)).to_be_visible()

    def test_sensors_in_a_block_go_on_while_the_server_is_down(self):
        """The pages are closed, the plug is pulled, and the points are there afterwards."""
        page = self.person()
        self.due(page, "R-pt100_sensor").click()
        expect(page.locator("main[data-seq]")).to_be_visible()
        walker = Walker(page, self.server().address, page.url.rsplit("/", 1)[1])
        walker.walk("as_found")
        page.get_by_role("button", name="and let it run").click()
        expect(page.get_by_role("region", name="Blocks")).to_contain_text("to 0.0 °C")
        self.axe(page)
        page.goto("about:blank")
        self.server().kill()
        time.sleep(8)
        self.server().start()
        page.goto(f"{self.server().address}/jobs/{walker.job}")
        self.see(page, "Decide")
        self.assertEqual(walker.state["as_found"]["taken"], 3)


class WentWrong(BrowserCase):
    """A transmitter that sticks: stopped, handed over, followed up, brought back by a planner."""

    BAD = [(a, f"{float(r.replace(',', '.')) + (0.9 if n % 2 else -0.9):.2f}")
           for n, (a, r) in enumerate(works.GOOD)]  # fmt: skip

    def stopped(self, page):
        self.prepared(page, "PT-30")
        job = page.url.rsplit("/", 1)[1]
        readings = works.readings(values=self.BAD)
        for one in readings:
            one["data"]["kept"] = True
        api, base = page.context.request, self.server().address
        headers = {"X-CSRFToken": api.get(f"{base}/api/v1/session").json()["csrf_token"],
                   "Origin": base}  # fmt: skip
        seq = api.get(f"{base}/api/v1/jobs/{job}").json()["seq"]
        body = {"expected_seq": seq, "events": readings, "password": ""}
        said = api.post(f"{base}/api/v1/jobs/{job}/events", data=body, headers=headers)
        self.assertEqual(said.status, 200, said.text())
        page.reload()
        page.get_by_role("button", name="Stop and report it").first.click()
        form = page.locator("form").last
        form.get_by_role("textbox").fill("it sticks")
        form.get_by_role("button", name="Stop and report it").click()
        self.see(page, "How is it left?")
        return job

    def test_from_stop_to_back_in_service(self):
        page = self.person()
        job = self.stopped(page)
        self.axe(page)
        walker = Walker(page, self.server().address, job)
        walker.walk()
        self.see(page, "failed, out of service")
        self.see(page, "not followed up yet")
        strip = page.get_by_role("contentinfo", name="Safety strip")
        expect(strip).to_contain_text("out of service")
        page.goto(self.server().address)
        expect(page.get_by_role("main")).to_contain_text("out of service since")
        self.planner(job)

    def planner(self, job):
        planner = self.person("pia")
        self.go(planner, "/records?mark=follow_up")
        expect(planner.get_by_role("listitem").filter(has_text=job)).to_contain_text("to follow up")
        self.go(planner, f"/jobs/{job}")
        planner.get_by_role("button", name="Batches since then are held").click()
        planner.get_by_role("button", name="Followed up").click()
        expect(planner.get_by_role("button", name="Followed up")).to_be_hidden()
        self.go(planner, "/instruments/PT-30")
        expect(planner.get_by_role("main")).to_contain_text("with workshop")
        self.axe(planner)
        planner.get_by_role("button", name="Back in service").click()
        expect(planner.get_by_role("alert")).to_contain_text("takes a reason")
        planner.get_by_label("what was done?").fill("new cell")
        planner.get_by_role("button", name="Back in service").click()
        expect(planner.get_by_role("main")).to_contain_text("back in service, says Pia Test")
        expect(planner.get_by_role("button", name="Back in service")).to_be_hidden()

    def test_a_reviewer_puts_the_words_of_a_certificate_right(self):
        page = self.person()
        job = self.stopped(page)
        Walker(page, self.server().address, job).walk()
        reviewer = self.person("rea")
        self.go(reviewer, f"/jobs/{job}")
        reviewer.get_by_role("button", name="Put an error of the certificate right").click()
        dialog = reviewer.get_by_role("dialog")
        dialog.get_by_label("Serial number").fill("S-78")
        dialog.get_by_label("What was wrong, and why").fill("read off the wrong plate")
        dialog.get_by_role("button", name="Issue it again").click()
        expect(dialog.get_by_role("alert")).to_contain_text("password is not right")
        dialog.get_by_label("Your password").fill(PASSWORD)
        with reviewer.expect_response("**/issues") as sent:
            dialog.get_by_role("button", name="Issue it again").click()
        self.assertEqual(sent.value.status, 200, sent.value.text())
        expect(dialog).to_be_hidden()
        paper = reviewer.context.request.get(
            f"{self.server().address}/api/v1/records/{job}/certificate.json"
        ).json()
        self.assertEqual((paper["issue"]["number"], paper["instrument"]["serial"]), (2, "S-78"))
        first = reviewer.get_by_role("link", name="Issue 1")
        expect(first).to_be_visible()
        self.assertIn("issue=1", first.get_attribute("href") or "")
        expect(reviewer.get_by_role("listitem").filter(has_text="Issue 2")).to_contain_text("S-78")

    def test_a_job_opened_by_mistake_and_one_taken_over(self):
        page = self.person()
        self.start(page, "PT-2")
        page.get_by_role("button", name="Close the job").click()
        page.get_by_role("button", name="Opened by mistake").click()
        self.see(page, "This job is voided")
        self.prepared(page, "PT-2")
        ben = self.person("ben")
        ben.goto(page.url)
        ben.get_by_role("button", name="I take it over").click()
        expect(ben.get_by_role("button", name="I take it over")).to_be_hidden()
        expect(page.get_by_role("button", name="I take it over")).to_be_visible()


class Parts(BrowserCase):
    """What is fetched only when it is opened, and what fails by a fault of ours."""

    def test_a_part_that_cannot_be_fetched_comes_when_it_can(self):
        page = self.person()
        page.route("**/assets/KeysDialog*", lambda route: route.abort())
        page.reload()
        with page.expect_event("requestfailed"):
            page.get_by_role("button", name="Keys").click()
        expect(page.get_by_role("heading", name="Today")).to_be_visible()
        page.unroute("**/assets/KeysDialog*")
        expect(page.get_by_role("dialog").get_by_role("heading")).to_be_visible()

    def test_a_page_that_fails_says_so_and_the_others_stay(self):
        page = self.person()
        page.route("**/api/v1/kit/cylinders*", lambda route: route.fulfill(json={"none": 1}))
        places = page.get_by_role("navigation", name="Places")
        places.get_by_role("link", name="Kit").click()
        expect(page.get_by_role("heading", name="This page failed")).to_be_visible()
        self.axe(page)
        expect(page.get_by_role("contentinfo", name="Safety strip")).to_be_visible()
        places.get_by_role("link", name="Records").click()
        expect(page.get_by_role("heading", name="Records")).to_be_visible()


class Places(BrowserCase):
    def test_no_serious_violation_at_any_stage_of_a_job_light_and_dark(self):
        page = self.person()
        self.go(page, "/nowhere")
        expect(page.get_by_role("heading", level=1)).to_be_visible()
        self.axe(page)
        self.go(page, "/")
        self.start(page, "PT-10")
        self.axe(page)
        self.prepared(page, "PT-10")
        self.type_reading(page, "0", "0.1", "4.00", "0")
        self.see(page, "point 2 of 9")
        self.axe(page)
        for tab in ("Steps", "History", "Limits"):
            page.get_by_role("tab", name=tab).click()
            expect(page.get_by_role("region", name=tab)).to_be_visible()
            self.axe(page)
        page.get_by_role("tab", name="Result").click()
        page.get_by_title("How was this computed?").first.click()
        expect(page.get_by_role("dialog")).to_contain_text("Formula")
        self.axe(page)
        page.keyboard.press("Escape")
        page.get_by_role("button", name="Undo last").click()
        self.axe(page)

    def test_sign_in_has_no_serious_violation_and_says_what_is_wrong(self):
        page = self.person("rea")
        page.get_by_role("button", name="sign out").click()
        expect(page.get_by_role("heading", name="Sign in")).to_be_visible()
        self.axe(page)
        page.get_by_label("Name").fill("ana")
        page.get_by_label("Password").fill("wrong")
        page.keyboard.press("Enter")
        expect(page.get_by_role("alert")).to_contain_text("Name or password is not right")

    def test_a_phone_finds_an_instrument(self):
        page = self.person(viewport=PHONE)
        self.go(page, "/instruments")
        page.get_by_role("searchbox").fill("pt-7")
        page.get_by_role("table").get_by_role("link", name="PT-7").click()
        expect(page.get_by_role("heading", name="PT-7")).to_be_visible()
        wide = page.evaluate("document.documentElement.scrollWidth > innerWidth")
        self.assertFalse(wide, "the page scrolls sideways")

    def test_keys_go_to_places(self):
        page = self.person()
        page.keyboard.press("i")
        expect(page.get_by_role("heading", name="Instruments")).to_be_visible()
        page.get_by_role("searchbox").blur()
        page.keyboard.press("r")
        expect(page.get_by_role("heading", name="Records")).to_be_visible()
        page.get_by_role("searchbox").blur()
        page.keyboard.press("?")
        expect(page.get_by_role("dialog")).to_contain_text("These keys")

    def test_a_reviewer_watches_and_a_planner_moves_a_due_date(self):
        planner = self.person("pia")
        self.go(planner, "/instruments/PT-22")
        planner.get_by_role("button", name="Move due date").click()
        planner.get_by_label("Due on").fill("2031-01-02")
        planner.get_by_label("Reason").fill("shutdown")
        planner.get_by_role("button", name="Move it").click()
        expect(planner.get_by_text("moved by Pia Test: shutdown")).to_be_visible()
        reviewer = self.person("rea")
        start = self.due(reviewer, "PT-3")
        expect(reviewer.get_by_role("link", name="PT-3", exact=True)).to_be_visible()
        expect(start).to_be_hidden()
