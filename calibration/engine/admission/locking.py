"""What may be entered of locks, and what may not while one hangs.

Nothing runs while a lock is on; nobody takes off another's lock; nothing is signed with one left.
Site procedure and local code come first: this is the record of them, and no lock by itself.
"""

from __future__ import annotations

from calibration.engine.admission.admit_values import not_blocked
from calibration.engine.job.events import Event
from calibration.engine.job.job import Job
from calibration.engine.job.locks import HANG, LockEnded, LockHung, LockTakenOff
from calibration.engine.method.method import Step
from calibration.kernel.errors import InputError

#: Entries that say that something ran.
RUNS = ("reading_taken", "placed", "left_out")
PLANNER = "planner"


def refuse_while_locked(job: Job, event: Event) -> None:
    """Refuse what starts something, or was read of what runs, while anybody's lock is on.

    Raises
    ------
    InputError
        ``lock.on``.
    """
    on = job.ledger.locks.on
    if not on:
        return
    step = job.ledger.method.step(getattr(event.content, "step", ""))
    starts = step is not None and step.starts and event.kind in ("confirmed", "put_on", "taken_off")
    if event.kind not in RUNS and not starts:
        return
    who = " and ".join(sorted({e.by for e in on.values()}))
    raise InputError(
        "lock.on",
        "kind",
        f"A lock is on: {who}. Nothing runs.",
        "Whoever hung it takes it off first, by their own hand.",
    )


def refuse_under_power(job: Job, event: Event) -> None:
    """Refuse a step with hands in it while power is on, whatever the order of steps.

    Raises
    ------
    InputError
        ``power.on``.
    """
    step = job.ledger.method.step(getattr(event.content, "step", ""))
    if step is None or not step.hands or event.kind in ("line_failed", "noted"):
        return
    if job.power == "on":
        raise InputError(
            "power.on",
            "kind",
            "Power is on: no hand goes in.",
            "Switch it off, secure it and prove it dead there first.",
        )


def _step(job: Job, id: str) -> Step:
    step = job.step(id)
    if step.kind != HANG:
        raise InputError(
            "step.wrong_kind", "data.step", f"'{step.title}' hangs no lock.", "Go on with the step."
        )
    return step


def _said(text: str, field: str, what: str, remedy: str) -> None:
    if not text.strip():
        raise InputError("reason.missing", f"data.{field}", what, remedy)


def hung(job: Job, event: Event, known: dict[str, Event]) -> None:
    """Refuse a lock where no hands go in, a second one of a person, or one that is not proven.

    Raises
    ------
    InputError
        ``step.*``, ``lock.not_now``, ``lock.yours_on``, ``reason.missing``.
    """
    step = _step(job, event.content.step)
    not_blocked(job, step)
    if step.id in job.ledger.locks.closed:
        raise InputError(
            "lock.not_now",
            "data.step",
            "The work under these locks is done, and the last one is off.",
            "Hang your lock where hands go in next.",
        )
    if (step.id, event.person) in job.ledger.locks.on:
        raise InputError("lock.yours_on", "data.step", "Your lock is on.", "Nothing to do.")
    _said(
        event.content.proven,
        "proven",
        "It is not said how it was proven that nothing starts.",
        "Try to start it, then say what you tried.",
    )


def taken_off(job: Job, event: Event, known: dict[str, Event]) -> None:
    """Refuse to take off a lock that is not one's own.

    Raises
    ------
    InputError
        ``lock.not_yours``.
    """
    step = _step(job, event.content.step)
    if (step.id, event.person) not in job.ledger.locks.on:
        who = " and ".join(e.by for e in job.ledger.locks.on_step(step.id))
        raise InputError(
            "lock.not_yours",
            "data.step",
            f"The lock that is on is of {who}." if who else "No lock of yours is on.",
            "Only who hung it takes it off; of somebody absent a planner decides."
            if who
            else "Nothing to do.",
        )


def ended(job: Job, event: Event, known: dict[str, Event]) -> None:
    """Refuse a decision about a lock that is not on, by anybody but a planner, or without grounds.

    Raises
    ------
    InputError
        ``lock.not_on``, ``lock.not_planner``, ``lock.own``, ``reason.missing``.
    """
    content = event.content
    step = _step(job, content.step)
    if (step.id, content.account) not in job.ledger.locks.on:
        raise InputError(
            "lock.not_on", "data.account", "No lock of that person is on.", "Look again."
        )
    if event.role != PLANNER:
        raise InputError(
            "lock.not_planner",
            "kind",
            "Only a planner decides about the lock of somebody absent.",
            "Call the planner on duty; the site's procedure says how.",
        )
    if content.account == event.person:
        raise InputError(
            "lock.own", "data.account", "It is your own lock.", "Take it off by your own hand."
        )
    _said(content.procedure, "procedure", "The procedure is missing.", "Name it.")
    _said(content.reached, "reached", "It is not said who was reached.", "Say who, or how tried.")
    _said(content.reason, "reason", "It is not said why it cannot wait.", "Say why.")


def in_words(title: str, content: LockHung | LockTakenOff | LockEnded) -> str:
    """Return an entry about a lock in words; its person stands beside it."""
    match content:
        case LockHung():
            return f"{title}: own lock hung ({content.proven})"
        case LockTakenOff():
            return f"{title}: own lock taken off"
        case LockEnded():
            return (
                f"{title}: the lock of {content.account} ended by decision. {content.reason}. "
                f"By {content.procedure}; reached: {content.reached}"
            )


ADMIT = {"lock_hung": hung, "lock_taken_off": taken_off, "lock_ended": ended}
