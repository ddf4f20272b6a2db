"""Pressure transmitter with a 4-20 mA output, linear."""

from __future__ import annotations

from calibration.engine.method.method import KitRole, Method
from calibration.families.shared import limits, parts
from calibration.families.shared.pressure import CONNECT, DISCONNECT, PRESSURE
from calibration.families.shared.runs import RUNS

PRESSURE_TRANSMITTER_1 = Method(
    id="pressure_transmitter",
    version=1,
    title="Pressure transmitter 4-20 mA, points up and down",
    called="points up and down",
    fits="Pressure by a transmitter that is adjusted as one, or whose hops are read by hand.",
    runs=RUNS,
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
PRESSURE_TRANSMITTER = parts.plainer(PRESSURE_TRANSMITTER_1)
