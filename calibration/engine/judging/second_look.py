"""A second look at an output: whether another meter read the same of a run before."""

from __future__ import annotations

from collections.abc import Mapping
from decimal import Decimal

from calibration.decisions.reference import limit_of
from calibration.engine.job import events as ev
from calibration.engine.job.kit import OUTPUT_QUANTITIES, scale_between
from calibration.engine.job.ledger import Ledger, Taken
from calibration.signals.transfer import ideal_output


def agreed(ledger: Ledger, name: str, facts: ev.InstrumentFacts) -> bool:
    """Tell whether another meter read the same before, within what both may be off together."""
    now, taken = _meter(ledger.kit), ledger.readings[name]
    for attempt in ledger.attempts:
        then, before = _meter(attempt.kit), attempt.readings.get(name, {})
        both = taken.keys() & before.keys()
        if now is None or then is None or now.asset == then.asset or not both:
            continue
        if all(_apart(facts, (now, taken[i]), (then, before[i])) <= 0 for i in both):
            return True
    return False


def _meter(kit: Mapping[str, ev.KitChosen]) -> ev.AssetFacts | None:
    """Return the meter by which an output is read."""
    meters = (k.asset for k in kit.values() if k.asset.quantity in OUTPUT_QUANTITIES)
    return next(meters, None)


def _apart(facts: ev.InstrumentFacts, *looks: tuple[ev.AssetFacts, Taken]) -> Decimal:
    """Return how far two looks at a point differ beyond what both meters allow. [output unit]"""
    off, allowed = [], Decimal(0)
    for meter, taken in looks:
        content = taken.content
        off.append(content.reading - ideal_output(facts.transfer, content.applied))
        factor = scale_between(meter.unit, facts.output_unit)
        allowed += factor * limit_of(meter.spec, content.reading / factor)
    return abs(off[0] - off[1]) - allowed
