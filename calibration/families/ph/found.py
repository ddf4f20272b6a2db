"""Figures of an electrode in a job: slope and offset of a run, and its error in the process."""

from __future__ import annotations

from dataclasses import dataclass

from calibration.engine.job.reads import Reads
from calibration.families.ph.budget import Carried, carried
from calibration.families.ph.causes import evidence_of
from calibration.families.ph.facts import analyzer
from calibration.families.ph.naming import Line, line_of
from calibration.families.ph.words import BufferRun


@dataclass(frozen=True)
class Electrode:
    """An electrode as one run shows it."""

    run: str
    title: str
    line: Line | None
    #: slope of the other side, where three buffers were read
    second: Line | None
    process: Carried | None


def electrode_in(job: Reads, run: str) -> Electrode | None:
    """Return slope and offset by a run; none before its first reading."""
    figures = job.figures(run)
    seen = evidence_of(job, run, figures)
    if seen is None:
        return None
    near, others = seen.buffers[0], seen.buffers[1:]
    lines = [line_of(near, b, seen.warm_c) for b in others]
    at = None
    if others and figures.complete:
        process = float(analyzer(job.ledger.facts).process_ph)
        far = min(others, key=lambda b: abs(b.ph - process))
        at = carried(
            (near.ph, near.shown - near.ph, near.u), (far.ph, far.shown - far.ph, far.u), process
        )
    return Electrode(
        run=run,
        title=job.ledger.method.run(run).title,
        line=lines[0] if lines else None,
        second=lines[1] if len(lines) > 1 else None,
        process=at,
    )


def electrodes(job: Reads) -> list[Electrode]:
    """Return what every run with readings shows of the electrode."""
    found = []
    for step in job.ledger.method.steps:
        spec = job.ledger.method.run(step.run) if step.kind == "capture" else None
        if isinstance(spec, BufferRun) and job.ledger.readings[spec.id]:
            one = electrode_in(job, spec.id)
            if one is not None:
                found.append(one)
    return found


def line_by(job: Reads, run: str) -> Line | None:
    """Return slope and offset by the millivolts of a run; none before two buffers are read."""
    one = electrode_in(job, run)
    return one.line if one is not None else None
