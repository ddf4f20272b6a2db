"""What tells causes apart that look alike: one more measurement, and where it is written."""

from __future__ import annotations

TELLS = {
    "volume": "Inject once with another syringe, its thread newly sealed: a leak or a wrong volume "
    "goes, a weaker detector stays.",
    "gas": "Inject another cylinder: a gas that is not as its label says is right there, a weaker "
    "detector is off by the same share.",
    "part": "Inject another calibration gas: a response that moved is off by the same share.",
}
#: Field, label and unit of each of those measurements.
FIELDS = {
    "volume": ("other_syringe", "{label} with another syringe", "ppm"),
    "gas": ("other_cylinder", "{label} in another cylinder, in % of its value", "%"),
    "part": ("other_gas", "{label} in another gas, in % of its value", "%"),
}
