"""Random orders over every method: whatever is sent, a job that is closed is whole and safe.

What is sent is taken from the kept jobs of the method, in and out of order, with readings of one
job in another, entries taken back, and signatures at any time.
"""

import random
import uuid
from collections import Counter
from datetime import timedelta

from django.test import SimpleTestCase

from calibration.engine.admission.admit import admit
from calibration.engine.admission.follow_ups import asked
from calibration.engine.job.events import make_event
from calibration.engine.job.fold import view
from calibration.engine.job.job import Job
from calibration.engine.job.ledger import build
from calibration.engine.method.family import method_for, newest, newest_methods
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import exact
from calibration.simulate.answers import answer
from tests.long import several
from tests.replay.play_again import kept

METHODS = [m.id for m in newest_methods()]
#: Orders of each method: together 10,000 in full.
ORDERS = several(full=10_000, small=200) // len(METHODS) + 1
#: The last so many entries of a job are gone through at random; those before them stand.
OPEN_END, TRIES = 14, 30
SIGN = {"name": "Ana Test", "statement": "done"}
#: After "stop" so much is still due in these that chance seldom comes to their end.
FAR = ("gas_portable", "gas_receiving")
BAD_ENDS = {"failed", "limited", "stopped"}


class AnyOrder:
    """One method's orders; a class each, so that they run side by side."""

    method = ""

    def setUp(self):
        self.chance = random.Random(f"{self.method} 2026")
        self.jobs = [
            [
                make_event(**self.asking(one))
                for one in job["events"]
                if one["kind"] not in ("signed", "reviewed")
            ]
            for job in kept(self.method, newest(self.method).version)
            if job["states"]
        ]

    def asking(self, one):
        """A kept job as it would be opened today: it asks what follows when something is wrong."""
        if one["kind"] != "opened":
            return one
        return {**one, "data": {**one["data"], "asks": True}}

    def test_no_order_closes_a_job_that_is_not_whole_and_safe(self):
        tried, self.ends = 0, Counter()
        for number in range(9 * ORDERS):
            # Some more where chance ended none badly: the test would prove nothing of those.
            if number >= ORDERS and (self.method in FAR or BAD_ENDS & set(self.ends)):
                break
            done, sent = self.order(self.chance.choice(self.jobs))
            self.ends[done] += 1
            tried += sent
        self.assertGreater(tried, ORDERS)
        self.assertGreater(len(set(self.ends) - {"open", "voided"}), 0, "no order got to the end")
        if self.method not in FAR:
            self.assertTrue(set(self.ends) & BAD_ENDS, "none ended badly")

    def order(self, job):
        """Go through the end of a job in some order; say if it closed, and what was taken."""
        method = method_for(self.method, job[0].content.version)
        start = max(1, len(job) - self.chance.randint(1, OPEN_END))
        decided = [n for n, e in enumerate(job) if e.kind == "decided"]
        if decided and self.chance.random() < 0.3:
            start = decided[0]
        events, rest = list(job[:start]), list(job[start:])
        pool = [e for other in self.jobs for e in other[1:]]
        ledger, taken = build(method, events), 0
        for _ in range(TRIES):
            kind, data = self.next_of(ledger, events, rest, pool)
            now = events[-1].when + timedelta(minutes=self.chance.choice((0.2, 3, 40)))
            event = self.event(len(events) + 1, kind, data, now)
            try:
                with exact():
                    admit(Job(ledger, now), event, {e.id: e for e in events})
            except InputError as refused:
                self.assertTrue(refused.message)
                if rest and kind == rest[0].kind and self.chance.random() < 0.5:
                    rest.pop(0)
                continue
            if rest and (kind, data) == (rest[0].kind, rest[0].data):
                rest.pop(0)
            events.append(event)
            taken += 1
            if kind == "retracted":
                ledger = build(method, events)
            else:
                ledger.add(event)
            if kind == "signed":
                return self.closed(ledger, events, now), taken
            if kind == "voided":
                return "voided", taken
        self.still_open(ledger, events)
        return "open", taken

    def next_of(self, ledger, events, rest, pool):
        """Often the proper next thing, or no order would ever come to an end."""
        luck = self.chance.random()
        if luck < 0.4 and (asked := self.asked(ledger, events)):
            return asked.kind, self.answer(asked)
        if 0.4 <= luck < 0.42:
            return "voided", {"reason": "opened by mistake"}
        if 0.42 <= luck < 0.44:
            state = self.chance.choice(("failed", "not_done"))
            return "ended", {"state": state, "reason": "it does not answer"}
        if rest and rest[0].kind == "decided" and luck > 0.6:
            stop = {**rest[0].data, "choice": "stop", "reason": "the shift ended"}
            return "decided", stop
        luck = self.chance.random()
        if rest and luck < 0.65:
            return rest[0].kind, rest[0].data
        if luck < 0.75 or not rest:
            return "signed", SIGN
        if luck < 0.83:
            target = self.chance.choice(events[-8:])
            return "retracted", {"event": target.id, "reason": "typed at the wrong place"}
        stray = self.chance.choice(pool)
        return stray.kind, stray.data

    def asked(self, ledger, events):
        """Return what the job asks now, at most one thing."""
        with exact():
            found = asked(Job(ledger, events[-1].when))
        return found[0] if found else None

    def answer(self, one):
        said = answer(one)
        if one.choices:
            said["state"] = self.chance.choice(one.choices).id
        return said

    def event(self, seq, kind, data, now):
        return make_event(
            id=str(uuid.UUID(int=self.chance.getrandbits(128))),
            seq=seq,
            kind=kind,
            at=now.isoformat(),
            by="Ana Test",
            role="technician",
            source="typed",
            data=data,
        )

    def closed(self, ledger, events, now):
        """What must hold of every job that was closed; return what it came to."""
        with exact():
            state = view(Job(ledger, now), events)
            bad = self.left_outside(Job(ledger, now))
        for on in state.on:
            self.assertTrue(ledger.left_away and ledger.left_as[0].to, on.label)
            self.assertEqual((on.kind, on.by), ("bypass", ledger.left_as[0].to))
        self.assertEqual(state.timers, ())
        self.assertEqual(state.asked, ())
        if bad or ledger.stopped:
            self.assertFalse(state.outcome.good, f"{bad} outside, and good")
        job = Job(ledger, now)
        for step in state.steps:
            waits = job.step(step.id).aside or job.may_wait(job.step(step.id))
            if step.kind != "sign" and not waits:
                self.assertIn(step.status, ("done", "skipped"), step.title)
        for run in (state.as_found, state.as_left, *state.extra_runs):
            if run is not None and run.taken:
                self.assertEqual(run.complete, run.taken == len(run.points), run.title)
        return state.outcome.id

    def left_outside(self, job):
        """Return the runs that read outside last, by their readings alone."""
        runs = [r for r in job.ledger.method.runs if job.figures(r.id).order]
        left = {r.channel for r in runs if r.role == "left"}
        last = [r for r in runs if not (r.before or r.role == "found") or r.channel not in left]
        return [r.title for r in last if "outside" in job.figures(r.id).marks]

    def still_open(self, ledger, events):
        """A job that is not closed says what is next, in whatever state it was left."""
        now = events[-1].when
        with exact():
            state = view(Job(ledger, now), events)
        self.assertEqual(state.status, "open")
        self.assertTrue(state.task.title)


for _method in METHODS:
    _name = "".join(word.capitalize() for word in _method.split("_"))
    _own = {"method": _method, "__module__": __name__}
    globals()[_name] = type(_name, (AnyOrder, SimpleTestCase), _own)
