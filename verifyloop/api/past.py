"""What was found at an instrument before: its signed jobs, and what earlier papers say."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date
from decimal import Decimal

from django.utils import timezone
from ninja import Schema

from calibration.kernel.rounding import show
from calibration.setup.past import marks
from verifyloop.plant.models import Instrument, PastResult
from verifyloop.plant.past import said_of_result
from verifyloop.plant.proposals import not_so
from verifyloop.work.models import Job
from verifyloop.work.projection import left_mark, said_of
from verifyloop.work.selectors import history


class PastOut(Schema):
    """A signed job of the instrument, or a check from before."""

    #: empty for a check from before
    job: str
    #: what an earlier paper is called, and who brought it in; empty for a job
    paper: str
    brought: str
    day: date
    signed_by: str
    status: str
    mark_found: str
    mark_left: str
    #: what the job came to, in words; empty where the marks say it all
    outcome: str
    max_found: str
    max_left: str
    adjusted: bool
    causes: str
    found_error: float | None
    left_error: float | None
    limit: float | None
    #: it says something of the sensor that is there now; the first one in which it was
    in_picture: bool
    new_sensor: bool


def all_past(i: Instrument) -> list[PastOut]:
    """Return signed jobs and checks from before, newest first."""
    jobs = _jobs(history(i.pk), not_so(i, "serial"))
    # Nobody knows of a sensor that was changed before; one that was since is another one.
    same = not any(j.new_sensor for j in jobs)
    papers = [_paper(p, same) for p in i.past_results.order_by("-day", "-pk")[:100]]
    return sorted([*jobs, *papers], key=lambda p: p.day, reverse=True)


def _jobs(jobs: Iterable[Job], slips: set[str]) -> list[PastOut]:
    """Return the signed jobs, newest first; the picture begins with the sensor that is there.

    ``slips``: jobs in which another number was read that a planner found to be wrong.
    """
    found, same = [], True
    for job in jobs:
        anew = job.anew if job.anew == "in" or job.number not in slips else ""
        # Of the job in which it was fitted only what was left is of the new one.
        found.append(_job(job, same, anew))
        same = same and not anew
    return found


def _text(value: float | Decimal | None) -> str:
    return "" if value is None else f"{show(value, 2, sign=True)} %"


def _job(j: Job, same: bool, anew: str) -> PastOut:
    assert j.signed_at is not None
    return PastOut.model_construct(
        job=j.number,
        paper="",
        brought="",
        day=timezone.localdate(j.signed_at),
        signed_by=j.signed_by,
        status=j.status,
        mark_found=j.mark_found,
        mark_left=left_mark(j),
        outcome=said_of(j),
        max_found=_text(j.max_error_found),
        max_left=_text(j.max_error_left if j.max_error_left is not None else j.max_error_found),
        adjusted=j.adjusted or j.max_error_left is not None,
        causes=j.causes,
        found_error=j.max_error_found if anew != "in" else None,
        left_error=j.max_error_left if j.max_error_left is not None else j.max_error_found,
        limit=j.limit_percent,
        in_picture=same and j.max_error_found is not None,
        new_sensor=bool(anew),
    )


def _paper(result: PastResult, same: bool) -> PastOut:
    past = said_of_result(result)
    left = past.left_error if past.left_error is not None else past.found_error
    found_mark, mark = marks(past)
    return PastOut.model_construct(
        job="",
        paper=past.report or "no number",
        brought=f"brought in by {result.entered_by} on {timezone.localdate(result.entered_at)}",
        day=result.day,
        signed_by=past.by,
        status="",
        mark_found=found_mark,
        mark_left=mark,
        outcome="",
        max_found=_text(past.found_error),
        max_left=_text(left),
        adjusted=past.left_error is not None,
        causes=past.remark,
        found_error=_float(past.found_error),
        left_error=_float(left),
        limit=_float(past.limit),
        in_picture=same and past.found_error is not None,
        new_sensor=False,
    )


def _float(value: Decimal | None) -> float | None:
    return None if value is None else float(value)
