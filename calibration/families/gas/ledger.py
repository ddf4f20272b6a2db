"""What a job keeps of its gas: every opening, what was set, what was forced."""

from __future__ import annotations

from dataclasses import dataclass, field

from calibration.engine.events import Event
from calibration.engine.facts import AssetFacts
from calibration.engine.ledger import Ledger, Part
from calibration.families.gas import events as gas


@dataclass
class Flow:
    """One time that gas was on: which, since when and until when."""

    content: gas.GasOn
    on: Event
    #: the cylinder that stood in the role then
    asset: AssetFacts | None
    off: Event | None = None


@dataclass
class GasPart(Part):
    """The gas of a job."""

    #: every time that gas was on, the newest last
    flows: list[Flow] = field(default_factory=list)
    #: zero and span set in a detector, by step, in the present round
    set_now: dict[str, tuple[gas.GasSet, Event]] = field(default_factory=dict)
    #: every one of them, for the record
    sets: list[tuple[gas.GasSet, Event]] = field(default_factory=list)
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
        self.set_now, self.agreed, self.kept = {}, {}, {}


def gas_of(ledger: Ledger) -> GasPart:
    """Return the gas of a job."""
    return ledger.part(GasPart)


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
    part.sets.append((content, event))
    ledger.changes += 1


def add_kept(ledger: Ledger, content: gas.GasKept, event: Event) -> None:
    """Leave zero or span as it is."""
    gas_of(ledger).kept[content.step] = event


def add_agreed(ledger: Ledger, content: gas.Agreed, event: Event) -> None:
    """Force it."""
    gas_of(ledger).agreed[content.step] = (content, event)
