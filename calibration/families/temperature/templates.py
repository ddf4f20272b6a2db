"""What a new instrument of this family begins with."""

from calibration.engine.method.template import current_loop, template

TEMPLATES = (
    template(
        "temperature_sensor",
        "Platinum sensor by itself",
        "temperature_sensor",
        input_unit="°C",
        input_lower="0",
        input_upper="150",
        output_unit="Ω",
        output_lower="100",
        output_upper="157.325",
        characteristic="platinum",
        sensor="Pt100",
        wires=4,
        tolerance={"absolute": "0.3", "percent_of_reading": "0.5"},
    ),
    template(
        "temperature_transmitter",
        "Temperature transmitter, sensor simulated",
        "temperature_transmitter",
        **current_loop("°C", "0", "150", sensor="Pt100", smart=True),
        tolerance={"percent_of_span": "0.5"},
    ),
    template(
        "temperature_loop",
        "Sensor and transmitter together, in a bath or block",
        "temperature_loop",
        **current_loop("°C", "0", "150", sensor="Pt100"),
        tolerance={"percent_of_span": "0.75"},
    ),
)
