"""In what errors of a run are said and drawn: in % of span, or in the unit that is read."""

from __future__ import annotations

from dataclasses import dataclass

from calibration.engine.job.facts import InstrumentFacts
from calibration.kernel.numbers import HUNDRED, to_float
from calibration.kernel.rounding import significant

PERCENT = "% of span"


@dataclass(frozen=True, kw_only=True)
class Axis:
    """The unit of errors, and what one percent of span is in it."""

    unit: str
    per_percent: float

    def plus_minus(self, percent: float, digits: int = 2) -> str:
        """Return a size that is known in % of span, in the unit of the axis."""
        return f"±{significant(percent * self.per_percent, digits)} {self.unit}"


def axis_of(in_unit: bool, facts: InstrumentFacts) -> Axis:
    """Return in what the errors of a run are said."""
    if not in_unit:
        return Axis(unit=PERCENT, per_percent=1.0)
    span = abs(facts.transfer.input_span)
    return Axis(unit=facts.input_unit, per_percent=to_float(span / HUNDRED))
