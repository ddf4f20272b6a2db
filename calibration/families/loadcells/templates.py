"""What a new instrument of this family begins with."""

from calibration.engine.method.template import at_display, template

TEMPLATES = (
    template(
        "vessel",
        "Vessel on load cells",
        "loadcell_weights",
        **at_display("kg", "5000"),
        tolerance={"combine": "greatest", "percent_of_reading": "0.1", "absolute": "0.5"},
        own={
            "cells": 4,
            "rated_kg": "",
            "sensitivity_mv_per_v": "2",
            "dead_load_kg": "",
            "step_kg": "0.2",
        },
        settings=[
            {"name": "zero_mvv", "value": "", "unit": "mV/V", "label": "Zero"},
            {"name": "span_mvv", "value": "", "unit": "mV/V", "label": "Span"},
        ],
    ),
)
