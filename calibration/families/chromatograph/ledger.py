"""What a job keeps of its injections: all of them, and which pair counts."""

from __future__ import annotations

from dataclasses import dataclass, field
from decimal import Decimal

from calibration.engine.job.events import Event
from calibration.engine.job.ledger import Ledger, Part


@dataclass(frozen=True)
class Result:
    """One component of one injection: what it shows [ppm], and when it came [s]."""

    shows: Decimal
    at_s: Decimal | None = None


@dataclass
class GcPart(Part):
    """The injections of a job."""

    #: by step, in the present round
    injections: dict[str, tuple[dict[int, Result], Event]] = field(default_factory=dict)
    #: every one, for the record: by its title, what it showed
    every: list[tuple[str, dict[int, Result], Event]] = field(default_factory=list)
    stored: dict[str, Event] = field(default_factory=dict)

    def begin_again(self) -> None:
        """Begin a round: it is injected anew."""
        self.injections, self.stored = {}, {}


def part_of(ledger: Ledger) -> GcPart:
    """Return what a job keeps of the family's own."""
    return ledger.part(GcPart)
