"""How far a setting is advised: beyond a bound an error is a fault, and setting would hide it.

A named person may set all the same; the reason is printed. What is barred nobody may set.
"""

from __future__ import annotations

from dataclasses import replace

from calibration.engine.job.job import Job
from calibration.engine.job.ledger import STOP
from calibration.engine.job.ledger_rounds import AGAIN
from calibration.engine.judging.evaluation import RunFigures
from calibration.engine.method.conditions import renewed
from calibration.engine.method.method import Step
from calibration.engine.view.asks import Choice

#: So often the same is advised; then something else is.
MOST_ROUNDS = 2
#: Decisions by which something is set.
SETS = (AGAIN,)
OFTEN = ("Known and agreed with the engineer",)


def unadvised(job: Job, figures: RunFigures) -> str:
    """Return why no setting is advised, though it would cure the figures; empty where it may be.

    A first setting and one of a new sensor have no bound: there is nothing that it drifted from.
    """
    if not figures.complete or not figures.order:
        return ""
    if barred := _barred(job, figures):
        return barred
    return "" if renewed(job.ledger) else job.family.judge.too_far(job, figures)


def _barred(job: Job, figures: RunFigures) -> str:
    """Return why nobody may set it: by the family, or by a setting that was accepted as it is."""
    if wrong := job.accepted_wrong:
        return (
            f"'{wrong}' is not as on record and was accepted as it is: nothing is set by it. Bring "
            "it back, or have the record put right first."
        )
    return job.family.judge.barred(job, figures)


def _no_third(choices: tuple[Choice, ...]) -> tuple[Choice, ...]:
    """Return what may be decided where the same was done twice in vain: it is advised no more."""
    why = "It was done twice and reads outside all the same: a third time does not help."
    return tuple(
        replace(c, recommended=False, needs_reason=True, why=why, often=OFTEN)
        if c.id in SETS
        else replace(c, recommended=c.id == STOP)
        for c in choices
    )


def choices_bounded(
    job: Job, figures: RunFigures, step: Step, choices: tuple[Choice, ...]
) -> tuple[Choice, ...]:
    """Return what may be decided, with no setting advised beyond the bound of the family."""
    barred = _barred(job, figures)
    if not barred and step.judges == "left" and job.ledger.rounds >= MOST_ROUNDS:
        return _no_third(choices)
    why = unadvised(job, figures)
    if not why:
        return choices
    was = any(c.recommended and c.id in SETS for c in choices)
    found = []
    for c in choices:
        if c.id in SETS and barred:
            continue
        if c.id in SETS:
            c = replace(c, recommended=False, needs_reason=True, why=why, often=OFTEN)
        elif c.id == STOP and was:
            c = replace(c, recommended=True)
        found.append(c)
    return tuple(found)
