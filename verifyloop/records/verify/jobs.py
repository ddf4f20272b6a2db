"""A job: its chain, how far it came, what the register says of it, and the columns of lists."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterator
from copy import copy
from datetime import datetime
from typing import Any

from calibration.engine.job import events as core
from calibration.engine.job.job import Job as CoreJob
from calibration.engine.job.ledger import Ledger
from calibration.engine.job.sealing import canonical
from calibration.engine.papers.certificate import Beside, certificate
from calibration.kernel.codec import encode
from verifyloop.kit import sources
from verifyloop.records.verify.finding import Finding
from verifyloop.register import book, heads, keys
from verifyloop.register.models import Entry
from verifyloop.work.folding import (
    core_job,
    events_of,
    projected_at,
    read_payload,
    state_of_ledger,
)
from verifyloop.work.models import Event, Job
from verifyloop.work.projection import FIELDS, project
from verifyloop.work.storing import REGISTERED, subject_of

#: What proves itself by a seal is not compared again.
SEALED = ("head", "tail")


#: What is read of each event, as it is stored.
COLUMNS = ("seq", "uuid", "kind", "at", "by", "actor__username", "payload", "seal")
Stored = Any


def stored_of(job: Job) -> list[Stored]:
    """Return the events of a job as they are stored, in order."""
    return list(Event.objects.filter(job=job).order_by("seq").values_list(*COLUMNS, named=True))


def check_job(job: Job, *, quick: bool = False) -> Iterator[Finding]:
    """Yield the first thing of each kind that does not fit in one job.

    ``quick``: seals and register alone; what is made from the events is not made again.
    """
    where = f"{job.number} ({job.instrument.tag})"
    stored = stored_of(job)
    lines = list(Entry.objects.filter(subject=subject_of(job)).order_by("pk"))
    broken = _chain(job, stored, lines)
    if broken:
        yield Finding("chain", f"{where}, event {broken[0]}", broken[1])
    elif len(stored) != job.seq or (stored and stored[-1].seal != job.head):
        yield Finding("chain", f"{where}, event {len(stored)}", "events are missing at the end")
    elif not keys.fits(job.number, canonical([job.seq, job.head]), job.tail):
        yield Finding("tail", where, "it was further than its events go")
    if set_back := heads.behind(subject_of(job), job.seq, job.head):
        yield Finding("head", where, set_back)
    for what in _registered(stored, lines):
        yield Finding("register", where, what)
        break
    if not broken and stored:
        yield from _made_again(job, [read_payload(e.payload) for e in stored], where, quick)


def _made_again(job: Job, events: list[core.Event], where: str, quick: bool) -> Iterator[Finding]:
    """Yield what files, columns of lists and the kit say otherwise than the events."""
    for what in _files(job, events):
        yield Finding("file", where, what)
        break
    wrong = _opened(job, events[0])
    then = None if quick or wrong else core_job(job, events, events[-1].when)
    if then is not None:
        wrong = _columns(job, events, then.ledger)
    if wrong:
        yield Finding("column", where, f"not as its events say: {', '.join(wrong)}")
    elif then is not None and _booked_otherwise(job, then):
        yield Finding("use", where, "what it used up is not what was booked")


def _files(job: Job, events: list[core.Event]) -> Iterator[str]:
    """Yield which file of a device is not as it was read, or gone."""
    kept = {file.digest: file for file in job.device_files.all()}
    for digest, file in kept.items():
        if hashlib.sha256(file.content).hexdigest() != digest:
            yield f"{file.name} is not the file that was read"
    for event in events:
        said = getattr(event.content, "read_from", None)
        if said is not None and said.digest not in kept:
            yield f"{said.name}, from which values were read, is gone"


def _booked_otherwise(job: Job, now: CoreJob) -> bool:
    """Tell whether booking once more would give other rows."""
    drawn, aside = now.family.supplies.drawn(now), now.family.supplies.aside(now)
    rows = sources.bookings(job.number, job.instrument.tag, drawn, aside)
    return sources.booked_as(rows) != sources.booked(job.number)


def _chain(job: Job, stored: list[Stored], lines: list[Entry]) -> tuple[int, str] | None:
    """Return the first event that is not as it was sealed, with why."""
    previous, adopted = "", _adopted(lines)
    for place, event in enumerate(stored, start=1):
        if event.seq != place:
            return event.seq, f"event {place} is missing"
        if not keys.fits(previous, event.payload, event.seal):
            return event.seq, "the content of an event was changed"
        if not keys.keyed(event.seal) and place > adopted[0]:
            return event.seq, "it has no keyed seal"
        if place == adopted[0] and event.seal != adopted[1]:
            return event.seq, "the chain was made anew"
        differs = _differs(job, event)
        if differs:
            return event.seq, differs
        previous = event.seal
    return None


def _adopted(lines: list[Entry]) -> tuple[int, str]:
    """Return up to which event, and with which seal, a job of earlier was taken over."""
    line = next((line for line in lines if line.kind == "adopted"), None)
    if line is None:
        return 0, ""
    said = json.loads(line.said)
    return said.get("seq", 0), said.get("seal", "")


def _differs(job: Job, event: Stored) -> str:
    """Return which column of an event says something else than its content."""
    try:
        said = json.loads(event.payload)
        columns = {
            "job": (said["job"], job.number),
            "seq": (said["seq"], event.seq),
            "uuid": (said["id"], str(event.uuid)),
            "kind": (said["kind"], event.kind),
            "at": (datetime.fromisoformat(said["at"]), event.at),
            "by": (said["by"], event.by),
        }
        if "account" in said or event.actor__username is None:
            own = event.actor__username or ""
            columns["actor"] = (said.get("account", ""), own)
    except (ValueError, KeyError, TypeError):
        return "the content of an event cannot be read"
    wrong = [name for name, (one, other) in columns.items() if one != other]
    return f"its column '{wrong[0]}' differs from its content" if wrong else ""


def _registered(stored: list[Stored], lines: list[Entry]) -> Iterator[str]:
    """Yield what the register and the events of a job do not agree about."""
    said = [(line.kind, json.loads(line.said)) for line in lines]
    if not any(kind in ("opened", "adopted") for kind, _ in said):
        yield "the register knows of no such job"
    adopted = max((s.get("seq", 0) for kind, s in said if kind == "adopted"), default=0)
    seals = {e.seq: e.seal for e in stored}
    for kind, line in said:
        if seals.get(line.get("seq", 0)) != line.get("seal"):
            yield f"event {line.get('seq')} ({kind}) is not the one in the register"
    known = {line.get("seq") for _, line in said}
    for event in stored:
        if event.kind in REGISTERED and event.seq > adopted and event.seq not in known:
            yield f"event {event.seq} ({event.kind}) is not in the register"


def _opened(job: Job, first: core.Event) -> list[str]:
    """Return the columns that the opening of a job settled and that say something else now."""
    opened = first.content
    columns = {
        "number": (job.number, opened.job),
        "instrument": (job.instrument.tag, opened.instrument.tag),
        "method": (job.method, opened.method),
        "method_version": (job.method_version, opened.version),
        "follows": (job.follows.number if job.follows else "", opened.follows),
    }
    return [name for name, (one, other) in columns.items() if one != other]


def _columns(job: Job, events: list[core.Event], ledger: Ledger) -> list[str]:
    """Return the columns of lists that are not what the events make them."""
    made = copy(job)
    project(made, events, state_of_ledger(ledger, events, projected_at(events)), ledger)
    made.seq = events[-1].seq
    names = [name for name in FIELDS if name not in SEALED]
    return [n for n in names if _plain(getattr(made, n)) != _plain(getattr(job, n))]


def _plain(value: Any) -> Any:
    return book.stamp(value) if isinstance(value, datetime) else encode(value)


def jobs_missing() -> Iterator[Finding]:
    """Yield the jobs that the register knows and that are there no more."""
    there = set(Job.objects.values_list("number", flat=True))
    for kind in ("opened", "adopted"):
        for subject, _ in book.lines(kind):
            number = subject.removeprefix("job ")
            if subject.startswith("job ") and number not in there:
                yield Finding("register", number, "the job is gone; the register knows of it")


def computes_differently(job: Job) -> list[str]:
    """Return the parts of a signed paper that today's rules would compute differently."""
    events = events_of(job)
    ledger = core_job(job, events, events[-1].when).ledger
    if not ledger.issued:
        return []
    content, event = ledger.issued[0]
    before = [e for e in events if e.seq < event.seq]
    then = core_job(job, before, event.when)
    paper = content.paper
    beside = Beside(
        site=paper["site"],
        register=(paper["chain"]["register_line"], paper["chain"]["register_seal"]),
        rules=paper["rules"],
        issued_at=paper["issue"]["issued_at"],
        late=paper["issue"]["reason"],
        events=before,
    )
    state = state_of_ledger(then.ledger, before, event.when)
    made = certificate(then, state, paper["chain"]["seal"], beside)
    today = json.loads(canonical(encode(made)))
    return sorted(k for k in {*today, *paper} if today.get(k) != paper.get(k))
