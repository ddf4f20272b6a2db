"""Pressure transmitter with a 4-20 mA output, linear."""

from __future__ import annotations

from calibration.engine.method import KitRole, Method
from calibration.families.shared import limits, parts

FITTINGS = (
    "Keep to the rated pressure of every fitting and hose. In a hazardous area, open "
    "a cover or a loop only as permit and area rules allow."
)
PRESSURE = KitRole(id="pressure_reference", label="Pressure reference", quantity="pressure")
CONNECT = parts.connect(
    "Connect the pressure reference and put the milliampere meter in the loop.",
    "From here on the transmitter measures the reference.",
    FITTINGS,
)
DISCONNECT = parts.disconnect(
    "Vent the reference, disconnect it and close the loop again.",
    "Let the pressure off before opening a fitting.",
)

PRESSURE_TRANSMITTER = Method(
    id="pressure_transmitter",
    version=1,
    title="Pressure transmitter 4-20 mA, points up and down",
    fits="Pressure by a transmitter that is adjusted as one, or whose hops are read by hand.",
    steps=(
        parts.kit(
            PRESSURE,
            KitRole(id="milliampere_meter", label="Milliampere meter", quantity="current"),
            names="the pressure reference and the milliampere meter",
        ),
        parts.OPERATOR,
        parts.BYPASS,
        parts.ISOLATE,
        parts.IDENTITY,
        parts.settings(parts.LOWER, parts.UPPER, parts.DAMPING),
        parts.STATE,
        CONNECT,
        parts.AMBIENT,
        parts.WARM_UP,
        parts.as_found(),
        parts.JUDGE,
        *parts.adjust(),
        DISCONNECT,
        parts.restore(parts.VALVES, parts.COVERS, parts.SETTINGS),
        parts.UNBYPASS,
        parts.SIGN,
    ),
    parameters=limits.parameters(),
    sources=parts.SOURCES,
)
