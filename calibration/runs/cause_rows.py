"""What is known of every cause: how it shows, what excludes it, what tells it apart, what is done.

Families join theirs; screens, judgements, papers and the documents' tables all read these rows.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal


@dataclass(frozen=True, kw_only=True)
class CauseRow:
    """One cause of an error."""

    id: str
    #: what people call it
    label: str
    #: what is read before it can be named or excluded: without it the cause stays open
    needs: str
    #: how it shows in what was read
    looks: str
    #: the figure that excludes it
    excluded: str
    #: causes that look the same until one more measurement is made, and which measurement
    alike: tuple[str, ...] = ()
    told_by: str = ""
    #: what is done about it
    remedy: str
    #: where it lies; in the test: it is put right and repeated, in the reference: with another
    lies_in: Literal["instrument", "test", "reference"] = "instrument"
    #: setting the instrument cures it
    sets: bool = False
    #: where the row comes from
    source: str


#: Every row there is, by its cause.
KNOWN: dict[str, CauseRow] = {}
Rows = dict[str, CauseRow]


def table(*rows: CauseRow) -> Rows:
    """Return rows by their cause, and make them known.

    Raises
    ------
    ValueError
        when a cause has a row already.
    """
    found = {row.id: row for row in rows}
    if len(found) < len(rows) or KNOWN.keys() & found.keys():
        raise ValueError("a cause has two rows")
    KNOWN.update(found)
    return found


def cured_by_setting(rows: Rows) -> tuple[str, ...]:
    """Return the causes that setting the instrument cures.

    Examples
    --------
    >>> "zero_shift" in cured_by_setting(ROWS), "hysteresis" in cured_by_setting(ROWS)
    (True, False)
    """
    return tuple(id for id, row in rows.items() if row.sets)


def lying_in(rows: Rows, where: str) -> tuple[str, ...]:
    """Return the causes that lie in the test, or in the reference.

    Examples
    --------
    >>> "immersion" in lying_in(ROWS, "test")
    True
    """
    return tuple(id for id, row in rows.items() if row.lies_in == where)


SOURCE = "IEC 61298-2 for the figures; what they point to: rules of this product"
ROWS = table(
    CauseRow(
        id="zero_shift",
        label="Zero shift",
        needs="readings over the range",
        looks="every point is off by the same",
        excluded="the fitted error at 0 % is within the limit",
        remedy="Adjust zero, at the low end of the range.",
        sets=True,
        source=SOURCE,
    ),
    CauseRow(
        id="span_error",
        label="Span error",
        needs="readings at both ends",
        looks="the error grows with the signal",
        excluded="the fitted error does not grow from 0 to 100 %",
        remedy="Adjust span, at the high end of the range.",
        sets=True,
        source=SOURCE,
    ),
    CauseRow(
        id="nonlinearity",
        label="Nonlinearity",
        needs="at least four points",
        looks="the mean error curve bends",
        excluded="the curve fits a straight band within the limit",
        remedy="Use the linearity adjustment if the device has one; else repair or "
        "replace. Zero and span alone only move the bend.",
        source=SOURCE,
    ),
    CauseRow(
        id="hysteresis",
        label="Hysteresis or friction",
        needs="points going up and coming down",
        looks="coming down reads other than going up",
        excluded="up and down agree within scatter",
        remedy="Hysteresis or friction cannot be adjusted away: exercise the "
        "range, clean, check the approach to each point; if it stays, "
        "repair or replace.",
        source=SOURCE,
    ),
    CauseRow(
        id="outlier",
        label="One bad point",
        needs="at least four points",
        looks="one reading lies off the line of all others",
        excluded="the same point read again lies on the line",
        remedy="Take that reading again before judging. If it stays, look for a "
        "held-back output or a reference that had not settled.",
        lies_in="test",
        source=SOURCE,
    ),
    CauseRow(
        id="noise",
        label="Noise",
        needs="samples of one dwell",
        looks="the output scatters while the input stands still",
        excluded="the scatter is as usual for the instrument",
        remedy="Look for moisture, poor contacts, vibration or missing damping before adjusting.",
        source=SOURCE,
    ),
    CauseRow(
        id="saturated",
        label="Saturated output",
        needs="two points at one end",
        looks="neighbouring points at an end share one reading",
        excluded="the end point follows the input",
        remedy="Measure supply and loop resistance: the output is held back. Then run again.",
        source=SOURCE,
    ),
    CauseRow(
        id="inhibited",
        label="Inhibited or fixed output",
        needs="one reading",
        looks="the output stands at a fixed or fault current",
        excluded="the current moves with the input",
        remedy="End the inhibit or fixed-current mode, then take the run again.",
        lies_in="test",
        source=SOURCE,
    ),
    CauseRow(
        id="stuck",
        label="Stuck reading",
        needs="two points apart",
        looks="the reading does not move with the input",
        excluded="the reading moves with the input",
        remedy="Check for a closed valve, a blocked line, hold or simulation mode; then run again.",
        lies_in="test",
        source=SOURCE,
    ),
    CauseRow(
        id="wrong_characteristic",
        label="Wrong characteristic",
        needs="at least four points",
        looks="the readings follow a root, or a line, in place of the other",
        excluded="a straight line leaves less than the root does",
        remedy="Check where the root is taken: transmitter or receiver, not both and not neither.",
        source=SOURCE,
    ),
    CauseRow(
        id="wrong_range",
        label="Wrong range set",
        needs="readings over the range",
        looks="the error is a straight line beyond what drift explains",
        excluded="the range in the device is that on record",
        remedy="Compare the range set in the device with its record before "
        "adjusting; re-ranging is not calibration.",
        source=SOURCE,
    ),
    CauseRow(
        id="reversed",
        label="Reversed output",
        needs="two points apart",
        looks="the output falls while the input rises",
        excluded="the output rises with the input",
        remedy="Compare the range set in the device with its record; check for "
        "swapped connections.",
        source=SOURCE,
    ),
    CauseRow(
        id="wrong_sensor_type",
        label="Wrong sensor type",
        needs="at least three temperatures",
        looks="the signal follows the table of another sensor",
        excluded="the table on record leaves less than any other",
        remedy="Compare the type of the sensor, of its extension wire and of the "
        "setting in the device. Correct what is wrong; do not adjust.",
        source=SOURCE,
    ),
    CauseRow(
        id="swapped_polarity",
        label="Swapped polarity",
        needs="two temperatures apart",
        looks="the emf changes with the opposite sign",
        excluded="the emf rises with the temperature",
        remedy="Swap the two wires at the terminals, then take the run again.",
        source=SOURCE,
    ),
    CauseRow(
        id="junction_compensation",
        label="Junction counted twice, or not at all",
        needs="temperature of the junction",
        looks="every point is off by what the junction is worth, once",
        excluded="the offset is another than that of the junction",
        remedy="Ask how the meter reads: bare, or compensated by itself. Say so in "
        "the job, then take the run again; the sensor is not at fault.",
        lies_in="test",
        source=SOURCE,
    ),
    CauseRow(
        id="lead_resistance",
        label="Lead resistance of two wires",
        needs="readings of a sensor with two wires",
        looks="every point is high by the same resistance",
        excluded="three or four wires are connected",
        remedy="Connect three or four wires, or set the lead resistance in the "
        "device. Do not trim the sensor for it: the lead changes with its "
        "own temperature.",
        source=SOURCE,
    ),
    CauseRow(
        id="shunt",
        label="Shunt across the sensor",
        needs="readings over the range",
        looks="the reading falls short more as the resistance rises",
        excluded="the insulation is sound",
        remedy="Measure the insulation of sensor and cable; moisture is the usual "
        "reason. Dry or replace it.",
        source=SOURCE,
    ),
    CauseRow(
        id="immersion",
        label="Too little immersion",
        needs="temperature of the room",
        looks="the error pulls towards the room, more with the distance",
        excluded="deeper in the block reads the same",
        remedy="Put the sensor in deeper, at least fifteen times its diameter, "
        "with a sleeve that fits; then take the run again before judging "
        "the sensor.",
        lies_in="test",
        source=SOURCE,
    ),
    CauseRow(
        id="root_twice",
        label="Root taken twice",
        needs="what the control room shows",
        looks="the flow shown is far too high, most at the low end",
        excluded="what is shown follows the signal as it should",
        remedy="Turn the root off in the receiver: the transmitter takes it.",
        source=SOURCE,
    ),
    CauseRow(
        id="root_missing",
        label="Root not taken",
        needs="what the control room shows",
        looks="the flow shown is far too low, most at the low end",
        excluded="what is shown follows the signal as it should",
        remedy="Turn the root on in the receiver, where the record says it is taken.",
        source=SOURCE,
    ),
    CauseRow(
        id="meter_in_doubt",
        label="Meter in doubt",
        needs="current and what the control room shows, at two points far apart",
        looks="output and control room are off by the same, in opposite ways",
        excluded="a second meter, or the drop across a known resistor, says what the first said",
        alike=("span_error", "zero_shift", "receiver_scaling"),
        told_by="a second meter in series",
        remedy="Look at the current with a second meter before anything is adjusted.",
        lies_in="reference",
        source=SOURCE,
    ),
    CauseRow(
        id="receiver_scaling",
        label="Receiver scaling",
        needs="what the control room shows",
        looks="the signal is right and what is shown does not belong to it",
        excluded="what is shown is what the signal means",
        remedy="Correct the scaling of the receiver. Leave the transmitter alone.",
        sets=True,
        source=SOURCE,
    ),
)
