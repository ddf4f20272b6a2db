"""What a ledger is made of: readings taken, tests taken again, and what families keep."""

from __future__ import annotations

from dataclasses import dataclass, field

from calibration.engine.job import events as ev
from calibration.engine.job.events import Event


@dataclass
class Taken:
    """A reading and the event that brought it."""

    content: ev.ReadingTaken
    event: Event


@dataclass(frozen=True)
class Attempt:
    """A test that was taken again: what was read, with what, and why it was repeated."""

    readings: dict[str, dict[int, Taken]]
    kit: dict[str, ev.KitChosen]
    decided: ev.Decided
    event: Event
    #: what was written down for that test alone, by step and field
    recorded: dict[tuple[str, str], tuple[str, Event]] = field(default_factory=dict)
    #: everything that was written down then, and the references that were gone without
    stood: dict[tuple[str, str], tuple[str, Event]] = field(default_factory=dict)
    without: dict[str, Event] = field(default_factory=dict)


@dataclass(frozen=True)
class Spell:
    """The time between putting something on and taking it off, with the kit of then."""

    step: str
    on: Event
    off: Event
    kit: dict[str, ev.KitChosen]


class Part:
    """What a family keeps of a job, beside what all share. Made when it is first asked for."""

    def begin_again(self) -> None:
        """Forget what belongs to a round of adjusting that failed."""
