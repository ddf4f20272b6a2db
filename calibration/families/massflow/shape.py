"""The steps of a mass flow meter's methods as they are for one meter."""

from __future__ import annotations

from decimal import Decimal

from calibration.engine.job.reads import Reads
from calibration.engine.method.method import Field, Item, SetItem, Step
from calibration.engine.method.shape import Shape
from calibration.families.massflow.evidence import proof
from calibration.families.massflow.facts import meter, noted
from calibration.families.massflow.naming import asks
from calibration.families.massflow.tells import TELLS
from calibration.families.shared import differential
from calibration.families.shared.differential import APART, Telling
from calibration.kernel.numbers import exact
from calibration.kernel.rounding import fixed

#: The line that proves that nothing flows, by how the meter can be shut off.
PROOF = "proof"
PROVEN = {
    "both": "Both valves shut, proven: pressure falls or the tell-tale is dry",
    "downstream only": "Downstream valve shut, pump locked; pressure before it steady, behind it 0",
    "pump only": "Pump off and locked, nothing drives a flow; level and pressure stand",
}
#: A meter factor is kept with so many decimals.
FACTOR_DECIMALS = 5


def wanted(job: Reads) -> tuple[Telling, ...]:
    """Return the measurement that would tell the causes of the as-found run apart."""
    return asks(job.as_found.causes)


class MassFlowShape(Shape):
    """The steps as they are for one meter."""

    def fields(self, job: Reads, step: Step) -> tuple[Field, ...]:
        """Return the fields of a step; a stored zero is said in the unit of the meter."""
        if step.id == APART:
            return differential.fields(job, TELLS, wanted(job))
        unit = meter(job.ledger.facts).offset_unit
        return tuple(
            Field(**{**vars(f), "unit": unit}) if f.id.startswith("stored_") else f
            for f in step.fields
        )

    def line(self, job: Reads, step: Step, item: Item) -> str:
        """Return a line of a checklist; which valves are shut is as the meter has them."""
        if item.id == PROOF:
            return PROVEN[meter(job.ledger.facts).isolation]
        return super().line(job, step, item)

    def target(self, job: Reads, step: Step, item: SetItem) -> str | None:
        """Return the factor that the runs give: the present one, times theirs."""
        if item.to != "proved":
            return None
        again = job.ledger.method.found.again
        figures = job.figures(again) if job.ledger.readings[again] else job.as_found
        was = job.ledger.adjusted_to(step.id, item.id)
        present = Decimal(was) if was else noted(job.ledger, "settings", "meter_factor")
        found = proof(job, figures)
        if found is None or present is None:
            return ""
        with exact():
            return str(fixed(found.factor * present, FACTOR_DECIMALS))


def covers(job: Reads) -> tuple[str, ...]:
    """Return how far it was shut off, where that is not by both valves."""
    how = meter(job.ledger.facts).isolation
    return () if how == "both" else (f"Isolated: {how}.",)
