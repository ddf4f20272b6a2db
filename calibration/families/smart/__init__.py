"""Smart transmitters: three readings a point, trims hop by hop, writes that are read back."""

from __future__ import annotations

from calibration.engine.method.family import Fit
from calibration.families.shared.loop import family
from calibration.families.smart.kinds import FixedCurrent
from calibration.families.smart.method import (
    SMART_TRANSMITTER,
    SMART_TRANSMITTER_1,
    SMART_TRANSMITTER_2,
    SMART_TRANSMITTER_3,
)
from calibration.families.smart.rerange import SMART_RERANGE, Reranged
from calibration.families.smart.shape import SmartShape
from calibration.families.smart.templates import TEMPLATES

FAMILY = family(
    id="smart",
    title="Smart transmitters",
    methods=(
        SMART_TRANSMITTER_1,
        SMART_TRANSMITTER_2,
        SMART_TRANSMITTER_3,
        SMART_TRANSMITTER,
        SMART_RERANGE,
    ),
    templates=TEMPLATES,
    fits=(
        Fit(
            SMART_TRANSMITTER.id,
            lambda facts: facts.smart and not facts.sensor,
            "a digital value can be read",
            rank=8,
        ),
        Fit(
            SMART_RERANGE.id,
            lambda facts: facts.smart and not facts.sensor and facts.output_unit == "mA",
            "another range is ordered",
            rank=90,
        ),
    ),
    runs={FixedCurrent.id: FixedCurrent(), Reranged.id: Reranged()},
    shape=SmartShape(),
)
