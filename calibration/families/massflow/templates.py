"""What a new instrument of this family begins with."""

from calibration.engine.method.template import at_display, template

TEMPLATES = (
    template(
        "mass_flow",
        "Mass-flow meter",
        "massflow_zero",
        **at_display("kg/h", "20000"),
        tolerance={"absolute": "1.2"},
        own={"zero_stability": "1.2", "minimum_flow": "", "normal_flow": "", "density": ""},
    ),
)
