"""What a certificate says besides: bleeding, span, sensor; events in words."""

from __future__ import annotations

from typing import Any

from calibration.engine.family import Drawn
from calibration.engine.history import title_of
from calibration.engine.ledger import Ledger
from calibration.engine.reads import Reads
from calibration.families.trace.bleeding import pair, sides
from calibration.families.trace.events import Bled, SpanSet
from calibration.families.trace.ledger import part_of
from calibration.families.trace.life import of_new
from calibration.families.trace.shape import residue
from calibration.families.trace.values import process
from calibration.families.trace.words import GAS
from calibration.kernel.numbers import to_float
from calibration.kernel.rounding import as_typed, show, trimmed


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
    """Return the span gas that was drawn, one a time that the valve was on it. [L]"""
    ledger, chosen = job.ledger, job.ledger.kit.get(GAS)
    on, off = ledger.put_on.get("on_span"), ledger.taken_off.get("off_span")
    if chosen is None or on is None or off is None:
        return ()
    minutes = max(0.0, (off.when - on.when).total_seconds() / 60)
    flow = to_float(process(ledger).flow)
    return (Drawn(chosen.asset.asset, on.when, minutes * flow),)
