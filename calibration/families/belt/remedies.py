"""Causes at a belt scale: names, what is done, what tells those that look alike."""

from __future__ import annotations

from calibration.families.shared.apart import Telling

CAUSES = {
    "belt_zero_moved": "Zero of the electronics",
    "belt_build_up": "Build-up on idlers or weigh bridge",
    "belt_tension": "Tension or alignment",
    "idler_stuck": "An idler sticks, or a splice strikes",
    "belt_slip": "The belt slips at the speed wheel",
    "belt_span_moved": "Span",
    "belt_cell_lost": "A cell of the weigh frame gives nothing",
    "belt_speed_lost": "The speed is taken too low",
    "weights_not_seated": "The weights do not hang as they should",
    "material_lost": "Material lost or water gained on the way",
}
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
REMEDIES = {
    "belt_zero_moved": "Take the new zero over.",
    "belt_build_up": "Clean it, locked out, then run the zero again; a zero taken over now makes "
    "the clean belt read low.",
    "belt_tension": "Align the idlers and look at the take-up, then run zero and material again. "
    "Hung weights hardly show it.",
    "idler_stuck": "Find the idler that sticks, or the splice; free or change it, then run again.",
    "belt_slip": "Clean and press the speed wheel, look at its bearing; then run again.",
    "belt_span_moved": "Take the new span over.",
    "belt_cell_lost": "Take nothing over: the counts before stay. Find the cell: plug, wire, "
    "overload; then run anew.",
    "belt_speed_lost": "Take nothing over: the counts before stay. Look at speed wheel, sensor and "
    "pulses for each metre; then run anew.",
    "weights_not_seated": "Hang them free and run again.",
    "material_lost": "Look at chutes, scraper, rain and truck scale, then send another load.",
}
SET = ("belt_zero_moved", "belt_span_moved")
TEST = ("belt_build_up", "belt_tension", "idler_stuck", "belt_slip", "weights_not_seated")
REFERENCE = ("material_lost",)
