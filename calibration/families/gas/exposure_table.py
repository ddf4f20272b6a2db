"""Every gas of an exposed detector on one line: in air, in its gas, as found and as left."""

from __future__ import annotations

from calibration.decisions.tolerance import limit_at
from calibration.engine.reads import Reads
from calibration.engine.view.blocks import Block, Mark
from calibration.families.gas.facts import channels
from calibration.families.gas.gases import SUFFIX
from calibration.families.gas.ledger import gas_of
from calibration.kernel.rounding import as_typed, show, trimmed

HEADS = ("Gas", "Air, found", "Zeroed", "Gas on", "Found", "Left", "Limit")


def every_gas(job: Reads) -> tuple[Block, ...]:
    """Return one table with a line for each gas; none before the first is read."""
    cells, marks = [], []
    for n, c in enumerate(channels(job.ledger.facts)):
        found, left = f"as_found{SUFFIX[n]}", f"as_left{SUFFIX[n]}"
        facts = job.facts_of(found)
        plan = job.plan_of(found)
        applied = plan[0].nominal if plan else None
        limit = (
            "" if applied is None else show(limit_at(facts.transfer, facts.tolerance, applied), 2)
        )
        cells.append(
            (
                f"{c.label}, {c.unit}",
                _read(job, f"zero_apart{SUFFIX[n]}") or _read(job, f"air_found{SUFFIX[n]}"),
                _zeroed(job, n),
                trimmed(applied) if applied is not None else "",
                _read(job, found),
                _read(job, left),
                f"±{limit}",
            )
        )
        marks.append(_mark(job, found, left))
    if not any(job.ledger.readings[f"air_found{SUFFIX[n]}"] for n in range(len(cells))):
        return ()
    return (
        Block(
            kind="table",
            title="Every gas",
            columns=HEADS,
            cells=tuple(cells),
            marks=tuple(marks),
        ),
    )


def _read(job: Reads, run: str) -> str:
    taken = job.ledger.readings[run].get(0)
    return as_typed(taken.content.reading) if taken is not None else ""


def _zeroed(job: Reads, channel: int) -> str:
    """Return what a channel shows since it was set in air, or in its zero gas."""
    left = f"as_left{SUFFIX[channel]}"
    last = job.ledger.readings[left].get(0)
    moves = [
        m
        for m in gas_of(job.ledger).moves
        if m.channel == channel and (last is None or m.event.seq < last.event.seq)
    ]
    return as_typed(moves[-1].after) if moves else ""


def _mark(job: Reads, found: str, left: str) -> Mark:
    name = left if job.ledger.readings[left] else found
    return job.figures(name).mark if job.ledger.readings[name] else "none"
