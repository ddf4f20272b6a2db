"""Steps in a row that one person states in one breath, so that a round of checks stays quick.

Only what is confirmed, put on or taken off may be joined; each still becomes its own entry.
"""

from __future__ import annotations

from dataclasses import replace

from calibration.engine.job.job import Job
from calibration.engine.method.method import Step
from calibration.engine.view.asks import Ask, Line, Sent


def together(job: Job) -> Ask | None:
    """Return what can be stated by one tap from the present step on; none when only one can."""
    current = job.current
    if current is None or not current.together:
        return None
    steps = job.ledger.method.steps
    lines: list[str] = []
    events: list[Sent] = []
    for step in steps[steps.index(current) :]:
        if job.statuses[step.id] in ("done", "skipped"):
            continue
        if step.together != current.together:
            break
        if not _add(job, step, lines, events):
            break
    if len(lines) < 2:
        return None
    live = job.ledger.facts.rig
    return Ask(
        way="state",
        label=current.together.heading,
        button=current.together.title,
        lines=tuple(Line(id=str(n), label=line) for n, line in enumerate(lines)),
        also=tuple(
            replace(e, source="simulated") if live and e.kind != "recorded" else e for e in events
        ),
    )


def _add(job: Job, step: Step, lines: list[str], events: list[Sent]) -> bool:
    """Add one step; tell whether it could be joined."""
    ledger = job.ledger
    if step.kind == "checklist":
        for item in step.items:
            if (step.id, item.id) not in ledger.confirmed:
                lines.append(job.family.shape.line(job, step, item))
                events.append(_sent("confirmed", step, item=item.id))
        return True
    if step.kind in ("put_on", "take_off"):
        lines.append(step.on_label or step.title)
        events.append(_sent("put_on" if step.kind == "put_on" else "taken_off", step))
        return True
    if step.kind == "record":
        return _plate(job, step, lines, events)
    own = job.family.states(job, step)
    if own is None:
        return False
    lines.append(own.label)
    events.extend(own.events)
    return True


def _plate(job: Job, step: Step, lines: list[str], events: list[Sent]) -> bool:
    """Join a record whose every field is on record: the person compares and states it."""
    if not all(f.must_match and job.expected(f) for f in step.fields if f.required):
        return False
    for field in step.fields:
        if field.required and (step.id, field.id) not in job.ledger.recorded:
            value = job.expected(field)
            lines.append(f"{field.label}: {value}")
            events.append(_sent("recorded", step, field=field.id, value=value))
    return True


def _sent(kind: str, step: Step, **data: str) -> Sent:
    return Sent(kind=kind, data={"step": step.id, **data})
