"""Checking the chain of every job."""

from __future__ import annotations

import json
from collections.abc import Iterator
from dataclasses import dataclass

from calibration.engine.events import seal
from verifyloop.work.models import Event, Job


@dataclass(frozen=True)
class Broken:
    """A job whose record was changed from outside."""

    job: str
    instrument: str
    seq: int
    what: str


def check_all(number: str = "") -> Iterator[Broken]:
    """Yield the first break of each job's chain."""
    jobs = Job.objects.select_related("instrument").order_by("number")
    if number:
        jobs = jobs.filter(number=number)
    for job in jobs.iterator(chunk_size=500):
        broken = check_job(job)
        if broken:
            yield broken


def check_job(job: Job) -> Broken | None:
    """Return the first break in one job's chain, if any."""
    head, place = "", 0
    for event in Event.objects.filter(job=job).order_by("seq"):
        place += 1
        head = seal(head, event.payload)
        what = _break(job, event, place, head)
        if what:
            return Broken(job.number, job.instrument.tag, event.seq, what)
    if place != job.seq or head != job.head:
        return Broken(job.number, job.instrument.tag, place, "events are missing at the end")
    return None


def _break(job: Job, event: Event, place: int, head: str) -> str:
    if event.seq != place:
        return f"event {place} is missing"
    if event.seal != head:
        return "the content of an event was changed"
    try:
        said = json.loads(event.payload)
        same = (said["job"], said["seq"], said["id"], said["kind"]) == (
            job.number,
            event.seq,
            str(event.uuid),
            event.kind,
        )
    except (ValueError, KeyError, TypeError):
        return "the content of an event cannot be read"
    return "" if same else "the columns of an event differ from its content"
