"""What a job keeps of its bleeding and of the span that was set."""

from __future__ import annotations

from dataclasses import dataclass, field

from calibration.engine.job.events import Event
from calibration.engine.job.ledger import Ledger, Part
from calibration.families.trace.events import Bled, SpanSet


@dataclass
class TracePart(Part):
    """What happened at the analyzer."""

    #: fillings of the regulator in the present round, and of all rounds
    bled: list[tuple[Bled, Event]] = field(default_factory=list)
    all_bled: list[tuple[Bled, Event]] = field(default_factory=list)
    #: by step, in the present round
    span: dict[str, tuple[SpanSet, Event]] = field(default_factory=dict)
    #: every span that was set, for the record
    moves: list[tuple[SpanSet, Event]] = field(default_factory=list)

    def begin_again(self) -> None:
        """Begin a round: the regulator is bled anew, and the span set anew."""
        self.bled, self.span = [], {}

    def times(self, side: str) -> int:
        """Return how often a side was filled and vented in this round."""
        return sum(content.times for content, _ in self.bled if content.side == side)


def part_of(ledger: Ledger) -> TracePart:
    """Return what a job keeps of the family's own."""
    return ledger.part(TracePart)


def add_bled(ledger: Ledger, content: Bled, event: Event) -> None:
    """Count fillings of one side."""
    part_of(ledger).bled.append((content, event))
    part_of(ledger).all_bled.append((content, event))


def add_span(ledger: Ledger, content: SpanSet, event: Event) -> None:
    """Set the span."""
    part = part_of(ledger)
    part.span[content.step] = (content, event)
    part.moves.append((content, event))
    ledger.changes += 1
