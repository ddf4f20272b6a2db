"""How a level method is fitted to one vessel: every weight, listed before the first is hung."""

from __future__ import annotations

from calibration.engine.job.reads import Reads
from calibration.engine.method.method import Field, Step
from calibration.engine.method.shape import Shape
from calibration.engine.view.blocks import Row
from calibration.families.level.hung import UNIT_STEP
from calibration.families.level.kinds import WET_UPPER
from calibration.families.shared.loop.trims import way
from calibration.kernel.rounding import trimmed


class LevelShape(Shape):
    """The steps of a method as they are for one vessel."""

    def fields(self, job: Reads, step: Step) -> tuple[Field, ...]:
        """Return the fields; a second liquid is asked for where an interface is measured."""
        if step.id == UNIT_STEP and job.ledger.facts.rig:
            return ()  # a rig weighs in grams
        interface = bool(job.ledger.facts.setting("upper_density"))
        return tuple(f for f in step.fields if f.id != WET_UPPER or interface)

    def listed(self, job: Reads, step: Step) -> tuple[Row, ...]:
        """Return the weight of every point, where weights are made up."""
        if step.id != "weights" or not way(job.ledger.method).by_ends:
            return ()
        seen: dict[str, str] = {}
        run = job.ledger.method.found.id
        unit = job.facts_of(run).input_unit
        for point in job.plan_of(run):
            seen.setdefault(
                f"{trimmed(point.nominal_percent)} % level", f"{trimmed(point.nominal)} {unit}"
            )
        return tuple(Row(label=label, value=value) for label, value in seen.items())
