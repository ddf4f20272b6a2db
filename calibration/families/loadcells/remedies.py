"""Causes at a vessel on load cells: names, what is done, what tells those that look alike."""

from __future__ import annotations

from calibration.families.shared.apart import Telling

CAUSES = {
    "scale_zero_moved": "Zero moved",
    "build_up": "Something lies in or on the vessel",
    "moisture": "Moisture in cell, cable or box",
    "span_parameter": "Span in the electronics",
    "weights_wrong": "The weights are not what they are said to be",
    "cell_signal": "Signal of the cells",
    "piping": "Pipes or supports carry load",
    "cell_dead": "A cell without supply",
    "cell_open": "A cell whose signal is open",
    "corner_off": "A corner differs",
    "creep": "Creep of a cell",
    "no_return": "It does not come back to zero",
}
TELLS = {
    t.id: t
    for t in (
        Telling(
            id="after_cleaning",
            label="Shows when emptied and cleaned",
            unit="kg",
            tells="Empty and clean vessel, supports and top, then read again: what lay there is "
            "gone, a moved zero stays.",
        ),
        Telling(
            id="insulation_mohm",
            label="Least insulation, cable against shield",
            unit="MΩ",
            tells="Power off, cells disconnected: measure the insulation of each. Below 1000 MΩ "
            "moisture moves the zero; it wanders with the weather.",
        ),
        Telling(
            id="mvv_grown",
            label="Signal grown from empty to all weights",
            unit="mV/V",
            tells="Read the signal of the cells empty and with all weights: where it grew as "
            "their data say, the electronics count wrong; else load is missing or the cells give "
            "otherwise.",
        ),
        Telling(
            id="weights_percent",
            label="Error of the span with the weights counted again, or with another set",
            unit="%",
            tells="Count the pieces and read their marks again, or hang another set: a piece that "
            "is missing or of another size goes away, all else stays.",
        ),
        Telling(
            id="pipes_free_percent",
            label="Error of the span with pipes and stays loosened",
            unit="%",
            tells="Loosen pipes, stays and sleeves, hang the weight again: what carried load goes "
            "away, the signal of the cells stays.",
        ),
    )
}
REMEDIES = {
    "scale_zero_moved": "Set the zero with the vessel empty.",
    "build_up": "Clean it, then read again; zeroing now would hide what lies there.",
    "moisture": "Dry and seal it, or replace cell or cable; zeroing lasts until the weather turns.",
    "span_parameter": "Set the span with the weight that hangs.",
    "weights_wrong": "Count the pieces, read their marks, and run again with all of them.",
    "cell_signal": "The cells give another signal than on record: set the span with the weight, "
    "and note the new counts. After a calibration by data alone look at cable and sensitivity.",
    "piping": "Free pipes, stays and supports; a span that is set against them moves with every "
    "bolt. Then run again.",
    "cell_dead": "Find the cell whose corner does not count: supply, wire, plug. Then run again.",
    "cell_open": "Find the cell whose corner does not count: its signal wire is open. A span with "
    "the load in the middle looks right all the same. Then run again.",
    "corner_off": "Level the support, or trim that cell in the box, then take the corners again.",
    "creep": "Let it stand and read again; a cell that creeps is overloaded or wet: replace it.",
    "no_return": "Something sticks or has settled: look at stays, bumpers and feet, then again.",
}
REFERENCE = ("weights_wrong",)
SET = ("scale_zero_moved", "span_parameter", "cell_signal")
#: What is put right at the vessel before anything is set.
FIRST = ("cell_dead", "cell_open", "corner_off", "piping", "build_up", "moisture", "no_return")
