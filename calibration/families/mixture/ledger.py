"""What a job keeps of its gases: which were read, and what was set."""

from __future__ import annotations

from dataclasses import dataclass, field
from decimal import Decimal

from calibration.engine.job.events import Event
from calibration.engine.job.ledger import Ledger, Part


@dataclass(frozen=True)
class Move:
    """Zero or span of a component, set: what it showed before and after. [its unit]"""

    channel: int
    end: str
    before: Decimal
    after: Decimal
    event: Event


@dataclass
class MixPart(Part):
    """The gases of a job."""

    #: by step, in the present round
    read: dict[str, Event] = field(default_factory=dict)
    moves: list[Move] = field(default_factory=list)

    def begin_again(self) -> None:
        """Begin a round: every gas is read anew."""
        self.read = {}


def part_of(ledger: Ledger) -> MixPart:
    """Return what a job keeps of the family's own."""
    return ledger.part(MixPart)
