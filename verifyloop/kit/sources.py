"""Where references come from that are more than an accuracy: used up, or kept by what they hold."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime
from typing import Any

from calibration.engine.job.facts import AssetFacts
from calibration.engine.job.job import Job as CoreJob
from calibration.engine.method.family import Drawn
from verifyloop.kit import gas, used
from verifyloop.kit.models import GasHold, GasUse, Hold, Reference, Use
from verifyloop.kit.selectors import (
    Option,
    asset_facts,
    options_of_kind,
    reference_by_asset,
)

Booked = GasUse | GasHold | Use | Hold
Offer = Callable[[CoreJob, str, str, date, int], list[Option]]


@dataclass(frozen=True)
class Source:
    """A shelf of its own: what it offers, knows and books."""

    offer: Offer
    #: facts of one by its number, as a job sees it; none where the number is another's
    facts: Callable[[str, str], AssetFacts | None]
    #: what really comes out of it
    truth: Callable[[str, str], Mapping[str, Any] | None]
    #: rows of what a job has taken and what is set aside for it
    bookings: Callable[[str, str, Sequence[Drawn], Mapping[str, float]], Sequence[Booked]]


#: by what its references measure
SOURCES = {"gas": Source(gas.gas_options, gas.facts_by_asset, gas.truth_by_asset, gas.bookings)}


def offered_by(quantity: str) -> Offer:
    """Return how references of a kind are offered for a role of a job."""
    source = SOURCES.get(quantity)
    if source is not None:
        return source.offer
    return lambda job, role, number, today, count: options_of_kind(job, quantity, role, today)


def facts_by_asset(asset: str, job: str) -> AssetFacts:
    """Return a reference as it is now, for the record of a job.

    Raises
    ------
    NotFound
        ``reference.unknown``.
    """
    for source in SOURCES.values():
        found = source.facts(asset, job)
        if found is not None:
            return found
    return asset_facts(reference_by_asset(asset))


def truth_of(asset: str, job: str) -> Mapping[str, Any] | None:
    """Return what really comes out of a reference; none where nothing does."""
    found = (source.truth(asset, job) for source in SOURCES.values())
    first = next((t for t in found if t is not None), None)
    if first is not None:
        return first
    kept = Reference.objects.filter(asset=asset).first()
    return kept.truth if kept is not None else None


#: What is taken from the kit, and what is set aside in it: its thing, and its columns.
COLUMNS: dict[type[Booked], tuple[str, ...]] = {
    GasUse: ("cylinder", "job", "tag", "at", "litres"),
    GasHold: ("cylinder", "job", "litres"),
    Use: (Use.reference.field.name, "job", "tag", "at", "amount"),
    Hold: (Hold.reference.field.name, "job", "amount"),
}


def booked(job: str) -> list[tuple[Any, ...]]:
    """Return every row that says what a job has taken, or what is set aside for it."""
    found: list[tuple[Any, ...]] = []
    for model, (thing, *columns) in COLUMNS.items():
        rows = model.objects.filter(job=job).values_list(f"{thing}__asset", *columns)
        found += [(model.__name__, *row) for row in rows]
    return _in_order(found)


def booked_as(rows: Sequence[Booked]) -> list[tuple[Any, ...]]:
    """Return rows as :func:`booked` says them once they are saved."""
    return _in_order(
        (type(row).__name__, getattr(row, thing).asset, *(getattr(row, c) for c in columns))
        for row in rows
        for thing, *columns in [COLUMNS[type(row)]]
    )


def _in_order(rows: Iterable[tuple[Any, ...]]) -> list[tuple[Any, ...]]:
    plain = (tuple(x.astimezone(UTC) if isinstance(x, datetime) else x for x in r) for r in rows)
    return sorted(plain, key=repr)


def bookings(
    job: str, tag: str, drawn: Sequence[Drawn], aside: Mapping[str, float]
) -> list[Booked]:
    """Return the rows of what a job has taken, and of what is set aside for it; none is saved."""
    found: list[Booked] = []
    for source in SOURCES.values():
        found += source.bookings(job, tag, drawn, aside)
    return [*found, *used.bookings(job, tag, drawn, aside)]


def book(job: str, tag: str, drawn: Sequence[Drawn], aside: Mapping[str, float]) -> None:
    """Write down what a job has taken, and what is set aside for it, where that is new."""
    rows = bookings(job, tag, drawn, aside)
    if booked_as(rows) == booked(job):
        return
    for model in COLUMNS:
        model.objects.filter(job=job).delete()
        mine: list[Any] = [row for row in rows if type(row) is model]
        model.objects.bulk_create(mine)
