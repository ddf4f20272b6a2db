"""What a pH visit takes along: buffers, a thermometer and a meter."""

from __future__ import annotations

from calibration.engine.method.method import KitRole
from calibration.families.ph.facts import BOTTLE, THERMOMETER
from calibration.families.ph.words import NEAR, SIDE, THIRD
from calibration.families.shared import parts

KIT = (
    KitRole(id=NEAR, label="Buffer near 7", quantity=BOTTLE),
    KitRole(id=SIDE, label="Buffer on the other side", quantity=BOTTLE),
    KitRole(id=THIRD, label="Third buffer", quantity=BOTTLE),
    KitRole(id="thermometer", label="Thermometer in the buffer", quantity=THERMOMETER),
    parts.METER,
)
