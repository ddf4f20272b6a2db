"""What tells causes apart that look alike: one more measurement, and where it is written."""

from __future__ import annotations

from calibration.families.shared.differential import Telling

TELLS = {
    t.id: t
    for t in (
        Telling(
            id="zero_cleaned",
            label="Zero deviation after cleaning",
            unit="% of span",
            tells="Locked out: clean idlers, bridge and scraper, then run the zero again: build-up "
            "goes, a zero that moved stays.",
        ),
        Telling(
            id="alignment_mm",
            label="Idlers out of line by a string, at most",
            unit="mm",
            tells="Locked out: stretch a string over the idlers: more than half a millimetre lets "
            "the tension of the belt push or carry, and it changes with every load.",
        ),
        Telling(
            id="span_seated",
            label="Span deviation after the weights were seated anew",
            unit="%",
            tells="Locked out: lift the weights, clean their seats, hang them free: weights that "
            "leaned come right, a span that moved stays.",
        ),
        Telling(
            id="speed_shown",
            label="Speed that the integrator shows",
            unit="m/s",
            tells="A speed far below that of the belt takes its share off zero and span alike.",
        ),
        Telling(
            id="cell_least_mv",
            label="Signal of the cell that gives least",
            unit="mV",
            tells="Locked out, electronics on: read the signal of each cell; one that gives "
            "nothing takes its share of the whole frame.",
        ),
        Telling(
            id="other_route",
            label="Error of a load by another route or truck scale",
            unit="%",
            tells="Send a second load another way: what is lost on the way differs, a span does "
            "not.",
        ),
    )
}
