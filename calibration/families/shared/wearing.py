"""How long a sensor will last, from what it answered at the jobs of its life."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import date, timedelta

from calibration.detector.life import Expected, LifeIn, Past, foreseen, life
from calibration.engine.judging.validity import Answer, Course, OnDay
from calibration.kernel.rounding import show

#: A new sensor is ordered so long before the early limit. [days]
DELIVERY_DAYS = 60
#: A course is drawn no further than this. [days]
DRAWN_DAYS = 3 * 365


def worn(channel: str, gas: str, past: Sequence[Past], weak: float, spent: float) -> Course:
    """Return the course of a sensor: past answers, trend, and the days of its limits.

    References
    ----------
    :func:`calibration.detector.life.life`.
    """
    known = Course(channel=channel, gas=gas, weak=weak, replace=spent, history=_answers(past))
    if not past:
        return known
    judged = life(LifeIn(history=tuple(past), weak_percent=weak, replace_percent=spent))
    end = next((d for d in judged.dates if d.band == "replace"), None)
    return replace(
        known,
        status=judged.status,
        last=f"{show(past[-1].response, 0)} % of new",
        last_on=past[-1].date,
        slope=a_month(judged.slope_per_month),
        replace_about=end.expected or "" if end else "",
        replace_from=end.early_80 or "" if end else "",
        replace_to=end.late_80 or "" if end else "",
        advice=judged.advice,
        points=judged.points_used,
        order_by=_order_by(end.early_80 if end else None),
        course=tuple(
            OnDay(day=f.day, expected=f.expected, low=f.low, high=f.high)
            for f in foreseen(tuple(past), _drawn_until(past[-1].date, end))
        ),
    )


def trend(channel: str, gas: str, past: Sequence[Past]) -> Course:
    """Return the course of a response that has no end of its own: past answers and their trend."""
    if not past:
        return Course(channel=channel, gas=gas)
    slope = life(LifeIn(history=tuple(past))).slope_per_month
    before = f"Before: {show(past[-2].response, 1)} %." if len(past) > 1 else "The first one."
    return Course(
        channel=channel,
        gas=gas,
        history=_answers(past),
        last=f"{show(past[-1].response, 1)} % of the first",
        last_on=past[-1].date,
        slope=a_month(slope),
        advice=before,
        points=len(past),
    )


def a_month(slope: float | None) -> str:
    """Return a slope in words; empty where there is none."""
    return f"{show(slope, 2, sign=True)} % a month" if slope is not None else ""


def _answers(past: Sequence[Past]) -> tuple[Answer, ...]:
    return tuple(
        Answer(day=date.fromisoformat(p.date), response=p.response, replaced=p.replaced)
        for p in past
    )


def _order_by(early: str | None) -> str:
    return str(date.fromisoformat(early) - timedelta(days=DELIVERY_DAYS)) if early else ""


def _drawn_until(last: str, end: Expected | None) -> date:
    """Return how far the course of a sensor is drawn: to the late limit, at most three years."""
    furthest = date.fromisoformat(last) + timedelta(days=DRAWN_DAYS)
    late = (end.late_80 or end.expected) if end else None
    return min(furthest, date.fromisoformat(late)) if late else furthest
