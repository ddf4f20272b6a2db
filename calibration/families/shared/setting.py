"""Something that is set at the display of a device: what it showed before, and shows now."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from calibration.engine.job.events import Event
from calibration.engine.job.ledger import Ledger, Part
from calibration.engine.job.reads import Reads
from calibration.engine.method.family import EventKind
from calibration.engine.method.method import Step
from calibration.kernel.codec import about
from calibration.kernel.errors import InputError


@dataclass(frozen=True, kw_only=True)
class SetAt:
    """The device was set in a step."""

    step: str = about("step")
    before: Decimal | None = about("what it showed before", default=None)
    after: Decimal = about("what it shows now")


class SetPart(Part):
    """What a job keeps of what was set."""

    def __init__(self) -> None:
        #: by step, in the present round; and all of it, for the record
        self.now: dict[str, tuple[SetAt, Event]] = {}
        self.all: list[tuple[SetAt, Event]] = []

    def begin_again(self) -> None:
        """Begin a round: it is set anew."""
        self.now = {}


def set_of(ledger: Ledger) -> SetPart:
    """Return what a job keeps of what was set."""
    return ledger.part(SetPart)


def add(ledger: Ledger, content: SetAt, event: Event) -> None:
    """Set it."""
    set_of(ledger).now[content.step] = (content, event)
    set_of(ledger).all.append((content, event))
    ledger.changes += 1


def tries_left(job: Reads, step: str, parameter: str) -> int:
    """Return how often a device may still be set in this round: what it refused counts."""
    judged = job.ledger.method.judging("found")
    decided = job.ledger.decided.get(judged.id) if judged is not None else None
    since = decided[1].seq if decided is not None else 0
    refused = sum(c.step == step and e.seq > since for c, e in job.ledger.refused)
    return int(job.settings.number(parameter)) - refused


def admit(job: Reads, event: Event, known: dict[str, Event]) -> None:
    """Refuse to set what is not to be set now.

    Raises
    ------
    InputError
        ``step.not_now``.
    """
    step = job.current
    if step is None or step.id != event.content.step or step.kind != KIND:
        raise InputError(
            "step.not_now", "data.step", "Nothing is set there now.", "Go on with the present step."
        )


def done(job: Reads, step: Step) -> bool:
    """Tell whether it was set in this round."""
    return step.id in set_of(job.ledger).now


def in_words(ledger: Ledger, content: SetAt) -> str:
    """Return it in words."""
    step = ledger.method.step(content.step)
    title = step.title if step is not None else content.step
    unit = ledger.facts.output_unit
    before = f"from {content.before:f} " if content.before is not None else ""
    return f"{title}: {before}to {content.after:f} {unit}"


#: The kind of a step in which something is set at the display.
KIND = "set_at"
EVENT = EventKind(content=SetAt, add=add, admit=admit, words=in_words, sets="table")
