"""Vessels on load cells played by the virtual technician: a lime hopper."""

from __future__ import annotations

from dataclasses import replace

from calibration.families.loadcells.model import LoadCellModel
from tests.core.plant import PlantVisit, Spec

SET = {
    "oiml_class": "M1",
    "density": "7850",
    "pieces": [{"nominal_kg": "20", "count": 30}, {"nominal_kg": "50", "count": 8}],
}
WEIGHTS = Spec(
    method="loadcell_weights",
    description="Lime hopper 1",
    unit="kg",
    upper="5000",
    tolerance={"combine": "greatest", "absolute": "0.5", "percent_of_reading": "0.1"},
    own={
        "cells": 4,
        "rated_kg": "2200",
        "sensitivity_mv_per_v": "2",
        "dead_load_kg": "1450",
        "step_kg": "0.2",
    },
    settings=(
        {"name": "zero_mvv", "value": "0.32966", "unit": "mV/V", "label": "Zero"},
        {"name": "span_mvv", "value": "1.13675", "unit": "mV/V", "label": "Span"},
    ),
    model=LoadCellModel(),
    shelf=(("W-1", "test_weights", "kg", SET),),
    planted={"span_percent": 0.6},
    cause="Span in the electronics",
    settable={"span_percent": 0.6},
    told={"backup_name": "hopper-1", "backup_place": "share of the workshop"},
)
SUBSTITUTION = replace(WEIGHTS, method="loadcell_substitution")
THEORY = replace(WEIGHTS, method="loadcell_theoretical")
SPECS = {spec.method: spec for spec in (WEIGHTS, SUBSTITUTION, THEORY)}


class VesselVisit(PlantVisit):
    """One job on a vessel."""

    def __init__(self, method="loadcell_weights", **more):
        super().__init__(SPECS[method], **more)
