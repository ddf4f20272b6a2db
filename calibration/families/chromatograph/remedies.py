"""Causes at a chromatograph: names, what is done, and what tells twins apart."""

from __future__ import annotations

CAUSES = {
    "gc_volume": "Volume injected, or a leak",
    "gc_aged": "Detector weaker",
    "gc_gas": "Gas of another strength than its label says",
    "gc_moisture": "Moisture on the column",
    "gc_carrier": "Carrier flow or temperature",
    "gc_peak": "One peak, its separation",
    "gc_part": "This part of the gas",
    "gc_response": "Response moved",
}
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
REMEDIES = {
    "gc_volume": "Leak test, new septum or thread seal, fill to the mark; then inject again.",
    "gc_aged": "Store the new response: detectors weaken by 1 to 3 % a month.",
    "gc_gas": "Put this cylinder aside; nothing is stored from it.",
    "gc_moisture": "Recondition the column: a shifted run names the wrong component. Then again.",
    "gc_carrier": "Bring carrier pressure and column temperature to what they were; then again.",
    "gc_peak": "Look at its separation from the neighbour before anything is stored.",
    "gc_part": "Put this cylinder aside; inject another gas before anything is stored.",
    "gc_response": "Store the new response.",
}
SET = ("gc_aged", "gc_response")
TEST = ("gc_volume", "gc_moisture", "gc_carrier")
