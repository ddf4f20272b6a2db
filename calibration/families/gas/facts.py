"""What a job knows of a detector and of a cylinder, beside what all instruments share."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from calibration.decisions.tolerance import Tolerance
from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.gas.cylinder import Channel, Cylinder, OnShelf
from calibration.kernel.codec import about, read


@dataclass(frozen=True, kw_only=True)
class ChannelLimit:
    """What error is allowed of one gas, where that is another limit than the detector's."""

    channel: str = about("short name of the channel")
    tolerance: Tolerance = about("what error is allowed of it")


@dataclass(frozen=True, kw_only=True)
class Detector:
    """What is particular to a gas detector."""

    channels: tuple[Channel, ...] = about("gases that it measures", default=())
    inhibit_ma: Decimal = about("output in calibration mode", unit="mA", default=Decimal(2))
    channel_limits: tuple[ChannelLimit, ...] = about("limits of single gases", default=())
    cover_shut: bool = about("adjusted by magnet or remote control", default=True)


@dataclass(frozen=True, kw_only=True)
class Holds:
    """What is particular to a cylinder as a reference."""

    gas: Cylinder | None = about("contents", default=None)
    #: what else is on the shelf, so that a mistaken cylinder can be named
    shelf: tuple[OnShelf, ...] = about("other cylinders", default=())


def detector(facts: InstrumentFacts) -> Detector:
    """Return what is particular to the detector."""
    return read(Detector, facts.own, "instrument")


def channels(facts: InstrumentFacts) -> tuple[Channel, ...]:
    """Return the gases that it measures."""
    return detector(facts).channels


def holds(asset: AssetFacts) -> Holds:
    """Return what a reference holds, where it is a cylinder."""
    return read(Holds, asset.own, "asset")


def contents(asset: AssetFacts) -> Cylinder | None:
    """Return the contents of a cylinder; none for any other reference."""
    return holds(asset).gas
