"""What a new instrument of this family begins with."""

from typing import Any

from calibration.engine.method.template import at_display, template


def _line(id: str, label: str, part: str, kind: str, unit: str = "", **more: Any) -> Any:
    """Return a line of the tester; what is stored in this meter is typed from its papers."""
    return {"id": id, "label": label, "part": part, "kind": kind, "unit": unit, **more}


COPPER = {"limit_percent": "3", "copper": True}
LINES = (
    _line(
        "a", "Coil resistance", "coil", "percent", "Ω", reference="", limit_percent="3", copper=True
    ),
    _line("b", "Coil insulation", "coil", "at_least", "MΩ", reference="100"),
    _line("c", "Magnetic field", "coil", "percent", "%", reference="100", limit_percent="1"),
    _line("d", "Electrode 1", "electrode", "percent", "kΩ", reference="", limit_percent="60"),
    _line("e", "Electrode 2", "electrode", "percent", "kΩ", reference="", limit_percent="60"),
    _line("f", "Electrode insulation", "electrode", "at_least", "MΩ", reference="100"),
    _line("g", "Output at 4 mA", "output", "absolute", "mA", reference="4", limit="0.02"),
    _line("h", "Output at 20 mA", "output", "absolute", "mA", reference="20", limit="0.02"),
    _line("i", "Frequency", "electronics", "percent", "Hz", reference="1000", limit_percent="0.2"),
    _line("j", "Alarm relay", "electronics", "yes_no", reference="1"),
)
TEMPLATES = (
    template(
        "electromagnetic",
        "Electromagnetic flow meter",
        "magmeter_verify",
        **at_display("m³/h", "400"),
        tolerance={"percent_of_span": "0.5"},
        own={
            "build": "compact",
            "size_mm": "",
            "conductivity_us_cm": "",
            "lines": [dict(x) for x in LINES],
        },
    ),
)
