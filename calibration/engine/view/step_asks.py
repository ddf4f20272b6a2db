"""What each of the engine's own kinds of step asks for."""

from __future__ import annotations

from collections.abc import Callable
from typing import Literal

from calibration.engine.admission.admit_incidents import may_go_without
from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.job.job import Job
from calibration.engine.job.kit import role_quantity
from calibration.engine.job.locks import HANG
from calibration.engine.job.locks import TAKE_OFF as LOCK_OFF
from calibration.engine.judging.record_mismatch import often
from calibration.engine.method.method import Field, Item, KitRole, SetItem, Step
from calibration.engine.method.run_kind import RunKind, stands_for
from calibration.engine.view import forms
from calibration.engine.view.asks import Ask, Form, Line, Sent, ToRig, Value
from calibration.engine.view.blocks import Block
from calibration.engine.view.columns import columns_of
from calibration.engine.view.verdict import judgement
from calibration.kernel.numbers import to_float
from calibration.kernel.rounding import trimmed
from calibration.runs.points import PlannedPoint

#: What a rig is told beside the job, whatever goes along with it.
RELEASE = "release"
TO_A_POINT = {"fix": "Fix", "apply": "Go to"}
ONE_READING = "Without a single reading nothing is judged."
EARLY = ("It will not get steadier: process noise", "Time window is over")


def source_of(job: Job, step: Step) -> Literal["typed", "simulated"]:
    """Return where the entries of a step come from: a rig that goes along does what they say."""
    follows = job.ledger.facts.rig and step.order not in ("", RELEASE)
    return "simulated" if follows else "typed"


def asks_of(job: Job, step: Step) -> tuple[Ask, ...]:
    """Return what a step asks for; nothing where its family speaks for it."""
    asks = ASKS.get(step.kind)
    return asks(job, step) if asks is not None else ()


def _kit(job: Job, step: Step) -> tuple[Ask, ...]:
    return tuple(_role(job, role) for role in job.roles(step))


def _role(job: Job, role: KitRole) -> Ask:
    chosen = job.ledger.kit.get(role.id)
    said = ""
    if chosen is not None:
        detail, _, warning = detail_of(job, role)
        said = f"{chosen.asset.asset}, {detail}" + (f". {warning}" if warning else "")
    elif role.id in job.ledger.without:
        said = role.instead.lower()
    return Ask(
        way="choose",
        by=("kit",),
        id=role.id,
        label=role.label,
        sends=Sent(kind="kit_chosen", data={"role": role.id}),
        key="asset",
        quantity=role_quantity(job.facts_found, role),
        said=said,
        if_not=(forms.none_at_hand(role),) if role.instead else (),
        barred="" if role.instead else "What is read is judged by it.",
    )


def detail_of(job: Job, role: KitRole) -> tuple[str, str, str]:
    """Return detail, ratio and warning of the reference that is chosen for a role."""
    chosen = job.ledger.kit[role.id]
    own = job.family.assets.get(role.quantity)
    if own is not None:
        detail, ratio, remark = own.words(job, role, chosen.asset)
    else:
        judged = job.warning_for(chosen.asset)
        detail, remark = chosen.asset.description, judged.why_not
        ratio = f"{to_float(judged.ratio):.1f} to 1" if judged.ratio is not None else ""
    warning = chosen.reason and f"{remark} Used because: {chosen.reason}"
    return f"{detail}, due {chosen.asset.due_on}", ratio, warning


def _record(job: Job, step: Step) -> tuple[Ask, ...]:
    values = tuple(value_of(job, step, field) for field in job.fields(step))
    asked = any(v.question for v in values)
    return (
        Ask(
            way="tell",
            id=step.id,
            button=step.button or "Save",
            sends=Sent(kind="recorded", data={"step": step.id}),
            key="field",
            each=True,
            values=values,
            others=(forms.bring_back(step),) if asked and job.may_wait(step) else (),
            if_not=(
                *forms.of_values(step, values),
                *forms.not_told(step, [f for f in job.fields(step) if job.waits_for(step, f)]),
                *forms.not_here(step),
            ),
            barred=next((f.barred for f in job.fields(step) if f.required and f.barred), ""),
        ),
    )


def value_of(job: Job, step: Step, field: Field) -> Value:
    """Return a value that is written down in a step, with what stands."""
    entry = job.ledger.recorded.get((step.id, field.id))
    untold = job.ledger.untold.get((step.id, field.id))
    accepted = step.id in job.ledger.decided
    return Value(
        id=field.id,
        label=field.label,
        unit=job.family.shape.unit(job, field),
        number=field.kind == "number",
        required=field.required,
        value=entry[0] if entry else "",
        expected=job.expected(field) if entry else "",
        hint=field.hint,
        choices=field.choices,
        usual=job.on_record(field.usual) if field.usual else "",
        question="" if accepted else job.mismatch(step, field),
        untold=untold[0].reason if untold else "",
        often=often(field),
    )


def _checklist(job: Job, step: Step) -> tuple[Ask, ...]:
    lines = tuple(line_of(job, step, item) for item in step.items)
    without = (forms.without(step),) if may_go_without(job, step) else ()
    return (
        Ask(
            way="state",
            id=step.id,
            button=step.button,
            lines=lines,
            if_not=(forms.LINE, *without, *forms.not_here(step)),
        ),
    )


def line_of(job: Job, step: Step, item: Item) -> Line:
    """Return a line of a checklist as it stands."""
    lacking = job.ledger.lacking.get((step.id, item.id))
    data = {"step": step.id, "item": item.id}
    return Line(
        id=item.id,
        label=job.family.shape.line(job, step, item),
        done=(step.id, item.id) in job.ledger.confirmed,
        failed=lacking.what if lacking is not None else "",
        sent=Sent(kind="confirmed", data=data, source=source_of(job, step)),
    )


def _on_off(job: Job, step: Step) -> tuple[Ask, ...]:
    kind = "put_on" if step.kind == "put_on" else "taken_off"
    sent = Sent(kind=kind, data={"step": step.id}, source=source_of(job, step))
    off = "What is on comes off; where it cannot, the job ends here and says how it is left."
    on = "Nothing is done before it; where it cannot be, the job ends here with the reason."
    may_not = forms.not_here(step)
    return (
        Ask(
            way="state",
            id=step.id,
            button=step.button or f"{step.title}: done",
            sends=sent,
            order=ToRig(kind="release") if step.order == RELEASE else None,
            if_not=may_not,
            barred="" if may_not else on if kind == "put_on" else off,
        ),
    )


def _timer(job: Job, step: Step) -> tuple[Ask, ...]:
    end = job.timer_end(step)
    minutes = job.settings.parameter(step.minutes).value
    return (
        Ask(
            way="wait",
            id=step.id,
            by=("clock",),
            button=f"Start {minutes} min",
            sends=Sent(kind="timer_started", data={"step": step.id}),
            minutes=minutes,
            ends_at=end.isoformat() if end else "",
            if_not=(forms.no_wait(step),),
        ),
    )


def _capture(job: Job, step: Step) -> tuple[Ask, ...]:
    spec = job.ledger.method.run(step.run)
    figures, kind = job.figures(step.run), job.kind_of(spec)
    if figures.current < 0:
        return ()
    point, facts = figures.plan[figures.current], figures.facts
    stands = stands_for(kind, point)
    data: dict[str, str | int] = {"run": step.run, "point": figures.current}
    if stands:
        data["applied"] = stands
    left_out = may_leave_out(job, step)
    return (
        Ask(
            way="read",
            id=f"{step.run}:{figures.current}",
            button="Take reading",
            sends=Sent(kind="reading_taken", data=data),
            values=columns_of(kind.columns(job, spec, figures), facts, kind.own_columns),
            go=_to_point(kind, figures.facts, point),
            alone=True,
            early=EARLY,
            if_not=(*left_out, *forms.not_here(step)),
            barred="" if left_out or step.if_not else ONE_READING,
        ),
    )


def may_leave_out(job: Job, step: Step) -> tuple[Form, ...]:
    """Return the answer that the next point of a run cannot be reached, where one may be left."""
    figures = job.figures(step.run)
    last = len(figures.plan) - len(figures.left_out) < 2
    if figures.current < 0 or last or job.kind_of(job.ledger.method.run(step.run)).applies_point:
        return ()
    nominal = figures.plan[figures.current].nominal
    value = f"{trimmed(nominal)} {figures.facts.input_unit}"
    return (forms.left_out(step, figures.current, value),)


def _to_point(kind: RunKind, facts: InstrumentFacts, point: PlannedPoint) -> ToRig | None:
    """Return what a rig that is commanded is told at a point; none for one that goes along."""
    if kind.order not in TO_A_POINT:
        return None
    target = kind.target(facts, point)
    unit = facts.output_unit if kind.order == "fix" else facts.input_unit
    return ToRig(
        kind=kind.order,  # type: ignore[arg-type]
        label=f"{TO_A_POINT[kind.order]} {trimmed(target)} {unit}",
        value=format(target, "f"),
        scale=kind.scale,
    )


def _decide(job: Job, step: Step) -> tuple[Ask, ...]:
    return (
        Ask(
            way="choose",
            id=step.id,
            sends=Sent(kind="decided", data={"step": step.id}),
            key="choice",
            options=judgement(job).choices,
            barred="Every way on is among what can be chosen, stopping too.",
        ),
    )


def _set(job: Job, step: Step) -> tuple[Ask, ...]:
    found = []
    for item in step.sets:
        wanted = job.to_write(step, item)
        if wanted:
            found.append(_item(job, step, item, wanted))
    return tuple(found)


def _item(job: Job, step: Step, item: SetItem, wanted: str) -> Ask:
    entry = job.ledger.written.get((step.id, item.id))
    unit = job.family.shape.unit(job, item)
    done = job.written(step, item)
    data: dict[str, str | int] = {"step": step.id, "setting": item.id, "value": wanted}
    in_words = f"{wanted} {unit}".strip()
    return Ask(
        way="set",
        id=item.id,
        label=f"{item.label}: {job.found_setting(item.id)} → {in_words}",
        button="Read it back",
        typed=f"It reads {in_words}",
        sends=Sent(kind="written", data=data),
        values=(Value(id="read_back", label=f"{item.label}, read back", unit=unit, number=False),),
        blocks=(Block(kind="text", text=f"Write {in_words} to the device, then read it again."),),
        said=f"read back {entry[0].read_back}" if done and entry is not None else "",
        order=ToRig(kind="write", label=f"Write {in_words}", setting=item.id, text=wanted),
        steadily=False,
        target=wanted,
    )


def _prove(step: Step, sends: Sent, button: str, barred: str, key: str = "") -> tuple[Ask, ...]:
    words = step.button or button
    return (Ask(way="prove", id=step.id, button=words, sends=sends, key=key, barred=barred),)


def _sign(job: Job, step: Step) -> tuple[Ask, ...]:
    sends = Sent(kind="signed", data={})
    return _prove(step, sends, "Sign and close", "What was done is signed by who did it.")


def _hang(job: Job, step: Step) -> tuple[Ask, ...]:
    sends = Sent(kind="lock_hung", data={"step": step.id})
    barred = "No hand goes in without a lock of one's own."
    return _prove(step, sends, "My lock is on", barred, "proven")


def _unlock(job: Job, step: Step) -> tuple[Ask, ...]:
    sends = Sent(kind="lock_taken_off", data={"step": step.ends})
    barred = "Whoever hung a lock takes it off; of somebody absent a planner decides."
    return _prove(step, sends, "My hands are out: my lock is off", barred, "lock")


ASKS: dict[str, Callable[[Job, Step], tuple[Ask, ...]]] = {
    "kit": _kit,
    "record": _record,
    "checklist": _checklist,
    "put_on": _on_off,
    "take_off": _on_off,
    "timer": _timer,
    "capture": _capture,
    "decide": _decide,
    "set": _set,
    "sign": _sign,
    HANG: _hang,
    LOCK_OFF: _unlock,
}
