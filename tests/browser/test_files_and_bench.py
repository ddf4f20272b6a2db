"""A run read from the device's file, and a result of the Bench that goes into the field."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from tests.browser.base import BrowserCase
from tests.browser.walker import Walker


class FromFile(BrowserCase):
    def choose(self, page: Page, content: bytes, name: str = "run.csv") -> None:
        """Choose a file, as a person does in the dialog of the system."""
        field = page.get_by_label("Read from file: the device's file of this run")
        field.set_input_files({"name": name, "mimeType": "text/csv", "buffer": content})

    def test_columns_are_named_once_and_a_wrong_file_says_what_is_wrong(self):
        page, job = self.begin("F-gc_calibrate")
        walker = Walker(page, self.server().address, job)
        walker.walk("inject_1")
        written = page.context.request.get(f"{self.server().address}/api/v1/jobs/{job}/file").body()
        page.get_by_role("button", name="Type it in").click()
        self.choose(page, written.replace(b"S-77", b"S-78"))
        dialog = page.get_by_role("dialog", name="Which column is which?")
        expect(dialog.get_by_label("Unit of Retention time")).to_have_value("min")
        expect(dialog.get_by_label("Component")).to_have_value("Gas")
        self.axe(page)
        dialog.get_by_role("button", name="Read these columns").click()
        expect(dialog).to_contain_text("run.csv is of S-78, and this job is on S-77")
        dialog.get_by_role("button", name="Do not read it").click()
        self.choose(page, written)
        dialog.get_by_role("button", name="Read these columns").click()
        expect(page.get_by_text("Filled in from run.csv.")).to_be_visible()
        expect(page.get_by_label("Hydrogen, ppm").first).not_to_have_value("")
        self.axe(page)
        page.get_by_role("button", name="Taken").click()
        self.see(page, "Wait, as the device asks")
        page.get_by_role("tab", name="History").click()
        said = page.get_by_role("region", name="History").get_by_role("listitem").first
        expect(said).to_contain_text("read from run.csv, SHA-256")
        walker.walk("inject_2")
        page.get_by_role("button", name="Type it in").click()
        self.choose(page, written)
        expect(page.get_by_role("alert").first).to_contain_text(
            f"This very file was read in {job} already"
        )


class UseInJob(BrowserCase):
    def test_a_result_of_the_bench_goes_into_the_field_that_asked(self):
        page = self.person()
        self.prepared(page, "PT-31")
        page.get_by_label("Applied", exact=True).focus()
        page.get_by_role("link", name="Another unit into kPa").click()
        bar = page.get_by_role("region", name="For a job")
        expect(bar).to_contain_text("PT-31, Applied in kPa")
        form = page.get_by_role("form", name="Inputs")
        form.get_by_label("Value").fill("0.02")
        form.get_by_label("Unit", exact=True).fill("bar")
        page.get_by_role("button", name="Use in Applied").click()
        expect(page.get_by_label("Applied", exact=True)).to_have_value("2.00")
        self.see(page, "point 1 of 9")

    def test_a_job_that_went_on_takes_nothing(self):
        page = self.person()
        self.prepared(page, "PT-32")
        page.get_by_label("Applied", exact=True).focus()
        page.get_by_role("link", name="Another unit into kPa").click()
        other = self.person("ben")
        other.goto(page.url.split("/bench")[0] + f"/jobs/{self.job_of('PT-32', other)}")
        other.get_by_role("button", name="Add note").click()
        other.get_by_role("dialog").get_by_role("textbox").fill("somebody else was here")
        other.get_by_role("dialog").get_by_role("button", name="Save the note").click()
        expect(other.get_by_role("dialog")).to_be_hidden()
        page.get_by_role("form", name="Inputs").get_by_label("Value").fill("1")
        page.get_by_role("button", name="Use in Applied").click()
        bar = page.get_by_role("region", name="For a job")
        expect(bar).to_contain_text("The job has gone on since. Nothing was filled in.")
        bar.get_by_role("link", name="Back to").click()
        self.see(page, "point 1 of 9")
        expect(page.get_by_label("Applied", exact=True)).to_have_value("")

    def job_of(self, tag: str, page: Page) -> str:
        jobs = page.context.request.get(f"{self.server().address}/api/v1/today").json()["running"]
        return next(j["job"] for j in jobs if j["tag"] == tag)
