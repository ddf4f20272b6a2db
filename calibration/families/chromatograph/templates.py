"""What a new instrument of this family begins with."""

from calibration.engine.method.template import at_display, template


def _peak(id: str, gas: str, upper: str, at_s: str, blank: str) -> dict[str, str]:
    said = {"id": id, "gas": gas, "label": gas.capitalize(), "upper": upper}
    return {**said, "expected_s": at_s, "width_s": "6", "blank_ppm": blank}


TEMPLATES = (
    template(
        "chromatograph",
        "Chromatograph of gas in oil",
        "gc_calibrate",
        **at_display("ppm", "10000"),
        loop_role="indication",
        tolerance={"percent_of_reading": "5", "percent_of_span": "0.01"},
        own={
            "peaks": [
                _peak("a", "hydrogen", "2000", "31", "5"),
                _peak("b", "methane", "1000", "66", "1"),
                _peak("c", "ethylene", "1000", "127", "1"),
                _peak("d", "acetylene", "500", "172", "1"),
            ]
        },
    ),
)
