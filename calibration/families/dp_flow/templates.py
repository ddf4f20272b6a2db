"""What a new instrument of this family begins with."""

from calibration.engine.method.template import current_loop, template

TEMPLATES = (
    template(
        "dp_flow",
        "Flow by differential pressure, root in the receiver",
        "dp_flow",
        **current_loop("kPa", "0", "25", smart=True),
        indicated_unit="t/h",
        indicated_lower="0",
        indicated_upper="",
        indicated_characteristic="square_root",
        tolerance={"absolute": "0.125"},
    ),
)
