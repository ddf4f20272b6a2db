"""What a job asks once something went wrong: how it is left, how far it may be used, what follows.

Never "put it back": what is true is asked, and who has it.
"""

from __future__ import annotations

from dataclasses import replace

from calibration.engine.job.events import Event
from calibration.engine.job.history import LEFT_WORDS
from calibration.engine.job.job import Job
from calibration.engine.judging.outcome import standing
from calibration.engine.judging.repeating import first_answer_outside
from calibration.engine.view.asks import Choice, Form, Value
from calibration.kernel.errors import InputError

LEFT = Form(
    kind="left_as",
    title="How is it left?",
    why="It is not put back as good. Say what is true now, and who has it.",
    choices=tuple(Choice(id=id, label=words) for id, words in LEFT_WORDS.items()),
    fields=(
        Value(
            number=False,
            id="to",
            label="Who has it now",
            hint="name",
            required=True,
            often=("workshop", "operator of the shift"),
        ),
        Value(
            number=False,
            id="tag",
            label="Tag or lock on it",
            hint="number or words",
            required=False,
            often=("red tag",),
        ),
        Value(
            number=False,
            id="told",
            label="Who was told",
            hint="name",
            required=True,
            often=("operator and planner",),
        ),
    ),
)
LIMIT = Form(
    kind="limited",
    title="How far may it be used?",
    why="It reads outside its limits and stays in service: the limit stands on the certificate.",
    fields=(
        Value(
            number=False,
            id="limit",
            label="Use is limited to",
            hint="range, purpose",
            required=True,
            often=("indication only, no trip and no invoice by it",),
        ),
        Value(number=False, id="until", label="Until", hint="day, or what is done", required=False),
    ),
)
IMPACT = Form(
    kind="impact",
    title="Out of limits: what was affected?",
    why="Since it was last good it may have misled somebody. This stays on a list until it is "
    "worked off.",
    fields=(
        Value(
            number=False,
            id="last_good",
            label="Last known good",
            hint="day or check",
            required=True,
            often=("not known",),
        ),
        Value(
            number=False,
            id="affected",
            label="May have affected",
            hint="product, trip, earlier alarms; none, and why",
            required=True,
            often=("indication only: nothing", "product since then", "alarms and trips since then"),
        ),
        Value(
            number=False,
            id="told",
            label="Who was told",
            hint="name",
            required=True,
            often=("shift supervisor", "planner"),
        ),
    ),
)


def asked(job: Job) -> tuple[Form, ...]:
    """Return what is asked now and not answered, the most urgent first."""
    ledger = job.ledger
    if not ledger.opened.asks or ledger.signed is not None or ledger.voided is not None:
        return ()
    found = []
    now = ledger.stopped and (not _by_a_line(job) or _returning(job))
    if now and ledger.left_as is None:
        found.append(LEFT)
    at_the_end = job.current is not None and job.current.kind == "sign"
    if not at_the_end:
        return tuple(found)
    if not ledger.stopped and ledger.limited is None and _outside(job):
        found.append(LIMIT)
    if ledger.impact is None and _found_outside(job):
        found.append(_impact(ledger.opened.last_good))
    return tuple(found)


def _impact(last_good: str) -> Form:
    """Return the question what follows, with the last good check on record first."""
    if not last_good:
        return IMPACT
    first, *others = IMPACT.fields
    first = replace(first, often=(f"check of {last_good}", *first.often))
    return replace(IMPACT, fields=(first, *others))


def _by_a_line(job: Job) -> bool:
    """Tell whether only a line that is not so keeps it from being put back as good."""
    ledger = job.ledger
    return ledger.ended is None and not ledger.decided_to_stop


def _returning(job: Job) -> bool:
    return job.current is not None and job.current.stage == "return"


def _outside(job: Job) -> bool:
    if job.ledger.lacking or job.lacks:
        return True
    return any(figures.mark == "outside" for _, figures in standing(job))


def _found_outside(job: Job) -> bool:
    """Tell whether anything read outside before anything was changed."""
    if not job.ledger.changes and any(f.mark == "outside" for _, f in standing(job)):
        return True
    if first_answer_outside(job):
        return True
    runs = job.ledger.method.runs_of("found")
    return any(job.figures(r.id).order and job.figures(r.id).mark == "outside" for r in runs)


def answered(job: Job, event: Event, known: dict[str, Event]) -> None:
    """Refuse an answer that was not asked for, or that says nothing.

    Raises
    ------
    InputError
        ``answer.not_asked``, ``answer.missing``.
    """
    wanted = next((a for a in (LEFT, LIMIT, IMPACT) if a.kind == event.kind), LEFT)
    given = {LEFT.kind: job.ledger.left_as, LIMIT.kind: job.ledger.limited}.get(
        event.kind, job.ledger.impact
    )
    if given is None and event.kind not in [a.kind for a in asked(job)]:
        raise InputError(
            "answer.not_asked", "kind", "That is not asked here.", "Go on with the present step."
        )
    in_service = getattr(event.content, "state", "") == "in_service"
    for field in wanted.fields:
        text = getattr(event.content, field.id)
        if field.required and not text.strip() and not (in_service and field.id == "to"):
            raise InputError(
                "answer.missing", f"data.{field.id}", f"'{field.label}' is empty.", "Fill it in."
            )


def taken_over(job: Job, event: Event, known: dict[str, Event]) -> None:
    """Refuse to take over something that is not on, or that one has already.

    Raises
    ------
    InputError
        ``takeover.nothing_on``, ``takeover.own``.
    """
    on = {step.id for step, _ in job.ledger.on_now()}
    if not event.content.on or not set(event.content.on) <= on:
        raise InputError(
            "takeover.nothing_on",
            "data.on",
            "Something of that is not on any more.",
            "Look again at what is on, then accept it.",
        )
    if all(job.ledger.holder(id).person == event.person for id in event.content.on):
        raise InputError("takeover.own", "data.on", "You have it already.", "Nothing to do.")


def may_void(job: Job) -> bool:
    """Tell whether a job may end as opened by mistake: nothing on, measured or set."""
    ledger = job.ledger
    locked = ledger.locks.on or ledger.locks.past
    if ledger.signed is not None or ledger.on_now() or locked or job.family.on(job):
        return False
    read = ledger.attempts or any(ledger.readings[r.id] for r in ledger.method.runs)
    return not (ledger.changes or ledger.written or read)


def voided(job: Job, event: Event, known: dict[str, Event]) -> None:
    """Refuse to void a job while something is on, or once something was measured.

    Raises
    ------
    InputError
        ``void.something_on``, ``void.measured``.
    """
    if job.ledger.on_now() or job.family.on(job):
        raise InputError(
            "void.something_on", "kind", "Something is still on.", "Take it off first."
        )
    if not may_void(job):
        raise InputError(
            "void.measured",
            "kind",
            "Something was measured or set in this job: that stays on record.",
            "Finish it, or stop with a reason.",
        )


def followed_up(job: Job, event: Event, known: dict[str, Event]) -> None:
    """Refuse to work off what is not on the list.

    Raises
    ------
    InputError
        ``followup.none``, ``reason.missing``.
    """
    if job.ledger.signed is None or job.ledger.impact is None or job.ledger.followed_up:
        raise InputError(
            "followup.none", "kind", "There is nothing to work off here.", "Nothing to do."
        )
    _said(event.content.what, "data.what", "Say what was found.")


def _said(text: str, field: str, what: str) -> None:
    if not text.strip():
        raise InputError("reason.missing", field, what, "Say it in a few words.")


ADMIT = {
    "left_as": answered,
    "limited": answered,
    "impact": answered,
    "taken_over": taken_over,
    "voided": voided,
    "followed_up": followed_up,
}
