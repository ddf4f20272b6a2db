"""Smart transmitters: three readings a point, trims hop by hop, writes that are read back."""

from __future__ import annotations

from calibration.engine.family import Family, Fit
from calibration.families.smart.kinds import FixedCurrent
from calibration.families.smart.method import SMART_TRANSMITTER, SMART_TRANSMITTER_1

FAMILY = Family(
    id="smart",
    title="Smart transmitters",
    methods=(SMART_TRANSMITTER_1, SMART_TRANSMITTER),
    fits=(
        Fit(
            SMART_TRANSMITTER.id,
            lambda facts: facts.smart and not facts.sensor,
            "a digital value can be read",
            rank=8,
        ),
    ),
    runs={FixedCurrent.id: FixedCurrent()},
)
