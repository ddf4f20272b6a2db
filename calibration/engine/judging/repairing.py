"""A repair inside the visit: what was found stays, the repair is on record, the new run counts.

Setting is not due after a repair: the run comes first, and only what it shows is adjusted.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from calibration.engine.job.events import Event
from calibration.engine.job.incidents import Refused
from calibration.engine.job.job import Job
from calibration.engine.job.ledger import REPAIR, Ledger
from calibration.engine.judging.evaluation import RunFigures
from calibration.engine.method.method import Step
from calibration.engine.view.asks import Choice
from calibration.engine.view.judge import choice

#: What is repeated after a repair, by what is decided.
AGAIN = {"found": "as found", "left": "as left"}


def may_repair(job: Job, step: Step) -> bool:
    """Tell whether something may be put right at a step, and the run taken again."""
    if not job.ledger.opened.asks or not job.family.judge.repairs:
        return False
    if job.ledger.method.left is None and step.judges != "check":
        return False
    if step.kind == "decide" and (step.judges in ("found", "left") or step.run):
        return True
    return any(content.step == step.id for content, _ in refused_since(job.ledger))


def refused_since(ledger: Ledger) -> Sequence[tuple[Refused, Event]]:
    """Return what the device refused since the last repair."""
    last = ledger.repaired[-1][1].seq if ledger.repaired else 0
    return [(c, e) for c, e in ledger.refused if e.seq > last]


def choices_with_repair(
    job: Job, figures: RunFigures, step: Step, choices: tuple[Choice, ...]
) -> tuple[Choice, ...]:
    """Return what may be decided, with putting it right where something is not as it should be."""
    wrong = figures.mark in ("outside", "near") or bool(figures.causes)
    if not wrong or not may_repair(job, step):
        return choices
    here = choice(
        REPAIR,
        f"Repair, then repeat {AGAIN.get(step.judges, 'the run')}",
        False,
        False,
        "Cleaned, filter, cable, sensor: what was found stays on the paper.",
    )
    return (*choices, replace(here, form="repaired"))
