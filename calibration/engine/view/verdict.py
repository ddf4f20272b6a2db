"""The verdict of a run as sentences, and what may be decided."""

from __future__ import annotations

from calibration.engine.evaluation import RunFigures
from calibration.engine.job import Job
from calibration.engine.view.state import CauseState, Choice, Judgement, Mark
from calibration.engine.view.strip import HOP_LABELS
from calibration.families.gas.judge import (
    channel_runs,
    gas_advice,
    gas_choices,
    gas_text,
    worst_run,
)
from calibration.kernel.rounding import show, significant
from calibration.runs.chain import Hop

CAUSE_LABELS = {
    "zero_shift": "Zero shift",
    "span_error": "Span error",
    "nonlinearity": "Nonlinearity",
    "hysteresis": "Hysteresis or friction",
    "outlier": "One bad point",
    "noise": "Noise",
    "saturated": "Saturated output",
    "inhibited": "Inhibited or fixed output",
    "stuck": "Stuck reading",
    "wrong_characteristic": "Wrong characteristic",
    "wrong_range": "Wrong range set",
    "reversed": "Reversed output",
    "wrong_sensor_type": "Wrong sensor type",
    "swapped_polarity": "Swapped polarity",
    "lead_resistance": "Lead resistance of two wires",
    "shunt": "Shunt across the sensor",
    "immersion": "Too little immersion",
    "root_twice": "Root taken twice",
    "root_missing": "Root not taken",
    "receiver_scaling": "Receiver scaling",
    "fault_current": "Fault current",
    "no_flow": "No flow of gas",
    "reference_voltage": "Reference voltage changed",
    "background_gas": "Gas in the background",
    "zero_gas_suspect": "Zero gas suspect",
    "cold": "Not warm yet",
    "no_oxygen": "Bead without oxygen",
    "wrong_channel": "Gas at the wrong channel",
    "cap_on": "Cap on, or nothing comes through",
    "plugged_filter": "Filter plugged",
    "expired_gas": "Cylinder past its date",
    "other_lel_table": "Other table of limits",
    "wrong_cylinder": "Another cylinder",
    "poisoned": "Sensor poisoned",
    "aged": "Sensor aged",
    "dry_gas": "Dry gas on a humid sensor",
}
ADJUSTABLE = ("zero_shift", "span_error", "receiver_scaling")
#: Causes outside the sensor itself: they are put right, the sensor is not replaced for them.
CONNECTION = (
    "wrong_sensor_type",
    "swapped_polarity",
    "lead_resistance",
    "shunt",
    "immersion",
    "outlier",
    "noise",
    "stuck",
)
RULES = {
    "simple": "simple acceptance",
    "guarded": "guard band: limit minus U",
    "guarded_rss": "guard band: root of limit² minus U²",
}
OUTCOMES = {
    "pass": "pass",
    "conditional_pass": "conditional pass: within, but less than U from the limit",
    "conditional_fail": "conditional fail: outside, but less than U from the limit",
    "fail": "fail",
}
SCREWS = (
    "Set zero at the heavy weight and span at the light one. Each moves the other: go round at "
    "least twice, as advised, until both hold."
)
ADJUST_WHY = {
    (True, True): "A setting differs from the record: that is put right first, nothing trimmed.",
    (True, False): "A setting differs from the record; the errors are within limits all the same.",
    (False, True): "The error can be adjusted.",
    (False, False): "It is fine, or adjusting will not cure it.",
}
_SEVERITY = {"pass": 0, "conditional_pass": 1, "conditional_fail": 2, "fail": 3}


def judgement(job: Job) -> Judgement:
    """Return the judgement of the newest run that has readings."""
    if job.ledger.facts.channels:
        return _of_detector(job)
    left = bool(job.as_left.order)
    run = "as_left" if left else "as_found"
    step = "left_judge" if left and job.as_left.mark == "outside" else "judge"
    if left and job.as_left.mark != "outside":
        step = ""
    if job.ledger.readings["wet_run"]:
        run, left, step = "wet_run", True, "wet_judge"
    figures = job.figures(run)
    return Judgement(
        run=run,
        mark=figures.mark,
        headline=_headline(figures),
        text=_text(job, figures, run),
        causes=_causes(figures),
        hop=_hop(figures),
        advice=_advice(job, figures),
        **_decision(job, run, figures),
        choices=_choices(job, figures, step),
        chosen=job.choice(step) if step else "",
        chosen_reason=job.ledger.decided[step][0].reason if step in job.ledger.decided else "",
    )


def _of_detector(job: Job) -> Judgement:
    """Return the judgement of the newest stage of a detector, by its worst channel."""
    left = any(f.order for f in channel_runs(job, "as_left"))
    run = worst_run(job, "as_left" if left else "as_found")
    step = "" if left else "judge"
    if left and any(f.complete and f.mark == "outside" for f in channel_runs(job, "as_left")):
        step = "left_judge"
    if any(f.order and f.mark == "outside" for f in channel_runs(job, "air_left")):
        run, step = worst_run(job, "air_left"), "air_judge"
    figures = job.figures(run)
    return Judgement(
        run=run,
        mark=figures.mark,
        headline=_headline(figures),
        text=gas_text(job, figures, run),
        causes=_causes(figures),
        hop="",
        advice=gas_advice(job, figures),
        **_decision(job, run, figures),
        choices=gas_choices(job, figures, step),
        chosen=job.choice(step) if step else "",
        chosen_reason=job.ledger.decided[step][0].reason if step in job.ledger.decided else "",
    )


def _headline(figures: RunFigures) -> str:
    if not figures.order:
        return "Nothing read yet."
    words: dict[Mark, str] = {
        "within": "Within limits",
        "near": "Within limits, but close",
        "outside": "Outside limits",
        "none": "",
    }
    return words[figures.mark] + ("." if figures.complete else " so far.")


def _text(job: Job, figures: RunFigures, run: str) -> str:
    if figures.result is None:
        return "The verdict grows with the readings."
    worst = figures.result.summary.max_error_percent
    text = f"Largest error {show(worst, 2, sign=True)} % of span."
    receiver = next((h for h in _hops(figures) if h.name == "receiver" and not h.within), None)
    if receiver is not None:
        shown = show(receiver.max_error_percent, 2, sign=True)
        text += f" The control room adds up to {shown} %."
    unjudged = sum(not p.judged for p in figures.result.points)
    if unjudged:
        cut = job.settings.parameter("cut_off")
        text += f" Below {cut.value} % flow the error means nothing: shown, not judged."
    if figures.mark == "near" and run == "as_found":
        share = job.settings.number("adjust_share")
        text += (
            f" That is past the adjust limit of {share} % of the tolerance "
            f"({job.settings.parameter('adjust_share').source})."
        )
    if figures.mark == "within" and figures.complete:
        text += {
            "as_found": " Adjusting what is fine adds error."
            if job.ledger.method.adjusting != "none"
            else " It stays in service.",
            "as_left": " The adjustment held.",
        }.get(run, " It follows the liquid both ways.")
    return text


def _causes(figures: RunFigures) -> tuple[CauseState, ...]:
    if figures.result is None:
        return ()
    return tuple(
        CauseState(
            cause=c.cause,
            label=CAUSE_LABELS[c.cause],
            size=f"{show(c.percent, 2, sign=True)} %",
            evidence=c.evidence,
            remedy=c.remedy,
            confidence=f"{round(100 * c.confidence)} %",
        )
        for c in figures.causes
    )


def _hops(figures: RunFigures) -> tuple[Hop, ...]:
    return figures.located.hops if figures.located is not None else ()


def _hop(figures: RunFigures) -> str:
    if figures.located is None or figures.located.fails is None:
        return ""
    if figures.facts.transfer.curve is not None:
        return ""
    return HOP_LABELS[figures.located.fails]


def adjustable(job: Job, figures: RunFigures) -> bool:
    """Tell whether zero and span adjustments can cure what the run shows."""
    if figures.result is None or job.ledger.method.adjusting == "none":
        return False
    if not figures.causes:
        return True
    return figures.causes[0].cause in ADJUSTABLE


def _advice(job: Job, figures: RunFigures) -> str:
    if figures.result is None or figures.mark == "within":
        return ""
    if job.differs and not job.ledger.readings["as_left"]:
        return (
            f"In the device {job.differences}. Bring that back first and take the run again: "
            "re-ranging is not calibration, and nothing is trimmed for it."
        )
    first = figures.causes[0] if figures.causes else None
    if job.ledger.method.adjusting == "none" and figures.mark == "outside":
        drifted = first is None or first.cause not in CONNECTION
        replace = "A sensor cannot be adjusted: replace it." if drifted else ""
        return replace or (first.remedy if first else "")
    if first is not None and not adjustable(job, figures):
        return first.remedy
    if job.ledger.method.adjusting == "screws":
        return SCREWS
    if figures.located is not None and figures.located.fails is not None:
        return figures.located.advice
    return first.remedy if first else ""


def _decision(job: Job, name: str, figures: RunFigures) -> dict[str, str]:
    rule = RULES[job.settings.rule]
    if not figures.decisions:
        return {
            "outcome": "",
            "rule": rule,
            "uncertainty": "",
            "probability_outside": "",
            "ratio": "",
            "critical_figure": "",
        }
    judged_points = figures.result.points if figures.result else ()
    counted = [i for i, p in enumerate(judged_points) if p.judged] or [0]
    most = max(counted, key=lambda i: _rank(figures, i))
    judged, budget = figures.decisions[most], figures.budgets[most]
    return {
        "outcome": OUTCOMES[judged.outcome],
        "rule": rule,
        "uncertainty": f"±{significant(budget.expanded_uncertainty, 2)} % of span",
        "probability_outside": probability(judged.probability_outside),
        "ratio": f"{judged.ratio:.1f} to 1" if judged.ratio is not None else "",
        "critical_figure": f"{name}.points.{figures.order[most]}.chance",
    }


def _rank(figures: RunFigures, index: int) -> tuple[int, float]:
    judged = figures.decisions[index]
    return _SEVERITY[judged.outcome], judged.probability_outside


def probability(value: float) -> str:
    """Return a probability for people, in percent; never a false 0 or 100."""
    if value < 0.001:
        return "below 0.1 %"
    if value > 0.999:
        return "above 99.9 %"
    return f"{show(100 * value, 1)} %"


def _choices(job: Job, figures: RunFigures, step: str) -> tuple[Choice, ...]:
    if not step or not figures.complete:
        return ()
    outside, near = figures.mark == "outside", figures.mark == "near"
    cure = adjustable(job, figures)
    if step == "wet_judge":
        good = not outside
        return (
            _choice("leave", "Put it back in service", good, not good, "It follows the liquid."),
            _choice(
                "stop", "Stop and report it", not good, True, "It sticks or reads wrong: repair."
            ),
        )
    if step == "left_judge":
        return (
            _choice("adjust", "Adjust again", cure, not cure, "A further round of adjusting."),
            _choice("stop", "Stop and report it", not cure, True, "It goes back outside limits."),
        )
    if job.ledger.method.adjusting == "none":
        return (
            _choice(
                "leave",
                "Keep it in service",
                not outside,
                outside,
                "Within its limits." if not outside else "It reads outside its limits.",
            ),
            _choice(
                "stop",
                "Replace or put right",
                outside,
                True,
                "A sensor cannot be adjusted; say what is done.",
            ),
        )
    back = job.differs and step == "judge"
    cure = cure or back
    always = job.settings.always_adjust
    wanted = (outside or near or always) and cure
    leave_fits = not outside and (not cure or (not near and not always))
    return (
        _choice(
            "leave",
            "Leave it as it is",
            leave_fits,
            not leave_fits,
            "Within limits: adjusting would add error." if leave_fits else "Against the site rule.",
        ),
        _choice(
            "adjust",
            "Bring the settings back, then run again" if back else "Adjust it",
            wanted,
            not wanted,
            ADJUST_WHY[back, wanted],
        ),
        _choice(
            "stop",
            "Stop and report it",
            outside and not cure,
            True,
            "Clean, repair or replace; it goes back marked as outside limits.",
        ),
    )


def _choice(id: str, label: str, recommended: bool, needs_reason: bool, why: str) -> Choice:
    return Choice(id=id, label=label, recommended=recommended, needs_reason=needs_reason, why=why)
