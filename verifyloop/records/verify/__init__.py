"""Whether the records are as they were written, and what does not fit."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from verifyloop.records.verify.finding import Finding
from verifyloop.records.verify.jobs import check_job, computes_differently, jobs_missing
from verifyloop.records.verify.tables import changed_rows
from verifyloop.register.book import broken_line
from verifyloop.register.models import Entry
from verifyloop.work.models import Job

__all__ = ["Finding", "against", "check_all", "check_job", "computes_differently"]


def check_all(number: str = "") -> Iterator[Finding]:
    """Yield what was changed from outside: of one job, or of everything there is."""
    jobs = Job.objects.select_related("instrument", "follows").order_by("number")
    if number:
        jobs = jobs.filter(number=number)
    for job in jobs.iterator(chunk_size=500):
        yield from check_job(job)
    if number:
        return
    yield from jobs_missing()
    yield from changed_rows()
    if line := broken_line():
        yield Finding("register", f"line {line[0]}", line[1])


def against(head: dict[str, Any]) -> list[Finding]:
    """Return what does not fit a head that was kept elsewhere: rows cut off since, or made anew."""
    line = Entry.objects.filter(pk=head["register_line"]).first()
    if head["register_line"] == 0 or (line and line.seal == head["register_seal"]):
        return []
    what = "is another one" if line else "is gone, and what came after it"
    return [Finding("head", f"line {head['register_line']}", f"the line of the head {what}")]
