"""What a job knows of an analyzer of several components, and of the gases for it."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from calibration.engine.facts import AssetFacts, InstrumentFacts
from calibration.kernel.codec import about, read
from calibration.kernel.numbers import HUNDRED

#: What a reference of the family holds.
MIXTURE, ZERO_GAS = "mixture", "mixture_zero"
#: 1 % by volume. [ppm]
PPM_PER_PERCENT = Decimal(10_000)


@dataclass(frozen=True, kw_only=True)
class Cross:
    """What another component adds to what is shown."""

    of: str = about("other component, by its short name")
    percent: Decimal = about("of the value of the other, in the unit of this one", unit="%")


@dataclass(frozen=True, kw_only=True)
class Component:
    """One component in one range; a component with two ranges is listed once for each."""

    id: str = about("short name")
    gas: str = about("gas")
    label: str = about("in words")
    unit: str = about("unit, % vol or ppm")
    upper: Decimal = about("end of the range", unit="its unit")
    limit_percent: Decimal = about("what error is allowed", unit="% of range", default=Decimal(2))
    set_from: Decimal = about("span is set from", unit="% of range", default=Decimal(50))
    set_to: Decimal = about("span is set to", unit="% of range", default=Decimal(100))
    infrared: bool = about("measured by infrared", default=True)
    cross: tuple[Cross, ...] = about("what others add", default=())


@dataclass(frozen=True, kw_only=True)
class Multi:
    """What is particular to an analyzer of several components, in the order of setting."""

    components: tuple[Component, ...] = about("the one that disturbs the others comes first")
    auto_zero_minutes: Decimal | None = about(
        "it takes a zero by itself every so often", unit="min", default=None
    )
    overflow: str = about("how the mixture is given", default="through a tee, with an overflow")


@dataclass(frozen=True, kw_only=True)
class PartOf:
    """One gas of a mixture, with an uncertainty of its own."""

    gas: str = about("gas")
    value: Decimal = about("how much")
    unit: str = about("unit, % vol or ppm", default="% vol")
    uncertainty_percent: Decimal = about("expanded uncertainty", unit="%", default=Decimal(2))


@dataclass(frozen=True, kw_only=True)
class Holds:
    """What is in a cylinder, besides its balance."""

    parts: tuple[PartOf, ...] = about("gases", default=())
    balance: str = about("the rest", default="nitrogen")
    lot: str = about("lot", default="")


def multi(facts: InstrumentFacts) -> Multi:
    """Return what is particular to the analyzer."""
    return read(Multi, facts.own, "instrument")


def components(facts: InstrumentFacts) -> tuple[Component, ...]:
    """Return its components, in the order of setting."""
    return multi(facts).components


def holds(asset: AssetFacts) -> Holds:
    """Return what is in a cylinder."""
    return read(Holds, asset.own, "asset")


def part_in(asset: AssetFacts, c: Component) -> PartOf | None:
    """Return the part of a mixture that a component reads; none where it is not in it."""
    return next((p for p in holds(asset).parts if p.gas == c.gas), None)


def value_in(asset: AssetFacts, c: Component) -> Decimal:
    """Return what a component should read in a gas, in its own unit; 0 where it is not in it."""
    part = part_in(asset, c)
    if part is None:
        return Decimal(0)
    percent = part.value if part.unit == "% vol" else part.value / PPM_PER_PERCENT
    return percent if c.unit == "% vol" else percent * PPM_PER_PERCENT


def share_of_range(value: Decimal, c: Component) -> Decimal:
    """Return a value in % of the range of a component."""
    return HUNDRED * value / c.upper
