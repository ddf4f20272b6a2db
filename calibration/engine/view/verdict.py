"""The verdict of a run as sentences, and what may be decided."""

from __future__ import annotations

from calibration.engine.job.job import Job
from calibration.engine.judging.bounding import SETS, choices_bounded, unadvised
from calibration.engine.judging.evaluation import RunFigures
from calibration.engine.judging.repairing import choices_with_repair
from calibration.engine.judging.repeating import choices_with
from calibration.engine.method.method import Step
from calibration.engine.view.asks import Choice
from calibration.engine.view.axis import axis_of
from calibration.engine.view.blocks import Mark
from calibration.engine.view.state import CauseState, Judgement
from calibration.kernel.rounding import show
from calibration.runs.cause_rows import KNOWN

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
_SEVERITY = {"pass": 0, "conditional_pass": 1, "conditional_fail": 2, "fail": 3}


def judgement(job: Job) -> Judgement:
    """Return the judgement of the newest run that has readings."""
    judge = job.family.judge
    run, step = judge.newest(job)
    figures = job.figures(run)
    id = step.id if step is not None else ""
    return Judgement(
        run=run,
        mark=figures.mark,
        headline=_headline(figures),
        text=judge.text(job, figures, job.ledger.method.run(run), run),
        causes=_causes(figures),
        hop=judge.hop(figures) if figures.complete else "",
        advice=_advice(job, figures, step),
        **_decision(job, run, figures),
        choices=_choices(job, figures, step) if step and figures.complete else (),
        chosen=job.choice(id) if id else "",
        chosen_reason=job.ledger.decided[id][0].reason if id in job.ledger.decided else "",
    )


def _choices(job: Job, figures: RunFigures, step: Step) -> tuple[Choice, ...]:
    own = choices_bounded(job, figures, step, job.family.judge.choices(job, figures, step))
    return choices_with_repair(job, figures, step, choices_with(job, figures, step, own))


def _advice(job: Job, figures: RunFigures, step: Step | None) -> str:
    """Return what to do; nothing while a run goes on, but for what one reading tells."""
    if not figures.complete:
        return figures.causes[0].remedy if figures.causes else ""
    held, judge = unadvised(job, figures), job.family.judge
    own = judge.choices(job, figures, step) if held and step else ()
    # What is not advised is not told either.
    to_set = any(c.id in SETS and c.recommended for c in own)
    return " ".join(t for t in (held, "" if to_set else judge.advice(job, figures)) if t)


def _headline(figures: RunFigures) -> str:
    if not figures.order:
        return "Nothing read yet."
    words: dict[Mark, str] = {
        "within": "Within limits",
        "near": "Within limits, but close",
        "outside": "Outside limits",
        "none": "Not judged",
    }
    return words[figures.mark] + ("." if figures.complete else " so far.")


def _causes(figures: RunFigures) -> tuple[CauseState, ...]:
    if figures.result is None:
        return ()
    return tuple(
        CauseState(
            cause=c.cause,
            label=KNOWN[c.cause].label,
            # A cause that nobody measured has no size.
            size=f"{show(c.percent, 2, sign=True)} %" if c.percent else "",
            evidence=c.evidence,
            remedy=c.remedy,
            confidence=f"{round(100 * c.confidence)} %",
        )
        for c in figures.causes
    )


def _decision(job: Job, name: str, figures: RunFigures) -> dict[str, str]:
    """Return how the most critical point is decided; nothing of U where none is known there."""
    found = decided(job, name, figures)
    if found.pop("known"):
        return found
    return {**dict.fromkeys(found, ""), "rule": found["rule"], "outcome": found["outcome"]}


def decided(job: Job, name: str, figures: RunFigures) -> dict[str, str]:
    """Return the figures of the decision at the most critical point, and whether U is known."""
    rule = RULES[job.settings.rule]
    if not figures.decisions:
        names = ("outcome", "uncertainty", "probability_outside", "ratio", "critical_figure")
        return {**dict.fromkeys(names, ""), "rule": rule, "known": ""}
    judged_points = figures.result.points if figures.result else ()
    counted = [i for i, p in enumerate(judged_points) if p.judged] or [0]
    most = max(counted, key=lambda i: _rank(figures, i))
    judged, budget = figures.decisions[most], figures.budgets[most]
    axis = axis_of(job.kind_of(job.ledger.method.run(name)).in_unit, figures.facts)
    return {
        "outcome": OUTCOMES[judged.outcome],
        "rule": rule,
        "uncertainty": axis.plus_minus(budget.expanded_uncertainty),
        "probability_outside": probability(judged.probability_outside),
        "ratio": f"{judged.ratio:.1f} to 1" if judged.ratio is not None else "",
        "critical_figure": f"{name}.points.{figures.order[most]}.chance",
        "known": "U" if budget.expanded_uncertainty else "",
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
