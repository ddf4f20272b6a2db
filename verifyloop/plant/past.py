"""Results from before: entered as their papers say, and what follows of the newest."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date, datetime, timedelta
from typing import Any

from django.utils import timezone

from calibration.kernel.codec import decode
from calibration.kernel.numbers import parse_decimal
from calibration.setup.past import PastForm, marks
from verifyloop.accounts.models import User
from verifyloop.plant.facts import all_rules, parameters_of
from verifyloop.plant.models import Instrument, PastResult, Plan
from verifyloop.plant.setup import note_change

#: What is kept of a result beside its instrument and its day.
COLUMNS = ("report", "by", "found_error", "left_error", "limit", "found", "left", "remark")


def _kept(record: Mapping[str, Any]) -> dict[str, str]:
    return {name: str(record.get(name) or "") for name in COLUMNS}


def enter_results(
    results: Sequence[tuple[int, Mapping[str, Any]]], actor: User, now: datetime
) -> None:
    """Enter results, each with the key of its instrument."""
    PastResult.objects.bulk_create(
        PastResult(
            instrument_id=key,
            day=date.fromisoformat(str(record["day"])),
            entered_by=actor.display_name,
            entered_at=now,
            **_kept(record),
        )
        for key, record in results
    )


def change_result(
    key: int, record: Mapping[str, Any], actor: User, why: str, now: datetime
) -> None:
    """Change a result; what it said before stays with the instrument."""
    result = PastResult.objects.select_related("instrument").get(
        instrument_id=key, day=str(record["day"]), report=str(record.get("report") or "")
    )
    for name, text in _kept(record).items():
        was = getattr(result, name)
        if was != text:
            field = f"result of {result.day}, {name.replace('_', ' ')}"
            note_change(result.instrument, actor, now, field[:40], was, text or "none", why)
            setattr(result, name, text)
    result.entered_by, result.entered_at = actor.display_name, now
    result.save()


def said_of_result(result: PastResult) -> PastForm:
    """Return a result as the core reads it."""
    said = {name: text for name in COLUMNS if (text := getattr(result, name))}
    return decode(PastForm, {"tag": result.instrument.tag, "day": str(result.day), **said})


def count_results(keys: Sequence[int], now: datetime) -> None:
    """Let the newest result of each instrument count, where no job of its own came after it.

    It is shown as the last one, and gives the first plan its day where that has none: by the
    interval after a good result, at once after one that was left outside.
    """
    found = PastResult.objects.filter(instrument__in=keys).order_by("day", "pk")
    # The last one of an instrument stays.
    newest = dict(found.values_list("instrument_id", "pk"))
    counting = PastResult.objects.filter(pk__in=newest.values()).select_related("instrument")
    rules, today = all_rules(), timezone.localdate(now)
    instruments, plans = [], []
    for result in counting.prefetch_related("instrument__plans").order_by("day", "pk"):
        one, (was_found, was_left) = result.instrument, marks(said_of_result(result))
        # What its own jobs said stays: those have an outcome or a later day.
        if one.last_outcome or (one.last_on is not None and one.last_on > result.day):
            continue
        one.last_on, one.last_mark_found, one.last_mark_left = result.day, was_found, was_left
        instruments.append(one)
        plan = one.plan
        if plan.next_due is None and one.out_of_service is None:
            days = parameters_of(one, rules)["interval_days"]
            plan.next_due, plan.due_reason = _due(result, was_left, days, today)
            plans.append(plan)
    Instrument.objects.bulk_update(
        instruments, ["last_on", "last_mark_found", "last_mark_left"], batch_size=100
    )
    Plan.objects.bulk_update(plans, ["next_due", "due_reason"], batch_size=100)


def _due(result: PastResult, left: str, days: Any, today: date) -> tuple[date, str]:
    paper = f"paper {result.report}" if result.report else "its paper"
    if left == "outside":
        return today, f"left outside on {result.day}, says {paper}"[:160]
    interval = timedelta(days=int(parse_decimal(days.value, "interval_days")))
    return result.day + interval, f"{days.value} days after {result.day}, {paper}"[:160]
