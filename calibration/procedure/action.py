"""The one next action, in words."""

from __future__ import annotations

from dataclasses import replace

from calibration.procedure.adjusting import adjust_to_percent, point_to_apply
from calibration.procedure.evaluation import RunFigures
from calibration.procedure.job import Job
from calibration.procedure.method import STAGES, Step
from calibration.procedure.runview import TITLES
from calibration.procedure.state import Action, Adjustment
from calibration.procedure.wording import HOP_WORDS, in_words
from calibration.rounding import show, trimmed

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
    target="",
    direction="",
    fields=(),
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
            title="This job is signed",
            why="A signed job never changes. To correct it, follow it with a new job.",
            caution="",
            then="",
            can_waive=False,
        )
    title, caution, then = step.instruction, step.caution, _after(job, step)
    kicker = f"{_STAGE[step.stage]} · {step.title}"
    if step.kind == "capture":
        figures = job.as_found if step.run == "as_found" else job.as_left
        kicker, title, caution, then = _capture(job, figures, step)
    elif step.kind == "adjust":
        now = adjustment_state(job)
        title = now.title
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
    index = max(0, figures.current)
    point = figures.plan[index]
    unit = job.ledger.facts.input_unit
    way = "going up" if point.direction == "up" else "coming down"
    kicker = f"{TITLES[step.run]} · point {index + 1} of {len(figures.plan)} · {way}"
    verb = "Bring the pressure up to" if point.direction == "up" else "Bring the pressure down to"
    if index == 0:
        verb = "Start at"
    title = f"{verb} {trimmed(point.nominal)} {unit} and hold"
    side = "below" if point.direction == "up" else "above"
    caution = (
        f"Come from {side} only. If you pass {trimmed(point.nominal)} {unit}, go back and come "
        "again, or the up-and-down difference means nothing."
    )
    if point.approach is not None:
        beyond = f"{trimmed(point.approach)} {unit}"
        caution = f"First go to {beyond}, as far as ratings allow, then come from {side} only."
    rest = [trimmed(p.nominal) for p in figures.plan[index + 1 : index + 4]]
    then = ", ".join(f"{r} {unit}" for r in rest) or _after(job, step)
    return kicker, title, "" if index == 0 else caution, then


def adjustment_state(job: Job) -> Adjustment:
    """Return the adjustment to make now, with what was done so far."""
    statuses = job.statuses.get("adjust")
    if statuses in (None, "skipped") or job.choice("judge") != "adjust":
        return NONE
    now = job.adjusting
    facts = job.ledger.facts
    history = tuple(_line(job, i) for i in range(len(job.ledger.adjusted)))
    if now.hop is None or now.done:
        return replace(NONE, done=now.done, history=history)
    at = point_to_apply(facts, now.end)
    apply = f"{trimmed(at)} {facts.input_unit}"
    label = HOP_WORDS[now.hop]
    target, direction, advice, left = "", "", "", ""
    if now.plan is not None and now.plan.next is not None and not now.check_only:
        target = _target(job, now.hop)
        direction = now.plan.direction or ""
        advice = now.plan.advice
        left = str(now.plan.passes_left) if now.plan.passes_left is not None else ""
    verb = "Check" if now.check_only else label.capitalize() + ":"
    title = (
        f"{verb} {now.end} at {apply}"
        if now.check_only
        else f"{verb} apply {apply} and set {now.end} until {target}"
    )
    fields = tuple(f for f in _FIELDS[now.hop] if f != "digital" or facts.smart)
    return Adjustment(
        done=False,
        hop=now.hop,
        hop_label=label,
        end=now.end,
        action="check" if now.check_only else "trim",
        title=title,
        apply=apply,
        apply_value=format(at, "f"),
        target=target,
        direction=direction,
        fields=fields,
        passes_left=left,
        advice=advice,
        history=history,
    )


def _target(job: Job, hop: str) -> str:
    facts, now = job.ledger.facts, job.adjusting
    to = show(adjust_to_percent(job.ledger, job.settings), 2)
    if hop == "sensor":
        return f"the digital value equals the pressure applied, within {to} % of span"
    if hop == "receiver":
        return f"the control room shows what the current means, within {to} % of span"
    wanted = now.plan.target_reading if now.plan else None
    value = show(wanted, 3) if wanted is not None else ""
    return f"the meter reads {value} {facts.output_unit}, within {to} % of span"


def _line(job: Job, index: int) -> str:
    _, event = job.ledger.adjusted[index]
    return in_words(job.ledger.method, job.ledger.facts, event)
