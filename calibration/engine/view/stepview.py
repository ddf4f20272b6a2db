"""One step as a screen shows it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import fields
from typing import Any

from calibration.engine.conditions import CHANGING
from calibration.engine.differing import often
from calibration.engine.history import CHOICE_WORDS, setback_in_words
from calibration.engine.job import Job
from calibration.engine.kit import role_quantity
from calibration.engine.method import Field, Item, KitRole, SetItem, Step
from calibration.engine.repairing import refused_since
from calibration.engine.setbacks_admitted import may_go_without
from calibration.engine.view.state import (
    ComputedLine,
    FieldState,
    ItemState,
    RoleState,
    SetState,
    StepState,
)
from calibration.kernel.numbers import to_float
from calibration.kernel.registry import OPERATIONS


def step_state(job: Job, step: Step) -> StepState:
    """Return a step for the screen."""
    status = job.status_of(step)
    # Whatever waits, waits for the present step first.
    before = (job.current or job.first_open_before(step)) if status == "blocked" else None
    started = job.ledger.timers.get(step.id)
    end = job.timer_end(step) if step.kind == "timer" else None
    on = job.ledger.put_on.get(step.id) or job.ledger.taken_off.get(step.id)
    return StepState(
        id=step.id,
        stage=step.stage,
        kind=step.kind,
        title=job.family.shape.title(job, step),
        instruction=step.instruction,
        why=step.why,
        caution=job.family.shape.caution(job, step),
        status=status,
        blocked_by=f"First: {before.title.lower()}." if before else "",
        items=tuple(_item(job, step, item) for item in step.items),
        fields=tuple(_field(job, step, field) for field in job.fields(step)),
        roles=tuple(_role(job, role) for role in job.roles(step)),
        sets=tuple(_set(job, step, item) for item in step.sets),
        computed=_computed(job, step),
        order=step.order,
        may_wait=step.kind == "record" and status == "now" and job.may_wait(step),
        if_not=step.if_not if status == "now" else "",
        may_go_without=status == "now" and may_go_without(job, step),
        refused=tuple(
            setback_in_words(job.ledger.method, c)
            for c, _ in refused_since(job.ledger)
            if c.step == step.id
        ),
        often=step.often,
        leaves=step.leaves,
        run=step.run if step.kind == "capture" else "",
        timer_started_at=started.at if started else "",
        timer_ends_at=end.isoformat() if end else "",
        timer_minutes=job.settings.parameter(step.minutes).value if step.minutes else "",
        summary=_summary(job, step),
        event=on.id if on else "",
    )


def _item(job: Job, step: Step, item: Item) -> ItemState:
    event = job.ledger.confirmed.get((step.id, item.id))
    lacking = job.ledger.lacking.get((step.id, item.id))
    return ItemState(
        id=item.id,
        label=job.family.shape.line(job, step, item),
        done=event is not None,
        event=event.id if event else "",
        failed=lacking.what if lacking is not None else "",
    )


def _field(job: Job, step: Step, field: Field) -> FieldState:
    entry = job.ledger.recorded.get((step.id, field.id))
    accepted = step.id in job.ledger.decided
    unit = job.family.shape.unit_read(job, field)
    return FieldState(
        id=field.id,
        label=field.label,
        unit=unit,
        number=field.kind == "number",
        required=field.required,
        value=entry[0] if entry else "",
        expected=job.expected(field) if entry else "",
        hint=field.hint,
        choices=field.choices,
        usual=job.on_record(field.usual) if field.usual else "",
        question="" if accepted else job.mismatch(step, field),
        often=often(field),
    )


def _set(job: Job, step: Step, item: SetItem) -> SetState:
    wanted = job.to_write(step, item)
    entry = job.ledger.written.get((step.id, item.id))
    return SetState(
        id=item.id,
        label=item.label,
        unit=job.family.shape.set_unit(job, item),
        found=job.found_setting(item.id),
        to_write=wanted or "",
        read_back=entry[0].read_back if entry else "",
        done=job.written(step, item),
    )


def _computed(job: Job, step: Step) -> tuple[ComputedLine, ...]:
    """Return what was worked out for a step, with what went in."""
    if not step.operation:
        return ()
    operation, facts = OPERATIONS[step.operation], job.ledger.facts
    lines = [
        ComputedLine(label=s.label or s.name, value=f"{s.value} {s.unit}".strip(), given=True)
        for s in facts.settings
        if s.name in {f.name for f in fields(operation.input_type)}
    ]
    found = job.computed(step)
    for name in step.shows:
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


def _role(job: Job, role: KitRole) -> RoleState:
    chosen = job.ledger.kit.get(role.id)
    quantity = role_quantity(job.facts_found, role)
    if chosen is None:
        return RoleState(
            id=role.id,
            label=role.label,
            quantity=quantity,
            chosen="",
            detail="",
            ratio="",
            warning="",
            instead=role.instead,
            without=role.id in job.ledger.without,
        )
    own = job.family.assets.get(role.quantity)
    if own is not None:
        detail, ratio, remark = own.words(job, role, chosen.asset)
    else:
        judged = job.warning_for(chosen.asset)
        detail, remark = chosen.asset.description, judged.why_not
        ratio = f"{to_float(judged.ratio):.1f} to 1" if judged.ratio is not None else ""
    return RoleState(
        id=role.id,
        label=role.label,
        quantity=quantity,
        chosen=chosen.asset.asset,
        detail=f"{detail}, due {chosen.asset.due_on}",
        ratio=ratio,
        warning=chosen.reason and f"{remark} Used because: {chosen.reason}",
        instead=role.instead,
        without=False,
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
        return ", ".join(
            ledger.recorded[step.id, f.id][0]
            for f in job.fields(step)
            if (step.id, f.id) in ledger.recorded
        )
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
