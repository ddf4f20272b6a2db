"""What a job keeps of its gas: every opening, what was set, what was forced."""

from __future__ import annotations

from dataclasses import dataclass, field
from decimal import Decimal

from calibration.engine.job.events import Event
from calibration.engine.job.facts import AssetFacts
from calibration.engine.job.ledger import Ledger, Part
from calibration.families.gas import events as gas
from calibration.families.gas.words import GasSet


@dataclass
class Flow:
    """One time that gas was on: which, since when and until when."""

    content: gas.GasOn
    on: Event
    #: the cylinder that stood in the role then
    asset: AssetFacts | None
    off: Event | None = None


@dataclass(frozen=True)
class Move:
    """Zero or span of a channel, set: what it showed before and after. [gas unit]"""

    channel: int
    end: str
    before: Decimal | None
    after: Decimal
    event: Event


@dataclass
class GasPart(Part):
    """The gas of a job."""

    #: every time that gas was on, the newest last
    flows: list[Flow] = field(default_factory=list)
    #: zero and span set in a detector, by step, in the present round
    set_now: dict[str, tuple[gas.GasSet, Event]] = field(default_factory=dict)
    #: every zero and span that was set, for the record
    moves: list[Move] = field(default_factory=list)
    #: by step: the exposures of the present round
    exposed: dict[str, Event] = field(default_factory=dict)
    agreed: dict[str, tuple[gas.Agreed, Event]] = field(default_factory=dict)
    #: steps of the present round in which nothing was set, as it was good
    kept: dict[str, Event] = field(default_factory=dict)

    @property
    def flowing(self) -> Flow | None:
        """Return the gas that is on; none when all cylinders are shut."""
        last = self.flows[-1] if self.flows else None
        return last if last is not None and last.off is None else None

    def begin_again(self) -> None:
        """Forget what was set and forced in a round that failed."""
        self.set_now, self.agreed, self.kept, self.exposed = {}, {}, {}, {}


def gas_of(ledger: Ledger) -> GasPart:
    """Return the gas of a job."""
    return ledger.part(GasPart)


def agreed_now(ledger: Ledger, step: str) -> gas.Agreed | None:
    """Return what was agreed to of a refused step since anything was put right; none before."""
    entry = gas_of(ledger).agreed.get(step)
    since = max((e.seq for _, e in ledger.repaired), default=0)
    return entry[0] if entry is not None and entry[1].seq > since else None


def add_on(ledger: Ledger, content: gas.GasOn, event: Event) -> None:
    """Open a cylinder."""
    chosen = ledger.kit.get(content.role)
    gas_of(ledger).flows.append(Flow(content, event, chosen.asset if chosen else None))


def add_off(ledger: Ledger, content: gas.GasOff, event: Event) -> None:
    """Shut the cylinder."""
    flowing = gas_of(ledger).flowing
    if flowing is not None:
        flowing.off = event


def add_set(ledger: Ledger, content: gas.GasSet, event: Event) -> None:
    """Set zero or span."""
    part = gas_of(ledger)
    part.set_now[content.step] = (content, event)
    step = ledger.method.step(content.step)
    if isinstance(step, GasSet):
        part.moves.append(Move(step.channel, step.end, content.before, content.after, event))
    ledger.changes += 1


def add_kept(ledger: Ledger, content: gas.GasKept, event: Event) -> None:
    """Leave zero or span as it is."""
    gas_of(ledger).kept[content.step] = event
    step = ledger.method.step(content.step)
    if step is not None and step.goes_on:
        gas_of(ledger).exposed[step.id] = event


def add_agreed(ledger: Ledger, content: gas.Agreed, event: Event) -> None:
    """Force it."""
    gas_of(ledger).agreed[content.step] = (content, event)
