"""What a certificate says besides: bleeding, span, sensor; events in words."""

from __future__ import annotations

from typing import Any

from calibration.engine.job.history import title_of
from calibration.engine.job.ledger import Ledger
from calibration.engine.job.reads import Reads
from calibration.engine.method.family import Drawn
from calibration.families.shared.drawing import Flows, aside_for, drawn_through
from calibration.families.trace.bleeding import pair, sides
from calibration.families.trace.events import Bled, SpanSet
from calibration.families.trace.ledger import part_of
from calibration.families.trace.life import of_new
from calibration.families.trace.shape import residue
from calibration.families.trace.values import process
from calibration.families.trace.words import GAS
from calibration.kernel.numbers import to_float
from calibration.kernel.rounding import as_typed, show, trimmed

#: Span gas flows for so long, with bleeding: what is set aside for a job. [min]
MINUTES = 15.0


def sections(job: Reads) -> dict[str, Any]:
    """Return the tables of the regulator and of the span."""
    tables = []
    if part_of(job.ledger).all_bled:
        tables.append(
            {
                "title": "Regulator, filled and vented",
                "columns": ["Side", "Filled to, by gauge", "Times", "Air left, at most"],
                "rows": [
                    [s.side, f"{trimmed(s.bar)} bar", str(s.done), residue(s.residual_ppm)]
                    for s in sides(job)
                ],
                "lines": [f"Regulator {pair(job.ledger)}."],
            }
        )
    moves = part_of(job.ledger).moves
    if moves:
        tables.append(
            {
                "title": "Span set",
                "columns": ["Before, ppm", "After, ppm"],
                "rows": [
                    [as_typed(c.before) if c.before is not None else "", as_typed(c.after)]
                    for c, _ in moves
                ],
                "lines": _sensor(job),
            }
        )
    return {"tables": tables}


def _sensor(job: Reads) -> list[str]:
    now = of_new(job, job.ledger.method.found.id)
    return [f"Response of the sensor as found: {show(now, 0)} % of a new one."] if now else []


def bled_in_words(ledger: Ledger, c: Bled) -> str:
    """Return a filling as a sentence."""
    times = "once" if c.times == 1 else f"{c.times} times"
    title = title_of(ledger.method, c.step)
    return f"{title}: {c.side} side filled to {as_typed(c.bar)} bar and vented {times}"


def set_in_words(ledger: Ledger, c: SpanSet) -> str:
    """Return a span that was set as a sentence."""
    before = f"{as_typed(c.before)} to " if c.before is not None else ""
    return f"{title_of(ledger.method, c.step)}: {before}{as_typed(c.after)} ppm"


def drawn(job: Reads) -> tuple[Drawn, ...]:
    """Return the span gas that was drawn, one each time that the valve was on it. [L]"""
    return drawn_through(job, _flows(job))


def aside(job: Reads) -> dict[str, float]:
    """Return the span gas that the job may still take. [L]"""
    return aside_for(job, _flows(job), MINUTES)


def _flows(job: Reads) -> Flows:
    return {"on_span": (GAS, to_float(process(job.ledger).flow))}
