"""When a step of a trace oxygen analyzer is part of a job."""

from __future__ import annotations

from calibration.engine.job.reads import Reads
from calibration.engine.method.method import Condition, Step
from calibration.families.trace.bleeding import told, why_due
from calibration.families.trace.causes import evidence_of
from calibration.families.trace.naming import asks
from calibration.families.trace.tells import NAMES


def wanted(job: Reads) -> tuple[str, ...]:
    """Return the measurements that tell causes apart, as the run in span gas leaves them open."""
    run = job.ledger.method.found.id
    seen = evidence_of(job, run, job.figures(run))
    return asks(seen) if seen is not None else ()


def _due(job: Reads, step: Step) -> bool:
    return bool(why_due(job))


def _alike(job: Reads, step: Step) -> bool:
    said = any(told(job.ledger, name) is not None for name in NAMES)
    return said or bool(wanted(job))


BLEED_DUE = Condition(_due, "only if air may be in the regulator")
ALIKE = Condition(_alike, "only if causes look alike")
