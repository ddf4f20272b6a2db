"""The steps of a verification as they are for one meter."""

from __future__ import annotations

from calibration.engine.job.reads import Reads
from calibration.engine.method.method import Field, Item, Step
from calibration.engine.method.shape import Shape
from calibration.families.magmeter.facts import meter
from calibration.families.magmeter.naming import asks
from calibration.families.magmeter.tells import TELLS
from calibration.families.shared import differential
from calibration.families.shared.differential import APART, Telling
from calibration.kernel.rounding import trimmed


def wanted(job: Reads) -> tuple[Telling, ...]:
    """Return the measurement that would tell the causes of the lines apart."""
    return asks(job.as_found.causes)


class MagShape(Shape):
    """The steps as they are for one meter."""

    def fields(self, job: Reads, step: Step) -> tuple[Field, ...]:
        """Return the fields of a step; of what tells causes apart, what is wanted."""
        return differential.fields(job, TELLS, wanted(job)) if step.id == APART else step.fields

    def line(self, job: Reads, step: Step, item: Item) -> str:
        """Return a line of a checklist, with build and size of this meter."""
        own = meter(job.ledger.facts)
        return item.label.format(build=own.build, size=trimmed(own.size_mm))
