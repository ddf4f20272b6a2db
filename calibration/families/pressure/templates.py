"""What a new instrument of this family begins with."""

from calibration.engine.method.template import current_loop, template

TEMPLATES = (
    template(
        "pressure",
        "Pressure transmitter, 4 to 20 mA",
        "pressure_transmitter",
        "pressure",
        **current_loop("bar", "0", "10"),
        tolerance={"percent_of_span": "0.5"},
    ),
)
