"""What a job knows of an electromagnetic flow meter, and of the tester that is plugged in."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.engine.job.ledger import Ledger
from calibration.kernel.codec import about, read
from calibration.kernel.numbers import parse_decimal

#: What a tester is kept as, and its role in a job.
TESTER = "flow_tester"
Part = Literal["coil", "electrode", "electronics", "output"]
Kind = Literal["percent", "absolute", "at_least", "yes_no"]


@dataclass(frozen=True, kw_only=True)
class TestLine:
    """One line of the tester's program: what it measures, and how that is held."""

    id: str = about("short name")
    label: str = about("label")
    part: Part = about("what it tests")
    kind: Kind = about("how it is held against the stored value", default="percent")
    reference: Decimal = about("stored value of the maker")
    limit_percent: Decimal = about("may differ by", unit="%", default=Decimal(1))
    limit: Decimal | None = about("an absolute line may differ by", default=None)
    unit: str = about("unit", default="")
    copper: bool = about("copper: turned to 20 °C", default=False)


@dataclass(frozen=True, kw_only=True)
class MagMeter:
    """What is particular to an electromagnetic flow meter."""

    build: Literal["compact", "remote"] = about("electronics on the sensor, or apart")
    size_mm: Decimal = about("size", unit="mm")
    conductivity_us_cm: Decimal = about("usual conductivity of the liquid", unit="µS/cm")
    lines: tuple[TestLine, ...] = about("lines of the test, with the stored values")
    live_limit_ma: Decimal = about(
        "the control room may differ by", unit="mA", default=Decimal("0.05")
    )


@dataclass(frozen=True, kw_only=True)
class Tester:
    """What is particular to a plug-in tester."""

    uncertainty_percent: Decimal = about(
        "expanded uncertainty of what it measures", unit="%", default=Decimal("0.1")
    )
    program: str = about("program for this kind of meter", default="")


def meter(facts: InstrumentFacts) -> MagMeter:
    """Return what is particular to the meter."""
    return read(MagMeter, facts.own, "instrument")


def tester(asset: AssetFacts) -> Tester:
    """Return what is particular to a tester."""
    return read(Tester, asset.own, "asset")


def noted(ledger: Ledger, step: str, field: str) -> Decimal | None:
    """Return a number written down in a step; none where it was not."""
    entry = ledger.recorded.get((step, field))
    return None if entry is None else parse_decimal(entry[0], f"data.{field}")
