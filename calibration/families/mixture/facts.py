"""What a job knows of an analyzer of several components, and of the gases for it."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.families.shared.contents import value_of
from calibration.kernel.codec import about, read
from calibration.kernel.numbers import HUNDRED

#: What a reference of the family holds.
MIXTURE, ZERO_GAS = "mixture", "mixture_zero"


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
    flow_l_per_min: Decimal = about("flow from a cylinder", unit="L/min", default=Decimal("1.5"))
    overflow: str = about("how the mixture is given", default="through a tee, with an overflow")


def multi(facts: InstrumentFacts) -> Multi:
    """Return what is particular to the analyzer."""
    return read(Multi, facts.own, "instrument")


def components(facts: InstrumentFacts) -> tuple[Component, ...]:
    """Return its components, in the order of setting."""
    return multi(facts).components


def value_in(asset: AssetFacts, c: Component) -> Decimal:
    """Return what a component should read in a gas, in its own unit; 0 where it is not in it."""
    return value_of(asset, c.gas, c.unit)


def share_of_range(value: Decimal, c: Component) -> Decimal:
    """Return a value in % of the range of a component."""
    return HUNDRED * value / c.upper
