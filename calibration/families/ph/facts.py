"""What a job knows of a pH analyzer, of a bottle of buffer and of the thermometer beside it."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.kernel.codec import about, read

#: What a reference of the family measures.
BOTTLE, THERMOMETER = "ph_buffer", "buffer_temperature"


@dataclass(frozen=True, kw_only=True)
class Analyzer:
    """What is particular to a pH analyzer with its electrode."""

    buffer_set: str = about("buffer set that it counts by, on record")
    process_ph: Decimal = about("usual pH of the process")
    process_c: Decimal = about("usual temperature of the process", unit="°C", default=Decimal(25))
    side: Literal["acid", "alkaline"] = about("side of the second buffer", default="acid")
    mounting: Literal["flow-through", "dip"] = about("how the electrode is mounted")
    compensation: Literal["automatic", "manual"] = about(
        "how it takes the temperature", default="automatic"
    )
    fitted_on: str = about("when the electrode was fitted", default="")
    usual_t90_s: Decimal = about("its usual time to 90 %", unit="s", default=Decimal(12))
    slope_percent: Decimal | None = about("slope at the last calibration", unit="%", default=None)
    offset_mv: Decimal | None = about("offset at the last calibration", unit="mV", default=None)
    calibrated_on: str = about("date of the last calibration with buffers", default="")


@dataclass(frozen=True, kw_only=True)
class Bottle:
    """What is particular to a bottle of buffer as a reference."""

    set: str = about("buffer set")
    nominal: str = about("buffer, its pH at 25 °C")
    lot: str = about("lot", default="")
    opened_on: str = about("when it was opened", default="")


@dataclass(frozen=True, kw_only=True)
class Nothing:
    """A thermometer is no more than its accuracy."""


def analyzer(facts: InstrumentFacts) -> Analyzer:
    """Return what is particular to the analyzer."""
    return read(Analyzer, facts.own, "instrument")


def bottle(asset: AssetFacts) -> Bottle:
    """Return what is particular to a bottle."""
    return read(Bottle, asset.own, "asset")
