"""The steps of a method as they are for one indicator."""

from __future__ import annotations

from calibration.engine.job.reads import Reads
from calibration.engine.method.method import Field, Step
from calibration.engine.method.shape import Shape
from calibration.families.indicator.naming import asks
from calibration.families.indicator.tells import TELLS
from calibration.families.shared import differential
from calibration.families.shared.differential import APART, Telling


def wanted(job: Reads) -> tuple[Telling, ...]:
    """Return the measurement that would tell the causes of the as-found run apart."""
    return asks(job.as_found.causes)


class IndicatorShape(Shape):
    """The steps as they are for one indicator."""

    def fields(self, job: Reads, step: Step) -> tuple[Field, ...]:
        """Return the fields of a step; of what tells causes apart, what is wanted."""
        return differential.fields(job, TELLS, wanted(job)) if step.id == APART else step.fields
