"""Belt scales played by the virtual technician: beets on their way in."""

from __future__ import annotations

from dataclasses import replace

from calibration.families.belt.model import BeltModel
from tests.core.plant import PlantVisit, Spec

ROUTINE = Spec(
    method="belt_routine",
    description="Beets to the slicers",
    unit="t/h",
    upper="300",
    tolerance={"percent_of_span": "0.5"},
    own={
        "belt_length_m": "72",
        "belt_speed_m_s": "1.6",
        "weigh_length_m": "2.4",
        "test_weight_kg": "120",
        "zero_count": "20150",
        "span_count": "41200",
        "usual_spread": "10",
    },
    model=BeltModel(),
    shelf=(
        (
            "W-2",
            "test_weights",
            "kg",
            {"oiml_class": "M2", "pieces": [{"nominal_kg": "20", "count": 6}]},
        ),
        ("TS-1", "truck_scale", "kg", {"uncertainty_kg": "20"}),
    ),
    planted={"zero_percent": 0.8},
    cause="Zero of the electronics",
    settable={"zero_percent": 0.8},
)
COMMISSION = replace(
    ROUTINE,
    method="belt_commission",
    planted={"stuck": 120.0},
    cause="An idler sticks, or a splice strikes",
    settable={},
)
MATERIAL = replace(
    ROUTINE,
    method="belt_material",
    planted={"span_percent": 2.5},
    cause="Span",
    settable={"span_percent": 2.5},
)
SPECS = {spec.method: spec for spec in (ROUTINE, COMMISSION, MATERIAL)}


class BeltVisit(PlantVisit):
    """One job on a belt scale."""

    def __init__(self, method="belt_routine", **more):
        super().__init__(SPECS[method], **more)
