"""The adjustment to make now: its title, what is asked, what a rig is told."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from calibration.engine.job.history import in_words
from calibration.engine.job.reads import Reads
from calibration.engine.method.conditions import trimming
from calibration.engine.method.method import STAGES, Step
from calibration.engine.view.asks import Ask, Form, Sent, ToRig, Value, why, with_reason
from calibration.engine.view.blocks import Block
from calibration.engine.view.columns import columns_of
from calibration.families.shared.loop import progress
from calibration.families.shared.loop.progress import adjust_to_percent, point_to_apply
from calibration.families.shared.loop.trims import ENOUGH, HOP_WORDS, End, Hop, trims_of, way
from calibration.families.shared.loop.trims import KIND as EVENT
from calibration.kernel.rounding import show, trimmed
from calibration.signals.transfer import ideal_output, indication

#: The kind of a step in which it is adjusted.
KIND = "adjust"
RAISE_OR_LOWER = {"raise": "The output must go up. ", "lower": "The output must come down. "}
GO = {"fix": "Fix", "apply": "Go to"}
_FIELDS = {
    "sensor": ("applied", "digital"),
    "output": ("applied", "digital", "reading"),
    "receiver": ("applied", "reading", "indicated"),
    "transmitter": ("applied", "reading"),
}


@dataclass(frozen=True, kw_only=True)
class Adjustment:
    """The adjustment to make now."""

    hop: Hop
    end: End
    #: only read, not changed
    check: bool
    title: str
    apply: str
    #: what a rig is told: to apply an input, or to fix the current of the device
    order: Literal["apply", "fix"]
    apply_value: str
    #: sent as applied where nothing is; empty elsewhere
    stands_for: str
    target: str
    #: output to set a screw to
    aim: str
    direction: str
    columns: tuple[Value, ...]
    passes_left: str
    advice: str

    @property
    def rig_hop(self) -> Hop:
        """Return what a rig is told to trim: of a transmitter without screws, its sensor."""
        return "sensor" if self.hop == "transmitter" and not self.aim else self.hop


def history(job: Reads) -> tuple[str, ...]:
    """Return what was adjusted so far, in words."""
    return tuple(in_words(job.ledger, event) for _, event in trims_of(job.ledger).all)


def adjustment(job: Reads) -> Adjustment | None:
    """Return the adjustment to make now; none where there is none."""
    adjusting = next((s for s in job.ledger.method.steps if s.kind == KIND), None)
    if adjusting is None or job.statuses[adjusting.id] == "skipped" or not trimming(job):
        return None
    now = progress.now(job)
    if now.hop is None or now.done:
        return None
    facts = job.base.facts
    at = point_to_apply(facts, now.end)
    apply = f"{trimmed(at)} {facts.input_unit}"
    label = f"{now.end} screw" if way(job.ledger.method).screws else HOP_WORDS[now.hop]
    target, direction, advice, left = "", "", now.advice, now.passes_left
    if now.aim is not None and not now.check_only:
        target = _target(job, now.hop)
    if now.plan is not None and now.plan.next is not None and not now.check_only:
        target = _target(job, now.hop)
        direction = now.plan.direction or ""
        advice = now.plan.advice
        left = now.plan.passes_left
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
        hop=now.hop,
        end=now.end,
        check=now.check_only,
        title=title,
        apply=apply,
        order="fix" if now.fixed else "apply",
        apply_value=format(value, "f"),
        stands_for=sent,
        target=target,
        aim=format(now.aim, "f") if now.aim is not None else "",
        direction=direction,
        columns=columns_of(fields if now.check_only else _as_read(fields), facts, {}),
        passes_left="" if left is None else str(left),
        advice=advice,
    )


def heading(job: Reads, step: Step) -> tuple[str, str] | None:
    """Return kicker and title of the adjustment to make now; none at another step."""
    now = adjustment(job) if step.kind == KIND else None
    if now is None:
        return None
    return f"{dict(STAGES)[step.stage]} · {step.title}", now.title


def task(job: Reads) -> Ask | None:
    """Return the ask for the adjustment to make now; none at another step."""
    step = job.current
    now = adjustment(job) if step is not None and step.kind == KIND else None
    if step is None or now is None:
        return None
    data: dict[str, str | int] = {
        "hop": now.hop,
        "end": now.end,
        "action": "check" if now.check else "trim",
    }
    if now.stands_for:
        data["applied"] = now.stands_for
    said, made = [now.advice], trims_of(job.ledger).all
    if now.passes_left:
        must = RAISE_OR_LOWER.get(now.direction, "")
        said.append(f"{must}Expected passes still to go: {now.passes_left}")
    screws = way(job.ledger.method).screws
    order = f"Turn the {now.end} screw" if screws else f"Do the {HOP_WORDS[now.hop]}, {now.end}"
    return Ask(
        way="set",
        id=f"{now.hop}:{now.end}:{data['action']}:{len(made)}",
        button="Record the result",
        typed="Record the check" if now.check else "Record the adjustment",
        sends=Sent(kind=EVENT, data=data),
        values=now.columns,
        blocks=tuple(Block(kind="text", text=text) for text in said if text),
        go=ToRig(kind=now.order, label=f"{GO[now.order]} {now.apply}", value=now.apply_value),
        order=None
        if now.check
        else ToRig(
            kind="trim",
            label=order,
            hop=now.rig_hop,
            end=now.end,
            value=now.aim,
        ),
        if_not=(_enough(step),) if made else (),
        end=now.end,
        target=now.target,
    )


def _enough(step: Step) -> Form:
    """Return the answer that adjusting ends before both ends are steady."""
    return with_reason(
        "decided",
        "End adjusting",
        "What was set stays set; the as-left run says what it is worth.",
        why("Why end before both ends are steady?", "No further improvement", "The device refuses"),
        step=step.id,
        choice=ENOUGH,
    )


def _as_read(fields: tuple[str, ...]) -> tuple[str, ...]:
    """Return the values of a trim in the order in which they are read: applied, before, after."""
    first = ("applied",) if "applied" in fields else ()
    return (*first, "before", *(name for name in fields if name not in first))


def _target(job: Reads, hop: str) -> str:
    facts, now = job.base.facts, progress.now(job)
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
