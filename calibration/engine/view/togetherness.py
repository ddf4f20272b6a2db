"""Steps in a row that one person states in one breath, so that a round of checks stays quick.

Only what is confirmed, put on or taken off may be joined; each still becomes its own entry.
"""

from __future__ import annotations

from calibration.engine.job import Job
from calibration.engine.method import Step
from calibration.families.gas.gases import role_for
from calibration.families.gas.state import Sent, Together
from calibration.kernel.rounding import trimmed


def together(job: Job) -> Together | None:
    """Return what can be stated by one tap from the present step on; none when only one can."""
    current = job.current
    if current is None or not current.together:
        return None
    steps = job.ledger.method.steps
    lines: list[str] = []
    events: list[Sent] = []
    orders: list[str] = []
    for step in steps[steps.index(current) :]:
        if job.statuses[step.id] in ("done", "skipped"):
            continue
        if step.together != current.together:
            break
        if not _add(job, step, lines, events):
            break
        if step.order:
            orders.append(step.order)
    if len(lines) < 2:
        return None
    return Together(
        heading=_HEADINGS.get(current.together, "Go through the list"),
        title=_TITLES.get(current.together, "All of this is so"),
        lines=tuple(lines),
        events=tuple(events),
        orders=tuple(orders),
    )


_TITLES = {
    "ready": "All of this is so: gas on",
    "out": "All of this is so",
}


_HEADINGS = {
    "ready": "Make it ready, line by line",
    "out": "Put it back in service",
}


def _add(job: Job, step: Step, lines: list[str], events: list[Sent]) -> bool:
    """Add one step; tell whether it could be joined."""
    ledger = job.ledger
    if step.kind == "checklist":
        for item in step.items:
            if (step.id, item.id) not in ledger.confirmed:
                lines.append(job.item_label(step, item))
                events.append(_sent("confirmed", step, item=item.id))
        return True
    if step.kind in ("put_on", "take_off"):
        lines.append(step.on_label or step.title)
        events.append(_sent("put_on" if step.kind == "put_on" else "taken_off", step))
        return True
    if step.kind == "record":
        return _plate(job, step, lines, events)
    spec = job.gas_run(step)
    if spec is not None and len(spec.gases) == 1 and spec.gases[0] != "air":
        role = role_for(spec.gases[0], spec.channel)
        chosen = ledger.kit.get(role)
        flow = ledger.facts.channels[spec.channel].flow_l_per_min
        if chosen is None or ledger.flowing is not None or ledger.readings[spec.id]:
            return False
        lines.append(f"{chosen.asset.asset} opened at {trimmed(flow)} L/min")
        events.append(_sent("gas_on", step, role=role, flow=format(flow, "f")))
        return True
    return False


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


def _sent(
    kind: str,
    step: Step,
    item: str = "",
    field: str = "",
    value: str = "",
    role: str = "",
    flow: str = "",
) -> Sent:
    return Sent(kind=kind, step=step.id, item=item, field=field, value=value, role=role, flow=flow)
