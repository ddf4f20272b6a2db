"""Where references come from that are more than an accuracy: used up, or kept by what they hold."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

from calibration.engine.facts import AssetFacts
from calibration.engine.family import Drawn
from calibration.engine.job import Job as CoreJob
from verifyloop.kit import gas, used
from verifyloop.kit.models import GasHold, GasUse, Hold, Reference, Use
from verifyloop.kit.selectors import (
    Option,
    asset_facts,
    options_of_kind,
    reference_by_asset,
)

Offer = Callable[[CoreJob, str, str, date, int], list[Option]]


@dataclass(frozen=True)
class Source:
    """A shelf of its own: what it offers, knows and books."""

    offer: Offer
    #: facts of one by its number, as a job sees it; none where the number is another's
    facts: Callable[[str, str], AssetFacts | None]
    #: what really comes out of it
    truth: Callable[[str, str], Mapping[str, Any] | None]
    book: Callable[[str, str, Sequence[Drawn], Mapping[str, float]], None]


#: by what its references measure
SOURCES = {"gas": Source(gas.gas_options, gas.facts_by_asset, gas.truth_by_asset, gas.book)}


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


def booked(job: str) -> list[tuple[Any, ...]]:
    """Return every row that says what a job has taken, or what is set aside for it."""
    found = [
        *GasUse.objects.filter(job=job).values_list("cylinder__asset", "tag", "at", "litres"),
        *GasHold.objects.filter(job=job).values_list("cylinder__asset", "job", "litres"),
        *Hold.objects.filter(job=job).values_list("reference__asset", "job", "amount"),
        *Use.objects.filter(job=job).values_list("reference__asset", "tag", "at", "amount"),
    ]
    return sorted(found, key=repr)


def book(job: str, tag: str, drawn: Sequence[Drawn], aside: Mapping[str, float]) -> None:
    """Write down anew what a job has taken, and what is set aside for it."""
    for source in SOURCES.values():
        source.book(job, tag, drawn, aside)
    used.book(job, tag, drawn, aside)
