"""How a simulated rig goes along with a job: what it shows besides, and what entries tell it.

The classes themselves are the rig of an instrument that is commanded beside its job; families
whose rig follows the entries of the job change what differs.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from decimal import Decimal
from typing import Any

from calibration.engine.job.events import Event
from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.job.reads import Reads
from calibration.engine.method.method import Step
from calibration.engine.view.state import Station
from calibration.simulate.commands import Command, Live
from calibration.simulate.rigs import Model


@dataclass(frozen=True)
class CurvePoint:
    """A point of a curve: seconds since it began, and the reading."""

    t: float
    value: float


@dataclass(frozen=True)
class Beside:
    """What a screen shows of a live signal besides its value: a curve, and what is said."""

    title: str
    curve: tuple[CurvePoint, ...]
    expected: tuple[CurvePoint, ...]
    expected_label: str
    #: a level that matters, and its name
    level: float | None
    level_label: str
    said: str
    #: said loudly: it does not measure
    loud: str
    aside: str


class Watched:
    """A live signal as the job looks at it."""

    #: the display of the device is the value that is read, not its output
    on_display = False

    def model(self, model: Model) -> Model:
        """Return the rig as it is looked at."""
        return model

    def held(self, model: Model, commands: Sequence[Command], t: float, seed: int) -> float:
        """Return how much of the time that has to pass is over, as a share."""
        return 1.0

    def says(self, model: Model, commands: Sequence[Command], t: float) -> bool:
        """Tell whether there is a value yet."""
        return True

    def seen(
        self, model: Model, commands: Sequence[Command], t: float, seed: int
    ) -> Mapping[str, Any]:
        """Return what is added to a reading."""
        return {}

    def beside(
        self, model: Model, commands: Sequence[Command], t: float, seed: int, pace: float
    ) -> Beside | None:
        """Return what a screen shows besides the value."""
        return None

    def stations(self, facts: InstrumentFacts, now: Live) -> tuple[Station, ...] | None:
        """Return what each station shows; none for no strip."""
        return None


@dataclass(frozen=True)
class Logged:
    """One time that a device did something by itself: when, and what it put right."""

    t: float
    values: Mapping[str, str]


@dataclass(frozen=True)
class Part:
    """One of several values that a step reads of a rig at once, and what sets it."""

    #: names under which it is entered, as it was and as it is set; the latter may be empty
    name: str
    after: str
    label: str
    unit: str
    run: str
    watched: Watched
    order: Command | None
    #: what else was seen of it, by the name under which it is entered
    also: Mapping[str, str] = field(default_factory=dict)


#: What the trimmed station of a hop showed just before its last trim; none before the first.
Trimmed = Callable[[str], Decimal | None]
#: What really comes out of a reference: values by name; none where it is not known.
Truth = Callable[[str], Mapping[str, Any] | None]


def finishes(job: Reads, step: Step, event: Event) -> bool:
    """Tell whether an event finishes its step; a checklist tells the rig once, by its last line."""
    if event.kind != "confirmed":
        return True
    left = [i.id for i in step.items if (step.id, i.id) not in job.ledger.confirmed]
    return left == [event.content.item]


class Alongside:
    """How a rig goes along with a job."""

    #: commanded beside the job; else it follows the entries of the job
    commanded = True
    #: kinds of entry that are filled in from what the rig shows, beside readings
    fills: tuple[str, ...] = ()

    def run(self, job: Reads) -> str:
        """Return the run as which the live signal is seen now."""
        step = job.current
        capturing = step is not None and step.kind == "capture"
        return step.run if step is not None and capturing else job.ledger.method.found.id

    def watched(self, job: Reads) -> Watched:
        """Return how the job looks at the live signal now."""
        return Watched()

    def refuse(self, job: Reads, event: Event, settings: Mapping[str, str]) -> None:
        """Refuse an entry that the rig shows to be untrue."""

    def order(
        self, job: Reads, event: Event, t: float, pace: float, truth: Truth
    ) -> Command | None:
        """Return what an entry tells the rig; none for one that tells it nothing."""
        return None

    def orders(
        self, job: Reads, event: Event, t: float, pace: float, truth: Truth
    ) -> tuple[Command, ...]:
        """Return all that an entry tells the rig."""
        order = self.order(job, event, t, pace, truth)
        return (order,) if order is not None else ()

    def log(
        self, model: Model, commands: Sequence[Command], after: float, until: float, seed: int
    ) -> tuple[Logged, ...]:
        """Return what the device did by itself after one moment, up to another. [s]"""
        return ()

    def file(
        self, job: Reads, model: Model, commands: Sequence[Command], t: float, seed: int
    ) -> str:
        """Return the file that the device writes at this step; empty where it writes none."""
        return ""

    def parts(self, job: Reads, step: Step, t: float) -> tuple[Part, ...]:
        """Return the values that a step reads of the rig at once; none where it reads one."""
        return ()

    def may_set(self, job: Reads, part: Part, shown: Any) -> bool:
        """Tell whether one of several values may be set from what it shows."""
        return part.order is not None

    def filled(
        self, job: Reads, data: dict[str, Any], shown: Mapping[str, str], was: Trimmed
    ) -> dict[str, Any]:
        """Return an entry that it fills in, with what the rig showed."""
        return {**data, **shown}

    def sets(self, job: Reads, step: Step, t: float) -> Command | None:
        """Return what a step that sets something tells the rig; none for other steps."""
        return None

    def refused(self, job: Reads, step: Step, shown: Any) -> bool:
        """Tell whether the device is not to be set from what it shows."""
        return False
