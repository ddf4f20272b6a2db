"""Rounds of a job: a further one of adjusting, a test taken again, a repair and its run."""

from __future__ import annotations

from typing import Any

from calibration.engine.job import events as ev
from calibration.engine.job import incidents as sb
from calibration.engine.job.events import Event
from calibration.engine.job.ledger_parts import Attempt, Taken

#: Kinds of step of families that may be ended early by a decision, anew in each round.
ENDED_EARLY: set[str] = set()
#: The decision that begins a further round of adjusting.
AGAIN = "adjust"
#: The decision that it is not put back as good.
STOP = "stop"
#: The decision that a job goes on without a line that is not so.
WITHOUT = "without"
#: The values of a step cannot be had here; the result stays as undecided as it was.
NOT_HERE = "not_here"
#: The decisions that the test itself is taken again, with the same or another reference.
REPEAT, REPEAT_OTHER = "repeat", "repeat_other"
#: The decision that something was put right in the visit: the run is taken again first.
REPAIR = "repair"


def repair(ledger: Any, content: sb.Repaired, event: Event) -> None:
    """Put right: what was left before, if anything, is adjusted from no more; it is read anew."""
    found, step = ledger.method.judging("found"), ledger.method.step(content.step)
    assert found is not None
    ledger.repaired.append((content, event))
    if step is not None and step.goes_on and content.what != "sensor":
        ledger.changes += 1
        return
    if step is not None and step.judges == "check":
        ledger.changes += 1
        read = {step.run: ledger.readings.pop(step.run)}
        said = ev.Decided(step=step.id, choice=REPAIR, reason=content.said)
        ledger.attempts.append(Attempt(read, dict(ledger.kit), said, event))
        return
    begin_again(ledger)
    decided = ev.Decided(step=found.id, choice=REPAIR, reason=content.said)
    ledger.decided[found.id] = (decided, event)
    ledger.unproven = True
    ledger.changes += 1


def not_told(ledger: Any, content: sb.NotTold, event: Event) -> None:
    """A value is not there, for a reason; told later all the same, it counts."""
    ledger.untold[content.step, content.field] = (content, event)


def begin_again(ledger: Any) -> None:
    """A further round: what was left is adjusted from, and its own decisions are open again."""
    ledger.rounds += 1
    for run in ledger.method.runs_of("left"):
        if run.id in ledger.readings:
            ledger.readings[run.again] = ledger.readings.pop(run.id)
        ledger.left_out.pop(run.id, None)
        ledger.placed.pop(run.id, None)
    for part in ledger._parts.values():
        part.begin_again()
    put_on_again(ledger)
    asked_again(ledger)
    done_again(ledger, "proof")
    for step in ledger.method.steps:
        if step.kind in ENDED_EARLY or step.judges == "left":
            ledger.decided.pop(step.id, None)
        for key in [(step.id, item.id) for item in step.sets if item.adjusts]:
            if key in ledger.written:
                ledger.rewritten.append(ledger.written.pop(key))


def asked_again(ledger: Any) -> dict[tuple[str, str], tuple[str, Event]]:
    """Lines, waits and values of each round are asked for anew; return the values of this one."""
    recorded = {}
    for step in ledger.method.steps:
        if step.anew == "round" and step.kind == "checklist":
            for key in [k for k in ledger.confirmed if k[0] == step.id]:
                ledger.confirmed.pop(key)
        elif step.anew == "round" and step.kind == "timer":
            ledger.timers.pop(step.id, None)
            ledger.waived.pop(step.id, None)
        elif step.anew == "round" and step.kind == "record":
            for key in [k for k in ledger.recorded if k[0] == step.id]:
                recorded[key] = ledger.recorded.pop(key)
            for key in [k for k in ledger.untold if k[0] == step.id]:
                ledger.untold.pop(key)
    return recorded


def done_again(ledger: Any, flag: str) -> None:
    """What a method marks so is done anew: what was on and is off, lines, and locks with it."""
    for step in ledger.method.steps:
        begun = ledger.method.step(step.ends)
        if begun is not None and begun.anew == flag:
            if step.id in ledger.taken_off:
                ledger.taken_off.pop(step.id)
                ledger.put_on.pop(begun.id, None)
            ledger.locks.closed.discard(begun.id)
        if step.anew == flag:
            for key in [k for k in ledger.confirmed if k[0] == step.id]:
                ledger.confirmed.pop(key)


def put_on_again(ledger: Any) -> None:
    """What was put on for a round and taken off is put on anew for the next."""
    for step in ledger.method.steps:
        begun = ledger.method.step(step.ends)
        if begun is not None and begun.anew == "round" and step.id in ledger.taken_off:
            ledger.taken_off.pop(step.id)
            ledger.put_on.pop(begun.id, None)


def repeat(ledger: Any, content: ev.Decided, event: Event) -> None:
    """The test is taken again: what was read is kept apart, with the references of then."""
    read: dict[str, dict[int, Taken]] = {}
    for run in ledger.method.runs_of("found"):
        ledger.placed.pop(run.id, None)
        ledger.left_out.pop(run.id, None)
        if ledger.readings[run.id]:
            read[run.id] = ledger.readings.pop(run.id)
    for part in ledger._parts.values():
        part.begin_again()
    put_on_again(ledger)
    stood, without = dict(ledger.recorded), dict(ledger.without)
    recorded = asked_again(ledger)
    kept = Attempt(read, dict(ledger.kit), content, event, recorded, stood, without)
    ledger.attempts.append(kept)
    done_again(ledger, "test")
    if content.choice == REPEAT_OTHER:
        ledger.kit.clear()
