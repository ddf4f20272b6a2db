"""A person who does a whole job through the API: by rig, or typing what a device of theirs says.

It sends what the interface sends. Time passes as it waits, so nothing is slept through.
"""

from __future__ import annotations

from contextlib import contextmanager
from datetime import timedelta
from unittest import mock

from django.utils import timezone

from calibration.engine.view.asks import Form
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
                asked = decode(Form, state["asked"][0])
                self.send(event(asked.kind, **answer(asked)))
                continue
            todo = state["tasks"][0]
            ask = next(a for a in todo["asks"] if not a["said"])
            if ask["sends"] and ask["sends"]["kind"] == "signed":
                self.kept_as_made_anew()
                signed = self.post(state["seq"], event("signed"), password=PASSWORD)
                self.seen = self.case.must(signed)
            else:
                self.step(state, todo, ask)
        raise AssertionError(f"{self.tag} does not come to its end: {state['current_step']}")

    def kept_as_made_anew(self):
        """What the server keeps of the job while people are at it says what all its events say."""
        with self.at(), at_hand(self.job) as here:
            now = timezone.now()
            kept = state_of_ledger(here.ledger, here.events, now)
            self.case.assertEqual(kept, state_of(here.job, events_of(here.job), now))

    def shelf(self, ask):
        """Take the first that is offered; go without where there is none and that may be."""
        query = {"quantity": ask["quantity"], "role": ask["id"]}
        with self.at():
            found = self.case.ana.get(f"/api/v1/jobs/{self.job}/kit", query).json()
        self.case.assertIsInstance(found, list, found)
        if not found and ask["if_not"]:
            return self.answer(ask["if_not"][0])
        return self.say(ask["sends"], asset=found[0]["asset"])

    def say(self, sends, source="", **more):
        """Send an entry as the state offers it, with what a person adds."""
        data = {**sends["data"], **more}
        self.send(event(sends["kind"], source=source or sends["source"], **data))

    def answer(self, form, **said):
        self.send(event(form["kind"], **form["data"], **said))


class TypedWalk(Walk):
    """The virtual technician reads a device of their own and types what it says."""

    def __init__(self, case, tag, answers, model, bottles=None):
        super().__init__(case, tag, answers)
        self.person = Technician(
            model, seed=5, answers=answers, serial="S-77", bottles=bottles or {}
        )

    def step(self, state, todo, ask):
        if ask["key"] == "asset":
            return self.shelf(ask)
        if ask["way"] == "read" and ask["at_once"] and ask["id"].startswith("air_left"):
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

    def pass_by(self, seconds=LOOK_S):
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

    def step(self, state, todo, ask):
        if todo["together"]:
            return self.also(todo["together"])
        return getattr(self, ask["way"])(state, ask)

    def also(self, ask):
        self.send(*(event(e["kind"], source=e["source"], **e["data"]) for e in ask["also"]))

    def choose(self, state, ask):
        if ask["key"] == "asset":
            return self.shelf(ask)
        chosen = next(c for c in ask["options"] if c["recommended"])
        reason = "replacement ordered" if chosen["needs_reason"] else ""
        return self.say(ask["sends"], choice=chosen["id"], reason=reason)

    def state(self, state, ask):
        if ask["order"]:
            self.order(kind=ask["order"]["kind"])
        every = [line["sent"] for line in ask["lines"] if not line["done"]] + [ask["sends"]]
        for sends in filter(None, every):
            self.say(sends)
        self.also(ask)

    def tell(self, state, ask):
        if any(v["question"] for v in ask["values"]):
            if ask["others"]:
                return self.say(ask["others"][0]["events"][0])
            return self.answer(ask["if_not"][0], reason="as it is")
        device = self.frame()["settings"]
        for field in ask["values"]:
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
                self.say(ask["sends"], field=field["id"], value=value)
        return None

    def wait(self, state, ask):
        self.answer(ask["if_not"][0], reason="powered all week")

    def prove(self, state, ask):
        proven = {"proven": "start pressed: it stays still"} if ask["key"] == "proven" else {}
        self.say(ask["sends"], **proven)

    def steadily(self, kind, also=(), **data):
        """Send a value of the rig, again and again until it is steady."""
        for _ in range(400):
            self.pass_by()
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

    def read(self, state, ask):
        if state["block"] and ask["alone"]:
            self.send(event("placed", run=ask["sends"]["data"]["run"], block=state["block"]))
            step = state["current_step"]
            while self.looked()["current_step"] == step:
                self.pass_by(600)
            return
        if ask["go"]:
            go = ask["go"]
            self.order(kind=go["kind"], scale=go["scale"], value=float(go["value"]))
        elif not ask["also"]:
            self.pass_by(300)
        self.live(ask)

    def set(self, state, ask):
        go, order = ask["go"], ask["order"]
        if "rig" not in ask["by"]:
            return self.by_hand(ask)
        if go:
            self.order(kind=go["kind"], value=float(go["value"]))
            self.pass_by(60)
        if order and order["kind"] == "write":
            self.order(kind="write", setting=order["setting"], text=order["text"])
            self.pass_by(10)
            return self.say(ask["sends"], "simulated", read_back="")
        if order:
            to = float(order["value"]) if order["value"] else None
            self.order(kind="trim", hop=order["hop"], end=order["end"], to=to)
        elif (
            not go
            and not ask["also"]
            and not any(v["id"].endswith("_after") for v in ask["values"])
        ):
            self.pass_by(300)
        return self.live(ask)

    def live(self, ask):
        """Take what the rig shows once it is steady, with what belongs to it."""
        also = [event(e["kind"], source=e["source"], **e["data"]) for e in ask["also"]]
        self.steadily(ask["sends"]["kind"], also, **ask["sends"]["data"])

    def by_hand(self, ask):
        """Write down what the display shows, and what a proven instrument shows beside it."""
        shown = {s["id"]: s["value"].replace("\u2212", "-") for s in self.frame()["shown"]}
        for value in ask["values"]:
            what = value["id"].partition("_")[2]
            if what:
                # The proven instrument stands in good air.
                clean = "20.9" if "xygen" in value["row"] else "0"
                shown[value["id"]] = clean if what == "other" else value["label"].split()[-1]
        self.say(ask["sends"], kept=True, **shown)
