"""Locks: each person hangs and takes off their own; under one nothing runs or is signed."""

from __future__ import annotations

import random
import uuid

from calibration.engine.admission.admit import admit
from calibration.engine.job.events import make_event
from calibration.engine.job.fold import history, view
from calibration.engine.job.job import Job
from calibration.engine.job.ledger import build
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import exact
from tests.core.belts import BeltVisit
from tests.core.jobs import Jobs
from tests.long import several

PEOPLE = ("ana", "ben", "cem")
ORDERS = several(full=10_000, small=150)
PROVEN = "start pressed: it stays still"
GROUNDS = {"procedure": "works rule 7", "reached": "called twice, at home", "reason": "beets wait"}


class Locked:
    """A belt job that several people enter into; it keeps what was refused."""

    def __init__(self, visit):
        self.visit, self.method = visit, visit.method
        self.events = list(visit.events)
        self.ledger = build(self.method, self.events)

    @property
    def job(self):
        return Job(self.ledger, self.visit.now)

    def tried(self, kind, who, role="technician", **data):
        """Enter something; return the code of what was refused, or nothing."""
        event = make_event(
            id=str(uuid.uuid5(uuid.NAMESPACE_OID, f"{len(self.events)} {kind} {who}")),
            seq=len(self.events) + 1,
            kind=kind,
            at=self.visit.now.isoformat(),
            by=who.title(),
            role=role,
            source="typed",
            data=data,
            account=who,
        )
        try:
            admit(self.job, event, {e.id: e for e in self.events})
        except InputError as refused:
            return refused.code
        self.events.append(event)
        with exact():
            if kind == "retracted":
                self.ledger = build(self.method, self.events)
            else:
                self.ledger.add(event)
        return ""

    def on(self):
        return sorted(who for _, who in self.ledger.locks.on)

    def state(self):
        with exact():
            return view(self.job, self.events)


def at(step):
    visit = BeltVisit(asks=True)
    visit.until(step)
    return Locked(visit)


class Locks(Jobs):
    def test_three_people_each_hang_their_own(self):
        job = at("on_locked")
        for who in PEOPLE:
            self.assertEqual(job.tried("lock_hung", who, step="on_locked", proven=PROVEN), "")
        self.assertEqual(job.on(), sorted(PEOPLE))
        locks = [o for o in job.state().on if o.kind == "lock"]
        whose = {f"Belt locked out: lock of {who.title()}" for who in PEOPLE}
        self.assertEqual({o.label for o in locks}, whose)
        again = job.tried("lock_hung", "ana", step="on_locked", proven=PROVEN)
        self.assertEqual(again, "lock.yours_on")

    def test_it_is_proven_before_it_counts(self):
        job = at("on_locked")
        self.assertEqual(
            job.tried("lock_hung", "ana", step="on_locked", proven=" "), "reason.missing"
        )
        self.assertEqual(job.tried("put_on", "ana", step="weights_on"), "step.blocked")

    def test_nobody_takes_off_anothers(self):
        job = at("on_locked")
        job.tried("lock_hung", "ana", step="on_locked", proven=PROVEN)
        self.assertEqual(job.tried("lock_taken_off", "ben", step="on_locked"), "lock.not_yours")
        self.assertEqual(job.on(), ["ana"])

    def test_nothing_runs_until_the_last_is_off(self):
        job = at("on_locked")
        for who in ("ana", "ben"):
            job.tried("lock_hung", who, step="on_locked", proven=PROVEN)
        job.tried("put_on", "ana", step="weights_on")
        job.tried("lock_taken_off", "ana", step="on_locked")
        start = job.tried("confirmed", "ana", step="span_runs", item="runs")
        turn = {"run": "span_as_found", "point": 0, "applied": "61350", "reading": "61350"}
        read = job.tried("reading_taken", "ana", **turn, seconds="45")
        self.assertEqual((start, read), ("lock.on", "lock.on"))
        job.tried("lock_taken_off", "ben", step="on_locked")
        self.assertEqual(job.tried("confirmed", "ana", step="span_runs", item="runs"), "")

    def test_the_last_lock_off_before_the_work_is_done_asks_for_one_again(self):
        job = at("on_locked")
        job.tried("lock_hung", "ana", step="on_locked", proven=PROVEN)
        job.tried("lock_taken_off", "ana", step="on_locked")
        self.assertEqual(job.state().current_step, "on_locked")
        self.assertEqual(job.tried("put_on", "ana", step="weights_on"), "step.blocked")

    def test_of_somebody_absent_a_planner_decides_with_grounds(self):
        job = at("on_locked")
        job.tried("lock_hung", "ana", step="on_locked", proven=PROVEN)
        job.tried("put_on", "ben", step="weights_on")
        said = {"step": "on_locked", "account": "ana", **GROUNDS}
        self.assertEqual(job.tried("lock_ended", "ben", **said), "lock.not_planner")
        for missing in GROUNDS:
            bare = {**said, missing: ""}
            self.assertEqual(job.tried("lock_ended", "pia", "planner", **bare), "reason.missing")
        other = {**said, "account": "cem"}
        self.assertEqual(job.tried("lock_ended", "pia", "planner", **other), "lock.not_on")
        self.assertEqual(job.tried("lock_ended", "pia", "planner", **said), "")
        self.assertEqual(job.on(), [])
        line = history(job.ledger, job.events)[0].text
        self.assertIn("the lock of ana ended by decision. beets wait", line)

    def test_entries_about_locks_stand(self):
        job = at("on_locked")
        job.tried("lock_hung", "ana", step="on_locked", proven=PROVEN)
        taken = job.tried("retracted", "ana", event=job.events[-1].id, reason="slip")
        self.assertEqual(taken, "retract.refused")
        self.assertEqual(job.tried("voided", "ana", reason="by mistake")[:5], "void.")

    def test_a_job_that_ends_here_is_not_signed_under_a_lock(self):
        job = at("on_locked")
        job.tried("lock_hung", "ana", step="on_locked", proven=PROVEN)
        job.tried("ended", "ana", state="not_done", reason="shift over")
        state = job.state()
        self.assertEqual(state.current_step, "on_unlocked")
        self.assertTrue(any("lock of Ana is still on" in line for line in state.to_close))
        self.assertEqual(job.tried("signed", "ana", name="Ana", statement="x"), "job.not_ready")
        job.tried("lock_taken_off", "ana", step="on_locked")
        self.assertFalse(any("lock of" in line for line in job.state().to_close))

    def test_locks_are_on_the_paper(self):
        visit = BeltVisit(asks=True)
        visit.until("")
        rows = self.tables(visit)["Locks"]["rows"]
        self.assertEqual([r[3] for r in rows], ["own hand", "own hand"])
        self.assertEqual({r[2] for r in rows}, {PROVEN})


class AnyOrder(Jobs):
    """People do what they like, in any order; what must never be, never is."""

    def turn(self, job, chance):
        who = chance.choice((*PEOPLE, "pia"))
        role = "planner" if who == "pia" else "technician"
        step = chance.choice(("on_locked", "on_locked", "on_locked", "off_locked"))
        off = {"step": step, "account": chance.choice(PEOPLE), **GROUNDS}
        turn = {"run": "span_as_found", "point": 0, "applied": "61350", "reading": "61350"}
        kind, data = chance.choice(
            (
                ("lock_hung", {"step": step, "proven": PROVEN}),
                ("lock_hung", {"step": step, "proven": PROVEN}),
                ("lock_hung", {"step": step, "proven": PROVEN}),
                ("lock_taken_off", {"step": step}),
                ("lock_taken_off", {"step": step}),
                ("lock_ended", off),
                ("put_on", {"step": "weights_on"}),
                ("taken_off", {"step": "weights_off"}),
                ("confirmed", {"step": "span_runs", "item": "runs"}),
                ("reading_taken", {**turn, "seconds": "45"}),
                ("ended", {"state": "not_done", "reason": "shift over"}),
                ("signed", {"name": who.title(), "statement": "x"}),
                ("taken_over", {"on": [step]}),
                ("retracted", {"event": job.events[-1].id, "reason": "slip"}),
            )
        )
        if kind == "ended" and chance.random() < 0.8:
            return
        before = dict(job.ledger.locks.on)
        refused = job.tried(kind, who, role, **data)
        self.never(job, before, kind, who, role, data, refused)

    def never(self, job, before, kind, who, role, data, refused):
        gone = set(before) - set(job.ledger.locks.on)
        for _, owner in gone:
            own = kind == "lock_taken_off" and owner == who
            decided = kind == "lock_ended" and role == "planner" and data["account"] == owner
            self.assertTrue(own or decided, (kind, who, owner))
        if before and not refused:
            self.assertNotIn(kind, ("reading_taken", "signed"), "under a lock")
            self.assertFalse(kind == "confirmed" and data["step"] == "span_runs")

    def test_in_any_order_nothing_runs_under_a_lock_and_none_is_taken_by_another(self):
        visit = BeltVisit(asks=True)
        visit.until("on_locked")
        seen = 0
        for seed in range(ORDERS):
            chance, job = random.Random(seed), Locked(visit)
            for _ in range(14):
                self.turn(job, chance)
                seen += len(job.ledger.locks.on) > 1
        self.assertGreater(seen, ORDERS, "hardly ever two locks at a time")
