"""A pH job is not closed with the electrode out, half calibrated, or with twins untold.

Random orders of everything that a client can send, right or wrong.
"""

from __future__ import annotations

import random
import uuid
from datetime import timedelta

from django.test import SimpleTestCase

from calibration.engine.admission.admit import admit
from calibration.engine.job.events import make_event
from calibration.engine.job.job import Job
from calibration.engine.job.ledger import build
from calibration.engine.judging.explain import explain
from calibration.families.ph.conditions import pair_of
from calibration.families.ph.ledger import buffers_of
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import exact
from tests.core.electrodes import PhVisit
from tests.long import several

ORDERS = several(full=2_000, small=80)
TRIES = 60


def sent_of(events):
    """Return what was sent in a whole job, by kind and data."""
    return [(e.kind, dict(e.data)) for e in events if e.kind != "opened"]


class Orders(SimpleTestCase):
    """What a wandering person may reach."""

    def wander(self, chance, start, method, proper, others):
        """Return the job after many tries; often the proper next thing is tried."""
        events, at, following = list(start.events), start.now, iter(proper)
        for _ in range(TRIES):
            x = chance.random()
            kind, data = chance.choice(others)
            if x < 0.8:
                kind, data = next(following, (kind, data))
            elif x < 0.86:
                kind = "retracted"
                data = {"event": chance.choice(events).id, "reason": "slip"}
            if kind == "signed":
                data = {"name": "Ana", "statement": "done"}
            at += timedelta(seconds=30)
            event = make_event(
                id=str(uuid.UUID(int=chance.getrandbits(128))), seq=len(events) + 1, kind=kind,
                at=at.isoformat(), by="Ana", role="technician", source="typed", data=data,
            )  # fmt: skip
            job = Job(build(method, events), at)
            try:
                admit(job, event, {e.id: e for e in events})
            except InputError as refused:
                self.assertTrue(refused.message and refused.remedy, refused.code)
                continue
            events.append(event)
        return Job(build(method, events), at), events

    def check(self, job):
        """What must hold of every job, closed or not."""
        ledger, part = job.ledger, buffers_of(job.ledger)
        if ledger.signed is None:
            return 0
        self.assertEqual(ledger.on_now(), [])
        self.assertIn(len(part.accepted), (0, 2))
        for run, taken in ledger.readings.items():
            for one in taken.values():
                immersed = [c for c, e in part.immersions if e.seq < one.event.seq]
                self.assertTrue(any(c.step == run for c in immersed), run)
        if pair_of(job):
            self.assertTrue(any(step == "apart" for step, _ in ledger.recorded))
        return 1

    def of(self, faults, parameters=None):
        whole = PhVisit(parameters=parameters, **faults)
        whole.until("")
        start = PhVisit(parameters=parameters, **faults)
        start.until("lift")
        proper = sent_of(whole.events[len(start.events) :])
        chance, closed = random.Random(2026), 0
        for _ in range(ORDERS // 3):
            job, _ = self.wander(chance, start, start.method, proper, sent_of(whole.events))
            with exact():
                closed += self.check(job)
        return closed

    def test_a_coated_electrode(self):
        self.assertGreater(self.of({"tau_s": 60.0}), 0)

    def test_two_causes_that_look_alike(self):
        self.assertGreater(self.of({"shunt_mohm": 800.0}), 0)

    def test_three_buffers(self):
        self.assertGreater(self.of({}, {"third_buffer": "yes"}), 0)


class Shown(SimpleTestCase):
    """What a screen is told at every moment of a job."""

    def every_state(self, **faults):
        visit = PhVisit(**faults)
        while (state := visit.state()).status == "open":
            yield visit, state
            visit.step()
        yield visit, visit.state()

    def test_there_is_always_one_thing_to_do_and_words_for_it(self):
        for _, state in self.every_state(tau_s=60.0):
            if state.status != "open":
                continue
            self.assertTrue(state.task.title)
            self.assertTrue(state.current_step)
            self.assertTrue(state.task.asks)
            for ask in state.task.asks:
                said = ask.button or ask.label or ask.lines or ask.options or ask.said
                self.assertTrue(said, state.task.step)
                if ask.way == "read":
                    needed = [value.id for value in ask.values if value.required]
                    self.assertEqual(needed, ["mv", "reading"])

    def test_every_figure_of_the_strip_opens(self):
        visit = PhVisit(tau_s=60.0)
        state = visit.until("")
        job = Job(build(visit.method, visit.events), visit.now)
        opened = 0
        for run in state.runs:
            for station in run.stations:
                if station.figure:
                    with exact():
                        self.assertTrue(explain(job, station.figure).result)
                    opened += 1
        self.assertGreater(opened, 6)

    def test_the_strip_goes_from_the_buffer_to_the_control_room(self):
        state = PhVisit(sensor_off_c=4.0).until("judge")
        labels = [s.label for s in state.as_found.stations]
        self.assertEqual(
            labels,
            [
                "Buffer",
                "Electrode",
                "Temperature",
                "Analyzer",
                "Output",
                "Control room",
                "Whole loop",
            ],
        )
        warm = next(s for s in state.as_found.stations if s.id == "temperature")
        self.assertEqual((warm.bad, warm.error), (True, "+4.0 °C"))

    def test_no_run_in_buffers_says_hysteresis_or_linearity(self):
        state = PhVisit(tau_s=60.0).until("")
        self.assertEqual([r.characteristics for r in state.runs], [(), (), ()])
        self.assertEqual({r.error_unit for r in state.runs}, {"pH"})

    def test_slope_and_offset_stand_beside_the_last(self):
        state = PhVisit(tau_s=60.0).until("")
        (block,) = state.blocks
        self.assertEqual(block.columns[:3], ("Run", "Slope", "Offset"))
        self.assertEqual(
            [row[0] for row in block.cells], ["Last", "As found", "Calibrating", "As left"]
        )
