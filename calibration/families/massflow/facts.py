"""What a job knows of a mass flow meter, and of what it is proved against."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.engine.job.ledger import Ledger
from calibration.kernel.codec import about, read
from calibration.kernel.numbers import parse_decimal

#: What a reference of the family measures.
QUANTITY = "flow_quantity"
#: Where gain and density are read while it flows.
FLOWING = "flowing"


@dataclass(frozen=True, kw_only=True)
class MassFlow:
    """What is particular to a mass flow meter."""

    zero_stability: Decimal = about("zero stability, by its maker", unit="kg/h")
    minimum_flow: Decimal = about("smallest flow of the process", unit="kg/h")
    normal_flow: Decimal = about("normal flow", unit="kg/h")
    density: Decimal = about("usual density of the process", unit="kg/m³")
    drive_gain: Decimal = about("usual drive gain", unit="%")
    scatter: Decimal = about("usual scatter of the live zero", unit="kg/h")
    isolation: Literal["both", "downstream only", "pump only"] = about(
        "how it can be shut off", default="both"
    )
    offset_unit: str = about("unit of its stored zero", default="µs")
    flow_per_offset: Decimal | None = about("flow of 1 of that unit", unit="kg/h", default=None)
    batch_kg: Decimal = about("quantity of a proving run", unit="kg", default=Decimal(1000))
    prove_percent: Decimal = about(
        "error accepted when it is proved", unit="%", default=Decimal("0.2")
    )


@dataclass(frozen=True, kw_only=True)
class Quantity:
    """A scale, or a meter in the same line, that says how much it was."""

    reference_is: Literal["weighed", "metered"] = about("how it knows", default="weighed")
    uncertainty_percent: Decimal = about(
        "expanded uncertainty of the quantity", unit="%", default=Decimal("0.05")
    )


def meter(facts: InstrumentFacts) -> MassFlow:
    """Return what is particular to the meter."""
    return read(MassFlow, facts.own, "instrument")


def quantity(asset: AssetFacts) -> Quantity:
    """Return what is particular to a reference."""
    return read(Quantity, asset.own, "asset")


def noted(ledger: Ledger, step: str, field: str) -> Decimal | None:
    """Return a number written down in a step; none where it was not."""
    entry = ledger.recorded.get((step, field))
    return None if entry is None else parse_decimal(entry[0], f"data.{field}")


def usual(ledger: Ledger, field: Literal["drive_gain", "density"]) -> Decimal:
    """Return drive gain or density as it was while it flowed; else what is on record."""
    seen = noted(ledger, FLOWING, field)
    return getattr(meter(ledger.facts), field) if seen is None else seen
