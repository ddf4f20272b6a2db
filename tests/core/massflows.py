"""Mass flow meters played by the virtual technician: syrup to the pans."""

from __future__ import annotations

from dataclasses import replace

from calibration.families.massflow.model import MassFlowModel
from tests.core.plant import PlantVisit, Spec

ZERO = Spec(
    method="massflow_zero",
    description="Syrup to pan 2",
    unit="kg/h",
    upper="20000",
    tolerance={"absolute": "1.2"},
    own={
        "zero_stability": "1.2",
        "minimum_flow": "900",
        "normal_flow": "5400",
        "density": "1320",
        "drive_gain": "6",
        "scatter": "0.3",
        "flow_per_offset": "100",
        "batch_kg": "1000",
    },
    model=MassFlowModel(),
    shelf=(
        (
            "K-1",
            "flow_quantity",
            "kg",
            {"reference_is": "weighed", "uncertainty_percent": "0.04"},
        ),
    ),
    planted={"zero": 4.0},
    cause="Zero moved",
    settable={"zero": 4.0},
    told={"minutes": "45"},
)
PROVE = replace(
    ZERO,
    method="massflow_prove",
    planted={"factor_percent": 0.6},
    cause="Meter factor",
    settable={"factor_percent": 0.6},
    told={},
)
SPECS = {spec.method: spec for spec in (ZERO, PROVE)}


class MassFlowVisit(PlantVisit):
    """One job on a mass flow meter."""

    def __init__(self, method="massflow_zero", **more):
        super().__init__(SPECS[method], **more)
