"""Causes at an analyzer of several components: names, what is done, what tells twins apart."""

from __future__ import annotations

CAUSES = {
    "air_drawn_in": "Air drawn into the mixture",
    "cell_pressure": "Pressure in the cells",
    "mix_zero_moved": "Zero moved",
    "mix_span_moved": "Span moved",
    "mix_cross": "Another component disturbs",
    "mix_part_wrong": "This part of the mixture",
    "mix_air": "The air is poor or rich in oxygen",
}
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
REMEDIES = {
    "air_drawn_in": "Find where it draws air: more flow at the tee, tight fittings, a free outlet. "
    "Then read again; setting would hide it.",
    "cell_pressure": "Look at the outlet: bent, wet or shared line. Bring the cells to the "
    "pressure of the process, then read again.",
    "mix_zero_moved": "Set its zero.",
    "mix_span_moved": "Set its span.",
    "mix_cross": "Set the component that disturbs first, then read this one again; its "
    "compensation is set as the manual says.",
    "mix_air": "Leave if others may be at risk. Bring good air to it, from outdoors or a cylinder, "
    "and read it again; nothing is set in this air.",
    "mix_part_wrong": "Put this mixture aside; read another one before anything is set.",
}
SET = ("mix_zero_moved", "mix_span_moved")
TEST = ("air_drawn_in", "cell_pressure")
