"""Whether an event may be added to a job now. It says what is wrong and what to do instead."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from calibration.decisions.reference import out_of_range
from calibration.engine.admission.admit_incidents import ADMIT as SETBACKS
from calibration.engine.admission.admit_incidents import without
from calibration.engine.admission.admit_values import (
    left_out,
    not_blocked,
    noted,
    reading_taken,
    refuse_thawing,
)
from calibration.engine.admission.follow_ups import ADMIT as ASKED
from calibration.engine.admission.locking import ADMIT as LOCKING
from calibration.engine.admission.locking import refuse_under_power, refuse_while_locked
from calibration.engine.admission.retracting import retractable
from calibration.engine.job import events as ev
from calibration.engine.job.events import Event
from calibration.engine.job.fold import to_close
from calibration.engine.job.job import Job
from calibration.engine.job.kit import refuse_unusable, role_quantity
from calibration.engine.job.ledger import NOT_HERE, REPAIR, WITHOUT
from calibration.engine.job.recorded import same_value
from calibration.engine.method.method import Step
from calibration.engine.view.verdict import judgement
from calibration.kernel.errors import InputError, one_of
from calibration.kernel.numbers import exact, parse_decimal

#: What may still come once a job is signed.
AFTER_SIGNATURE = ("reviewed", "followed_up")


def admit(job: Job, event: Event, known: dict[str, Event]) -> None:
    """Refuse an event that does not fit the job as it is.

    Parameters
    ----------
    job : Job
        As it is before the event.
    event : Event
    known : dict
        All events of the job by id.

    Raises
    ------
    InputError
        ``job.*``, ``step.*``, ``reason.missing``, ``slip.suspected`` (a question: the same
        event with ``kept`` true is admitted), ``reference.*``, ``reading.*``, ``choice.*``,
        and those of ``engine.asked``.
    """
    with exact():
        if event.kind == "opened":
            raise InputError("job.opened_twice", "kind", "The job is open.", "Go on with it.")
        if job.ledger.voided is not None:
            raise InputError(
                "job.voided", "kind", "This job was voided.", "Open a new one on the instrument."
            )
        if job.ledger.signed is not None and event.kind not in AFTER_SIGNATURE:
            raise InputError(
                "job.signed",
                "kind",
                "This job is signed and never changes.",
                "Follow it with a new job.",
            )
        refuse_while_locked(job, event)
        refuse_under_power(job, event)
        if job.family.bars is not None:
            job.family.bars(job, event)
        own = job.family.events.get(event.kind)
        (own.admit if own is not None else check_of(event.kind))(job, event, known)


def check_of(kind: str) -> Callable[[Job, Any, dict[str, Event]], None]:
    """Return how an event is checked; one that belongs to another family is refused.

    Raises
    ------
    InputError
        ``event.not_here``.
    """
    found = _CHECKS.get(kind)
    if found is None:
        raise InputError(
            "event.not_here",
            "kind",
            f"'{kind[:40]}' is nothing that happens in this job.",
            "Go on with the present step.",
        )
    return found


def _reach(job: Job, step_id: str, kind: str) -> Step:
    step = job.step(step_id)
    if step.kind != kind:
        raise InputError(
            "step.wrong_kind",
            "data.step",
            f"'{step.title}' is a step of another kind ({step.kind}).",
            f"Send this to a step of kind {kind}.",
        )
    not_blocked(job, step)
    return step


def _reason(text: str, what: str) -> None:
    if not text.strip():
        raise InputError(
            "reason.missing", "data.reason", f"{what} takes a reason.", "Say why in a few words."
        )


def _confirmed(job: Job, event: Event, known: dict[str, Event]) -> None:
    step = _reach(job, event.content.step, "checklist")
    if event.content.item not in [i.id for i in step.items]:
        raise InputError(
            "step.unknown_item",
            "data.item",
            f"'{event.content.item[:60]}' is no line of '{step.title}'.",
            one_of(i.id for i in step.items),
        )


def _recorded(job: Job, event: Event, known: dict[str, Event]) -> None:
    content = event.content
    step = _reach(job, content.step, "record")
    field = next((f for f in job.fields(step) if f.id == content.field), None)
    if field is None:
        raise InputError(
            "step.unknown_field",
            "data.field",
            f"'{content.field[:60]}' is no field of '{step.title}'.",
            one_of(f.id for f in step.fields),
        )
    if not content.value.strip():
        raise InputError(
            "value.missing", "data.value", f"'{field.label}' is empty.", "Type what you read."
        )
    if len(content.value) > 120:
        raise InputError(
            "text.too_long", "data.value", "More than 120 characters.", "Use a note for the rest."
        )
    if field.choices and content.value not in field.choices:
        raise InputError(
            "value.choice",
            "data.value",
            f"'{content.value[:40]}' is none of the answers to '{field.label}'.",
            "Use one of: " + ", ".join(field.choices) + ".",
        )
    if field.kind == "number":
        parse_decimal(content.value, "data.value")
    job.family.shape.refuse(job, step, field, content.value)
    refuse_thawing(job, event)


def _kit_chosen(job: Job, event: Event, known: dict[str, Event]) -> None:
    content = event.content
    roles = [r for s in job.ledger.method.steps if s.roles for r in job.roles(s)]
    role = next((r for r in roles if r.id == content.role), None)
    if role is None:
        raise InputError(
            "kit.unknown_role",
            "data.role",
            f"'{content.role[:60]}' is not needed in this job.",
            one_of(r.id for r in roles),
        )
    if job.as_found.taken and content.role in job.ledger.kit:
        raise InputError(
            "kit.in_use",
            "data.role",
            "Readings were taken with the reference chosen before.",
            "Take those readings back first, or finish with it.",
        )
    quantity = role_quantity(job.facts_found, role)
    if content.asset.quantity != quantity:
        raise InputError(
            "reference.wrong_quantity",
            "data.asset",
            f"{content.asset.asset} does not measure {quantity.replace('_', ' ')}.",
            f"Choose a reference for {quantity.replace('_', ' ')}.",
        )
    refuse_unusable(content.asset, job.day_of(event))
    own = job.family.assets.get(role.quantity)
    if own is not None:
        own.admit(job, role, content.asset, content.reason)
        return
    judged = job.warning_for(content.asset)
    if judged.ok:
        return
    if out_of_range(judged):
        raise InputError(
            "reference.range", "data.asset", judged.why_not, "Choose one with a wider range."
        )
    if not content.reason.strip():
        raise InputError(
            "reference.not_adequate",
            "data.reason",
            f"{content.asset.asset} is not accurate enough here. {judged.why_not}",
            "Choose a better reference, or say why this one is used.",
        )


def _put_on(job: Job, event: Event, known: dict[str, Event]) -> None:
    step = _reach(job, event.content.step, "put_on")
    if step.id in job.ledger.put_on:
        raise InputError("step.done", "data.step", f"'{step.title}' is done.", "Go on.")


def _taken_off(job: Job, event: Event, known: dict[str, Event]) -> None:
    _reach(job, event.content.step, "take_off")


def _timer(job: Job, event: Event, known: dict[str, Event]) -> None:
    step = _reach(job, event.content.step, "timer")
    if event.kind == "timer_waived":
        _reason(event.content.reason, "Going on without the wait")
    elif step.id in job.ledger.timers:
        raise InputError("timer.running", "data.step", "The timer was started.", "Wait for it.")


def _written(job: Job, event: Event, known: dict[str, Event]) -> None:
    content = event.content
    step = _reach(job, content.step, "set")
    item = next((i for i in step.sets if i.id == content.setting), None)
    wanted = job.to_write(step, item) if item is not None else None
    if item is None or wanted is None:
        raise InputError(
            "setting.unknown",
            "data.setting",
            f"'{content.setting[:60]}' is not written in '{step.title}'.",
            "Write one of those that are listed.",
        )
    if not same_value(content.value, wanted):
        raise InputError(
            "setting.other_value",
            "data.value",
            f"{item.label} is to be {wanted} here, not {content.value[:40]}.",
            f"Write {wanted}.",
        )
    if not job.took(item, content.value, content.read_back):
        raise InputError(
            "setting.not_taken",
            "data.read_back",
            f"The device reads {content.read_back[:40] or 'nothing'}, not {content.value}: "
            "what was written does not count yet.",
            "Wait a moment and read it again; else write it again.",
        )


def _placed(job: Job, event: Event, known: dict[str, Event]) -> None:
    content = event.content
    step = job.step(content.run, "data.run")
    not_blocked(job, step)
    alone = next((r.id for s in job.ledger.method.steps for r in s.roles if r.alone), "")
    block = job.ledger.kit.get(alone)
    if block is None or block.asset.asset != content.block:
        raise InputError(
            "block.not_chosen",
            "data.block",
            f"{content.block[:40]} is not the block chosen for this job.",
            f"Put it into {block.asset.asset}." if block else "Choose a block first.",
        )
    if content.run in job.ledger.placed:
        raise InputError(
            "block.placed", "data.block", "The sensor is in the block.", "Wait for its points."
        )


def _decided(job: Job, event: Event, known: dict[str, Event]) -> None:
    content = event.content
    step = job.step(content.step)
    not_blocked(job, step)
    if content.choice == NOT_HERE and step.if_not:
        _reason(content.reason, f"'{step.if_not}'")
        return
    if step.kind == "record":
        _accept_mismatch(job, step, content)
        return
    if step.kind == "checklist" and content.choice == WITHOUT:
        without(job, step, content.reason)
        return
    own = job.family.steps.get(step.kind)
    if own is not None and own.ends:
        _end_early(step, own.ends, content)
        return
    if step.kind != "decide":
        raise InputError(
            "step.wrong_kind", "data.step", f"'{step.title}' is no decision.", "Do the step."
        )
    if step.judges == "found" and job.ledger.changes:
        raise InputError(
            "choice.too_late",
            "data.choice",
            "The instrument was adjusted on this decision.",
            "Finish adjusting, or take the adjustments back first.",
        )
    choices = {c.id: c for c in judgement(job).choices}
    chosen = choices.get(content.choice)
    if chosen is None or chosen.id == REPAIR:
        raise InputError(
            "choice.unknown",
            "data.choice",
            f"'{content.choice[:60]}' cannot be chosen here.",
            one_of(choices, "Nothing is decided here now: go on with the present step."),
        )
    if chosen.needs_reason:
        _reason(content.reason, f"'{chosen.label}'")


def _accept_mismatch(job: Job, step: Step, content: ev.Decided) -> None:
    if content.choice == "later" and job.may_wait(step):
        return
    if content.choice != "accept" or not any(job.mismatch(step, f) for f in job.fields(step)):
        raise InputError(
            "choice.unknown", "data.choice", "There is nothing to accept here.", "Go on."
        )
    _reason(content.reason, "Going on with a difference")


def _end_early(step: Step, ends: Mapping[str, str], content: ev.Decided) -> None:
    if content.choice not in ends:
        raise InputError(
            "choice.unknown", "data.choice", f"'{step.title}' can only be ended.", one_of(ends)
        )
    _reason(content.reason, "Ending it early")


def _retracted(job: Job, event: Event, known: dict[str, Event]) -> None:
    target = known.get(event.content.event)
    if target is None:
        raise InputError(
            "retract.unknown",
            "data.event",
            "There is no such entry in this job.",
            "Reload the job.",
        )
    why = retractable(job.ledger, target)
    if why:
        raise InputError("retract.refused", "data.event", why, "Leave it as it is.")
    _reason(event.content.reason, "Taking an entry back")


def _signed(job: Job, event: Event, known: dict[str, Event]) -> None:
    missing = to_close(job)
    if missing or job.statuses[job.step_of("sign").id] == "blocked":
        raise InputError(
            "job.not_ready",
            "kind",
            "The job cannot be closed yet. " + " ".join(missing),
            "Do what is listed, then sign.",
        )


def _reviewed(job: Job, event: Event, known: dict[str, Event]) -> None:
    if job.ledger.signed is None:
        raise InputError(
            "job.not_signed",
            "kind",
            "Only a signed job can be reviewed.",
            "Wait for the signature.",
        )
    if job.ledger.reviewed is not None:
        raise InputError("job.reviewed", "kind", "It was reviewed already.", "Nothing to do.")
    if job.ledger.signed[1].person == event.person:
        raise InputError(
            "review.own_work",
            "kind",
            "Nobody reviews their own work.",
            "Have another person review it.",
        )


_CHECKS: dict[str, Callable[[Job, Any, dict[str, Event]], None]] = {
    "confirmed": _confirmed,
    "recorded": _recorded,
    "kit_chosen": _kit_chosen,
    "put_on": _put_on,
    "taken_off": _taken_off,
    "timer_started": _timer,
    "timer_waived": _timer,
    "reading_taken": reading_taken,
    "left_out": left_out,
    "written": _written,
    "placed": _placed,
    "decided": _decided,
    "noted": noted,
    "retracted": _retracted,
    **ASKED,
    **SETBACKS,
    **LOCKING,
    "signed": _signed,
    "reviewed": _reviewed,
}
