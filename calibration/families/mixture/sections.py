"""What a certificate says besides: every component in both gases, and what as found counts."""

from __future__ import annotations

from typing import Any

from calibration.engine.job.reads import Reads
from calibration.engine.method.family import Drawn
from calibration.families.mixture.facts import components, multi
from calibration.families.mixture.gases import named, unset
from calibration.families.mixture.task import blocks
from calibration.families.mixture.words import ROLES, SUFFIX
from calibration.families.shared.drawing import Flows, aside_for, drawn_through
from calibration.kernel.numbers import to_float
from calibration.kernel.rounding import as_typed, show


def sections(job: Reads) -> dict[str, Any]:
    """Return the tables of the components."""
    tables = [
        {
            "title": b.title,
            "columns": list(b.columns),
            "rows": [list(row) for row in b.cells],
            "lines": [],
        }
        for b in blocks(job)
    ]
    return {"tables": [*tables, *_as_it_was(job)]}


def _as_it_was(job: Reads) -> list[dict[str, Any]]:
    """Return what a component would have read, had nothing been set before; nothing where so."""
    rows = []
    for n, c in enumerate(components(job.ledger.facts)):
        for taken in job.ledger.readings[f"as_found{SUFFIX[n]}"].values():
            read = taken.content.reading
            was = unset(job.ledger, n, read, taken.event.seq)
            if was != read:
                rows.append([named(c), as_typed(read), show(was, 2)])
    if not rows:
        return []
    return [
        {
            "title": "As found, had nothing been set before",
            "columns": ["Component", "Read", "Counts as"],
            "rows": rows,
            "lines": ["As found is judged by what it counts as."],
        }
    ]


def drawn(job: Reads) -> tuple[Drawn, ...]:
    """Return what was drawn from both cylinders, one each time that one was on. [L]"""
    return drawn_through(job, _flows(job))


def aside(job: Reads) -> dict[str, float]:
    """Return what the job may still take from each cylinder. [L]"""
    return aside_for(job, _flows(job), to_float(job.settings.number("gas_minutes")))


def _flows(job: Reads) -> Flows:
    flow = to_float(multi(job.ledger.facts).flow_l_per_min)
    return {
        "zero_on": (ROLES["zero"], flow),
        "span_on": (ROLES["span"], flow),
        "zero_again_on": (ROLES["zero"], flow),
    }
