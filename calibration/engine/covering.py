"""What a result covers, and what nobody looked at: said on page 1 of its paper."""

from __future__ import annotations

from calibration.engine.job import Job

#: Units of an output that goes somewhere: a display reading says nothing of it.
SIGNALS = ("mA", "V")


def covers(job: Job) -> tuple[str, ...]:
    """Return what the result covers and what was not checked, in sentences."""
    ledger = job.ledger
    taken = [t for run in ledger.method.runs for t in ledger.readings[run.id].values()]
    said = []
    if taken and ledger.facts.output_unit in SIGNALS:
        shown = any(t.content.indicated is not None for t in taken)
        said.append(
            "Output read." if job.output_read else "Read at its display. Output not checked."
        )
        said.append("Control room read." if shown else "Control room not checked.")
    return (*said, *job.family.covers(job))
