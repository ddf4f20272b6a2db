"""What a job keeps of its buffers: every immersion, and what the analyzer was told to take."""

from __future__ import annotations

from dataclasses import dataclass, field

from calibration.engine.job.events import Event
from calibration.engine.job.ledger import Ledger, Part
from calibration.families.ph.events import Accepted, Immersed

#: The step in which slope and offset of the analyzer are written down.
REPORTED = "reported"


@dataclass
class BufferPart(Part):
    """The buffers of a job."""

    immersions: list[tuple[Immersed, Event]] = field(default_factory=list)
    #: by role, in the present round
    accepted: dict[str, Event] = field(default_factory=dict)
    #: every one of them, for the record
    told: list[tuple[Accepted, Event]] = field(default_factory=list)

    def begin_again(self) -> None:
        """Forget what was taken in a round that failed."""
        self.accepted = {}


def buffers_of(ledger: Ledger) -> BufferPart:
    """Return the buffers of a job."""
    return ledger.part(BufferPart)


def add_immersed(ledger: Ledger, content: Immersed, event: Event) -> None:
    """Put the electrode into a buffer."""
    buffers_of(ledger).immersions.append((content, event))


def add_accepted(ledger: Ledger, content: Accepted, event: Event) -> None:
    """Let the analyzer take a point: that changes it, and voids what it reported before."""
    part = buffers_of(ledger)
    part.accepted[content.role] = event
    part.told.append((content, event))
    ledger.changes += 1
    for name in ("slope", "offset"):
        ledger.recorded.pop((REPORTED, name), None)
    ledger.decided.pop(REPORTED, None)
