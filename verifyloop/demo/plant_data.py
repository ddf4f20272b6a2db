"""What the instruments of flow and weighing are, and what stands on the shelf for them."""

from __future__ import annotations

from typing import Any

from calibration.families.magmeter.facts import TestLine
from calibration.kernel.codec import decode

MASS: dict[str, Any] = {
    "zero_stability": "1.2",
    "minimum_flow": "900",
    "normal_flow": "5400",
    "density": "1320",
    "drive_gain": "6",
    "scatter": "0.3",
    "flow_per_offset": "100",
    "batch_kg": "1000",
}


def _line(id: str, label: str, part: str, reference: str, kind: str, **more: Any) -> dict[str, Any]:
    return {"id": id, "label": label, "part": part, "reference": reference, "kind": kind, **more}


TEST: list[dict[str, Any]] = [
    _line(
        "a", "Coil resistance", "coil", "58.4", "percent", limit_percent="3", unit="Ω", copper=True
    ),
    _line("b", "Coil insulation", "coil", "100", "at_least", unit="MΩ"),
    _line("c", "Magnetic field", "coil", "100", "percent", limit_percent="1", unit="%"),
    _line("d", "Electrode 1", "electrode", "11.8", "percent", limit_percent="60", unit="kΩ"),
    _line("e", "Electrode 2", "electrode", "12.1", "percent", limit_percent="60", unit="kΩ"),
    _line("f", "Electrode insulation", "electrode", "100", "at_least", unit="MΩ"),
    _line("g", "Output at 4 mA", "output", "4", "absolute", limit="0.02", unit="mA"),
    _line("h", "Output at 20 mA", "output", "20", "absolute", limit="0.02", unit="mA"),
    _line("i", "Frequency", "electronics", "1000", "percent", limit_percent="0.2", unit="Hz"),
    _line("j", "Alarm relay", "electronics", "1", "yes_no"),
]
LINES = tuple(decode(TestLine, line, "line") for line in TEST)
MAGNETIC: dict[str, Any] = {
    "build": "remote",
    "size_mm": "200",
    "conductivity_us_cm": "1800",
    "lines": TEST,
}
BELT: dict[str, Any] = {
    "belt_length_m": "72",
    "belt_speed_m_s": "1.6",
    "weigh_length_m": "2.4",
    "test_weight_kg": "120",
    "zero_count": "20150",
    "usual_spread": "10",
    "span_count": "41200",
}
CELL: dict[str, Any] = {
    "cells": 4,
    "rated_kg": "2200",
    "sensitivity_mv_per_v": "2",
    "dead_load_kg": "1450",
    "step_kg": "0.2",
}
INDICATOR: dict[str, Any] = {
    "indicator_step": "0.02",
    "cell_kg": "500",
    "sensitivity_mv_per_v": "2",
}


def _set(oiml_class: str, **pieces: int) -> dict[str, Any]:
    sizes = [{"nominal_kg": name[1:], "count": count} for name, count in pieces.items()]
    return {"oiml_class": oiml_class, "density": "7850", "pieces": sizes}


#: asset, description, what it measures, unit, own values, due in so many days
SHELF: tuple[tuple[str, str, str, str, dict[str, Any], int], ...] = (
    ("W-601", "Hopper weights", "test_weights", "kg", _set("M1", _20=30, _50=8), 190),
    ("W-602", "Belt weights", "test_weights", "kg", _set("M2", _20=6), 240),
    ("W-603", "Platform weights", "test_weights", "kg", _set("M1", _20=15, _5=2), 75),
    ("T-611", "Truck scale", "truck_scale", "kg", {"uncertainty_kg": "20"}, 130),
    (
        "K-621",
        "Batch scale of the syrup station",
        "flow_quantity",
        "kg",
        {"reference_is": "weighed", "uncertainty_percent": "0.04"},
        160,
    ),
    ("P-631", "Plug-in tester", "flow_tester", "%", {"uncertainty_percent": "0.02"}, 210),
)
