"""What tells causes apart that look alike: one more measurement, and where it is written."""

from __future__ import annotations

TELLS = {
    "overflow": "Raise the flow until the overflow bubbles well and read again: air that is drawn "
    "in goes, a pressure in the cells stays.",
    "single": "Read it in zero gas, and in a gas with this component alone: a disturbance is gone "
    "there, a moved span is not.",
    "other": "Read it in another mixture: a moved span is off by the same share, a part that is "
    "not as its label says is right there.",
    "air": "Read another instrument in the same air, or this one in air from a cylinder: a moved "
    "span is off there, poor or rich air is not.",
}
#: Field, label and unit of the measurement that tells a pair apart.
FIELDS = {
    "overflow": ("with_overflow", "{label} with a good overflow", "{unit}"),
    "other": ("other_share", "{label} in another mixture, in % of its value", "%"),
    "air": ("air_beside", "Oxygen by another instrument in the same air", "% vol"),
    "single": ("alone_share", "{label} in a gas of it alone, in % of its value", "%"),
}
