"""Fold a kept job again, entry by entry."""

from __future__ import annotations

import gzip
from collections.abc import Iterator
from datetime import timedelta
from pathlib import Path
from typing import Any

import orjson

import calibration.families  # noqa: F401  # registers them
from calibration.engine.admission.admit import admit
from calibration.engine.job.events import Event, make_event
from calibration.engine.job.fold import history, view
from calibration.engine.job.job import Job
from calibration.engine.job.ledger import build
from calibration.engine.job.sealing import canonical, seal
from calibration.engine.method.family import method_for
from calibration.engine.papers.certificate import certificate
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import exact
from tests.replay.adapter import flat, recorded_paper, recorded_shape
from tests.replay.raw import raw_paper, today
from tests.replay.then import whole_then
from tests.replay.words import words_then

JOBS = Path(__file__).with_name("jobs")
#: The last state is also looked at when every timer has run out.
LATER = timedelta(hours=5)


def files(method: str) -> list[Path]:
    """Return the files with kept jobs of a method: one for each of its versions that has any."""
    return sorted(JOBS.glob(f"{method}.*jsonl.gz"))


def read(place: Path) -> list[dict[str, Any]]:
    """Return the jobs of a file, each as it was recorded or as it reads by a later decision."""
    now = today(place)
    with gzip.open(place) as lines:
        jobs = [orjson.loads(line) for line in lines]
    return [{**job, **now.get(job["name"], {}).get("otherwise", {})} for job in jobs]


def kept(method: str, version: int = 0) -> list[dict[str, Any]]:
    """Return the kept jobs of a method, or of one of its versions."""
    found = [job for place in files(method) for job in read(place)]
    return [job for job in found if version in (0, job["version"])]


def looks(
    method_id: str, version: int, said: list[dict[str, Any]], every: int = 1, raw: bool = False
) -> Iterator[dict[str, Any]]:
    """Yield the flat state after each event, and once more when all timers have run out.

    After those that are not looked at, none of ``every`` so many but the last, an empty one.
    ``raw``: as it is, and not in the shape of the oldest jobs.
    """
    method = method_for(method_id, version)
    events: list[Event] = []
    ledger = None
    for one in said:
        events.append(make_event(**one))
        if ledger is None or one["kind"] == "retracted":
            ledger = build(method, events)
        else:
            ledger.add(events[-1])
        due = len(events) % every == 0 or len(events) == len(said)
        yield look(ledger, events, events[-1].when, raw) if due else {}
    yield look(build(method, events), events, events[-1].when + LATER, raw)


def look(ledger, events, now, raw):
    job = Job(ledger, now)
    with exact():
        state = view(job, events)
        return words_then(flat(whole_then(job, state) if raw else recorded_shape(job, state)))


def state_at(method, events, now):
    with exact():
        return view(Job(build(method, events), now), events)


def papers(
    method_id: str, version: int, said: list[dict[str, Any]], raw: bool = False
) -> dict[str, Any]:
    """Return the certificate and the history of a whole job as flat values."""
    events = [make_event(**one) for one in said]
    method = method_for(method_id, version)
    now = events[-1].when
    job = Job(build(method, events), now)
    state = state_at(method, events, now)
    lines = [(line.text, line.retracted, line.can_retract) for line in history(job.ledger, events)]
    head = ""
    for one in said:
        head = seal(head, canonical({"job": state.job, **one}))
    found = {"history": [list(line) for line in lines]}
    if raw:
        return words_then(flat({**found, "certificate": raw_paper(method_id, version, said)}))
    if state.status != "open":
        found["certificate"] = recorded_paper(job, state, certificate(job, state, head))
    return words_then(flat(found))


def refusal(method_id, version, said, tried):
    """Return what an event is refused with after some others; empty when it is admitted."""
    events = [make_event(**one) for one in said]
    event = make_event(**tried)
    job = Job(build(method_for(method_id, version), events), event.when)
    try:
        admit(job, event, {e.id: e for e in events})
    except InputError as refused:
        said = {"message": refused.message, "remedy": refused.remedy}
        return [refused.code, refused.field, *words_then(said).values()]
    return []
