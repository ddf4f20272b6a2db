"""Weights hung one by one, in the unit in which they are marked; one that is wrong is named."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal
from functools import lru_cache

from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.job.ledger import Ledger
from calibration.engine.job.parameters import Settings
from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures
from calibration.engine.method.method import RunSpec
from calibration.families.level.kinds import Weights
from calibration.kernel.numbers import HUNDRED, to_float
from calibration.kernel.rounding import fixed, show, trimmed
from calibration.kernel.units import convert
from calibration.runs.cause_rows import CauseRow, table
from calibration.runs.causes import Cause
from calibration.runs.points import PlannedPoint

GRAMS = "g"
#: Decimals of a weight in each unit, so that it is made up to about 0.1 g.
DECIMALS = {GRAMS: 1, "kg": 4, "lb": 4, "oz": 3}
UNIT_STEP, UNIT_FIELD = "weight_unit", "weight_unit"
WRONG_WEIGHT = "wrong_weight"
ROWS = table(
    CauseRow(
        id=WRONG_WEIGHT,
        label="Wrong weight on the hook",
        needs="at least three weights",
        looks="one weight alone reads off, all others are right",
        excluded="made up anew it reads the same",
        alike=("nonlinearity",),
        told_by="the same weight made up anew",
        remedy="Weigh what hung there, or make it up anew, and hang it again: if it reads right "
        "then, it was the weight. Turn no screw before.",
        lies_in="test",
        source="mass that is missing = error in percent of span × span of the weights",
    )
)
#: A piece of a set is one of these times a power of ten. [g]
PIECES = (Decimal(1), Decimal(2), Decimal(5))
#: So near a piece the mass that is missing may be it. [share of the piece]
NEAR_PIECE = Decimal("0.03")


def unit_of(ledger: Ledger) -> str:
    """Return the unit in which the weights are marked."""
    entry = ledger.recorded.get((UNIT_STEP, UNIT_FIELD))
    return entry[0] if entry is not None else GRAMS


@lru_cache(maxsize=256)
def _marked_in(facts: InstrumentFacts, unit: str) -> InstrumentFacts:
    low, high = (_in(unit, end) for end in (facts.input_lower, facts.input_upper))
    return replace(facts, input_unit=unit, input_lower=low, input_upper=high)


def _in(unit: str, grams: Decimal) -> Decimal:
    return fixed(convert(grams, GRAMS, unit), DECIMALS[unit])


class Hung(Weights):
    """Weights hung one by one: there is no side to come from."""

    id = "hung"
    approached = False

    def facts(self, ledger: Ledger, spec: RunSpec) -> InstrumentFacts:
        """Return the instrument with weights as its input, in the unit in which they are marked."""
        return _marked_in(super().facts(ledger, spec), unit_of(ledger))

    def plan(
        self, ledger: Ledger, settings: Settings, spec: RunSpec, facts: InstrumentFacts
    ) -> tuple[PlannedPoint, ...]:
        """Return the points as weights to hang, to about 0.1 g."""
        unit = unit_of(ledger)
        found = super().plan(ledger, settings, spec, facts)
        return tuple(replace(p, nominal=_in(unit, p.nominal)) for p in found)

    def judged(self, job: Reads, spec: RunSpec, run: str, found: RunFigures) -> RunFigures:
        """Return the figures; where one weight alone reads wrong, that is what it may be."""
        cause = wrong_weight(found)
        return found if cause is None else replace(found, causes=(cause, *found.causes))


def wrong_weight(found: RunFigures) -> Cause | None:
    """Return that a single weight may be wrong, with the mass that is missing; none else.

    The output answers to weight alone: an error at one weight, with all others within, is what a
    piece too few or too many on the hook does. A bend of the instrument may do the same.

    References
    ----------
    Mass that is missing = error in percent of span × (heaviest − lightest weight).
    """
    if found.result is None or not found.complete:
        return None
    errors: dict[Decimal, list[Decimal]] = {}
    for i, point in zip(found.order, found.result.points, strict=True):
        percent = found.plan[i].nominal_percent
        errors.setdefault(percent, []).append(point.error_percent_of_span)
    limit = min(p.limit_percent for p in found.result.points)
    wrong = [p for p, e in errors.items() if min(map(abs, e)) > limit]
    rest = [abs(x) for p, e in errors.items() if p not in wrong for x in e]
    # At an end a wrong zero or span does the same.
    if len(wrong) != 1 or len(errors) < 3 or wrong[0] in (min(errors), max(errors)):
        return None
    if max(rest) > limit:
        return None
    own = errors[wrong[0]]
    error = sum(own, Decimal(0)) / len(own)
    unit = found.facts.input_unit
    span = abs(found.facts.input_upper - found.facts.input_lower)
    missing = convert(error * span / HUNDRED, unit, GRAMS)
    return _named(wrong[0], error, missing)


def _named(percent: Decimal, error: Decimal, missing: Decimal) -> Cause:
    piece = _piece(abs(missing))
    amount = f"{show(abs(missing), 1)} g"
    if piece is not None:
        amount += f", which is a piece of {trimmed(piece)} g,"
    way = "missing from" if missing > 0 else "too much in"
    return Cause(
        cause=WRONG_WEIGHT,
        percent=to_float(error),
        evidence=f"At {trimmed(percent)} % alone it reads off, as if {amount} were {way} what "
        "hung there; every other weight reads right. A bend of the instrument just there would "
        "read the same.",
        remedy=ROWS[WRONG_WEIGHT].remedy,
        confidence=0.8 if piece is not None else 0.5,
    )


def _piece(grams: Decimal) -> Decimal | None:
    """Return the piece of a set that a mass may be; none where it is near none. [g]"""
    pieces = (p.scaleb(power) for power in range(-1, 4) for p in PIECES)
    return next((p for p in pieces if abs(grams - p) <= NEAR_PIECE * p), None)
