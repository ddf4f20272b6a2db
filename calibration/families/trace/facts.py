"""What a job knows of a trace oxygen analyzer, of its span gas and of the regulator on it."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.kernel.codec import about, read

#: What a reference of the family measures, or is.
SPAN_GAS, PRESSURE_REGULATOR = "trace_gas", "regulator"


@dataclass(frozen=True, kw_only=True)
class TraceAnalyzer:
    """What is particular to a trace oxygen analyzer."""

    sample_ppm: Decimal = about("usual value of the process", unit="ppm")
    flow_l_per_min: Decimal = about("flow through the sensor", unit="L/min", default=Decimal("0.5"))
    tubing: Literal["metal", "plastic"] = about("tubing to the span port", default="metal")
    usual_t90_s: Decimal = about("its usual time to 90 %", unit="s", default=Decimal(30))
    set_within_s: Decimal = about("a span is confirmed within", unit="s", default=Decimal(10))
    holds_minutes: Decimal = about("it ends the hold-off by itself after", unit="min")
    air_seconds: Decimal = about("a new sensor may be in air for", unit="s", default=Decimal(30))
    fitted_on: str = about("when its sensor was fitted", default="")
    response_percent: Decimal | None = about(
        "response at the last visit, of a new sensor", unit="%", default=None
    )
    responded_on: str = about("date of that visit", default="")
    #: what a regulator was left with at the last visit, and which it was on which cylinder
    bled_with: str = about("regulator and cylinder that were bled last", default="")
    bled_on: str = about("when that was", default="")
    weak_percent: Decimal = about("weak below", unit="%", default=Decimal(60))
    spent_percent: Decimal = about("replaced below", unit="%", default=Decimal(40))
    left_bar: Decimal | None = about(
        "pressure left in the low side, by gauge", unit="bar", default=None
    )


@dataclass(frozen=True, kw_only=True)
class SpanGas:
    """What is particular to a cylinder of oxygen in nitrogen."""

    oxygen_ppm: Decimal = about("oxygen in nitrogen", unit="ppm")
    uncertainty_percent: Decimal = about("expanded uncertainty", unit="%", default=Decimal(3))
    lot: str = about("lot", default="")
    bar: Decimal = about("pressure in it, by gauge", unit="bar", default=Decimal(100))


@dataclass(frozen=True, kw_only=True)
class Regulator:
    """What is particular to a regulator: where it is, and since when."""

    mounted_on: str = about("cylinder that it is on", default="")
    mounted_since: str = about("since when", default="")
    low_bar: Decimal = about("pressure of its low side, by gauge", unit="bar", default=Decimal(5))
    diaphragm: Literal["metal", "rubber"] = about("its diaphragm", default="metal")


def analyzer(facts: InstrumentFacts) -> TraceAnalyzer:
    """Return what is particular to the analyzer."""
    return read(TraceAnalyzer, facts.own, "instrument")


def span_gas(asset: AssetFacts) -> SpanGas:
    """Return what is in a cylinder."""
    return read(SpanGas, asset.own, "asset")


def regulator(asset: AssetFacts) -> Regulator:
    """Return what is particular to a regulator."""
    return read(Regulator, asset.own, "asset")
