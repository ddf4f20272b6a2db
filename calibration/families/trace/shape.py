"""How a method is fitted to one analyzer: its references, and what tells causes apart."""

from __future__ import annotations

from calibration.engine.job.reads import Reads
from calibration.engine.method.method import Field, KitRole, Step
from calibration.engine.method.shape import Shape
from calibration.engine.view.blocks import Row
from calibration.families.trace.bleeding import sides, told, why_due
from calibration.families.trace.conditions import wanted
from calibration.families.trace.facts import analyzer
from calibration.families.trace.tells import FIELDS, TELLS
from calibration.families.trace.values import process
from calibration.families.trace.words import APART, BACK, FITTED
from calibration.kernel.numbers import HUNDRED, parse_decimal
from calibration.kernel.rounding import show, trimmed


class TraceShape(Shape):
    """The steps of a method as they are for one analyzer."""

    def roles(self, job: Reads, step: Step) -> tuple[KitRole, ...]:
        """Return the references of a step; no meter where there is no output."""
        milliamps = job.ledger.facts.output_unit == "mA"
        return tuple(r for r in step.roles if milliamps or r.quantity != "output")

    def fields(self, job: Reads, step: Step) -> tuple[Field, ...]:
        """Return the fields of a step; of what tells causes apart, what was and what is wanted."""
        if step.id != APART:
            return step.fields
        there = [
            way
            for way, fields in FIELDS.items()
            if any(told(job.ledger, id) is not None for id, _, _ in fields)
        ]
        ways = (*there, *(w for w in wanted(job) if w not in there))
        return tuple(
            Field(id=id, label=label, kind="number", unit=unit, hint=TELLS[way] if not n else "")
            for way in ways
            for n, (id, label, unit) in enumerate(FIELDS[way])
        )

    def question(self, job: Reads, step: Step, field: Field, value: str) -> str:
        """Return what to ask about a value that was written down; empty when nothing."""
        if (step.id, field.id) == (BACK, "process_shown"):
            return self._back(job, value)
        if (step.id, field.id) == (FITTED, "air_seconds"):
            most = analyzer(job.ledger.facts).air_seconds
            if parse_decimal(value, field.id) > most:
                return (
                    f"More than {trimmed(most)} s in air: it takes hours to come down, and it may "
                    "stay high. Read right?"
                )
        return ""

    def _back(self, job: Reads, value: str) -> str:
        """Ask while the process does not read as before: the hold-off stays on until it does."""
        now, was = parse_decimal(value, "process_shown"), process(job.ledger).shown
        span = job.ledger.facts.transfer.input_span
        most = max(was * job.settings.share("back_percent"), span / HUNDRED)
        if now <= was + most:
            return ""
        return (
            f"It reads {show(now - was, 2, sign=True)} ppm from before; alarms come back only when "
            "it is back. Wait and read again. Read right, and the process changed?"
        )


def bleed_words(job: Reads) -> tuple[Row, ...]:
    """Return why the regulator is bled, and how far each side is."""
    rows = [Row(label="Why", value=why_due(job))]
    for s in sides(job):
        rows.append(
            Row(
                label=f"{s.side.capitalize()} side, {trimmed(s.bar)} bar",
                value=f"{s.done} of {s.wanted}, left {residue(s.residual_ppm)}"
                + (f", {show(s.residual_percent, 1)} % of the gas" if s.done else ""),
                strong=True,
            )
        )
    return tuple(rows)


def residue(ppm: float) -> str:
    """Return what is left of the air, as people say it."""
    if ppm >= 1000:
        return f"{show(ppm / 10000, 1)} %"
    return f"{show(ppm, 2 if ppm < 10 else 0)} ppm"
