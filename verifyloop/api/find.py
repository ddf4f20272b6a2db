"""Finding anything from anywhere: instruments, jobs, kit, methods, calculators."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import islice
from urllib.parse import quote

from django.db.models import Q
from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Router, Schema

from calibration.desk.finding import search
from calibration.engine.method.family import newest_methods
from verifyloop.api.answers import as_made
from verifyloop.api.paging import Words
from verifyloop.kit.models import Cylinder, Reference
from verifyloop.plant.finding import Sought, sought
from verifyloop.work.models import Job

router = Router(tags=["find"])
#: So many lines of each sort.
MOST = 6


class HitOut(Schema):
    """A line: what it is called, what is said of it, and where it is."""

    name: str
    words: str
    to: str


class HitsOut(Schema):
    """What was found of one sort."""

    title: str
    hits: list[HitOut]


class AllHits(Schema):
    """What was found, sort by sort."""

    sorts: list[HitsOut]


@router.get("", response=AllHits, operation_id="findAnything")
def find_anything(request: HttpRequest, q: Words = "") -> HttpResponse:
    """Return what words may mean, sort by sort; nothing for no words."""
    words = q.split()[:6]
    found = {title: list(islice(hits, MOST)) for title, hits in _sorts(words).items()}
    groups = [HitsOut(title=title, hits=hits) for title, hits in found.items() if hits]
    return as_made(AllHits(sorts=groups))


def _sorts(words: list[str]) -> dict[str, Iterator[HitOut]]:
    if not words:
        return {}
    return {
        "Instruments": _instruments(words),
        "Jobs and records": _jobs(words),
        "Kit": _kit(words),
        "Methods": _methods(words),
        "Bench": _calculators(words),
    }


def _instruments(words: list[str]) -> Iterator[HitOut]:
    for i in sought(Sought(" ".join(words)), timezone.localdate())[:MOST]:
        said = f"{i.description}, {i.area.name}"
        yield HitOut(name=i.tag, words=said, to=f"/instruments/{quote(i.tag, safe='')}")


def _jobs(words: list[str]) -> Iterator[HitOut]:
    jobs = Job.objects.select_related("instrument").order_by("-changed_at")
    for word in words:
        jobs = jobs.filter(Q(number__icontains=word) | Q(instrument__tag__icontains=word))
    for job in jobs[:MOST]:
        day = timezone.localdate(job.signed_at or job.changed_at)
        said = f"{job.instrument.tag}, {job.status}, {day}"
        yield HitOut(name=job.number, words=said, to=f"/jobs/{job.number}")


def _kit(words: list[str]) -> Iterator[HitOut]:
    for model in (Reference, Cylinder):
        things = model.objects.order_by("asset")
        for word in words:
            things = things.filter(
                Q(asset__icontains=word)
                | Q(description__icontains=word)
                | Q(certificate__icontains=word)
            )
        for thing in things[:MOST]:
            yield HitOut(
                name=thing.asset, words=thing.description, to=f"/kit/{quote(thing.asset, safe='')}"
            )


def _methods(words: list[str]) -> Iterator[HitOut]:
    for method in newest_methods():
        text = f"{method.title} {method.fits}".lower()
        if all(word.lower() in text for word in words):
            yield HitOut(name=method.title, words=method.fits, to=f"/methods?m={method.id}")


def _calculators(words: list[str]) -> Iterator[HitOut]:
    for one in (hit.operation for hit in search(" ".join(words))):
        yield HitOut(name=one.title, words="calculator", to=f"/bench/{one.name}")
