"""When what tells causes apart is asked for."""

from __future__ import annotations

from calibration.engine.job.reads import Reads
from calibration.engine.method.method import Condition, Step
from calibration.families.mixture.causes import wanted
from calibration.families.mixture.ledger import part_of


def _alike(job: Reads, step: Step) -> bool:
    """Tell whether two causes look alike and nothing was set from them yet."""
    told = any(name == step.id for name, _ in job.ledger.recorded)
    return told or (bool(wanted(job)) and not part_of(job.ledger).moves)


ALIKE = Condition(_alike, "only if two causes look alike")
