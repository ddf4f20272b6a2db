"""What a result covers, and what nobody looked at: said on page 1 of its paper."""

from __future__ import annotations

from calibration.engine.files.device_file import serial_of
from calibration.engine.job.job import Job

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


def serials(job: Job) -> tuple[str, ...]:
    """Return whose each run is, where an element was replaced in the visit; else nothing."""
    changes = [(e.seq, c.serial) for c, e in job.ledger.repaired if c.what == "sensor"]
    if not changes:
        return ()
    of: dict[str, list[str]] = {serial_of(job): [], **{serial: [] for _, serial in changes}}
    for run in job.ledger.method.runs:
        taken = job.ledger.readings[run.id].values()
        if taken:
            first = min(t.event.seq for t in taken)
            before = [serial for seq, serial in changes if seq < first]
            of[before[-1] if before else serial_of(job)].append(run.title.lower())
    return tuple(f"{s}: {'; '.join(runs) or 'no reading'}" for s, runs in of.items())
