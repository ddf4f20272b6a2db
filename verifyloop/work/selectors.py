"""Reading jobs for lists."""

from __future__ import annotations

import re
from datetime import date, datetime, time, timedelta

from django.db.models import Q, QuerySet
from django.utils import timezone

from calibration.engine.judging.outcome import GOOD
from verifyloop.kit.selectors import in_kit
from verifyloop.plant.words import matching
from verifyloop.register.unchanged import unchanged
from verifyloop.work.models import Job

#: What a number of a job is made of: a word with anything else stands in none.
IN_NUMBERS = re.compile(r"[Jj\d-]+")
#: Beyond so many the store looks by itself.
MOST_NAMES = 500


def running() -> QuerySet[Job]:
    """Return open jobs, the one touched last first."""
    said = ("number", "stage", "step_title", "opened_by", "changed_at")
    of = ("instrument__tag", "instrument__description", "instrument__area__name")
    return (
        Job.objects.select_related("instrument__area")
        .only(*said, *of)
        .filter(status=Job.Status.OPEN)
        .order_by("-changed_at")[:60]
    )


def with_something_on() -> QuerySet[Job]:
    """Return the jobs that hold a bypass, a connection or a running timer."""
    # "IN" and not the bare column: only so SQLite goes through the index.
    names = ("number", "on", "timers", "references", "opened_at", "instrument__tag")
    on = Job.objects.select_related("instrument").only(*names).filter(has_on__in=[True])
    return on.order_by("opened_at")


#: What is said of a signed job in the history of its instrument.
PAST = (
    "number", "method", "method_version", "status", "outcome", "anew", "adjusted", "causes",
    "signed_at", "signed_by", "mark_found", "mark_left", "max_error_found", "max_error_left",
    "limit_percent",
)  # fmt: skip


def history(instrument_id: int) -> QuerySet[Job]:
    """Return the signed jobs of one instrument, newest first."""
    signed = Job.objects.filter(instrument_id=instrument_id, signed_at__isnull=False)
    return signed.only(*PAST).order_by("-signed_at")[:100]


def connected_elsewhere(assets: set[str], but: Job) -> dict[str, str]:
    """Return where references are connected now, in other jobs: instrument and job, by asset."""
    found: dict[str, str] = {}
    for job in with_something_on().exclude(pk=but.pk):
        if any(on["kind"] == "connection" for on in job.on):
            where = f"{job.instrument.tag} ({job.number})"
            found.update(dict.fromkeys(assets & set(job.references), where))
    return found


def last_good(instrument_id: int) -> str:
    """Return the day of the last signed job that left an instrument good; empty for none."""
    at = (
        Job.objects.filter(instrument_id=instrument_id, outcome__in=GOOD)
        .order_by("-signed_at")
        .values_list("signed_at", flat=True)
        .first()
    )
    return str(timezone.localdate(at)) if at is not None else ""


def records(
    text: str,
    mark: str,
    area: str = "",
    tag: str = "",
    first: date | None = None,
    last: date | None = None,
) -> QuerySet[Job]:
    """Return signed jobs by words, as-found mark, area and days of signing, newest first."""
    found = (
        Job.objects.select_related("instrument__area")
        .filter(signed_at__isnull=False)
        .order_by("-signed_at", "pk")
    )
    for word in text.split()[:6]:
        found = found.filter(_said(word))
    if area:
        found = found.filter(instrument__area__name=area)
    if tag:
        found = found.filter(instrument__tag=tag)
    if first is not None:
        found = found.filter(signed_at__gte=_midnight(first))
    if last is not None:
        found = found.filter(signed_at__lt=_midnight(last + timedelta(days=1)))
    if mark in ("within", "near", "outside"):
        found = found.filter(mark_found=mark)
    elif mark == "unreviewed":
        found = found.filter(status=Job.Status.SIGNED)
    elif mark == "follow_up":
        found = found.filter(follow_up="open")
    return found


def _said(word: str) -> Q:
    """Return where a word may stand in a record: nothing is looked through that cannot have it."""
    named = matching([word])
    inside = (
        Q(instrument__in=named)
        if named is not None
        else Q(instrument__tag__icontains=word)
        | Q(instrument__description__icontains=word)
        | Q(instrument__serial__icontains=word)
        | Q(instrument__area__name__icontains=word)
    )
    said = inside | _named("signed_by", word) | _named("work_order", word)
    if IN_NUMBERS.fullmatch(word):
        said |= Q(number__icontains=word)
    if in_kit(word):
        said |= Q(references__icontains=word)
    return said


def _named(column: str, word: str) -> Q:
    """Return where a word may stand in a column: names and orders are few, records are many."""
    small = word.lower()
    every = unchanged("names in records", column, lambda: _names(column))
    hits = [name for name in every if small in name.lower()]
    if len(hits) > MOST_NAMES:
        return Q(**{f"{column}__icontains": word})
    return Q(**{f"{column}__in": hits})


def _names(column: str) -> list[str]:
    """Return every name in a column of the records; a signature is a line of the register."""
    signed = Job.objects.filter(signed_at__isnull=False).order_by()
    return list(signed.values_list(column, flat=True).distinct())


def _midnight(day: date) -> datetime:
    """Return the beginning of a day where the site is."""
    return timezone.make_aware(datetime.combine(day, time.min))
