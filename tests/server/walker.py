"""A person who does a whole job through the API: by rig, or typing what a device of theirs says.

It sends what the interface sends. Time passes as it waits, so nothing is slept through.
"""

from __future__ import annotations

from contextlib import contextmanager
from datetime import timedelta
from unittest import mock

from django.utils import timezone

from calibration.engine.view.came_to import Asked
from calibration.engine.view.state import JobState
from calibration.kernel.codec import decode
from calibration.simulate.answers import answer
from calibration.simulate.rigs import window
from calibration.simulate.technician import Technician
from tests.core.detectors import ANSWERS
from tests.server.works import PASSWORD, event
from verifyloop.rigs.models import Rig
from verifyloop.rigs.reel import Reel, on_grid, reel
from verifyloop.work.at_hand import at_hand
from verifyloop.work.folding import events_of, state_of, state_of_ledger

MOST_STEPS = 150
#: One look at a live signal is so much later than the one before. [s of the rig]
LOOK_S = 6.0
#: Entries for which a person proves who it is.
LOCKS = ("lock_taken_off", "lock_ended")
KEPT = ("reading_taken", "adjusted", "gas_set", "gas_on", "exposed")


class Walk:
    """One job on one instrument; ``case`` is the test, with its client."""

    def __init__(self, case, tag, answers):
        self.case, self.tag, self.answers = case, tag, answers
        self.now = timezone.now()
        with self.at():
            self.job = case.open(tag)
        #: the state that the last answer brought
        self.seen = self.looked()

    @contextmanager
    def at(self):
        with mock.patch("django.utils.timezone.now", return_value=self.now):
            yield

    def looked(self):
        with self.at():
            self.seen = self.case.state(self.job)
        return self.seen

    def post(self, seq, *events, password=""):
        with self.at():
            return self.case.send(self.job, *events, seq=seq, password=password)

    def send(self, *events):
        """Send events one by one, as a person goes on; each must be taken."""
        for one in events:
            password = PASSWORD if one["kind"] in LOCKS else ""
            self.seen = self.case.must(self.post(self.seen["seq"], one, password=password))
        self.later(20)

    def later(self, seconds):
        self.now += timedelta(seconds=seconds)

    def walk(self, stop=""):
        """Go on until a step is the present one, or the job is signed."""
        for _ in range(MOST_STEPS):
            state = self.seen
            if state["status"] != "open" or state["current_step"] == stop:
                return state
            if state["asked"]:
                asked = decode(Asked, state["asked"][0])
                self.send(event(asked.kind, **answer(asked)))
                continue
            step = next(s for s in state["steps"] if s["id"] == state["current_step"])
            if step["kind"] == "sign":
                self.kept_as_made_anew()
                signed = self.post(state["seq"], event("signed"), password=PASSWORD)
                self.seen = self.case.must(signed)
            else:
                self.step(state, step)
        raise AssertionError(f"{self.tag} does not come to its end: {step['id']}")

    def kept_as_made_anew(self):
        """What the server keeps of the job while people are at it says what all its events say."""
        with self.at(), at_hand(self.job) as here:
            now = timezone.now()
            kept = state_of_ledger(here.ledger, here.events, now)
            self.case.assertEqual(kept, state_of(here.job, events_of(here.job), now))

    def kit(self, state, step):
        for role in step["roles"]:
            query = {"quantity": role["quantity"], "role": role["id"]}
            with self.at():
                found = self.case.ana.get(f"/api/v1/jobs/{self.job}/kit", query).json()
            self.case.assertIsInstance(found, list, found)
            if not found and role["instead"]:
                self.send(event("went_without", role=role["id"]))
                continue
            choice = event("kit_chosen", role=role["id"], asset=found[0]["asset"])
            self.send(choice)


class TypedWalk(Walk):
    """The virtual technician reads a device of their own and types what it says."""

    def __init__(self, case, tag, answers, model, bottles=None):
        super().__init__(case, tag, answers)
        self.person = Technician(
            model, seed=5, answers=answers, serial="S-77", bottles=bottles or {}
        )

    def step(self, state, step):
        if step["kind"] == "kit":
            return self.kit(state, step)
        if state["task"] and step["run"].startswith("air_left"):
            self.person.t += 300.0
        for kind, data in self.person.act(decode(JobState, state, "")):
            kept = {"kept": True} if kind in KEPT else {}
            self.send(event(kind, **data, **kept))
            self.later(60 if kind == "gas_on" else 5)
        return None


class RigWalk(Walk):
    """The rig does it; what is sent is what the interface sends."""

    @property
    def rig(self):
        return Rig.objects.get(instrument__tag=self.tag)

    def rig_t(self):
        rig = self.rig
        return (self.now - rig.started_at).total_seconds() * rig.pace

    def wait(self, seconds=LOOK_S):
        """Let seconds of the rig pass."""
        self.later(seconds / self.rig.pace)

    def order(self, **order):
        with self.at():
            said = self.case.ana.post(
                f"/api/v1/rigs/{self.tag}/commands", order, content_type="application/json"
            )
        self.case.must(said)

    def frame(self):
        """What the page is shown; each sample that was kept is as it is when made anew."""
        other = []

        class Checked(Reel):
            def __init__(self, *rig):
                self.kept = reel(*rig)

            def window(self, t, seconds):
                found, rig = self.kept.window(t, seconds), self.kept
                anew = window(rig.model, rig.commands, on_grid(t), rig.seed, seconds)
                other.extend(s for s, live in zip(found, anew, strict=True) if s.live != live)
                return found

        with self.at(), mock.patch("verifyloop.rigs.sources.reel", Checked):
            found = self.case.ana.get(f"/api/v1/rigs/{self.job}/frame").json()
        self.case.assertEqual(other, [])
        return found

    def step(self, state, step):
        if state["together"]:
            sent = []
            for line in state["together"]["events"]:
                data = line["data"]
                source = "typed" if line["kind"] == "recorded" else "simulated"
                sent.append(event(line["kind"], source=source, **data))
            return self.send(*sent)
        if state["task"]:
            return self.task(state["task"], state, step)
        return getattr(self, step["kind"])(state, step)

    def record(self, state, step):
        if any(f["question"] for f in step["fields"]):
            choice = "later" if step["may_wait"] else "accept"
            why = {"step": step["id"], "choice": choice, "reason": "as it is"}
            return self.send(event("decided", **why))
        device = self.frame()["settings"]
        for field in step["fields"]:
            value = (
                self.answers.get(field["id"])
                or ANSWERS.get(field["id"])
                or device.get(field["id"], "")
            )
            if not value and field["choices"]:
                value = field["choices"][0]
            if not value and field["required"] and (field["usual"] or field["unit"] == "%"):
                value = field["usual"] or "0.5"
            if not value and field["required"]:
                value = "23" if field["number"] else "as found"
            if value and not field["value"]:
                data = {"step": step["id"], "field": field["id"], "value": value}
                self.send(event("recorded", **data))
        return None

    def source(self, step):
        return "simulated" if step["order"] not in ("", "release") else "typed"

    def checklist(self, state, step):
        lines = [i["id"] for i in step["items"] if not i["done"]]
        source = self.source(step)
        sent = [event("confirmed", source=source, step=step["id"], item=i) for i in lines]
        self.send(*sent)

    def put_on(self, state, step):
        if step["order"] == "release":
            self.order(kind="release")
        kind = "put_on" if step["kind"] == "put_on" else "taken_off"
        self.send(event(kind, source=self.source(step), step=step["id"]))

    take_off = put_on

    def timer(self, state, step):
        self.send(event("timer_waived", step=step["id"], reason="powered all week"))

    def steadily(self, kind, also=(), **data):
        """Send a value of the rig, again and again until it is steady."""
        for _ in range(400):
            self.wait()
            one = event(kind, source="simulated", sample_at=str(self.rig_t()), **data)
            answer = self.post(self.seen["seq"], one, *also)
            if answer.status_code == 200:
                self.seen = answer.json()
                return
            said = answer.json()
            if said["code"] == "slip.suspected":
                data["kept"] = True
            else:
                self.case.assertEqual(said["code"], "reading.not_steady", said)
        raise AssertionError(f"{self.tag}: {kind} does not come to rest")

    def task(self, task, state, step):
        sent = [event(e["kind"], source="simulated", **e["data"]) for e in task["events"]]
        if task["way"] == "send":
            self.send(*sent)
        elif task["by_hand"]:
            self.by_hand(task, step)
        elif task["way"] == "set":
            if not sent and not any(c["id"].endswith("_after") for c in task["columns"]):
                self.wait(300)
            self.steadily(task["kind"], sent, step=step["id"])
        else:
            run = next(r for r in self.runs(state) if r["id"] == task["run"])
            point = run["points"][run["current"]]
            data = {"run": run["id"], "point": point["index"], "applied": point["stands_for"]}
            if not sent:
                self.wait(300)
            self.steadily(task["kind"], sent, **data)

    def by_hand(self, task, step):
        """Write down what the display shows, and what a proven instrument shows beside it."""
        shown = {s["id"]: s["value"].replace("\u2212", "-") for s in self.frame()["shown"]}
        for column in task["columns"]:
            what = column["id"].partition("_")[2]
            if what:
                # The proven instrument stands in good air.
                clean = "20.9" if "xygen" in column["row"] else "0"
                shown[column["id"]] = clean if what == "other" else column["label"].split()[-1]
        self.send(event(task["kind"], source="simulated", step=step["id"], kept=True, **shown))

    def runs(self, state):
        left = [state["as_left"]] if state["as_left"] else []
        return (state["as_found"], *left, *state["extra_runs"])

    def capture(self, state, step):
        if state["block"]:
            self.send(event("placed", run=step["run"], block=state["block"]))
            while self.looked()["current_step"] == step["id"]:
                self.wait(600)
            return
        run = next(r for r in self.runs(state) if r["id"] == step["run"])
        point = run["points"][run["current"]]
        kind = "fix" if run["order"] == "fix" else "apply"
        self.order(kind=kind, scale=run["scale"], value=float(point["target_value"]))
        self.steadily("reading_taken", run=run["id"], point=point["index"])

    def adjust(self, state, step):
        advice = state["adjustment"]
        data = {k: advice[k] for k in ("hop", "end", "action")}
        if advice["stands_for"]:
            data["applied"] = advice["stands_for"]
        self.order(kind=advice["order"], value=float(advice["apply_value"]))
        self.wait(60)
        if advice["action"] == "trim":
            to = float(advice["aim"]) if advice["aim"] else None
            self.order(kind="trim", hop=advice["rig_hop"], end=advice["end"], to=to)
        self.steadily("adjusted", **data)

    def set(self, state, step):
        item = next(s for s in step["sets"] if s["to_write"] and not s["done"])
        self.order(kind="write", setting=item["id"], text=item["to_write"])
        self.wait(10)
        data = {"step": step["id"], "setting": item["id"], "value": item["to_write"]}
        self.send(event("written", source="simulated", read_back="", **data))

    def lock_on(self, state, step):
        self.send(event("lock_hung", step=step["id"], proven="start pressed: it stays still"))

    def lock_off(self, state, step):
        mine = next(o["step"] for o in state["on"] if o["kind"] == "lock")
        self.send(event("lock_taken_off", step=mine))

    def decide(self, state, step):
        chosen = next(c for c in state["judgement"]["choices"] if c["recommended"])
        reason = "replacement ordered" if chosen["needs_reason"] else ""
        self.send(event("decided", step=step["id"], choice=chosen["id"], reason=reason))
