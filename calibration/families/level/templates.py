"""What a new instrument of this family begins with."""

from calibration.engine.method.template import current_loop, template


def _setting(name: str, value: str, unit: str, label: str) -> dict[str, str]:
    return {"name": name, "value": value, "unit": unit, "label": label}


TEMPLATES = (
    template(
        "dp_level",
        "Level by differential pressure",
        "dp_level",
        **current_loop("kPa", "0", "25", smart=True),
        indicated_unit="%",
        indicated_lower="0",
        indicated_upper="100",
        tolerance={"percent_of_span": "0.5"},
        settings=[
            _setting("arrangement", "wet_leg", "", "Arrangement"),
            _setting("density", "", "kg/m³", "Density of the liquid"),
            _setting("lower_tap_m", "0", "m", "Lower tap above the transmitter"),
            _setting("level_upper_m", "", "m", "100 % level above the lower tap"),
            _setting("leg_height_m", "", "m", "Upper tap above the transmitter"),
            _setting("fill_density", "998", "kg/m³", "Fill of the leg"),
        ],
    ),
    template(
        "displacer_level",
        "Level by a displacer",
        "displacer_level",
        **current_loop("%", "0", "100"),
        indicated_unit="%",
        indicated_lower="0",
        indicated_upper="100",
        tolerance={"percent_of_span": "1"},
        settings=[
            _setting("displacer_kg", "", "kg", "Displacer"),
            _setting("diameter_m", "", "mm", "Diameter"),
            _setting("length_m", "", "mm", "Length"),
            _setting("density", "", "kg/m³", "Density of the liquid"),
        ],
    ),
)
