"""How the method is fitted to one analyzer: its components, its automatic zero."""

from __future__ import annotations

from dataclasses import replace

from calibration.engine.job.reads import Reads
from calibration.engine.method.method import Field, Step
from calibration.engine.method.shape import Shape
from calibration.families.mixture.causes import evidence_of, wanted
from calibration.families.mixture.facts import Component, components, multi
from calibration.families.mixture.naming import causes_of
from calibration.families.mixture.tells import FIELDS, TELLS
from calibration.families.mixture.words import APART
from calibration.kernel.numbers import parse_decimal
from calibration.kernel.rounding import trimmed


class MixShape(Shape):
    """The steps of the method as they are for one analyzer."""

    def possible(self, job: Reads, step: Step) -> bool:
        """Tell whether a step may come: no automatic zero, no question about it."""
        if step.id == "next_zero":
            return multi(job.ledger.facts).auto_zero_minutes is not None
        return super().possible(job, step)

    def fields(self, job: Reads, step: Step) -> tuple[Field, ...]:
        """Return the fields of a step: one for each component, or what tells causes apart."""
        if step.id == APART:
            return self._apart(job)
        own = components(job.ledger.facts)
        found = []
        for field in step.fields:
            if field.channel >= len(own):
                continue
            if field.channel >= 0:
                c = own[field.channel]
                field = replace(field, label=field.label.format(component=c.label), unit=c.unit)
            found.append(field)
        return tuple(found)

    def _apart(self, job: Reads) -> tuple[Field, ...]:
        there = [name for name, (id, _, _) in FIELDS.items() if (APART, id) in job.ledger.recorded]
        names = there or ([wanted(job)] if wanted(job) else [])
        found = []
        for name in names:
            id, label, unit = FIELDS[name]
            c = self._about(job, name)
            found.append(
                Field(
                    id=id,
                    label=label.format(label=c.label, unit=c.unit),
                    kind="number",
                    unit=unit.format(unit=c.unit),
                    hint=TELLS[name],
                )
            )
        return tuple(found)

    def _about(self, job: Reads, name: str) -> Component:
        """Return the component that a measurement is about: the first infrared, or the one off."""
        own = components(job.ledger.facts)
        if name == "overflow":
            return next((c for c in own if c.infrared), own[0])
        off = causes_of(evidence_of(job))
        return next((c for c in own if c.id in off), own[0])

    def question(self, job: Reads, step: Step, field: Field, value: str) -> str:
        """Ask where the automatic zero would come before the gas was read."""
        if field.id != "minutes_to_zero":
            return ""
        least = job.settings.number("gas_minutes")
        if parse_decimal(value, field.id) >= least:
            return ""
        return (
            f"It zeroes by itself within {trimmed(least)} min, in the middle of the reading. Wait "
            "until it is over, or hold it off. Read right?"
        )
