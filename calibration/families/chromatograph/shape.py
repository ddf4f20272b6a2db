"""How the method is fitted to one chromatograph: what tells causes apart, of which component."""

from __future__ import annotations

from calibration.engine.method import Field, Step
from calibration.engine.reads import Reads
from calibration.engine.shape import Shape
from calibration.families.chromatograph.causes import evidence_of, wanted
from calibration.families.chromatograph.facts import peaks
from calibration.families.chromatograph.naming import causes_of
from calibration.families.chromatograph.remedies import FIELDS, TELLS
from calibration.families.chromatograph.words import APART


class GcShape(Shape):
    """The steps of the method as they are for one chromatograph."""

    def fields(self, job: Reads, step: Step) -> tuple[Field, ...]:
        """Return the fields of a step; of what tells causes apart, the one that does."""
        if step.id != APART:
            return step.fields
        there = [name for name, (id, _, _) in FIELDS.items() if (APART, id) in job.ledger.recorded]
        name = there[0] if there else wanted(job)
        seen = evidence_of(job)
        if not name or seen is None:
            return ()
        id, label, unit = FIELDS[name]
        off = causes_of(seen)
        own = peaks(job.ledger.facts)
        about = own[0] if name == "volume" else next((p for p in own if p.id in off), own[0])
        return (
            Field(
                id=id,
                label=label.format(label=about.label),
                kind="number",
                unit=unit,
                hint=TELLS[name],
            ),
        )
