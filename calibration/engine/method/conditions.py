"""When a step is part of a job: the conditions that all families share."""

from __future__ import annotations

from calibration.engine.job.ledger import AGAIN, REPAIR, Ledger
from calibration.engine.job.reads import Reads
from calibration.engine.method.method import Condition, Step

#: Decisions after which something is changed in the instrument.
CHANGING = (AGAIN, "replace", REPAIR)


def _changing(job: Reads, step: Step) -> bool:
    return job.chosen() in CHANGING


def trimming(job: Reads) -> bool:
    """Tell whether something is to be set now: not while a repair was not judged yet."""
    return job.chosen() in CHANGING and not job.ledger.unproven


def renewed(ledger: Ledger) -> bool:
    """Tell whether the sensor was replaced in the visit: what went before says nothing of it."""
    return any(c.choice == "replace" for c, _ in ledger.decided.values()) or any(
        c.what == "sensor" for c, _ in ledger.repaired
    )


def _left_outside(job: Reads, step: Step) -> bool:
    if job.chosen() not in CHANGING:
        return False
    runs = (job.figures(r.id) for r in job.ledger.method.runs_of("left"))
    return any(f.complete and f.order and f.mark == "outside" for f in runs)


def _found_outside(job: Reads, step: Step) -> bool:
    return job.as_found.complete and job.as_found.mark == "outside"


def _run_outside(job: Reads, step: Step) -> bool:
    run = job.figures(step.run)
    return run.complete and run.mark == "outside"


def _something_to_write(job: Reads, step: Step) -> bool:
    return any(job.to_write(step, item) is not None for item in step.sets)


ADJUSTING = Condition(_changing, "only if it is adjusted")
#: Where something is set: after a repair only what its run shows is.
TRIMMING = Condition(lambda job, step: trimming(job), "only if it is adjusted")
UNLESS_ADJUSTING = Condition(
    lambda job, step: job.chosen() not in CHANGING, "only if nothing is set"
)
REPLACING = Condition(lambda job, step: job.chosen() == "replace", "only if the sensor is replaced")
LEFT_OUTSIDE = Condition(_left_outside, "only if it is still outside afterwards")
FOUND_OUTSIDE = Condition(_found_outside, "only if it fails")
DIFFERS = Condition(
    lambda job, step: job.chosen() in (AGAIN, REPAIR) and trimming(job) and job.differs,
    "only if a setting differs from the record",
)


def run_outside(words: str) -> Condition:
    """Return the condition that the run of a step reads outside."""
    return Condition(_run_outside, words)


def to_write(words: str) -> Condition:
    """Return the condition that something is to be written in a step."""
    return Condition(_something_to_write, words)


def site_says(parameter: str) -> Condition:
    """Return the condition that a yes-or-no parameter says yes."""
    return Condition(
        lambda job, step: job.settings.says_yes(parameter), "by choice of the site", by_plan=True
    )
