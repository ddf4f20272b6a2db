"""What a pH certificate says besides: bottles, millivolts, slope and offset; events in words."""

from __future__ import annotations

from typing import Any

from calibration.engine.job.history import title_of
from calibration.engine.job.ledger import Ledger
from calibration.engine.job.reads import Reads
from calibration.engine.method.family import Drawn
from calibration.families.ph.causes import in_buffer
from calibration.families.ph.events import Accepted, Immersed
from calibration.families.ph.facts import analyzer, bottle
from calibration.families.ph.ledger import buffers_of
from calibration.families.ph.task import blocks
from calibration.families.ph.values import POURED_ML, roles_of, table_for, temperature_c
from calibration.families.ph.words import BufferRun
from calibration.kernel.rounding import as_typed, show


def sections(job: Reads) -> dict[str, Any]:
    """Return the tables of the electrode and of its buffers."""
    electrode = blocks(job)
    tables = [
        {
            "title": "Electrode by its millivolts",
            "columns": list(b.columns),
            "rows": [list(row) for row in b.cells],
            "lines": [],
        }
        for b in electrode
    ]
    tables.append(
        {
            "title": "Buffers",
            "columns": ["Run", "Bottle", "Buffer", "At °C", "Worth", "mV", "To 90 %"],
            "rows": _buffers(job),
            "lines": _lines(job),
        }
    )
    return {"tables": tables}


def _buffers(job: Reads) -> list[list[str]]:
    rows = []
    for step in job.ledger.method.steps:
        spec = job.ledger.method.run(step.run) if step.kind == "capture" else None
        if not isinstance(spec, BufferRun):
            continue
        roles = roles_of(job.ledger, job.settings, spec)
        for i, taken in sorted(job.ledger.readings[spec.id].items()):
            chosen = job.ledger.kit.get(roles[i])
            own = bottle(chosen.asset) if chosen is not None else None
            beside = in_buffer(taken.content.own)
            rows.append(
                [
                    spec.title,
                    f"{chosen.asset.asset}, lot {own.lot}" if chosen and own else "",
                    f"{own.set} {own.nominal}" if own else table_for(job.ledger, roles[i]).nominal,
                    show(temperature_c(job.ledger, spec), 1),
                    as_typed(taken.content.applied),
                    as_typed(beside.mv),
                    f"{show(beside.t90_s, 0)} s" if beside.t90_s is not None else "",
                ]
            )
    return rows


def _lines(job: Reads) -> list[str]:
    own = analyzer(job.ledger.facts)
    told = [accepted_in_words(job.ledger, c) for c, _ in buffers_of(job.ledger).told]
    record = f"Set on record of the analyzer: {own.buffer_set}; {own.compensation} temperature."
    return [record, *told]


def immersed_in_words(ledger: Ledger, c: Immersed) -> str:
    """Return an immersion as a sentence."""
    return f"{title_of(ledger.method, c.step)}: in a fresh portion of {_name(ledger, c.role)}"


def accepted_in_words(ledger: Ledger, c: Accepted) -> str:
    """Return a point of the calibration as a sentence."""
    title = title_of(ledger.method, c.step)
    return f"{title}: the analyzer took {_name(ledger, c.role)}"


def _name(ledger: Ledger, role: str) -> str:
    chosen = ledger.kit.get(role)
    name = f"pH {table_for(ledger, role).nominal}"
    return f"{name} ({chosen.asset.asset})" if chosen is not None else name


def drawn(job: Reads) -> tuple[Drawn, ...]:
    """Return what was poured of each bottle, one an immersion. [mL]"""
    found = []
    for content, event in buffers_of(job.ledger).immersions:
        chosen = job.ledger.kit.get(content.role)
        if chosen is not None:
            found.append(Drawn(chosen.asset.asset, event.when, POURED_ML))
    return tuple(found)
