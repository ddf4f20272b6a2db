"""What a detector answered to a gas, in our words."""

from __future__ import annotations

from decimal import Decimal

from calibration.detector.naming import MEASURES_FROM_MA
from calibration.detector.visit import NONE_BELOW
from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures
from calibration.families.gas.facts import detector
from calibration.families.gas.gases import shows
from calibration.gas.cylinder import Purpose
from calibration.kernel.numbers import HUNDRED

#: Our words for what a detector answered.
OUTCOMES = {
    "accepted": "Answers as it should",
    "zero_gas_suspect": "Zero gas or air is suspect",
    "zero_moved": "Zero has moved",
    "no_response": "No answer",
    "low_response": "Answers too little",
    "high_response": "Answers too much",
    "out_of_range": "Past what may be set",
    "unstable": "Does not settle",
    "inhibited": "Output held",
    "fault_current": "Reports a fault",
}


#: Reasons for which a reading is taken before it is steady; the first says what it does.
UNSETTLED = "It will not get steadier"
EARLY = (UNSETTLED, "No answer: nothing will come")


def unsettled(figures: RunFigures) -> bool:
    """Tell whether a gas was read that would not settle: no value of it can be trusted."""
    return any(figures.taken[i].content.early_reason == UNSETTLED for i in figures.order)


def outcome_at(job: Reads, figures: RunFigures, index: int, purpose: Purpose) -> str:
    """Return our word for what a detector answered to one gas."""
    content, place = figures.taken[index].content, figures.order.index(index)
    facts = figures.facts
    if facts.output_unit == "mA" and content.reading < Decimal(str(MEASURES_FROM_MA)):
        held = abs(content.reading - detector(facts).inhibit_ma) <= Decimal("0.3")
        return "inhibited" if held else "fault_current"
    if content.early_reason == UNSETTLED:
        return "unstable"
    if figures.marks[place] != "outside":
        return "accepted"
    seen, gas = shows(facts, content), content.applied
    if not gas:
        doubted = any(c.cause in ("background_gas", "zero_gas_suspect") for c in figures.causes)
        return "zero_gas_suspect" if doubted else "zero_moved"
    percent = HUNDRED * seen / gas
    if seen >= facts.input_upper * Decimal("1.03"):
        return "out_of_range"
    if percent < Decimal(str(NONE_BELOW)):
        return "no_response"
    return "low_response" if percent < HUNDRED else "high_response"
