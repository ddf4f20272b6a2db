"""One step as a list of steps shows it."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from calibration.engine.job.event_words import CHOICE_WORDS
from calibration.engine.job.job import Job
from calibration.engine.method.conditions import CHANGING
from calibration.engine.method.method import Step
from calibration.engine.view.state import StepState


def step_state(job: Job, step: Step) -> StepState:
    """Return a step for the screen."""
    status = job.status_of(step)
    # Whatever waits, waits for the present step first.
    before = (job.current or job.first_open_before(step)) if status == "blocked" else None
    return StepState(
        id=step.id,
        stage=step.stage,
        kind=step.kind,
        title=job.family.shape.title(job, step),
        status=status,
        blocked_by=f"First: {before.title.lower()}." if before else "",
        run=step.run if step.kind == "capture" else "",
        summary=_summary(job, step),
    )


def _summary(job: Job, step: Step) -> str:
    ledger = job.ledger
    if job.status_of(step) == "skipped":
        if ledger.signed is None and job.chosen() in ("", *CHANGING):
            return step.only_if.words if step.only_if is not None else ""
        return "not needed in this job"
    if step.kind == "kit":
        without = (r.instead.lower() for r in job.roles(step) if r.id in ledger.without)
        chosen = dict.fromkeys(k.asset.asset for k in ledger.kit.values())
        return ", ".join((*chosen, *without))
    if step.kind == "record":
        told = [
            ledger.recorded[step.id, f.id][0]
            if (step.id, f.id) in ledger.recorded
            else f"{f.label.lower()} not told"
            for f in job.fields(step)
            if (step.id, f.id) in ledger.recorded or (step.id, f.id) in ledger.untold
        ]
        return ", ".join(told)
    if step.id in ledger.waived:
        return ledger.waived[step.id].reason
    if step.id in ledger.decided:
        return CHOICE_WORDS.get(job.choice(step.id), job.choice(step.id))
    return ""


def shown(job: Job, data: Mapping[str, Any]) -> str:
    """Return the line of a checklist or the name of a field as it is shown now; empty for none."""
    step = job.ledger.method.step(str(data.get("step", "")))
    if step is None:
        return ""
    lines = {i.id: job.family.shape.line(job, step, i) for i in step.items}
    names = {f.id: f.label for f in job.fields(step)}
    return {**lines, **names}.get(str(data.get("item") or data.get("field")), "")
