"""What the as-found readings of all components say, and the causes that they point to."""

from __future__ import annotations

from collections.abc import Mapping
from decimal import Decimal

from calibration.engine.job.ledger import Ledger, Taken
from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures
from calibration.families.mixture.facts import Component, components
from calibration.families.mixture.gases import chosen, end_of, unset, value_of
from calibration.families.mixture.naming import Evidence, One, asks, causes_of, good_air
from calibration.families.mixture.tells import FIELDS
from calibration.families.mixture.words import APART, GASES, SUFFIX
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
        # A zero gas that is air is the span of oxygen; its zero is then what the mixture lacks.
        span_at = 0 if end_of(ledger, "zero", n) == "span" else 1
        zero = _was(ledger, n, readings, 1 - span_at)
        value = value_of(ledger, GASES[span_at], n)
        zero = None if value_of(ledger, GASES[1 - span_at], n) else zero
        parts.append(
            One(
                id=c.id,
                label=c.label,
                oxygen=c.gas == "oxygen",
                infrared=c.infrared,
                range=to_float(c.upper),
                limit=to_float(limit_of(c)),
                zero_error=zero,
                value=to_float(value),
                shows=None if value > c.upper else _was(ledger, n, readings, span_at),
                cross=_cross(ledger, c),
                room_air=in_room_air(ledger, n),
                scatter=to_float(c.upper) * SCATTER_PERCENT / 100,
            )
        )
    return Evidence(parts=tuple(parts), apart=_apart(ledger))


def in_room_air(ledger: Ledger, n: int) -> bool:
    """Tell whether a component is spanned in air of the room: a zero gas without a certificate."""
    gas = chosen(ledger, "zero")
    oxygen = components(ledger.facts)[n].gas == "oxygen" and end_of(ledger, "zero", n) == "span"
    return oxygen and gas is not None and not gas.certificate


def air_doubt(job: Reads, n: int, shown: Decimal) -> str:
    """Return why oxygen is not set in the air around; empty where that is proven, or is none."""
    if not in_room_air(job.ledger, n) or not job.ledger.opened.asks or good_air(to_float(shown)):
        return ""
    told = _apart(job.ledger).get("air_beside")
    if told is None:
        return "in room air it shows what good air does not; the air may be poor or rich"
    if not good_air(told):
        return f"another instrument reads {told:.3g} in this air"
    return ""


def _was(ledger: Ledger, n: int, readings: Mapping[int, Taken], at: int) -> float | None:
    """Return what a component showed in a gas, had nothing been set before; none unread."""
    if at not in readings:
        return None
    taken = readings[at]
    return to_float(unset(ledger, n, taken.content.reading, taken.event.seq))


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
