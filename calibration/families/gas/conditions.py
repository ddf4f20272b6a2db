"""When a step with gas is part of a job."""

from __future__ import annotations

from calibration.engine.job.reads import Reads
from calibration.engine.method.conditions import CHANGING, trimming
from calibration.engine.method.method import Condition, Step
from calibration.families.gas.facts import channels
from calibration.families.gas.gases import off
from calibration.families.gas.words import GasRun


def _channel_off(job: Reads, step: Step) -> bool:
    return job.chosen() in CHANGING and off(job, step.channel)


def _air_outside(job: Reads, step: Step) -> bool:
    count = max(1, len(channels(job.ledger.facts)))
    return any(
        job.figures(r.id).mark == "outside"
        for r in job.ledger.method.runs
        if isinstance(r, GasRun) and r.clear and r.channel < count
    )


def _to_be_set(job: Reads, step: Step) -> bool:
    return trimming(job) and _channel_off(job, step)


def both(*tests: Condition) -> Condition:
    """Return the condition that all of some hold."""
    return Condition(
        lambda job, step: all(t.test(job, step) for t in tests),
        " and ".join(t.words for t in tests if t.words),
    )


#: The field in which it is said which sensor comes first under the adapter.
FIRST = "first_sensor"


def _its_turn(job: Reads, step: Step) -> bool:
    """Tell whether a sensor is due: the other one was not to be first, or is done."""
    gases = channels(job.ledger.facts)
    said = next((v for (_, f), (v, _) in job.ledger.recorded.items() if f == FIRST), "")
    others = [n for n, c in enumerate(gases) if c.gas == said and n != step.channel]
    off = {s.channel: s.id for s in job.ledger.method.steps if s.kind == "take_off"}
    return all(off.get(n) in job.ledger.taken_off for n in others)


ITS_TURN = Condition(_its_turn, "once this sensor is due")
#: After a repair a channel is read before anything is set in it.
TO_BE_SET = Condition(_to_be_set, "only if this gas is to be set")
CHANNEL_OFF = Condition(_channel_off, "only if this gas is to be set")
AIR_OUTSIDE = Condition(_air_outside, "only if clean air does not read clean")
