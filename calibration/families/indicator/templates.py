"""What a new instrument of this family begins with."""

from calibration.engine.method.template import at_display, template

TEMPLATES = (
    template(
        "platform",
        "Platform with an indicator",
        "indicator_adjust",
        **at_display("kg", "300"),
        tolerance={"combine": "greatest", "percent_of_reading": "0.1", "absolute": "0.05"},
        own={"indicator_step": "0.02", "cell_kg": "", "sensitivity_mv_per_v": "2"},
        settings=[{"name": "cell_factor", "value": "", "label": "Factor"}],
    ),
)
