"""The steps of a method as they are for one vessel."""

from __future__ import annotations

from decimal import Decimal

from calibration.engine.job.reads import Reads
from calibration.engine.method.method import Field, SetItem, Step
from calibration.engine.method.shape import Shape
from calibration.families.loadcells.facts import STANDARD_GRAVITY, vessel
from calibration.families.loadcells.naming import asks
from calibration.families.loadcells.tells import TELLS
from calibration.families.shared import differential
from calibration.families.shared.differential import APART, Telling
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import exact, parse_decimal
from calibration.kernel.rounding import fixed
from calibration.measuring.weighing import TheoreticalIn, theoretical

#: Signals are said with so many decimals, and agree within a part in so many. [mV/V]
SIGNAL_DECIMALS, AGREES = 5, Decimal(5000)


def wanted(job: Reads) -> tuple[Telling, ...]:
    """Return the measurements that would tell the causes of the as-found run apart."""
    return asks(job.as_found.causes)


def by_data(job: Reads) -> Decimal:
    """Return the signal of the capacity by the data of the cells and local gravity. [mV/V]

    References
    ----------
    :func:`calibration.measuring.weighing.theoretical`; a load weighs more where gravity is more.
    """
    facts, capacity = vessel(job.ledger.facts), job.ledger.facts.input_upper
    out = theoretical(
        TheoreticalIn(
            cells=facts.cells,
            rated_kg=facts.rated_kg,
            sensitivity_mv_per_v=facts.sensitivity_mv_per_v,
            applied_kg=capacity,
        )
    )
    return out.span_mv_per_v * facts.gravity / STANDARD_GRAVITY


class LoadCellShape(Shape):
    """The steps as they are for one vessel."""

    def fields(self, job: Reads, step: Step) -> tuple[Field, ...]:
        """Return the fields of a step; of what tells causes apart, what is wanted."""
        return differential.fields(job, TELLS, wanted(job)) if step.id == APART else step.fields

    def agrees(self, job: Reads, step: Step, field: Field, value: str, expected: str) -> bool:
        """Tell whether a signal found is that on record, to a part in five thousand."""
        if not field.must_match.endswith("_mvv"):
            return super().agrees(job, step, field, value, expected)
        try:
            found, on = parse_decimal(value, field.id), parse_decimal(expected, field.id)
        except InputError:
            return False
        return abs(found - on) * AGREES <= abs(on)

    def target(self, job: Reads, step: Step, item: SetItem) -> str | None:
        """Return the span by the data of the cells."""
        if item.to != "by_data":
            return None
        with exact():
            return str(fixed(by_data(job), SIGNAL_DECIMALS))
