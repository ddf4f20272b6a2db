"""Flow and weighing up to the certificate: by rig, typed, with locks of two people, with a file."""

from __future__ import annotations

from playwright.sync_api import expect

from calibration.simulate.technician import Technician
from tests.browser.base import ON_PHONE, BrowserCase
from tests.browser.looking import Look
from tests.browser.walker import Walker
from tests.core.plants import EVERY
from tests.long import in_long
from tests.server import plant
from tests.server.works import PASSWORD


class Plant(BrowserCase):
    def rig(self, method, **how):
        page, job = self.begin(f"R-{method}")
        return (
            page,
            job,
            Walker(page, self.server().address, job, answers=plant.told(method), **how),
        )

    def typed(self, method, **how):
        spec = EVERY[method]
        typist = Technician(
            plant.machine(method, **spec.planted), seed=5, answers=plant.told(method), serial="S-77"
        )
        page, job = self.begin(f"T-{method}", **(ON_PHONE if how.get("touch") else {}))
        if how.get("touch"):
            how["look"] = Look(self, page, glove=True)
        walker = Walker(page, self.server().address, job, typist, plant.told(method), **how)
        return page, job, walker

    def ended(self, page, job, method) -> dict:
        """The certificate opens and names the cause."""
        expect(page.get_by_role("link", name="Open the certificate")).to_be_visible()
        files = f"{self.server().address}/api/v1/records/{job}/certificate"
        said = page.context.request.get(f"{files}.json").json()
        self.assertIn(EVERY[method].cause, said["judgement"]["causes"])
        self.assertEqual(page.context.request.get(f"{files}.pdf").body()[:4], b"%PDF")
        return {table["title"]: table["rows"] for table in said["tables"]}

    def by_rig(self, method, **how):
        page, job, walker = self.rig(method, **how)
        walker.walk("judge")
        self.axe(page)
        walker.walk()
        return self.ended(page, job, method)

    def by_typing(self, method, **how):
        page, job, walker = self.typed(method, **how)
        walker.walk()
        return self.ended(page, job, method)

    def test_a_zero_by_rig_with_keys_alone(self):
        tables = self.by_rig("massflow_zero", keys=True)
        self.assertEqual(len(tables["Set, kg/h"]), 1)

    def test_a_belt_under_locks_of_two_people(self):
        page, job, walker = self.rig("belt_routine")
        walker.walk("weights_on")
        other = self.person("ben")
        self.go(other, f"/jobs/{job}")
        locks = other.get_by_role("region", name="Locks")
        expect(locks.get_by_text("Ana Test: lock on since")).to_be_visible()
        locks.get_by_role("button", name="My hands go in too").click()
        locks.get_by_label("How is it proven").fill("start pressed: still")
        locks.get_by_role("button", name="My lock is on").click()
        expect(locks.get_by_text("Ben Test: lock on since")).to_be_visible()
        self.axe(other)
        page.reload()
        walker.walk("on_unlocked")
        walker.prove(walker.state, walker.state["tasks"][0]["asks"][0])
        waits = page.get_by_text("Waits until Ben Test took off their own.")
        expect(waits).to_be_visible()
        self.a_planner_decides(job)
        page.reload()
        walker.walk()
        rows = self.ended(page, job, "belt_routine")["Locks"]
        self.assertIn("ended by Pia Test", [row[3] for row in rows])

    def a_planner_decides(self, job):
        """Of somebody absent: refused without grounds and password, and what was said stays."""
        page = self.person("pia")
        self.go(page, f"/jobs/{job}")
        page.get_by_role("button", name="Its person is absent").click()
        form = page.get_by_role("form", name="The lock of Ben Test")
        form.get_by_label("By which site procedure?").fill("works rule 7")
        form.get_by_label("Why can it not wait?").fill("beets wait")
        form.get_by_label("Your password").fill(PASSWORD)
        form.get_by_role("button", name="Decide").click()
        expect(form.get_by_text("It is not said who was reached.")).to_be_visible()
        expect(form.get_by_label("By which site procedure?")).to_have_value("works rule 7")
        form.get_by_label("Who was reached").fill("called twice")
        form.get_by_label("Your password").fill(PASSWORD)
        form.get_by_role("button", name="Decide").click()
        expect(form).to_have_count(0)

    def test_the_testers_file_fills_every_line(self):
        page, job, walker = self.rig("magmeter_verify")
        walker.walk("plugs_in")
        self.see(page, "Where each plug goes")
        self.axe(page)
        walker.walk("tester_run")
        walker.page.wait_for_timeout(1500)
        files = f"{self.server().address}/api/v1/jobs/{job}/file"
        report = page.context.request.get(files).body()
        page.get_by_role("button", name="Type it in").click()
        chosen = {"name": "report.json", "mimeType": "application/json", "buffer": report}
        page.get_by_label("Read from file: the tester's file, CSV or JSON").set_input_files(chosen)
        page.get_by_role("button", name="Read these columns").click()
        expect(page.get_by_label("Coil resistance: ", exact=False).first).not_to_have_value("")
        seq = walker.state["seq"]
        page.get_by_role("button", name="Take all lines").click()
        walker.changed(seq)
        walker.walk()
        tables = self.ended(page, job, "magmeter_verify")
        self.assertEqual(len(tables["Lines of the tester"]), 10)

    def test_a_hopper_typed_on_the_phone(self):
        tables = self.by_typing("loadcell_weights", touch=True)
        self.assertIn("Corners as found", tables)

    @in_long
    def test_a_belt_typed_on_the_phone(self):
        self.by_typing("belt_routine", touch=True)

    @in_long
    def test_a_zero_typed_on_the_phone(self):
        self.by_typing("massflow_zero", touch=True)

    @in_long
    def test_a_tester_typed_on_the_phone(self):
        self.by_typing("magmeter_verify", touch=True)


def _add(way, method, **how):
    @in_long
    def test(self):
        getattr(self, way)(method, **how)

    setattr(Plant, f"test_{method}_{way}", test)


for _method in EVERY:
    if _method not in ("massflow_zero", "belt_routine", "magmeter_verify"):
        _add("by_rig", _method, keys=True)
    if _method not in ("massflow_zero", "belt_routine", "magmeter_verify", "loadcell_weights"):
        _add("by_typing", _method, touch=True)
