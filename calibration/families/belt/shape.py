"""The steps of a belt scale's methods as they are for one scale."""

from __future__ import annotations

from decimal import Decimal

from calibration.engine.job.reads import Reads
from calibration.engine.method.method import Field, SetItem, Step
from calibration.engine.method.shape import Shape
from calibration.families.belt.evidence import mean_of, net_kg
from calibration.families.belt.facts import belt, noted
from calibration.families.belt.naming import asks
from calibration.families.belt.tells import TELLS
from calibration.families.belt.words import FOUND, SPAN_RUNS, ZERO_RUNS
from calibration.families.shared import differential
from calibration.families.shared.differential import APART, Telling
from calibration.kernel.numbers import exact
from calibration.kernel.rounding import fixed
from calibration.measuring.belt import MaterialIn, material_test


def wanted(job: Reads) -> tuple[Telling, ...]:
    """Return the measurements that would tell the causes as found apart."""
    runs = [r.id for r in job.ledger.method.runs_of("found")]
    return asks(next((f.causes for run in runs if (f := job.figures(run)).causes), ()))


class BeltShape(Shape):
    """The steps as they are for one belt scale."""

    def fields(self, job: Reads, step: Step) -> tuple[Field, ...]:
        """Return the fields of a step; of what tells causes apart, what is wanted."""
        return differential.fields(job, TELLS, wanted(job)) if step.id == APART else step.fields

    def target(self, job: Reads, step: Step, item: SetItem) -> str | None:
        """Return the new count: of the zero, of the weights above it, or by material."""
        if item.to not in ("new_zero", "new_span", "by_material"):
            return None
        with exact():
            value = self._by_material(job) if item.to == "by_material" else self._count(job, item)
            return str(fixed(value, 0)) if value is not None else ""

    def _newest(self, job: Reads, runs: tuple[str, str]) -> str:
        """Return the newest run that is adjusted from: as found, or one that failed as left."""
        again = job.ledger.method.run(runs[0]).again
        return again if job.ledger.readings[again] else runs[0]

    def _count(self, job: Reads, item: SetItem) -> Decimal | None:
        zero = mean_of(job, self._newest(job, ZERO_RUNS))
        if item.to == "new_zero" or zero is None:
            return zero
        gross = mean_of(job, self._newest(job, SPAN_RUNS))
        return gross - zero if gross is not None else None

    def _by_material(self, job: Reads) -> Decimal | None:
        again = job.ledger.method.found.again
        figures = job.figures(again) if job.ledger.readings[again] else job.as_found
        was = job.ledger.adjusted_to("span_by_material", "material_span")
        present = Decimal(was) if was else noted(job.ledger, FOUND, "material_span")
        contents = [figures.taken[i].content for i in figures.order]
        if present is None or not contents:
            return None
        out = material_test(
            MaterialIn(
                weighed_kg=sum((net_kg(c) for c in contents), Decimal(0)),
                totalizer_kg=sum((c.reading for c in contents), Decimal(0)),
                old_span=present,
                span_acts=belt(job.ledger.facts).span_acts,
            )
        )
        return out.corrected_span
