"""The one next action, in words."""

from __future__ import annotations

from dataclasses import replace

from calibration.engine.adjusting import adjust_to_percent, point_to_apply
from calibration.engine.conditions import trimming
from calibration.engine.evaluation import RunFigures
from calibration.engine.history import HOP_WORDS, in_words
from calibration.engine.job import Job
from calibration.engine.method import STAGES, Step
from calibration.engine.view.columns import columns_of
from calibration.engine.view.state import Action, Adjustment
from calibration.engine.view.togetherness import together
from calibration.kernel.rounding import show, trimmed
from calibration.signals.transfer import ideal_output, indication

_STAGE = dict(STAGES)
_FIELDS = {
    "sensor": ("applied", "digital"),
    "output": ("applied", "digital", "reading"),
    "receiver": ("applied", "reading", "indicated"),
    "transmitter": ("applied", "reading"),
}
NONE = Adjustment(
    done=False,
    hop="",
    hop_label="",
    end="",
    action="none",
    title="",
    apply="",
    apply_value="",
    order="apply",
    stands_for="",
    target="",
    rig_hop="",
    aim="",
    direction="",
    fields=(),
    columns=(),
    passes_left="",
    advice="",
    history=(),
)


def next_action(job: Job) -> Action:
    """Return what to do now, why, and what comes after."""
    step = job.current
    if step is None:
        return Action(
            step="",
            kicker="Closed",
            title="This job is voided" if job.ledger.voided else "This job is signed",
            why="It was opened by mistake and came to nothing; its history stays."
            if job.ledger.voided
            else "A signed job never changes. To correct it, follow it with a new job.",
            caution="",
            then="",
            can_waive=False,
        )
    title, then = step.instruction, _after(job, step)
    caution = job.family.shape.caution(job, step)
    kicker = f"{_STAGE[step.stage]} · {step.title}"
    own = job.family.heading(job, step)
    if own is not None:
        kicker, title = own
    elif step.kind == "capture":
        figures = job.figures(step.run)
        kicker, title, caution, then = _capture(job, figures, step)
    elif step.kind == "adjust":
        now = adjustment_state(job)
        title = now.title
    stated = together(job)
    if stated is not None:
        title = stated.heading
    return Action(
        step=step.id,
        kicker=kicker,
        title=title,
        why=step.why,
        caution=caution,
        then=then,
        can_waive=step.kind == "timer",
    )


def _after(job: Job, step: Step) -> str:
    steps = job.ledger.method.steps
    following = [s for s in steps[steps.index(step) + 1 :] if job.statuses[s.id] == "blocked"]
    return ", then ".join(s.title.lower() for s in following[:2]) or "nothing: the job is done"


def _capture(job: Job, figures: RunFigures, step: Step) -> tuple[str, str, str, str]:
    spec = job.ledger.method.run(step.run)
    index = max(0, figures.current)
    point = figures.plan[index]
    kind = job.kind_of(spec)
    value = kind.words(figures.facts, point)
    kicker = f"{spec.title} · point {index + 1} of {len(figures.plan)}"
    if step.run in job.ledger.placed:
        block = job.ledger.placed[step.run][0].block
        return kicker, f"{block} goes through the points by itself", step.caution, _after(job, step)
    if not kind.approached:
        said = spec.up if point.direction == "up" else spec.down
        said = spec.start if index == 0 else said
        return kicker, said.format(value=value), step.caution, _after(job, step)
    way = "going up" if point.direction == "up" else "coming down"
    if len({p.direction for p in figures.plan}) > 1:
        kicker += f" · {way}"
    title = (spec.up if point.direction == "up" else spec.down).format(value=value)
    if index == 0:
        title = spec.start.format(value=value)
    side = "below" if point.direction == "up" else "above"
    if figures.facts.input_upper < figures.facts.input_lower:
        side = "above" if side == "below" else "below"
    caution = (
        f"Come from {side} only. If you pass {value}, go back and come "
        "again, or the up-and-down difference means nothing."
    )
    if step.caution:
        caution = step.caution
    if point.approach is not None and kind.gone_past:
        beyond = f"{trimmed(point.approach)} {figures.facts.input_unit}"
        caution = f"First go to {beyond}, as far as ratings allow, then come from {side} only."
    unit = figures.facts.input_unit
    rest = [trimmed(p.nominal) for p in figures.plan[index + 1 : index + 4]]
    then = ", ".join(f"{r} {unit}" for r in rest) or _after(job, step)
    return kicker, title, step.caution if index == 0 else caution, then


def adjustment_state(job: Job) -> Adjustment:
    """Return the adjustment to make now, with what was done so far."""
    adjusting = next((s for s in job.ledger.method.steps if s.kind == "adjust"), None)
    skipped = adjusting is None or job.statuses[adjusting.id] == "skipped"
    if skipped or not trimming(job):
        return NONE
    now = job.adjusting
    facts = job.base.facts
    history = tuple(_line(job, i) for i in range(len(job.ledger.adjusted)))
    if now.hop is None or now.done:
        return replace(NONE, done=now.done, history=history)
    at = point_to_apply(facts, now.end)
    apply = f"{trimmed(at)} {facts.input_unit}"
    screws = job.ledger.method.adjusting == "screws"
    label = f"{now.end} screw" if screws else HOP_WORDS[now.hop]
    target, direction, advice, left = "", "", now.advice, _text(now.passes_left)
    if now.aim is not None and not now.check_only:
        target = _target(job, now.hop)
    if now.plan is not None and now.plan.next is not None and not now.check_only:
        target = _target(job, now.hop)
        direction = now.plan.direction or ""
        advice = now.plan.advice
        left = _text(now.plan.passes_left)
    verb = "Check" if now.check_only else label.capitalize() + ":"
    title = (
        f"{verb} {now.end} at {apply}"
        if now.check_only
        else f"{verb} apply {apply} and set {now.end} until {target}"
    )
    fields = tuple(f for f in _FIELDS[now.hop] if f != "digital" or facts.smart)
    value, sent = at, ""
    if now.fixed:
        value, sent = ideal_output(facts.transfer, at), format(at, "f")
        apply, fields = f"{trimmed(value)} {facts.output_unit}", ("reading",)
        title = (
            f"{verb} {now.end} with the current fixed at {apply}"
            if now.check_only
            else f"{verb} fix the current at {apply} and set {now.end} until {target}"
        )
    return Adjustment(
        done=False,
        hop=now.hop,
        hop_label=label,
        end=now.end,
        action="check" if now.check_only else "trim",
        title=title,
        apply=apply,
        apply_value=format(value, "f"),
        order="fix" if now.fixed else "apply",
        stands_for=sent,
        target=target,
        rig_hop="sensor" if now.hop == "transmitter" and now.aim is None else now.hop,
        aim=format(now.aim, "f") if now.aim is not None else "",
        direction=direction,
        fields=fields,
        columns=columns_of(fields if now.check_only else _as_read(fields), facts, {}),
        passes_left=left,
        advice=advice,
        history=history,
    )


def _as_read(fields: tuple[str, ...]) -> tuple[str, ...]:
    """Return the values of a trim in the order in which they are read: applied, before, after."""
    first = ("applied",) if "applied" in fields else ()
    return (*first, "before", *(name for name in fields if name not in first))


def _text(value: int | None) -> str:
    return "" if value is None else str(value)


def _target(job: Job, hop: str) -> str:
    facts, now = job.base.facts, job.adjusting
    to = show(adjust_to_percent(facts, job.settings), 2)
    if hop == "sensor":
        return f"the digital value equals the value applied, within {to} % of span"
    if hop == "receiver":
        current = ideal_output(facts.transfer, point_to_apply(facts, now.end))
        seen = show(indication(facts.transfer, facts.receiver, current), 2)
        return (
            f"the control room shows {seen} {facts.shown_unit} at {show(current, 2)} "
            f"{facts.output_unit}, and what the current means at any other, within {to} % of span"
        )
    wanted = now.plan.target_reading if now.plan else now.aim
    value = show(wanted, 3) if wanted is not None else ""
    return f"the meter reads {value} {facts.output_unit}, within {to} % of span"


def _line(job: Job, index: int) -> str:
    _, event = job.ledger.adjusted[index]
    return in_words(job.ledger, event)
