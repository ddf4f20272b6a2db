"""What tells causes apart that look alike: one more measurement, and where it is written."""

from __future__ import annotations

#: What tells them apart: the field in which it is written down.
TELLS = {
    "flow": "Double the flow and read again: a leak or plastic tubing then reads lower, for the "
    "same air goes into more gas.",
    "bleeding": "Fill and vent the regulator twice more and read again: what was left in it falls, "
    "a sensor that saw air does not.",
    "soap": "Wet the fittings one after the other: a leak changes the reading, tubing does not.",
    "second": "Read a second cylinder of another value: a weaker sensor is off by the same share, "
    "a sensor that saw air by the same ppm, and another gas not at all.",
}
#: Fields, labels and units of each of those measurements.
FIELDS = {
    "flow": (("at_double_flow", "Reading at the doubled flow", "ppm"),),
    "bleeding": (("after_bleeding", "Reading after two more fillings", "ppm"),),
    "soap": (("wetted", "Largest change when fittings are wetted", "ppm"),),
    "second": (
        ("second_value", "Second cylinder, its value", "ppm"),
        ("second_shows", "Reading in it", "ppm"),
    ),
}
NAMES = tuple(name for fields in FIELDS.values() for name, _, _ in fields)
