"""How the method is fitted to one chromatograph: what tells causes apart, of which component."""

from __future__ import annotations

from calibration.engine.job.reads import Reads
from calibration.engine.method.method import Field, Step
from calibration.engine.method.shape import Shape
from calibration.families.chromatograph.causes import evidence_of, wanted
from calibration.families.chromatograph.facts import peaks
from calibration.families.chromatograph.naming import Evidence, causes_of
from calibration.families.chromatograph.tells import FIELDS, TELLS
from calibration.families.chromatograph.words import APART


class GcShape(Shape):
    """The steps of the method as they are for one chromatograph."""

    def fields(self, job: Reads, step: Step) -> tuple[Field, ...]:
        """Return the fields of a step; of what tells causes apart, the one that does."""
        if step.id != APART:
            return step.fields
        names = [name for name, (id, _, _) in FIELDS.items() if (APART, id) in job.ledger.recorded]
        more = wanted(job)
        names += [more] if more and more not in names else []
        seen = evidence_of(job)
        return tuple(self._tells(job, seen, name) for name in names) if seen is not None else ()

    def _tells(self, job: Reads, seen: Evidence, name: str) -> Field:
        """Return the field of one measurement that tells, and the component that it is about."""
        id, label, unit = FIELDS[name]
        off, own = causes_of(seen), peaks(job.ledger.facts)
        first = name in ("volume", "gas")
        about = own[0] if first else next((p for p in own if p.id in off), own[0])
        label = label.format(label=about.label)
        return Field(id=id, label=label, kind="number", unit=unit, hint=TELLS[name])
