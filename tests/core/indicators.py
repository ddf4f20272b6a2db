"""Load-cell indicators played by the virtual technician: a platform in the store."""

from __future__ import annotations

from dataclasses import replace

from calibration.families.indicator.model import IndicatorModel
from tests.core.plant import PlantVisit, Spec
from tests.core.vessels import WEIGHTS

ADJUST = Spec(
    method="indicator_adjust",
    description="Platform in the store",
    unit="kg",
    upper="300",
    tolerance={"combine": "greatest", "absolute": "0.05", "percent_of_reading": "0.1"},
    own={"indicator_step": "0.02", "cell_kg": "500", "sensitivity_mv_per_v": "2"},
    settings=({"name": "cell_factor", "value": "2.0375", "unit": "", "label": "Factor"},),
    model=IndicatorModel(),
    shelf=WEIGHTS.shelf,
    planted={"factor_percent": 1.2},
    cause="Factor is not that on record",
    settable={"factor_percent": 1.2},
)
CHECK = replace(ADJUST, method="indicator_check", settable={})
SPECS = {spec.method: spec for spec in (ADJUST, CHECK)}


class IndicatorVisit(PlantVisit):
    """One job on an indicator."""

    def __init__(self, method="indicator_adjust", **more):
        super().__init__(SPECS[method], **more)
