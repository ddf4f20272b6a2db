"""What tells causes apart that look alike: one more measurement, and where it is written."""

from __future__ import annotations

from calibration.families.shared.differential import Telling

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
#: What is put right at the vessel before anything is set.
FIRST = ("cell_dead", "cell_open", "corner_off", "piping", "build_up", "moisture", "no_return")
