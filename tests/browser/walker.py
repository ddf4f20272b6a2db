"""A person who does a whole job in the interface, step by step, by rig or by typing."""

from __future__ import annotations

import time

from playwright.sync_api import Page, expect

from calibration.codec import decode
from calibration.procedure.state import JobState
from calibration.simulate.rigs import settings_at
from calibration.simulate.technician import Technician
from tests.server.works import PASSWORD

ANSWERS = {
    "operator": "Jo, shift B",
    "serial": "S-77",
    "temperature": "23",
    "supply_v": "24.1",
    "loop_ohm": "62",
    "resistor_ohm": "250",
}


class Walker:
    """Acts only through what is on the screen; the state of the job tells which step it is."""

    def __init__(
        self,
        page: Page,
        base: str,
        job: str,
        typist: Technician | None = None,
        answers: dict[str, str] | None = None,
    ) -> None:
        self.page, self.base, self.job, self.typist = page, base, job, typist
        self.answers = {**ANSWERS, **(answers or {})}
        self.seen: list[str] = []

    @property
    def state(self) -> dict:
        return self.page.context.request.get(f"{self.base}/api/jobs/{self.job}").json()

    def walk(self, stop: str = "") -> dict:
        """Do step after step until one is the present step, or the job is signed."""
        for _ in range(120):
            state = self.state
            if state["status"] != "open" or state["current_step"] == stop:
                return state
            step = next(s for s in state["steps"] if s["id"] == state["current_step"])
            if step["id"] not in self.seen:
                self.seen.append(step["id"])
            if state["together"]:
                self.main(state)
                self.quiet()
                if self.typist:
                    self.stated(state)
                continue
            if state["gas"] and step["kind"] == "capture":
                self.gas(state, step)
                continue
            getattr(self, step["kind"])(state, step)
            if self.typist and step["order"]:
                self.follow(state)
        raise AssertionError(f"the walk does not end: {self.seen}")

    def changed(self, seq: int) -> None:
        """Wait until the job has a new entry, and the screen shows it."""
        limit = time.monotonic() + 60
        while self.state["seq"] == seq:
            if time.monotonic() > limit:
                raise AssertionError(f"nothing happens at {self.seen[-1]}")
            self.page.wait_for_timeout(30)
        self.page.wait_for_timeout(80)

    def quiet(self) -> None:
        """Wait until no more entries come: a form sends its fields one after the other."""
        seq = -1
        while seq != self.state["seq"]:
            seq = self.state["seq"]
            self.page.wait_for_timeout(250)

    def main(self, state: dict) -> None:
        expect(self.page.locator("[data-main]").first).to_be_enabled()
        self.page.locator("[data-main]").first.click()
        self.changed(state["seq"])

    def kit(self, state, step):
        expect(self.page.locator("[data-main]").first).to_be_visible()
        self.main(state)

    def record(self, state, step):
        if any(f["question"] for f in step["fields"]):
            waits = self.page.get_by_role("button", name="Read right")
            if step["may_wait"]:
                waits.click()
            else:
                self.page.get_by_label("Why go on?").fill("as it is")
                self.page.get_by_role("button", name="Go on with the difference").click()
            self.changed(state["seq"])
            return
        form = self.page.locator("form").first
        expect(form.locator("input").first).to_be_visible()
        read = self.page.get_by_role("button", name="Read from the device")
        if not self.typist and (step["id"] == "settings" or read.is_visible()):
            read.click()
        for entry in step["fields"]:
            box = form.locator("input").nth(step["fields"].index(entry))
            if not box.input_value() and entry["id"] in self.answers:
                box.fill(self.answers[entry["id"]])
            elif not box.input_value() and self.typist:
                box.fill(self.device(entry["id"]))
        self.page.get_by_role("button", name="Save").click()
        self.changed(state["seq"])
        self.quiet()

    def device(self, name: str) -> str:
        """What the typing person reads off the device; its record, where it has no model of it."""
        return settings_at(self.typist.model, self.typist.commands, self.typist.t).get(name, "")

    def checklist(self, state, step):
        self.main(state)

    def gas(self, state, step):
        """Open, wait and read, set, or shut: whatever is asked for."""
        todo = state["gas"]["todo"]
        if todo in ("open", "shut"):
            self.main(state)
            if self.typist:
                self.follow(state)
        elif self.typist:
            if step["run"].startswith("air_left"):
                self.typist.t += 300.0
            _, data = self.typist.act(decode(JobState, {**state}, ""))[0]
            run = next(r for r in self.runs(state) if r["id"] == step["run"] or not step["run"])
            names = run["points_to_type"] if todo == "read" else ["before", "after"]
            self.type_in(state, [data.get(name, "") for name in names])
            if state["gas"]["role"]:
                self.typist.shut()
        elif todo == "set":
            self.set_live(state)
        else:
            self.changed(state["seq"])

    def stated(self, state):
        """What was stated together happens to the typing person's detector as well."""
        for order in state["together"]["orders"]:
            self.typist.tell(order)
        for event in state["together"]["events"]:
            if event["kind"] == "gas_on":
                self.typist.open(event["role"], float(event["flow"]))
                self.typist.t += 120.0

    def set_live(self, state):
        """Press it when it is steady; a press that comes too early is made again."""
        limit = time.monotonic() + 90
        while self.state["seq"] == state["seq"]:
            if time.monotonic() > limit:
                said = self.page.get_by_role("region", name="Now").inner_text()
                raise AssertionError(f"it is not set: {said}")
            button = self.page.locator("[data-main]").first
            if button.is_visible() and button.is_enabled() and "Set " in button.inner_text():
                button.click()
            self.page.wait_for_timeout(400)
        self.page.wait_for_timeout(80)

    def runs(self, state):
        return (state["as_found"], state["as_left"], *state["extra_runs"])

    def follow(self, state):
        """Let the typing person's own detector feel what was just confirmed."""
        self.typist.act(decode(JobState, {**state}, ""))

    gas_set = gas

    put_on = take_off = checklist

    def timer(self, state, step):
        self.page.get_by_role("button", name="It is warm already").click()
        self.page.get_by_role("button", name="In service and powered").click()
        self.page.get_by_role("button", name="Go on without waiting").click()
        self.changed(state["seq"])

    def capture(self, state, step):
        if self.typist:
            self.typed(state, step)
            return
        if state["block"]:
            self.page.get_by_role("button", name="and let it run").click()
            expect(self.page.get_by_role("region", name="Blocks")).to_be_visible()
        else:
            self.page.get_by_label("Go on by itself").check()
        limit = time.monotonic() + 150
        while self.state["current_step"] == step["id"]:
            if time.monotonic() > limit:
                raise AssertionError(f"the run does not end: {step['id']}")
            self.page.wait_for_timeout(200)
        self.page.wait_for_timeout(300)

    def typed(self, state, step):
        view = decode(JobState, {**state}, "")
        run = next(
            r for r in (view.as_found, view.as_left, *view.extra_runs) if r.id == step["run"]
        )
        values = self.typist.reading(run, run.points[run.current])
        self.type_in(state, [values[name] for name in run.points_to_type])

    def type_in(self, state, values):
        form = self.page.locator("form").first
        for n, value in enumerate(values):
            form.locator("input").nth(n).fill(value)
        self.page.locator("[data-main]").first.click()
        self.page.wait_for_timeout(250)
        keep = self.page.get_by_role("button", name="Keep it")
        if self.state["seq"] == state["seq"] and keep.is_visible():
            keep.click()
        self.changed(state["seq"])

    def decide(self, state, step):
        chosen = next(c for c in state["judgement"]["choices"] if c["recommended"])
        self.page.get_by_role("button", name=f"{chosen['label']} (advised)").click()
        if chosen["needs_reason"]:
            self.page.get_by_role("button", name="Replacement ordered").click()
            self.page.locator("form").last.get_by_role("button", name=chosen["label"]).click()
        self.changed(state["seq"])

    def set(self, state, step):
        if not self.typist:
            self.page.get_by_role("button", name="Write ").click()
            back = self.page.get_by_role("button", name="Read it back")
            limit = time.monotonic() + 30
            while self.state["seq"] == state["seq"] and time.monotonic() < limit:
                self.page.wait_for_timeout(400)
                if back.is_visible():
                    back.click()
                self.page.wait_for_timeout(200)
            self.changed(state["seq"])
            return
        for _, data in self.typist.act(decode(JobState, {**state}, "")):
            seq = self.state["seq"]
            self.page.locator("form input").first.fill(data["read_back"])
            self.page.get_by_role("button", name="It reads so").click()
            self.changed(seq)

    def adjust(self, state, step):
        if self.typist:
            kind_and_data = self.typist.act(decode(JobState, {**state}, ""))
            advice, data = state["adjustment"], kind_and_data[0][1]
            names = list(advice["fields"])
            if advice["action"] == "trim":
                names.append("before")
            self.type_in(state, [data[name] for name in names])
            return
        limit = time.monotonic() + 60
        while self.state["seq"] == state["seq"]:
            if time.monotonic() > limit:
                raise AssertionError("the adjustment does not come to its end")
            button = self.page.locator("[data-main]").first
            if button.is_visible() and "Waits" not in button.inner_text():
                button.click()
            self.page.wait_for_timeout(300)

    def sign(self, state, step):
        self.page.get_by_label("Your password").fill(PASSWORD)
        self.page.get_by_role("button", name="Sign and close").click()
        self.changed(state["seq"])
