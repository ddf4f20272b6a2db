"""A person who only says what is true reaches a true end, whatever is the matter.

Conditions of instrument, kit and surroundings are drawn by chance: lines that are not so, a
device that refuses, a part that can be put right in the visit, a plant that needs it back.
"""

import random

from django.test import SimpleTestCase

from calibration.engine.judging.outcome import GOOD
from calibration.engine.view.asks import Form
from calibration.kernel.errors import InputError
from tests.core.asking import every_step
from tests.core.detectors import DETECTORS, GasVisit
from tests.core.electrodes import PhVisit
from tests.core.families import FAMILIES, Visit
from tests.core.gcs import GcVisit
from tests.core.jobs import Jobs
from tests.core.magmeters import MagVisit
from tests.core.massflows import MassFlowVisit
from tests.core.mixtures import MixVisit
from tests.core.traces import TraceVisit
from tests.core.vessels import VesselVisit
from tests.long import several

#: Conditions that are drawn: a tenth of them each time, all in the long run.
CONDITIONS = several(2000, 100)
#: What a fault of the head may be, in a size that physics gives.
HEADS = (
    {},
    {"response": 0.85},
    {"response": 0.35},
    {"zero": 4.0},
    {"zero": -6.0},
    {"plugged": 0.8},
    {"capped": True},
)
ANALYZERS = (
    {},
    {"response": 0.86},
    {"leak_ul_min": 6.0},
    {"bled_before": 0.01, "gauge_found_bar": 0.0},
    {"exposed_ppm": 9.0},
    {"gas_ppm": 5.0},
    {"output_span_percent": 7.0},
)
MIXES = ({}, {}, {"drawn_in": 0.07}, {"pressure_hpa": 55.0}, {"held": True})
DEVICES = (
    {},
    {"aged_percent": 8.0},
    {"leak_percent": 14.0},
    {"moisture_percent": 9.0},
    {"trap_share": 0.4},
)
LOOPS = ({}, {}, {"sensor_zero_percent": 1.2}, {"output_zero_percent": 3.0})


class Person:
    """Says what is so. Each line and each device is good or not, once and for all."""

    def __init__(self, visit, chance):
        self.visit, self.chance = visit, chance
        self.bad, self.right, self.log = {}, set(), []
        self.refuses = chance.random() < 0.15
        self.plant_wants_it = chance.randrange(8, 120) if chance.random() < 0.12 else 0

    def is_so(self, step, item):
        """Tell whether a line is so: nine in ten are, a third of the others are put right."""
        key = step, item
        if key not in self.bad:
            self.bad[key] = self.chance.random() < 0.04
        return not self.bad[key] or key in self.right

    def turn(self, state):
        """Do or say one thing, and only what is true."""
        visit = self.visit
        if state.asked:
            return self.answer(state.asked[0])
        step = next(s for s in every_step(visit) if s.id == state.current_step)
        gas = any(o.kind == "gas" for o in state.on)
        may_end = any(m.kind == "ended" for m in state.mishaps) and not gas
        if self.plant_wants_it and len(visit.events) >= self.plant_wants_it and may_end:
            return visit.push("ended", state="not_done", reason="the plant needs it back")
        if step.kind == "checklist":
            return self.lines(step, may_end)
        if self.refuses and any(m.kind == "refused" for m in state.mishaps) and not step.refused:
            return visit.push("refused", step=step.id, word="bad zero")
        if step.refused and not gas:
            return self.after_refusal(state, step)
        if step.kind == "decide":
            return self.decide(state, step)
        return self.work(state)

    def work(self, state):
        """Do the present step; where it is refused for what is true, the job ends with that."""
        before = len(self.visit.events)
        try:
            self.visit.step(state)
        except InputError as refused:
            if len(self.visit.events) > before:
                return
            if any(o.kind == "gas" for o in state.on):
                self.visit.person.shut()
                self.visit.push("gas_off", step=state.current_step)
            self.visit.push("ended", state="failed", reason=refused.message[:100])

    def answer(self, asked: Form):
        said = {f.id: f.often[0] if f.often else "as agreed" for f in asked.fields}
        if asked.choices:
            # Nothing is put back that is not as it should be.
            said[asked.choice] = "isolated"
        self.visit.push(asked.kind, **said)

    def lines(self, step, may_end):
        for item in step.items:
            if item.done or item.failed:
                continue
            if self.is_so(step.id, item.id):
                self.log.append((step.id, item.id))
                if item is step.items[-1]:
                    self.visit.person.tell(step.order)
                return self.visit.push("confirmed", step=step.id, item=item.id)
            return self.visit.push("line_failed", step=step.id, item=item.id, what="not there")
        wrong = next(i for i in step.items if i.failed)
        if self.chance.random() < 0.34:
            self.right.add((step.id, wrong.id))
            self.log.append((step.id, wrong.id))
            return self.visit.push("confirmed", step=step.id, item=wrong.id)
        if step.may_go_without and (not may_end or self.chance.random() < 0.5):
            return self.visit.push("decided", step=step.id, choice="without", reason="it is known")
        assert may_end, f"{step.id} can only be lied about"
        return self.visit.push("ended", state="failed", reason="not as it must be")

    def after_refusal(self, state, step):
        forms = {m.kind: m for m in state.mishaps}
        if "repaired" in forms and self.chance.random() < 0.5:
            self.refuses = False
            return self.visit.push(
                "repaired", step=step.id, what="sensor", said="new sensor", serial="N-2"
            )
        if self.chance.random() < 0.5:
            self.refuses = False
            return self.work(state)
        return self.visit.push("ended", state="failed", reason="it refuses to be set")

    def decide(self, state, step):
        choices = state.judgement.choices
        repair = next((c for c in choices if c.form), None)
        if repair is not None and self.chance.random() < 0.3:
            return self.visit.push(
                "repaired", step=step.id, what="cleaned", said="cleaned and dried"
            )
        chosen = next((c for c in choices if c.recommended), choices[-1])
        if self.chance.random() < 0.15:
            chosen = next((c for c in choices if c.id == "stop"), chosen)
        reason = "as it was found" if chosen.needs_reason else ""
        return self.visit.push("decided", step=step.id, choice=chosen.id, reason=reason)


def visit_of(name, chance):
    """One instrument with its condition."""
    seed = chance.randrange(1000)
    if name in FAMILIES:
        loop = type(FAMILIES[name][1]).__name__ == "LoopModel"
        faults = chance.choice(LOOPS) if loop else {}
        return Visit(name, seed=seed, asks=True, **faults)
    if name in DETECTORS:
        visit = GasVisit(name, seed=seed, asks=True)
        heads = len(visit.person.model.heads)
        return visit.head(chance.randrange(heads), **chance.choice(HEADS))
    if name in TRACES:
        return TraceVisit(name, seed=seed, asks=True, **chance.choice(ANALYZERS))
    if name == "gc_calibrate":
        return GcVisit(seed=seed, asks=True, **chance.choice(DEVICES))
    if name == "mixture_calibrate":
        gain = chance.choice((1.0, 1.0, 0.97, 1.03, 0.88))
        return MixVisit(seed=seed, asks=True, **chance.choice(MIXES)).cell(1, gain=gain)
    return PhVisit(name, seed=seed, asks=True)


TRACES = ("trace_oxygen", "trace_new_sensor")
OTHERS = ("ph_buffers", "ph_check", *TRACES, "mixture_calibrate", "gc_calibrate")
NAMES = (*FAMILIES, *DETECTORS, *OTHERS)


class Truthful(SimpleTestCase):
    def test_who_says_only_what_is_true_reaches_a_true_end(self):
        ends = {}
        for number in range(CONDITIONS):
            name = NAMES[number % len(NAMES)]
            with self.subTest(number=number, name=name):
                chance = random.Random(f"truthful {number}")
                person = Person(visit_of(name, chance), chance)
                outcome = self.to_the_end(person)
                ends[outcome] = ends.get(outcome, 0) + 1
        self.assertLessEqual({"within", "adjusted", "failed", "stopped", "limited"}, set(ends))

    def to_the_end(self, person):
        visit = person.visit
        for _ in range(400):
            state = visit.state()
            if state.status != "open":
                break
            person.turn(state)
        self.assertEqual(state.status, "signed", f"it stands at {state.current_step}")
        left = [o.label for o in state.on if o.kind != "bypass"]
        self.assertEqual(left, [])
        for key in person.log:
            self.assertTrue(not person.bad.get(key) or key in person.right, f"{key} was a lie")
        lacking = any(i.failed for s in every_step(visit) for i in s.items)
        ended = any(e.kind == "ended" for e in visit.events)
        if lacking or ended:
            self.assertNotIn(state.outcome.id, GOOD)
        if not state.outcome.good:
            self.assertTrue(state.outcome.why)
        return state.outcome.id


class EndedByTheTest(SimpleTestCase):
    """A test that was wrong fails no instrument, and what stays in service is not out of it."""

    def test_weights_that_are_wrong_leave_the_vessel_as_it_stood(self):
        visit = VesselVisit(asks=True, short_percent=2.0)
        visit.until("judge")
        visit.push("decided", step="judge", choice="stop", reason="a piece is missing in the set")
        done = visit.until("")
        self.assertEqual(done.outcome.id, "stopped")
        self.assertIn("test itself is in doubt", done.outcome.why)

    def test_left_in_service_is_limited_and_not_out_of_service(self):
        visit = MassFlowVisit(zero=4.0, asks=True)
        visit.until("judge")
        visit.push("decided", step="judge", choice="stop", reason="next stop in May")
        visit.push("left_as", state="in_service", told="shift leader")
        done = visit.until("")
        self.assertEqual(done.outcome.id, "limited")
        self.assertNotIn("out of service", done.outcome.words)


class OnThePaper(Jobs):
    def test_the_head_says_whose_each_run_is_after_an_element_was_replaced(self):
        visit = GasVisit("gas_zero_span", asks=True).head(response=0.45)
        visit.until("judge")
        visit.push("repaired", step="judge", what="sensor", said="new sensor", serial="N-1")
        visit.head(response=1.0)
        visit.until("")
        head = self.paper(visit)["instrument"]
        own = [f"{head['serial']}: as found; air, as found", "N-1: as left; clear of gas"]
        self.assertEqual(head["serials"], own)
        whole = GasVisit("gas_zero_span", asks=True)
        whole.until("")
        self.assertNotIn("serials", self.paper(whole)["instrument"])

    def test_a_vessel_says_up_to_which_load_it_is_shown(self):
        """5 kg on 60 kg: U grows twelvefold, to ±0.14 against ±0.06."""
        small = {
            "oiml_class": "M1",
            "density": "7850",
            "pieces": [{"nominal_kg": "20", "count": 13}],
        }
        visit = VesselVisit(asks=True, shelf=small, own={"step_kg": "0.5"})
        visit.until("")
        covers = " ".join(self.paper(visit)["covers"])
        self.assertIn("Shown up to 260 kg", covers)
        self.assertIn("above the weights it is not shown", covers)

    def test_corners_are_said_net_of_zero(self):
        visit = VesselVisit(asks=True, zero_kg=4.0)
        visit.until("judge")
        table = next(b for b in visit.state().blocks if "Corner" in b.columns)
        shares = [float(c[1].split()[0].replace(",", ".")) for c in table.cells]
        self.assertTrue(all(abs(s - 100) < 1 for s in shares), shares)

    def test_an_electromagnetic_verification_claims_no_tolerance(self):
        visit = MagVisit(asks=True)
        visit.until("")
        self.assertIn("none is claimed", self.paper(visit)["instrument"]["tolerance"])
