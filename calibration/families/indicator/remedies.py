"""Causes at a load-cell indicator: names, what is done, what tells those that look alike."""

from __future__ import annotations

from calibration.families.shared.apart import Telling

CAUSES = {
    "factor_mistyped": "Factor is not that on record",
    "unit_wrong": "Shown in another unit",
    "zeroed_with_load": "Zeroed with a load on",
    "indicator_zero": "Zero of the indicator",
    "lies_on_it": "Something lies on it",
    "cell_moved": "The cell",
    "load_wrong": "The load is not what it says",
}
TELLS = {
    t.id: t
    for t in (
        Telling(
            id="cleared",
            label="Shows when cleared and cleaned",
            unit="kg",
            tells="Clear and clean pan and cell, look for what rubs, read again: what lay there "
            "is gone, a zero that moved stays.",
        ),
        Telling(
            id="other_percent",
            label="Error with a load of another origin",
            unit="%",
            tells="Put a load of another set or scale on: the cell errs by the same share, a load "
            "that is wrong does not.",
        ),
    )
}
REMEDIES = {
    "factor_mistyped": "Set it with the load: the factor comes back with it. Compare it with the "
    "record.",
    "unit_wrong": "Set the unit back, then read again; nothing else is set before.",
    "zeroed_with_load": "Zero it with nothing on it.",
    "indicator_zero": "Zero it with nothing on it.",
    "lies_on_it": "Clear it, then read again; zeroing now would hide what lies there.",
    "cell_moved": "Set it with the load, and look at the cell: overload, cable, side load.",
    "load_wrong": "Put this load aside; take another one whose origin is known.",
}
SET = ("factor_mistyped", "zeroed_with_load", "indicator_zero", "cell_moved")
TEST = ("lies_on_it", "unit_wrong")
REFERENCE = ("load_wrong",)
