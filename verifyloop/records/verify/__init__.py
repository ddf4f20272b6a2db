"""Whether the records are as they were written, and what does not fit."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from typing import Any

from django.db import DatabaseError, connection
from django.db.models import Max

from verifyloop.records.verify.finding import Finding
from verifyloop.records.verify.jobs import check_job, computes_differently, jobs_missing
from verifyloop.records.verify.tables import changed_rows, groups_differ, uses_of_no_job
from verifyloop.register import book
from verifyloop.register.book import broken_line
from verifyloop.register.models import Entry
from verifyloop.work.models import Event, Job

__all__ = [
    "Finding",
    "against",
    "check_all",
    "check_job",
    "check_key",
    "check_rest",
    "differs_today",
    "head_now",
    "keys_of",
]


#: So many jobs are looked at by a process before it says how far it is.
AT_ONCE = 50


def check_all(number: str = "") -> Iterator[Finding]:
    """Yield what was changed from outside: of one job, or of everything there is."""
    for key in keys_of(number):
        yield from check_key(key)
    if not number:
        yield from check_rest()


def check_key(key: int, *, quick: bool = False) -> list[Finding]:
    """Return what does not fit in one job, or that it cannot be read."""
    with at_one_moment():
        return list(_read(f"job {key}", lambda: _of(key, quick)))


def check_rest() -> list[Finding]:
    """Return what was changed from outside in everything but the jobs."""
    found: list[Finding] = []
    for where, check in (
        ("the list of jobs", jobs_missing),
        ("plan, rules, kit and people", changed_rows),
        ("groups of people", groups_differ),
        ("what the kit was used for", uses_of_no_job),
        ("the register", _register),
    ):
        with at_one_moment():
            found += _read(where, check)
    return found


@contextmanager
def at_one_moment() -> Iterator[None]:
    """Read everything as it is at one moment, whoever writes meanwhile; nobody waits for it."""
    if connection.in_atomic_block:
        yield
        return
    begin = "BEGIN"
    if connection.vendor == "postgresql":
        begin += " ISOLATION LEVEL REPEATABLE READ READ ONLY"
    with connection.cursor() as cursor:
        cursor.execute(begin)
    try:
        yield
    finally:
        with connection.cursor() as cursor:
            cursor.execute("ROLLBACK")


def differs_today(key: int) -> str:
    """Return what today's rules would say otherwise in the paper of a job; empty for nothing."""
    job = Job.objects.exclude(signed_at=None).filter(pk=key).first()
    parts = computes_differently(job) if job is not None else []
    if job is None or not parts:
        return ""
    return f"{job.number}: kept as signed; today's rules would say otherwise in: {', '.join(parts)}"


def keys_of(number: str = "", after: str = "") -> Sequence[int]:
    """Return the keys of the jobs; where their list is damaged, every key there may be."""
    jobs = Job.objects.order_by("number")
    if number:
        jobs = jobs.filter(number=number)
    if after:
        jobs = jobs.filter(number__gt=after)
    try:
        return list(jobs.values_list("pk", flat=True))
    except DatabaseError:
        return range(1, (Job.objects.aggregate(last=Max("pk"))["last"] or 0) + 1)


def _of(key: int, quick: bool) -> Iterator[Finding]:
    """Yield what does not fit in one job; it is read by itself, so that others still are."""
    job = Job.objects.select_related("instrument", "follows").filter(pk=key).first()
    if job is None:
        return
    try:
        yield from check_job(job, quick=quick)
    except DatabaseError as cause:
        yield Finding("unreadable", f"{job.number} ({job.instrument.tag})", _cannot(cause))


def _read(where: str, check: Callable[[], Iterator[Finding]]) -> Iterator[Finding]:
    """Yield what a check finds, and that something cannot be read, where its file is damaged."""
    try:
        yield from check()
    except DatabaseError as cause:
        yield Finding("unreadable", where, _cannot(cause))


def _cannot(cause: DatabaseError) -> str:
    return f"cannot be read ({cause})"


def _register() -> Iterator[Finding]:
    if line := broken_line():
        yield Finding("register", f"line {line[0]}", line[1])


def against(head: dict[str, Any]) -> list[Finding]:
    """Return what does not fit a head that was kept elsewhere: rows cut off since, or made anew."""
    found = [] if not head.get("jobs") else list(_set_back(head["jobs"]))
    line = Entry.objects.filter(pk=head["register_line"]).first()
    if head["register_line"] == 0 or (line and line.seal == head["register_seal"]):
        return found
    what = "is another one" if line else "is gone, and what came after it"
    return [
        Finding("head", f"line {head['register_line']}", f"the line of the head {what}"),
        *found,
    ]


def head_now() -> dict[str, Any]:
    """Return what to keep elsewhere: the last line of the register, and where open jobs stand.

    What was written after it is not protected by it; what is signed or ended is by its line.
    """
    line, seal = book.head()
    jobs = Job.objects.filter(status=Job.Status.OPEN).order_by("number")
    stand = {number: [seq, head] for number, seq, head in jobs.values_list("number", "seq", "head")}
    return {"register_line": line, "register_seal": seal, "jobs": stand}


def _set_back(jobs: dict[str, list[Any]]) -> Iterator[Finding]:
    """Yield the jobs that had come further when a head was kept, or came another way."""
    for number, (seq, seal) in jobs.items():
        event = Event.objects.filter(job__number=number, seq=seq).first()
        if event is None or event.seal != seal:
            what = f"it had come to event {seq} when the head was kept"
            yield Finding("head", number, f"{what}; that event is {'another' if event else 'gone'}")
