"""What happens at a mass flow meter: a live zero is read, a new zero is stored."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from calibration.engine.events import Event
from calibration.engine.ledger import Ledger, Part
from calibration.engine.reads import Reads
from calibration.families.massflow.words import ZEROING
from calibration.kernel.codec import about
from calibration.kernel.errors import InputError


@dataclass(frozen=True, kw_only=True)
class LiveZero:
    """What is seen beside a live zero."""

    spread: Decimal | None = about("scatter of it", unit="kg/h", default=None)
    mean_s: Decimal | None = about("mean over", unit="s", default=None)
    drive_gain: Decimal | None = about("drive gain", unit="%", default=None)
    density: Decimal | None = about("density", unit="kg/m³", default=None)


@dataclass(frozen=True, kw_only=True)
class Zeroed:
    """The meter stored a new zero."""

    step: str = about("step")
    before: Decimal | None = about("live zero before", unit="kg/h", default=None)
    after: Decimal = about("live zero afterwards", unit="kg/h")


class ZeroPart(Part):
    """What a job keeps of zeroing."""

    def __init__(self) -> None:
        #: in the present round; and all of them
        self.now: list[tuple[Zeroed, Event]] = []
        self.all: list[tuple[Zeroed, Event]] = []

    def begin_again(self) -> None:
        """Begin a round: it is zeroed anew."""
        self.now = []


def zeroing(ledger: Ledger) -> ZeroPart:
    """Return what a job keeps of zeroing."""
    return ledger.part(ZeroPart)


def add(ledger: Ledger, content: Zeroed, event: Event) -> None:
    """Store a new zero."""
    zeroing(ledger).now.append((content, event))
    zeroing(ledger).all.append((content, event))
    ledger.changes += 1


def tries_left(job: Reads) -> int:
    """Return how often the meter may still be zeroed in this round: what it refused counts."""
    judged = job.ledger.method.judging("found")
    decided = job.ledger.decided.get(judged.id) if judged is not None else None
    since = decided[1].seq if decided is not None else 0
    refused = sum(c.step == ZEROING and e.seq > since for c, e in job.ledger.refused)
    return int(job.settings.number("zero_attempts")) - refused


def admit(job: Reads, event: Event, known: dict[str, Event]) -> None:
    """Refuse a new zero where none is due, or once it was tried as often as the site says.

    Raises
    ------
    InputError
        ``step.not_now``, ``zero.tried_out``.
    """
    step = job.current
    if step is None or step.id != ZEROING or event.content.step != ZEROING:
        raise InputError(
            "step.not_now", "data.step", "No zero is set now.", "Go on with the present step."
        )
    if tries_left(job) <= 0:
        raise InputError(
            "zero.tried_out",
            "data.step",
            "It was tried as often as the site says.",
            "Find the cause: flow or noise. Verify the zero as it is, then stop.",
        )


def in_words(ledger: Ledger, content: Zeroed) -> str:
    """Return a new zero in words."""
    before = f"from {content.before:f} " if content.before is not None else ""
    return f"Zeroed: live zero {before}to {content.after:f} kg/h"
