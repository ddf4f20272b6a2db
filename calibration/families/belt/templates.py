"""What a new instrument of this family begins with."""

from calibration.engine.method.template import at_display, template

TEMPLATES = (
    template(
        "belt_scale",
        "Belt scale",
        "belt_routine",
        **at_display("t/h", "300"),
        tolerance={"percent_of_span": "0.5"},
        own={
            "belt_length_m": "",
            "belt_speed_m_s": "",
            "weigh_length_m": "",
            "test_weight_kg": "",
            "zero_count": "",
            "span_count": "",
        },
    ),
)
