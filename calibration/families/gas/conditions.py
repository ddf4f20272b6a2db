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


#: After a repair a channel is read before anything is set in it.
TO_BE_SET = Condition(_to_be_set, "only if this gas is to be set")
CHANNEL_OFF = Condition(_channel_off, "only if this gas is to be set")
AIR_OUTSIDE = Condition(_air_outside, "only if clean air does not read clean")
