"""Causes at a trace oxygen analyzer: names, what is done, and what tells twins apart."""

from __future__ import annotations

CAUSES = {
    "air_leak": "Air leaks in",
    "permeable_tubing": "Tubing lets air through",
    "unbled_regulator": "Air left in the regulator",
    "sensor_exposed": "Sensor saw air",
    "span_high": "Reads high",
    "trace_aged": "Sensor weaker",
    "trace_spent": "Sensor spent",
    "another_span_gas": "Other gas than its label",
    "output_off": "Output off the display",
}
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
REMEDIES = {
    "air_leak": "Tighten or replace the fitting that leaks; then read again. Setting the span "
    "would hide it, and the process would then read low.",
    "permeable_tubing": "Replace it by metal tubing; then read again. Setting the span would hide "
    "it.",
    "unbled_regulator": "Bleed the regulator again, high side first; then read again. Setting the "
    "span now would make the process read low.",
    "sensor_exposed": "Let gas flow over the sensor until it is down to its floor, an hour or "
    "more; only then set.",
    "span_high": "Set the span.",
    "trace_aged": "Set the span: sensors weaken with time.",
    "trace_spent": "Replace the sensor: it is near its end.",
    "another_span_gas": "Put this cylinder aside and use the other one; then read again.",
    "output_off": "Trim the output, or have it repaired; the sensor is right.",
}
#: Causes that setting the span cures.
SET = ("span_high", "trace_aged")
#: Causes that lie in the test: it is put right and repeated.
TEST = ("unbled_regulator", "air_leak", "permeable_tubing", "another_span_gas")
