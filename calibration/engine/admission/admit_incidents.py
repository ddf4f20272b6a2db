"""Whether a line may fail, a device may have refused, a repair may be made, a job may end."""

from __future__ import annotations

from calibration.engine.admission.admit_values import not_blocked
from calibration.engine.job.events import Event
from calibration.engine.job.job import Job
from calibration.engine.job.ledger import WITHOUT
from calibration.engine.judging.repairing import may_repair
from calibration.engine.method.method import Step
from calibration.kernel.errors import InputError, one_of


def _said(text: str, field: str, what: str, remedy: str) -> None:
    if not text.strip():
        raise InputError("reason.missing", field, what, remedy)


def line_failed(job: Job, event: Event, known: dict[str, Event]) -> None:
    """Refuse what is no line of a checklist that is due, or says nothing.

    Raises
    ------
    InputError
        ``step.*``, ``reason.missing``.
    """
    content = event.content
    step = job.step(content.step)
    not_blocked(job, step)
    lines = [i.id for i in step.items] if step.kind == "checklist" else []
    if content.item not in lines:
        raise InputError(
            "step.unknown_item",
            "data.item",
            f"'{content.item[:60]}' is no line of '{step.title}'.",
            one_of(lines, "Do the step."),
        )
    _said(content.what, "data.what", "It is not said what is not so.", "Say it in a few words.")


def without(job: Job, step: Step, reason: str) -> None:
    """Refuse to go on without a line that is a must, or that nobody said anything about.

    Raises
    ------
    InputError
        ``line.open``, ``line.must``, ``reason.missing``.
    """
    ledger = job.ledger
    open_ones = [i for i in step.items if (step.id, i.id) not in ledger.confirmed]
    unsaid = [i for i in open_ones if (step.id, i.id) not in ledger.failed]
    if unsaid or not open_ones:
        raise InputError(
            "line.open",
            "data.choice",
            "Every line is to be said first: so, or not so.",
            "Go through the other lines.",
        )
    for item in open_ones:
        if step.must(item):
            label = job.family.shape.line(job, step, item)
            raise InputError(
                "line.must",
                "data.choice",
                f"The job cannot go on without: {label[:1].lower()}{label[1:]}.",
                "Put it right and confirm the line, or end the job here.",
            )
    _said(reason, "data.reason", "Going on without it takes a reason.", "Say why in a few words.")


def may_go_without(job: Job, step: Step) -> bool:
    """Tell whether a job may go on without the lines that are not so."""
    if step.kind != "checklist" or job.choice(step.id) == WITHOUT:
        return False
    try:
        without(job, step, "why")
    except InputError:
        return False
    return True


def not_told(job: Job, event: Event, known: dict[str, Event]) -> None:
    """Refuse that a value could not be had where it has to be, is not asked for, or is there.

    Raises
    ------
    InputError
        ``step.*``, ``value.needed``, ``reason.missing``.
    """
    content = event.content
    step = job.step(content.step)
    not_blocked(job, step)
    asked = {f.id: f for f in job.fields(step) if job.waits_for(step, f)}
    field = asked.get(content.field)
    if field is None:
        raise InputError(
            "step.unknown_field",
            "data.field",
            f"'{content.field[:60]}' is not asked for in '{step.title}'.",
            one_of(asked, "Go on with the step."),
        )
    if field.barred:
        raise InputError(
            "value.needed",
            "data.field",
            f"{field.label} has to be told. {field.barred}",
            "Tell it, or stop this job with the reason.",
        )
    _said(content.reason, "data.reason", "Why it is not there is not said.", "Say it shortly.")


def may_end(job: Job) -> bool:
    """Tell whether a job may end here, before its last step."""
    step = job.current
    ledger = job.ledger
    if step is None or step.kind == "sign":
        return False
    return ledger.ended is None and not ledger.decided_to_stop


def ended(job: Job, event: Event, known: dict[str, Event]) -> None:
    """Refuse to end a job that was ended or is to be signed now.

    Raises
    ------
    InputError
        ``end.over``, ``reason.missing``.
    """
    if job.ledger.ended is not None or job.current is None or job.current.kind == "sign":
        raise InputError(
            "end.over", "kind", "There is nothing left to be ended.", "Go on with what is asked."
        )
    _said(event.content.reason, "data.reason", "Ending a job takes a reason.", "Say what is so.")


def sets(job: Job, step: Step) -> bool:
    """Tell whether a device is set in a step."""
    own = job.family.steps.get(step.kind)
    return step.may_refuse or step.kind == "set" or (own is not None and own.sets)


def refused(job: Job, event: Event, known: dict[str, Event]) -> None:
    """Refuse a refusal where nothing is set, or one without the device's word.

    Raises
    ------
    InputError
        ``step.*``, ``reason.missing``.
    """
    step = job.step(event.content.step)
    not_blocked(job, step)
    if job.current is not step or not sets(job, step):
        raise InputError(
            "step.wrong_kind", "data.step", "Nothing is set there now.", "Go on with the step."
        )
    _said(
        event.content.word,
        "data.word",
        "What the device said is missing.",
        "Give its own word: bad zero, bad span, no response, unstable.",
    )


def repaired(job: Job, event: Event, known: dict[str, Event]) -> None:
    """Refuse a repair where none is due, or one that does not say what was done.

    Raises
    ------
    InputError
        ``step.*``, ``repair.not_here``, ``repair.serial``, ``reason.missing``.
    """
    content = event.content
    step = job.step(content.step)
    not_blocked(job, step)
    if not may_repair(job, step):
        raise InputError(
            "repair.not_here",
            "data.step",
            "A repair follows a judgement, or a device that refused.",
            "Go on with the present step.",
        )
    _said(content.said, "data.said", "It is not said what was done.", "Say it in a few words.")
    if content.what == "sensor" and not content.serial.strip():
        raise InputError(
            "repair.serial",
            "data.serial",
            "A new sensor has a number of its own.",
            "Type its serial number, or 'none' where it bears none.",
        )


def may_begin_again(job: Job) -> str:
    """Return the run of the present step that was begun and is not whole; empty for none."""
    step = job.current
    if step is None or step.kind != "capture" or not step.run:
        return ""
    figures = job.figures(step.run)
    return step.run if figures.order and not figures.complete else ""


def begun_again(job: Job, event: Event, known: dict[str, Event]) -> None:
    """Refuse to begin a run again that is not under way, or without a reason.

    Raises
    ------
    InputError
        ``run.not_begun``, ``reason.missing``.
    """
    if event.content.run != may_begin_again(job):
        raise InputError(
            "run.not_begun", "data.run", "That run is not under way.", "Go on with the step."
        )
    _said(event.content.reason, "data.reason", "Beginning again takes a reason.", "Say what is so.")


def went_without(job: Job, event: Event, known: dict[str, Event]) -> None:
    """Refuse to go without a reference that must be there, or that was read with.

    Raises
    ------
    InputError
        ``kit.unknown_role``, ``kit.needed``, ``kit.in_use``.
    """
    name = event.content.role
    roles = [r for s in job.ledger.method.steps if s.roles for r in job.roles(s)]
    role = next((r for r in roles if r.id == name), None)
    if role is None:
        raise InputError(
            "kit.unknown_role",
            "data.role",
            f"'{name[:60]}' is not needed in this job.",
            one_of(r.id for r in roles),
        )
    if not role.instead:
        raise InputError(
            "kit.needed", "data.role", f"There is no way without: {role.label}.", "Choose one."
        )
    if any(job.ledger.readings[run.id] for run in job.ledger.method.runs):
        raise InputError(
            "kit.in_use",
            "data.role",
            "Readings were taken already.",
            "Take those readings back first, or finish with it.",
        )


ADMIT = {
    "begun_again": begun_again,
    "went_without": went_without,
    "line_failed": line_failed,
    "not_told": not_told,
    "ended": ended,
    "refused": refused,
    "repaired": repaired,
}
