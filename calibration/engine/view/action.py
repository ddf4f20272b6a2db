"""The adjustment to make now, in words."""

from __future__ import annotations

from dataclasses import replace

from calibration.engine.adjusting import adjust_to_percent, point_to_apply
from calibration.engine.conditions import trimming
from calibration.engine.history import HOP_WORDS, in_words
from calibration.engine.job import Job
from calibration.engine.view.columns import columns_of
from calibration.engine.view.state import Adjustment
from calibration.kernel.rounding import show, trimmed
from calibration.signals.transfer import ideal_output, indication

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
