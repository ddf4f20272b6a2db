"""How much of a sensor is left: its response net of zero, in percent of a new one."""

from __future__ import annotations

from decimal import Decimal

from calibration.engine.job.ledger import Taken
from calibration.engine.job.reads import Reads
from calibration.engine.method.conditions import renewed
from calibration.families.gas.facts import channels
from calibration.families.gas.gases import found_of, gases_of, shows
from calibration.families.gas.ledger import gas_of
from calibration.kernel.numbers import HUNDRED, ZERO


def response_of(job: Reads, run: str) -> Decimal | None:
    """Return what a channel answered to its span gas, net of zero; none while that was not read.

    In percent of what is in the gas. Oxygen in clean air counts as a span gas.
    """
    # Of the readings themselves: the figures of a run are worked out with this.
    gases, facts = gases_of(job.settings, job.ledger.method.run(run)), job.facts_of(run)
    taken = job.ledger.readings[run]
    seen = {gas: taken[i] for i, gas in enumerate(gases) if i in taken}
    span = seen.get("span") or seen.get("proof") or seen.get("air")
    if span is None or not span.content.applied:
        return None
    zero = seen.get("zero") or seen.get("nitrogen")
    at_zero = _zero_at(job, run, zero, span) if zero is not None else ZERO
    return HUNDRED * (shows(facts, span.content) - at_zero) / span.content.applied


def zero_at(job: Reads, run: str) -> Decimal | None:
    """Return the zero that the span of a run was read from; none where one was not read."""
    gases, taken = gases_of(job.settings, job.ledger.method.run(run)), job.ledger.readings[run]
    seen = {gas: taken[i] for i, gas in enumerate(gases) if i in taken}
    if "zero" not in seen or "span" not in seen:
        return None
    return _zero_at(job, run, seen["zero"], seen["span"])


def _zero_at(job: Reads, run: str, zero: Taken, span: Taken) -> Decimal:
    """Return the zero that a span was read from: the one set in between, else the one read.

    A zero that was set before the span gas came is in the reading already; taken off once more it
    would make the sensor look weaker than it is.
    """
    channel = job.ledger.method.run(run).channel
    between = [
        move.after
        for move in gas_of(job.ledger).moves
        if move.channel == channel
        and move.end == "zero"
        and zero.event.seq <= move.event.seq < span.event.seq
    ]
    return between[-1] if between else shows(job.facts_of(run), zero.content)


def span_set(job: Reads, channel: int) -> bool:
    """Tell whether the span of a channel was set in the job."""
    moves = gas_of(job.ledger).moves
    return any(move.end == "span" and move.channel == channel for move in moves)


def of_new(job: Reads, run: str) -> Decimal | None:
    """Return the response in percent of a new sensor; a span that was set makes it no better.

    It counts from the response when the span was last set. None while it was not read.
    """
    percent = response_of(job, run)
    spec = job.ledger.method.run(run)
    c = channels(job.ledger.facts)[spec.channel]
    if percent is None:
        return None
    found = found_of(job, spec.channel)
    if spec.before or (run in (found.id, found.again) and not renewed(job.ledger)):
        return percent * c.base_percent / HUNDRED
    was_set = span_set(job, spec.channel)
    if renewed(job.ledger):
        return HUNDRED if was_set else percent
    if not was_set:
        return percent * c.base_percent / HUNDRED
    before = found.again if job.ledger.readings[found.again] else found.id
    return of_new(job, before)
