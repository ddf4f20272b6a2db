"""When a step with buffers is part of a job."""

from __future__ import annotations

from dataclasses import replace

from calibration.engine.job.reads import Reads
from calibration.engine.method.conditions import CHANGING
from calibration.engine.method.method import Condition, Step
from calibration.families.ph.causes import evidence_of
from calibration.families.ph.naming import causes_of
from calibration.families.ph.tells import APART, MOVED


def pair_of(job: Reads) -> str:
    """Return which pair of causes looked alike as found; empty where there was no doubt."""
    figures = job.as_found
    seen = evidence_of(job, job.ledger.method.found.id, figures) if figures.complete else None
    if seen is None:
        return ""
    causes = causes_of(replace(seen, apart={}))
    if len(causes) < 2 or causes[0].cause not in APART:
        return ""
    moved = causes[0].cause in MOVED and figures.mark == "within"
    return "" if moved else causes[0].cause


def _alike(job: Reads, step: Step) -> bool:
    return bool(pair_of(job))


def _counted_wrong(job: Reads, step: Step) -> bool:
    causes = job.as_found.causes
    return job.chosen() in CHANGING and bool(causes) and causes[0].cause == "other_buffer_set"


ALIKE = Condition(_alike, "only if two causes look alike")
COUNTED_WRONG = Condition(_counted_wrong, "only if it counts other buffers")
