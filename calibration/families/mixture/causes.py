"""What the as-found readings of all components say, and the causes that they point to."""

from __future__ import annotations

from decimal import Decimal

from calibration.engine.evaluation import RunFigures
from calibration.engine.ledger import Ledger
from calibration.engine.reads import Reads
from calibration.families.mixture.facts import Component, components
from calibration.families.mixture.gases import unset, value_of
from calibration.families.mixture.naming import Evidence, One, asks, causes_of
from calibration.families.mixture.remedies import FIELDS
from calibration.families.mixture.words import APART, SUFFIX
from calibration.kernel.numbers import HUNDRED, parse_decimal, to_float
from calibration.runs.causes import Cause

#: Two readings of a sound cell differ by no more than this. [% of range, k = 2]
SCATTER_PERCENT = 0.3


def limit_of(c: Component) -> Decimal:
    """Return what error a component may have. [its unit]"""
    return c.upper * c.limit_percent / HUNDRED


def evidence_of(job: Reads) -> Evidence:
    """Return what all components read as found, as it was before anything was set."""
    ledger = job.ledger
    gases = components(ledger.facts)
    parts = []
    for n, c in enumerate(gases):
        readings = ledger.readings[f"as_found{SUFFIX[n]}"]
        seen: list[float | None] = [None, None]
        for at in (0, 1):
            if at in readings:
                taken = readings[at]
                was = unset(ledger, n, taken.content.reading, taken.event.seq)
                seen[at] = to_float(was - (taken.content.applied if at == 0 else Decimal(0)))
        parts.append(
            One(
                id=c.id,
                label=c.label,
                oxygen=c.gas == "oxygen",
                infrared=c.infrared,
                range=to_float(c.upper),
                limit=to_float(limit_of(c)),
                zero_error=seen[0],
                value=to_float(value_of(ledger, "span", n)),
                shows=seen[1],
                cross=_cross(ledger, c),
                scatter=to_float(c.upper) * SCATTER_PERCENT / 100,
            )
        )
    return Evidence(parts=tuple(parts), apart=_apart(ledger))


def _cross(ledger: Ledger, c: Component) -> float:
    """Return what the others add to a component in the mixture, by its record. [its unit]"""
    ids = [o.id for o in components(ledger.facts)]
    found = Decimal(0)
    for term in c.cross:
        if term.of in ids:
            found += term.percent * value_of(ledger, "span", ids.index(term.of)) / HUNDRED
    return to_float(found)


def _apart(ledger: Ledger) -> dict[str, float]:
    since = ledger.attempts[-1].event.seq if ledger.attempts else 0
    found = {}
    for name, _, _ in FIELDS.values():
        entry = ledger.recorded.get((APART, name))
        if entry is not None and entry[1].seq > since:
            found[name] = to_float(parse_decimal(entry[0], f"data.{name}"))
    return found


def named(job: Reads, n: int, figures: RunFigures) -> tuple[Cause, ...]:
    """Return the causes of one component; none while its readings are not complete."""
    if not figures.complete:
        return ()
    return causes_of(evidence_of(job)).get(components(job.ledger.facts)[n].id, ())


def wanted(job: Reads) -> str:
    """Return the measurement that would tell causes apart; empty where none would."""
    return asks(evidence_of(job))
