"""A person who does a whole job in the interface, step by step, by rig or by typing."""

from __future__ import annotations

import json
from collections.abc import Callable
from contextlib import suppress

from playwright.sync_api import Locator, Page, expect

from calibration.engine.method.family import METHODS
from calibration.engine.view.asks import Form
from calibration.engine.view.state import JobState
from calibration.kernel.codec import decode
from calibration.simulate.answers import answer
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
    "glass_within": "0.5",
    "beside_instrument": "GP-07",
    "beside_reads": "20.9",
}

#: Looks at the page until something is true or the time is over; says which.
UNTIL = """new Promise((said) => {
  const look = () => (%s) ? said(true) : Date.now() > end ? said(false) : setTimeout(look, 50);
  const end = Date.now() + %d;
  look();
})"""


class Walker:
    """Acts only through what is on the screen; the state of the job tells which step it is."""

    def __init__(
        self,
        page: Page,
        base: str,
        job: str,
        typist: Technician | None = None,
        answers: dict[str, str] | None = None,
        touch: bool = False,
        keys: bool = False,
        look: Callable[[str], None] | None = None,
    ) -> None:
        self.page, self.base, self.job, self.typist = page, base, job, typist
        #: by a finger, by keys alone, or as it comes
        self.touch, self.keys = touch, keys
        #: called at each new step, when its screen is there
        self.look = look or (lambda step: None)
        self.answers = {**ANSWERS, **(answers or {})}
        self.seen: list[str] = []
        self.password = PASSWORD
        #: what is true of an instrument that is not put back as good
        self.left = "isolated"
        self.ways = {
            "choose": self.choose,
            "state": self.state_so,
            "tell": self.tell,
            "read": self.read,
            "set": self.set,
            "wait": self.wait,
            "prove": self.prove,
        }

    @property
    def state(self) -> dict:
        return self.page.context.request.get(f"{self.base}/api/v1/jobs/{self.job}").json()

    def walk(self, stop: str = "") -> dict:
        """Do step after step until one is the present step, or the job is signed."""
        for _ in range(120):
            state = self.state
            if state["status"] != "open":
                return state
            if state["current_step"] == stop and not state["asked"]:
                return state
            todo = state["tasks"][0]
            step = todo["step"]
            if step not in self.seen:
                self.seen.append(step)
                self.there(step, state["seq"])
                self.look(step)
            if state["asked"]:
                self.asked(state, decode(Form, state["asked"][0]))
                continue
            if todo["together"]:
                self.main(state)
                if self.typist:
                    self.stated(state)
                continue
            ask = next(a for a in todo["asks"] if not a["said"])
            self.ways[ask["way"]](state, ask)
            # A list of lines tells the device once, by its last one.
            tells = self.typist and todo["order"] and not ask["also"]
            if tells and self.state["current_step"] != step:
                self.follow(state)
        raise AssertionError(f"the walk does not end: {self.seen}")

    def changed(self, seq: int, entries: int = 1) -> None:
        """Wait until the screen shows so many new entries."""
        self.until(f"Number(document.querySelector('[data-seq]')?.dataset.seq) >= {seq + entries}")

    def until(self, true: str, seconds: int = 90) -> None:
        """Wait until something is true of the page; it looks by itself, again and again."""
        if not self.page.evaluate(UNTIL % (true, 1000 * seconds)):
            said = self.page.get_by_role("region", name="Now").inner_text()
            raise AssertionError(f"nothing happens at {self.seen[-1:]}: {said}")

    def says(self, words: str) -> None:
        """Wait until the main button can be pressed and says something."""
        button = "document.querySelector('[data-main]')"
        self.until(f"{button} && !{button}.disabled && {button}.textContent.match(/{words}/)")

    def there(self, step: str, seq: int) -> None:
        """Wait until the screen shows a step, or has gone on by itself."""
        shown = f"document.querySelector('[data-step]')?.dataset.step === '{step}'"
        self.until(f"{shown} || {self.newer(seq)}")

    def press(self, button: Locator) -> None:
        """Press a button as it is done here: with a finger, unhurried, or with a key."""
        if self.touch:
            self.page.wait_for_timeout(480)
            button.tap()
        elif self.keys:
            self.reach(button)
            self.page.keyboard.press("Enter")
        else:
            button.press("Enter")

    def reach(self, target: Locator) -> None:
        """Come to something by the tab key alone, as long as a patient person would try."""
        expect(target).to_be_visible()
        for _ in range(60):
            if target.evaluate("e => e === document.activeElement"):
                return
            self.page.keyboard.press("Tab")
        raise AssertionError(f"no key leads to {target}")

    def put(self, box: Locator, value: str) -> None:
        """Type a value into a field."""
        if not self.keys:
            box.fill(value)
            return
        self.reach(box)
        self.page.keyboard.press("Control+A")
        self.page.keyboard.type(value)

    def main(self, state: dict) -> None:
        expect(self.page.locator("[data-main]").first).to_be_enabled()
        self.press(self.page.locator("[data-main]").first)
        self.changed(state["seq"])

    def choose(self, state, ask):
        if ask["key"] == "asset":
            expect(self.page.locator("[data-main]").first).to_be_visible()
            return self.main(state)
        chosen = next(c for c in ask["options"] if c["recommended"])
        self.press(self.page.get_by_role("button", name=f"{chosen['label']} (advised)"))
        if chosen["needs_reason"]:
            often = (chosen["often"] or ["Replacement ordered"])[-1]
            self.press(self.page.get_by_role("button", name=often))
            form = self.page.locator("form").last
            self.press(form.get_by_role("button", name=chosen["label"]))
        return self.changed(state["seq"])

    def tell(self, state, ask):
        if any(v["question"] for v in ask["values"]):
            if ask["others"]:
                self.press(self.page.get_by_role("button", name=ask["others"][0]["label"]))
                return self.changed(state["seq"])
            why = self.page.get_by_label("Why go on?")
            self.put(why, "Read twice")
            self.press(self.page.get_by_role("button", name="Go on with the difference"))
            return self.changed(state["seq"])
        form = self.page.locator("form").first
        if any(v["choices"] for v in ask["values"]):
            chosen = [value for value in ask["values"] if value["choices"]]
            for value in chosen:
                answer = self.answers.get(value["id"]) or value["choices"][0]
                group = form.get_by_role("group", name=value["label"], exact=True)
                group.get_by_label(answer, exact=True).press("Space")
            self.press(self.page.get_by_role("button", name=ask["button"], exact=True))
            return self.changed(state["seq"], len(chosen))
        read = self.page.get_by_role("button", name="Read from the device")
        if not self.typist and (ask["id"] == "settings" or read.is_visible()):
            self.still([v["id"] for v in ask["values"]])
            read.click()
        for n, value in enumerate(ask["values"]):
            box = form.locator("input").nth(n)
            said = self.answers.get(value["id"]) or (value["usual"] if value["required"] else "")
            if not box.input_value() and said:
                self.put(box, said)
            elif not box.input_value() and self.typist:
                self.put(box, self.device(value["id"]))
        said = [form.locator("input").nth(n).input_value() for n in range(len(ask["values"]))]
        new = [
            v for v, value in zip(ask["values"], said, strict=True) if value not in ("", v["value"])
        ]
        self.press(self.page.get_by_role("button", name=ask["button"], exact=True))
        return self.changed(state["seq"], len(new))

    def still(self, names: list[str]) -> None:
        """Wait until the device says the same twice: it is read when it has come to rest."""
        path, seen = f"{self.base}/api/v1/rigs/{self.job}/frame", None
        for _ in range(100):
            said = self.page.context.request.get(path).json()["settings"]
            now = [said.get(name) for name in names]
            if now == seen:
                return
            seen = now
            self.page.wait_for_timeout(250)
        raise AssertionError(f"the device does not come to rest: {seen}")

    def device(self, name: str) -> str:
        """What the typing person reads off the device; its record, where it has no model of it."""
        return settings_at(self.typist.model, self.typist.commands, self.typist.t).get(name, "")

    def state_so(self, state, ask):
        """Say that it is so; the typing person's own device feels what is opened or shut."""
        self.main(state)
        if self.typist and ask["also"]:
            self.follow(state)

    def read(self, state, ask):
        if self.typist:
            return self.typed(state, ask)
        if not ask["alone"]:
            return self.changed(state["seq"])
        if state["block"]:
            self.page.get_by_role("button", name="and let it run").click()
            expect(self.page.get_by_role("region", name="Blocks")).to_be_visible()
        else:
            self.page.get_by_label("Go on by itself").click()
        step = state["current_step"]
        return self.until(f"!document.querySelector('[data-step={step}]')", seconds=150)

    def set(self, state, ask):
        if self.typist:
            return self.typed(state, ask)
        if "rig" not in ask["by"]:
            return self.by_hand(state, ask)
        if ask["order"] and ask["order"]["kind"] == "write":
            return self.write(state, ask)
        return self.adjust(state) if ask["go"] else self.set_live(state)

    def typed(self, state, ask):
        """Type what the person's own device says of each value that is asked for."""
        if ask["at_once"] and ask["id"].startswith("air_left"):
            self.typist.t += 300.0
        _, data = self.typist.act(decode(JobState, {**state}, ""))[0]
        self.type_in(state, [str(data.get(v["id"], "")) for v in ask["values"]])
        if ask["also"]:
            self.typist.shut()

    def by_hand(self, state, ask):
        """Write down what the display shows, and what a proven instrument shows beside it."""
        self.press(self.page.get_by_role("button", name="Fill in what it shows"))
        form = self.page.locator("form").first
        for n, column in enumerate(ask["values"]):
            what = column["id"].partition("_")[2]
            if what:
                clean = "20.9" if "xygen" in column["row"] else "0"
                to = clean if what == "other" else column["label"].split()[-1]
                self.put(form.locator("input").nth(n), to)
        self.main(state)

    def stated(self, state):
        """What was stated together happens to the typing person's detector as well."""
        stated = state["tasks"][0]["together"]
        orders = {step.id: step.order for step in self.method(state).steps}
        for name in dict.fromkeys(event["data"]["step"] for event in stated["also"]):
            self.typist.tell(orders[name])
        for event in stated["also"]:
            if event["kind"] == "gas_on":
                self.typist.open(event["data"]["role"], float(event["data"]["flow"]))
                self.typist.t += 120.0

    def method(self, state):
        """The method of the job, by its title."""
        return next(
            m
            for (_, version), m in METHODS.items()
            if (m.title, version) == (state["method"], state["method_version"])
        )

    def set_live(self, state):
        """Press it when it is steady; a press that comes too early is made again."""
        for _ in range(20):
            self.says("^(Set|Take) ")
            self.press(self.page.locator("[data-main]").first)
            with suppress(AssertionError):
                self.until(self.newer(state["seq"]), seconds=3)
                return
        raise AssertionError("it is not set")

    def newer(self, seq: int) -> str:
        return f"Number(document.querySelector('[data-seq]')?.dataset.seq) > {seq}"

    def asked(self, state, asked):
        """Say what is true since something went wrong, and who knows."""
        now = self.page.get_by_role("region", name="Now")
        expect(now).to_contain_text(asked.title)
        said = answer(asked)
        if asked.choices:
            label = next(c.label for c in asked.choices if c.id == self.left)
            now.get_by_label(label, exact=True).check()
        for field in asked.fields:
            label = field.label if field.required else f"{field.label} (if any)"
            self.put(now.get_by_label(label), said[field.id])
        self.main(state)

    def follow(self, state):
        """Let the typing person's own detector feel what was just confirmed."""
        self.typist.act(decode(JobState, {**state}, ""))

    def prove(self, state, ask):
        if ask["key"] == "proven":
            box = self.page.get_by_label("How is it proven that nothing starts?")
            self.put(box, "start pressed")
        elif ask["key"]:
            self.put(self.page.get_by_label("only you take your lock off"), self.password)
        else:
            self.put(self.page.get_by_label("Your password"), self.password)
        self.press(self.page.get_by_role("button", name=ask["button"]))
        self.changed(state["seq"])

    def wait(self, state, ask):
        form = ask["if_not"][0]
        self.press(self.page.get_by_role("button", name=form["button"], exact=True))
        why = form["fields"][0]
        if why["often"]:
            self.press(self.page.get_by_role("button", name=why["often"][0]))
        else:
            self.put(self.page.get_by_label(why["label"]), "it stood long enough")
        self.press(self.page.get_by_role("button", name=form["send"], exact=True))
        self.changed(state["seq"])

    def type_in(self, state, values):
        form = self.page.locator("form").first
        for n, value in enumerate(values):
            self.put(form.locator("input").nth(n), value)
        self.press(self.page.locator("[data-main]").first)
        keep = self.page.get_by_role("button", name="Keep it", exact=True)
        asked = "[...document.querySelectorAll('button')].some(b => b.innerText === 'Keep it')"
        self.until(f"{self.newer(state['seq'])} || {asked}")
        if keep.is_visible():
            self.press(keep)
        self.changed(state["seq"])

    def write(self, state, ask):
        """Write one setting and read it back, again and again until the device says so."""
        self.press(self.page.get_by_role("button", name=ask["order"]["label"]))
        back = self.page.get_by_role("button", name=ask["button"])
        there = "[...document.querySelectorAll('button')].some(b => "
        there += "b.innerText.startsWith('Read it back') && !b.disabled)"
        for _ in range(20):
            # It may be taken while one still waits to ask again.
            self.until(f"{self.newer(state['seq'])} || {there}")
            if not back.is_visible():
                return
            self.press(back)
            with suppress(AssertionError):
                self.until(self.newer(state["seq"]), seconds=1)
                return
        raise AssertionError("the setting is not taken")

    def adjust(self, state):
        said, done = "", self.newer(state["seq"])
        while not self.page.evaluate(done):
            button = "document.querySelector('[data-main]')"
            self.until(
                f"{done} || ({button} && !{button}.disabled"
                f" && !{button}.innerText.startsWith('Waits')"
                f" && {button}.innerText !== {json.dumps(said)})"
            )
            if not self.page.evaluate(done):
                said = self.page.locator("[data-main]").first.inner_text()
                self.press(self.page.locator("[data-main]").first)
