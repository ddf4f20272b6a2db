"""Every method ended badly, by typing: each place says so, whatever the family."""

from __future__ import annotations

from dataclasses import replace

from tests.core.detectors import BOTTLES, DETECTORS, MIX
from tests.core.families import FAMILIES
from tests.server import detectors, electrodes, families
from tests.server.base import ApiCase
from tests.server.test_walks import SPANS, TOLD, TOLD_OF_GAS, TOLD_OF_PH
from tests.server.walker import TypedWalk
from tests.server.works import event
from verifyloop.plant.models import Instrument, Plan

WORDS = {
    "failed": "failed, out of service",
    "stopped": "stopped, not judged",
    "limited": "limited use: outside limits, kept in service",
}


class Ended(TypedWalk):
    """The same person, who decides something else at the first judgement."""

    choice = ""

    def step(self, state, step):
        offered = [c["id"] for c in state["judgement"]["choices"]]
        if step["kind"] == "decide" and self.choice in offered:
            data = {"step": step["id"], "choice": self.choice, "reason": "as agreed"}
            return self.send(event("decided", **data))
        return super().step(state, step)


class EveryEnd(ApiCase):
    def walk(self, choice, *arguments):
        kind = type("Ended", (Ended,), {"choice": choice})
        walk = kind(self, "X-1", *arguments)
        state = walk.walk()
        self.assertEqual(state["status"], "signed")
        return walk.job, state["outcome"]["id"]

    def transmitter(self, family, choice):
        families.shelf()
        faults, _ = families.PLANTED[family]
        families.instrument("X-1", family)
        return self.walk(choice, TOLD, replace(FAMILIES[family][1], **faults))

    def detector(self, method, choice):
        detectors.shelf()
        head, faults, _ = detectors.PLANTED[method]
        _, model = DETECTORS[method]
        heads = list(model.heads)
        heads[head] = replace(heads[head], **faults)
        bottles = BOTTLES if model.milliamps else dict.fromkeys(SPANS, MIX)
        detectors.detector("X-1", method)
        return self.walk(choice, TOLD_OF_GAS, replace(model, heads=tuple(heads)), bottles)

    def electrode(self, method, choice):
        electrodes.shelf()
        faults, _ = electrodes.PLANTED[method]
        electrodes.loop("X-1", method)
        model = replace(electrodes.SOUND, **faults)
        return self.walk(choice, TOLD_OF_PH, model, electrodes.POURED)

    def due(self):
        today = self.must(self.ana.get("/api/today"))
        found = [d for a in today["areas"] for d in a["due"] if d["tag"] == "X-1"]
        return found[0]["due_text"] if found else ""

    def said_everywhere(self, job, outcome):
        """What the job came to is what each place says, and none of them says it is good."""
        self.assertIn(outcome, WORDS)
        verdict = self.must(self.ana.get(f"/api/records/{job}/certificate.json"))["verdict"]
        self.assertEqual((verdict["outcome"]["id"], verdict["outcome"]["good"]), (outcome, False))
        page = self.must(self.ana.get("/api/instruments/X-1"))
        record = self.must(self.ana.get("/api/records"))["records"][0]
        for words in (verdict["as_left"], page["past"][0]["outcome"], record["outcome"]):
            self.assertEqual(words, WORDS[outcome])
        self.assertNotIn("within", (record["mark_left"], page["past"][0]["mark_left"]))
        strip = [i["kind"] for i in self.must(self.ana.get("/api/safety"))["items"]]
        out, plan = (
            Instrument.objects.get(tag="X-1").out_of_service,
            Plan.objects.get(instrument__tag="X-1"),
        )
        if outcome == "limited":
            self.assertIsNone(out)
            self.assertEqual(strip, [])
            self.assertIsNotNone(plan.next_due)
            return
        self.assertEqual((out["job"], out["to"]), (job, "workshop"))
        self.assertEqual(strip, ["out"])
        self.assertIn("out of service since", self.due())
        self.assertIn("with workshop", page["out_of_service"])
        self.assertEqual(plan.next_due is None, outcome == "failed")


#: Shows too little oxygen in clean air, as long as it is not set: it cannot be kept in service.
NEVER_KEPT = ("gas_oxygen",)


def _add(kind, name, choice):
    def test(self):
        self.said_everywhere(*getattr(self, kind)(name, choice))

    setattr(EveryEnd, f"test_{name}_{choice}", test)


for _kind, _names in (
    ("transmitter", families.PLANTED),
    ("detector", detectors.PLANTED),
    ("electrode", electrodes.PLANTED),
):
    for _name in _names:
        _add(_kind, _name, "stop")
        if _name not in NEVER_KEPT:
            _add(_kind, _name, "leave")
