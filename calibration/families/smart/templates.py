"""What a new instrument of this family begins with."""

from calibration.engine.method.template import current_loop, template

TEMPLATES = (
    template(
        "smart_pressure",
        "Smart pressure transmitter, with a digital value",
        "smart_transmitter",
        "pressure",
        **current_loop("bar", "0", "10", smart=True),
        tolerance={"percent_of_span": "0.25"},
    ),
)
