"""What a job knows of a portable chromatograph for dissolved gas, and of its trap."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.kernel.codec import about, read

#: What a reference of the family holds, or is.
CALIBRATION_GAS, GAS_TRAP, GAS_SYRINGE = "gc_gas", "gas_trap", "gas_syringe"


@dataclass(frozen=True, kw_only=True)
class Peak:
    """One component with its place in the run."""

    id: str = about("short name")
    gas: str = about("gas")
    label: str = about("in words")
    upper: Decimal = about("end of its range", unit="ppm")
    expected_s: Decimal = about("expected retention", unit="s")
    width_s: Decimal = about("width at its base", unit="s", default=Decimal(4))
    channel: str = about("channel that it comes on, where there are several", default="")
    limit_percent: Decimal = about(
        "what error is allowed, of the gas", unit="%", default=Decimal(5)
    )
    floor_ppm: Decimal = about("difference that means nothing", unit="ppm", default=Decimal("0.5"))
    blank_ppm: Decimal = about("a blank shows at most", unit="ppm", default=Decimal("0.5"))


@dataclass(frozen=True, kw_only=True)
class Chromatograph:
    """What is particular to a chromatograph."""

    peaks: tuple[Peak, ...] = about("components, in the order in which they come")
    wait_minutes: Decimal = about("wait between injections", unit="min", default=Decimal(5))
    #: what the last job left: the day of which it is good, response by component [% of the first]
    valid_on: str = about("day of its last calibration", default="")
    responses: str = about("response of each component, of the first one", default="")


@dataclass(frozen=True, kw_only=True)
class Trap:
    """What is particular to a trap for clean air."""

    opened_on: str = about("when it was opened", default="")
    days: Decimal = about("it serves for", unit="d", default=Decimal(90))


@dataclass(frozen=True, kw_only=True)
class Syringe:
    """What is particular to a gas-tight syringe."""

    volume_ml: Decimal = about("volume to its mark", unit="mL", default=Decimal(5))
    seal_on: str = about("when its seal was changed", default="")
    days: Decimal = about("a seal serves for", unit="d", default=Decimal(365))


def chromatograph(facts: InstrumentFacts) -> Chromatograph:
    """Return what is particular to the chromatograph."""
    return read(Chromatograph, facts.own, "instrument")


def peaks(facts: InstrumentFacts) -> tuple[Peak, ...]:
    """Return its components, in the order in which they come."""
    return chromatograph(facts).peaks


def trap(asset: AssetFacts) -> Trap:
    """Return what is particular to a trap."""
    return read(Trap, asset.own, "asset")


def syringe(asset: AssetFacts) -> Syringe:
    """Return what is particular to a syringe."""
    return read(Syringe, asset.own, "asset")
