"""The methods, one file a family."""

from __future__ import annotations

from collections.abc import Callable

from calibration.engine.events import InstrumentFacts
from calibration.engine.method import Method
from calibration.families.dp_flow.method import DP_FLOW
from calibration.families.gas.fixed import (
    GAS_BUMP,
    GAS_INFRARED,
    GAS_OXYGEN,
    GAS_TWO_CHANNEL,
    GAS_ZERO_SPAN,
)
from calibration.families.gas.portable import GAS_PORTABLE, GAS_RECEIVING
from calibration.families.level.methods import DISPLACER_LEVEL, DP_LEVEL
from calibration.families.pressure.method import PRESSURE_TRANSMITTER
from calibration.families.smart.method import SMART_TRANSMITTER
from calibration.families.temperature.methods import (
    TEMPERATURE_LOOP,
    TEMPERATURE_SENSOR,
    TEMPERATURE_TRANSMITTER,
)
from calibration.kernel.errors import InputError

METHODS = {
    (m.id, m.version): m
    for m in (
        PRESSURE_TRANSMITTER,
        SMART_TRANSMITTER,
        TEMPERATURE_SENSOR,
        TEMPERATURE_TRANSMITTER,
        TEMPERATURE_LOOP,
        DISPLACER_LEVEL,
        DP_LEVEL,
        DP_FLOW,
        GAS_BUMP,
        GAS_ZERO_SPAN,
        GAS_INFRARED,
        GAS_OXYGEN,
        GAS_TWO_CHANNEL,
        GAS_PORTABLE,
        GAS_RECEIVING,
    )
}
#: The newest version of each method, by id.
NEWEST = {id: METHODS[id, max(v for i, v in METHODS if i == id)] for id, _ in METHODS}


def method_for(method_id: str, version: int) -> Method:
    """Return a method in the version that a job began with.

    Raises
    ------
    InputError
        ``method.unknown``.
    """
    try:
        return METHODS[method_id, version]
    except KeyError:
        raise InputError(
            "method.unknown",
            "method",
            f"There is no method '{method_id[:60]}' in version {version}.",
            "Give the instrument one of: " + ", ".join(i for i, _ in METHODS) + ".",
        ) from None


def newest(method_id: str) -> Method:
    """Return the newest version of a method.

    Raises
    ------
    InputError
        ``method.unknown``.
    """
    versions = [v for i, v in METHODS if i == method_id]
    return method_for(method_id, max(versions, default=0))


_FITS: tuple[tuple[str, Callable[[InstrumentFacts], bool], str], ...] = (
    (
        "temperature_sensor",
        lambda f: bool(f.sensor) and f.output_unit in ("Ω", "mV"),
        "a sensor that is read in ohm or millivolt",
    ),
    (
        "temperature_transmitter",
        lambda f: bool(f.sensor) and f.output_unit in ("mA", "V"),
        "a transmitter with a sensor that can be simulated",
    ),
    (
        "temperature_loop",
        lambda f: bool(f.sensor) and f.output_unit in ("mA", "V"),
        "sensor and transmitter can go into a block together",
    ),
    (
        "displacer_level",
        lambda f: bool(f.setting("displacer_kg")),
        "mass and density of a displacer are on record",
    ),
    (
        "dp_level",
        lambda f: bool(f.setting("level_upper_m")),
        "heights of a vessel are on record",
    ),
    (
        "dp_flow",
        lambda f: "square_root" in (f.characteristic, f.indicated_characteristic),
        "a root is taken in the loop",
    ),
    (
        "smart_transmitter",
        lambda f: f.smart and not f.sensor,
        "a digital value can be read",
    ),
    (
        "pressure_transmitter",
        lambda f: not f.sensor and not f.setting("displacer_kg"),
        "a transmitter with one output",
    ),
)


_GAS: tuple[tuple[str, Callable[[InstrumentFacts], bool], str], ...] = (
    (
        "gas_two_channel",
        lambda f: len(f.channels) == 2 and f.output_unit == "mA",
        "two sensors, each with its own gas",
    ),
    (
        "gas_portable",
        lambda f: f.output_unit != "mA",
        "a portable with its own display",
    ),
    (
        "gas_receiving",
        lambda f: f.output_unit != "mA",
        "a portable that is new or back from repair",
    ),
    (
        "gas_oxygen",
        lambda f: len(f.channels) == 1 and f.channels[0].gas == "oxygen",
        "it measures oxygen",
    ),
    (
        "gas_infrared",
        lambda f: len(f.channels) == 1 and f.channels[0].principle == "infrared",
        "an infrared head: only its zero is set",
    ),
    (
        "gas_zero_span",
        lambda f: (
            len(f.channels) == 1 and f.channels[0].principle in ("catalytic", "electrochemical")
        ),
        "zero and span can be set",
    ),
    (
        "gas_bump",
        lambda f: len(f.channels) == 1 and f.output_unit == "mA" and f.channels[0].gas != "oxygen",
        "a quick proof that it answers",
    ),
)


def fitting(facts: InstrumentFacts) -> tuple[tuple[str, str], ...]:
    """Return the methods that fit an instrument, the most particular first, each with why."""
    known = _GAS if facts.channels else _FITS
    return tuple((id, why) for id, fits, why in known if fits(facts))
