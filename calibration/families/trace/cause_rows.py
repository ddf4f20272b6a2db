"""What an error of such an analyzer may come from: how it shows, what tells, what is done."""

from __future__ import annotations

from calibration.runs.cause_rows import CauseRow, table

SOURCE = "Faraday and Fick: oxygen that leaks in adds, and is diluted by flow; field practice"
ROWS = table(
    CauseRow(
        id="air_leak",
        label="Air leaks in",
        needs="reading at the doubled flow, fittings wetted",
        looks="it reads lower at double flow, and wetting changes it",
        excluded="double flow reads the same",
        alike=(
            "permeable_tubing",
            "sensor_exposed",
            "unbled_regulator",
        ),
        told_by="flow",
        remedy="Tighten or replace the fitting that leaks; then read again. "
        "Setting the span would hide it, and the process would then read "
        "low.",
        lies_in="test",
        source=SOURCE,
    ),
    CauseRow(
        id="permeable_tubing",
        label="Tubing lets air through",
        needs="reading at the doubled flow, fittings wetted",
        looks="it reads lower at double flow, and wetting changes nothing",
        excluded="double flow reads the same",
        alike=("air_leak",),
        told_by="soap",
        remedy="Replace it by metal tubing; then read again. Setting the span would hide it.",
        lies_in="test",
        source=SOURCE,
    ),
    CauseRow(
        id="unbled_regulator",
        label="Air left in the regulator",
        needs="reading after two more fillings",
        looks="it falls with each filling and venting",
        excluded="after two more fillings it reads the same",
        alike=("sensor_exposed",),
        told_by="bleeding",
        remedy="Bleed the regulator again, high side first; then read again. "
        "Setting the span now would make the process read low.",
        lies_in="test",
        source=SOURCE,
    ),
    CauseRow(
        id="sensor_exposed",
        label="Sensor saw air",
        needs="reading after two more fillings, a second cylinder",
        looks="off by the same ppm in a second cylinder",
        excluded="a second cylinder is off by the same share",
        alike=(
            "unbled_regulator",
            "span_high",
        ),
        told_by="bleeding",
        remedy="Let gas flow over the sensor until it is down to its floor, an "
        "hour or more; only then set.",
        source=SOURCE,
    ),
    CauseRow(
        id="span_high",
        label="Reads high",
        needs="a second cylinder",
        looks="off by the same share in a second cylinder, high",
        excluded="a second cylinder reads right",
        alike=(
            "sensor_exposed",
            "another_span_gas",
        ),
        told_by="second",
        remedy="Set the span.",
        sets=True,
        source=SOURCE,
    ),
    CauseRow(
        id="trace_aged",
        label="Sensor weaker",
        needs="a second cylinder",
        looks="off by the same share in a second cylinder, low",
        excluded="a second cylinder reads right",
        alike=("another_span_gas",),
        told_by="second",
        remedy="Set the span: sensors weaken with time.",
        sets=True,
        source=SOURCE,
    ),
    CauseRow(
        id="trace_spent",
        label="Sensor spent",
        needs="span setting and its course",
        looks="low beyond what the span can be set",
        excluded="the span can be set",
        remedy="Replace the sensor: it is near its end.",
        source=SOURCE,
    ),
    CauseRow(
        id="another_span_gas",
        label="Other gas than its label",
        needs="a second cylinder",
        looks="a second cylinder reads right",
        excluded="a second cylinder is off as well",
        alike=(
            "trace_aged",
            "span_high",
        ),
        told_by="second",
        remedy="Put this cylinder aside and use the other one; then read again.",
        lies_in="test",
        source=SOURCE,
    ),
    CauseRow(
        id="output_off",
        label="Output off the display",
        needs="display and output",
        looks="the output does not follow the display",
        excluded="the output is what the display means",
        remedy="Trim the output, or have it repaired; the sensor is right.",
        source=SOURCE,
    ),
)
