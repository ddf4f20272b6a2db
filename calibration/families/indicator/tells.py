"""What tells causes apart that look alike: one more measurement, and where it is written."""

from __future__ import annotations

from calibration.families.shared.differential import Telling

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
