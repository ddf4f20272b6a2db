"""What was worked out for a step, with what went in."""

from __future__ import annotations

from dataclasses import fields

from calibration.engine.job.job import Job
from calibration.engine.method.method import Step
from calibration.engine.view.asks import ComputedLine
from calibration.kernel.registry import OPERATIONS


def computed(job: Job, step: Step) -> tuple[ComputedLine, ...]:
    """Return what was worked out for a step, with what went in."""
    if not step.works_out.operation:
        return ()
    operation, facts = OPERATIONS[step.works_out.operation], job.ledger.facts
    lines = [
        ComputedLine(label=s.label or s.name, value=f"{s.value} {s.unit}".strip(), given=True)
        for s in facts.settings
        if s.name in {f.name for f in fields(operation.input_type)}
    ]
    found = job.computed(step)
    for name in step.works_out.shows:
        field = next(f for f in fields(operation.output_type) if f.name == name)
        label, unit = field.metadata["label"] or field.metadata["about"], field.metadata["unit"]
        if found.get(name):
            lines.append(
                ComputedLine(label=label, value=f"{found[name]} {unit}".strip(), given=False)
            )
    lines += [
        ComputedLine(label=row.label, value=row.value, given=False)
        for row in job.family.shape.listed(job, step)
    ]
    lines.append(ComputedLine(label="By", value=operation.formula, given=True))
    return tuple(lines)
