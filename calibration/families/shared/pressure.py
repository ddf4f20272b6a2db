"""Pressure on a transmitter: the reference, connecting it, taking it off."""

from __future__ import annotations

from calibration.engine.method.method import KitRole
from calibration.families.shared import parts

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
