"""Many instruments at once, kept views, finding anything, scripts, and records of a period."""

from __future__ import annotations

import json
import zipfile
from datetime import date, timedelta
from pathlib import Path

from playwright.sync_api import expect
from reportlab.graphics.barcode.qrencoder import QRCode, QRErrorCorrectLevel

from tests.browser.base import BrowserCase
from tests.browser.looking import GLOVE, SMALL
from tests.server import works
from tests.server.works import PASSWORD

#: A camera that sees a picture of black and white squares.
CAMERA = """(squares) => {
  navigator.mediaDevices.getUserMedia = async () => {
    const canvas = document.createElement('canvas'), side = 8;
    canvas.width = canvas.height = (squares.length + 8) * side;
    const pen = canvas.getContext('2d');
    const draw = () => {
      pen.fillStyle = '#fff';
      pen.fillRect(0, 0, canvas.width, canvas.height);
      pen.fillStyle = '#000';
      squares.forEach((row, y) => row.forEach((dark, x) =>
        dark && pen.fillRect((x + 4) * side, (y + 4) * side, side, side)));
    };
    draw();
    setInterval(draw, 50);
    return canvas.captureStream(20);
  };
}"""


def squares(text):
    """The code of a label, as rows of dark and light."""
    code = QRCode(None, QRErrorCorrectLevel.M)
    code.addData(text)
    code.make()
    size = code.getModuleCount()
    return [[bool(code.isDark(y, x)) for x in range(size)] for y in range(size)]


class Many(BrowserCase):
    def glance(self, page):
        self.axe(page)
        self.assertEqual(page.evaluate(SMALL, GLOVE), [])

    def test_chosen_instruments_are_moved_together(self):
        page = self.person("pia")
        self.go(page, "/instruments?q=pt-")
        for tag in ("PT-8", "PT-9"):
            page.get_by_label(f"Choose {tag}", exact=True).check()
        bar = page.get_by_role("region", name="Chosen")
        expect(bar).to_contain_text("2 chosen")
        self.glance(page)
        bar.get_by_role("button", name="Move the due day").click()
        dialog = page.get_by_role("dialog")
        first = date.today() + timedelta(days=200)
        dialog.get_by_label("Due on").fill(str(first))
        dialog.get_by_label("Spread until").fill(str(first + timedelta(days=30)))
        self.glance(page)
        dialog.get_by_role("button", name="Move 2").click()
        expect(dialog.get_by_role("alert")).to_contain_text("Say why")
        dialog.get_by_label("Reason").fill("winter campaign")
        dialog.get_by_role("button", name="Move 2").click()
        expect(dialog).to_be_hidden()
        expect(bar).to_be_hidden()
        row = page.get_by_role("row").filter(has_text="PT-9")
        expect(row).to_contain_text(str(first + timedelta(days=30)))

    def test_a_method_for_all_that_fit_a_search(self):
        page = self.person("pia")
        self.go(page, "/instruments?q=pt-8")
        page.get_by_label("All of this page").check()
        bar = page.get_by_role("region", name="Chosen")
        bar.get_by_role("button", name="Plan a method").click()
        dialog = page.get_by_role("dialog")
        choice = dialog.get_by_label("Method")
        choice.select_option("smart_transmitter")
        dialog.get_by_label("First due on").fill(str(date.today() + timedelta(days=90)))
        dialog.get_by_label("Reason").fill("digital value matters")
        self.glance(page)
        dialog.get_by_role("button", name="Plan it").click()
        expect(dialog).to_be_hidden()
        page.get_by_role("link", name="PT-8", exact=True).click()
        expect(page.get_by_role("group", name="Plans")).to_be_visible()

    def test_a_view_is_kept_and_forgotten(self):
        page = self.person("ben")
        self.go(page, "/instruments")
        page.get_by_label("Any state").select_option(label="Due in 14 days")
        page.get_by_role("button", name="Keep this view").click()
        page.get_by_label("Name").fill("Soon")
        page.get_by_role("button", name="Keep it").click()
        self.go(page, "/instruments")
        page.get_by_role("button", name="Soon", exact=True).click()
        expect(page).to_have_url(f"{self.server().address}/instruments?state=due")
        self.glance(page)
        page.get_by_role("button", name="Forget Soon").click()
        expect(page.get_by_role("button", name="Soon", exact=True)).to_be_hidden()


class Finding(BrowserCase):
    def test_anything_is_found_from_anywhere_with_keys_alone(self):
        page = self.person()
        self.go(page, "/kit")
        expect(page.get_by_role("heading", name="Kit").first).to_be_visible()
        page.locator("body").press("f")
        box = page.get_by_role("combobox", name="Tag, job, kit")
        expect(box).to_be_focused()
        page.keyboard.type("R-1")
        option = page.get_by_role("option").filter(has_text="R-1").first
        expect(option).to_be_visible()
        self.axe(page)
        box.fill("pt-7")
        expect(page.get_by_role("option").first).to_contain_text("PT-7")
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name="PT-7")).to_be_visible()
        page.keyboard.press("f")
        page.keyboard.type("nothing is called like that")
        expect(page.get_by_text("Nothing fits.")).to_be_visible()

    def test_the_kit_is_narrowed_down_by_words(self):
        page = self.person()
        self.go(page, "/kit?show=references")
        page.get_by_role("searchbox").fill("pressure r-1")
        lines = page.get_by_role("region", name="References").get_by_role("listitem")
        expect(page.get_by_text("1 found")).to_be_visible()
        expect(lines).to_have_count(1)
        page.reload()
        expect(page.get_by_text("1 found")).to_be_visible()
        page.get_by_role("searchbox").fill("nothing is called like that")
        expect(page.get_by_text("No reference has these words.")).to_be_visible()

    def test_the_code_of_a_label_opens_what_it_is_on(self):
        page = self.person()
        page.evaluate(CAMERA, squares("https://another-host.example/instruments/PT-7"))
        page.locator("body").press("f")
        page.get_by_role("button", name="Scan a label").click()
        expect(page.get_by_role("heading", name="PT-7")).to_be_visible()

    def test_the_code_of_something_else_leads_nowhere(self):
        page = self.person()
        page.evaluate(CAMERA, squares("https://another-host.example/somewhere"))
        page.locator("body").press("f")
        page.get_by_role("button", name="Scan a label").click()
        expect(page.get_by_role("status").filter(has_text="something else")).to_be_visible()
        page.get_by_role("button", name="Type instead").click()
        expect(page.get_by_role("combobox", name="Tag, job, kit")).to_be_visible()


class Paper(BrowserCase):
    def fill(self, form, values):
        for point, (applied, reading) in values:
            row = form.get_by_role("row").nth(point + 1)
            row.get_by_label("Applied").fill(applied)
            row.get_by_label("Loop current").fill(reading)

    def test_a_whole_run_is_copied_from_the_paper_form(self):
        page = self.person()
        self.prepared(page, "PT-5")
        page.get_by_role("button", name="A whole run from the paper form").click()
        form = page.get_by_role("dialog")
        expect(form.get_by_role("row")).to_have_count(10)
        values = list(enumerate(works.GOOD))
        slip = (values[2][1][0], "120.4")
        self.fill(form, [*values[:2], (2, slip), *values[3:]])
        expect(form.get_by_role("button", name="Store")).to_be_disabled()
        form.get_by_label("Day that stands on the paper").fill("2026-03-04")
        self.axe(page)
        form.get_by_role("button", name="Store 9 of 9").click()
        # What cannot be stops it there: what was before it is stored, what comes after stays typed.
        expect(form.get_by_role("alert")).to_be_visible()
        expect(form.get_by_role("row")).to_have_count(8)
        form.get_by_role("row").nth(1).get_by_label("Loop current").fill(values[2][1][1])
        form.get_by_role("button", name="Store 7 of 7").click()
        expect(page.locator("[role=dialog]")).to_have_count(0)
        job = page.url.rsplit("/", 1)[1]
        said = page.context.request.get(f"{self.server().address}/api/v1/jobs/{job}/history").json()
        copied = [
            x["text"] for x in said if "copied from the paper form of 2026-03-04" in x["text"]
        ]
        self.assertEqual(len(copied), 1)
        state = page.context.request.get(f"{self.server().address}/api/v1/jobs/{job}").json()
        self.assertTrue(state["as_found"]["complete"])


class Away(BrowserCase):
    def test_a_token_is_made_once_shown_and_ended(self):
        page = self.person("rea")
        self.go(page, "/site?show=scripts")
        form = page.get_by_role("form", name="New token")
        form.get_by_label("What it is for").fill("Archive")
        form.get_by_label("Your password").fill("not this one")
        form.get_by_role("button", name="Make it").click()
        expect(form.get_by_role("alert")).to_contain_text("password is not right")
        form.get_by_label("Your password").fill(PASSWORD)
        form.get_by_role("button", name="Make it").click()
        token = form.get_by_role("status").inner_text().split()[-1]
        self.assertTrue(token.startswith("vl_"))
        self.axe(page)
        ask = page.context.request.get
        address = f"{self.server().address}/api/v1/records"
        headers = {"Authorization": f"Bearer {token}"}
        self.assertIn("total", json.loads(ask(address, headers=headers).text()))
        page.get_by_role("button", name="End Archive").click()
        expect(page.get_by_text("There is none.")).to_be_visible()
        self.assertEqual(ask(address, headers=headers).status, 401)

    def signed(self, page, tag):
        """Do a whole job past the screens."""
        self.prepared(page, tag)
        api, job = page.context.request, page.url.rsplit("/", 1)[1]
        token = api.get(f"{self.server().address}/api/v1/session").json()["csrf_token"]
        headers = {"X-CSRFToken": token, "Origin": self.server().address}
        path = f"{self.server().address}/api/v1/jobs/{job}"
        for events in (works.readings() + works.returned(), [works.event("signed")]):
            seq = api.get(path).json()["seq"]
            body = {"expected_seq": seq, "events": events, "password": PASSWORD}
            said = api.post(f"{path}/events", data=body, headers=headers)
            self.assertEqual(said.status, 200, said.text())

    def test_every_certificate_of_a_period_in_one_file(self):
        page = self.person()
        self.signed(page, "PT-6")
        self.go(page, "/records")
        page.get_by_label("Signed from").fill(str(date.today() - timedelta(days=900)))
        expect(page.get_by_text("every certificate, ZIP")).to_be_visible()
        with page.expect_download() as waiting:
            page.get_by_role("link", name="every certificate, ZIP").click()
        names = zipfile.ZipFile(Path(waiting.value.path())).namelist()
        self.assertIn("manifest.csv", names)
        self.assertGreater(len(names), 1)
        page.get_by_label("until").fill("2001-01-01")
        expect(page.get_by_role("alert").first).to_contain_text("ends before it begins")
