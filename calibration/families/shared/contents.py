"""What is in a cylinder of several gases, each with an uncertainty of its own."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from calibration.engine.job.facts import AssetFacts
from calibration.kernel.codec import about, read
from calibration.kernel.rounding import trimmed

#: 1 % by volume. [ppm]
PPM_PER_PERCENT = Decimal(10_000)


@dataclass(frozen=True, kw_only=True)
class PartOf:
    """One gas of a mixture."""

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


def holds(asset: AssetFacts) -> Holds:
    """Return what is in a cylinder."""
    return read(Holds, asset.own, "asset")


def part_of(asset: AssetFacts, gas: str) -> PartOf | None:
    """Return one gas of a mixture; none where it is not in it."""
    return next((p for p in holds(asset).parts if p.gas == gas), None)


def value_of(asset: AssetFacts, gas: str, unit: str) -> Decimal:
    """Return how much of a gas is in a mixture, in % vol or ppm; 0 where it is not in it."""
    part = part_of(asset, gas)
    if part is None:
        return Decimal(0)
    percent = part.value if part.unit == "% vol" else part.value / PPM_PER_PERCENT
    return percent if unit == "% vol" else percent * PPM_PER_PERCENT


def in_words(asset: AssetFacts) -> str:
    """Return what is in a cylinder, as its label says it."""
    own = holds(asset)
    said = ", ".join(f"{p.gas} {trimmed(p.value)} {p.unit}" for p in own.parts)
    return f"{said} in {own.balance}" if said else own.balance
