"""How long the sensors of a detector will last, from what was learnt at its jobs."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from datetime import date, timedelta

from calibration.detector.life import Expected, Foreseen, LifeIn, foreseen, life
from calibration.families.gas.learnt import History, past_of
from calibration.gas.cylinder import Channel
from calibration.kernel.codec import decode
from calibration.kernel.rounding import show
from verifyloop.plant.facts import all_rules, parameters_of
from verifyloop.plant.models import Instrument, SiteRule
from verifyloop.work.along import learnt_of, learnt_of_all

#: A new sensor is ordered so long before the early limit. [days]
DELIVERY_DAYS = 60
#: A course is drawn no further than this. [days]
DRAWN_DAYS = 3 * 365
#: Sensors that reach their band within this time are on the list. [days]
AHEAD_DAYS = 90


@dataclass(frozen=True)
class Answer:
    """One past response."""

    day: date
    response: float
    replaced: bool


@dataclass(frozen=True, kw_only=True)
class Sensor:
    """One sensor and how long it will last."""

    tag: str
    description: str
    channel: str
    gas: str
    weak: float
    replace: float
    history: list[Answer]
    status: str = "none"
    last: str = ""
    last_on: str = ""
    slope: str = ""
    replace_about: str = ""
    replace_from: str = ""
    replace_to: str = ""
    advice: str = "No response is known yet: the first calibration gives one."
    points: int = 0
    #: day to order a new one, so that it is there before the early limit
    order_by: str = ""
    course: list[Foreseen] = field(default_factory=list)


def to_order(today: date) -> list[Sensor]:
    """Return the sensors that are weak, spent, or will be within ninety days."""
    until = str(today + timedelta(days=AHEAD_DAYS))
    found, rules, learnt = [], all_rules(), learnt_of_all()
    detectors = Instrument.objects.exclude(own={}).prefetch_related("plans").order_by("tag")
    for i in detectors:
        for sensor in sensors_of(i, rules, learnt.get(i.pk, [])):
            soon = sensor.replace_from and sensor.replace_from <= until
            if sensor.status in ("weak", "replace") or soon:
                found.append(sensor)
    return sorted(found, key=lambda s: s.replace_about or "9999")


def sensors_of(
    i: Instrument, rules: Sequence[SiteRule] | None = None, learnt: History | None = None
) -> list[Sensor]:
    """Return the life of every sensor of a detector."""
    if not i.own:
        return []
    parameters = parameters_of(i, rules)
    weak = float(parameters["weak_percent"].value) if "weak_percent" in parameters else 60.0
    spent = float(parameters["replace_percent"].value) if "replace_percent" in parameters else 40.0
    history = learnt_of(i) if learnt is None else learnt
    channels = [decode(Channel, raw) for raw in i.own.get("channels", ())]
    return [_sensor(i, c, weak, spent, history) for c in channels]


def _sensor(i: Instrument, c: Channel, weak: float, spent: float, history: History) -> Sensor:
    past = past_of(history, c.id)
    common = Sensor(
        tag=i.tag,
        description=i.description,
        channel=c.id,
        gas=c.label,
        weak=weak,
        replace=spent,
        history=[
            Answer(day=date.fromisoformat(p.date), response=p.response, replaced=p.replaced)
            for p in past
        ],
    )
    if not past:
        return common
    judged = life(LifeIn(history=tuple(past), weak_percent=weak, replace_percent=spent))
    end = next((d for d in judged.dates if d.band == "replace"), None)
    slope = judged.slope_per_month
    return replace(
        common,
        status=judged.status,
        last=f"{show(past[-1].response, 0)} % of new",
        last_on=past[-1].date,
        slope=f"{show(slope, 2, sign=True)} % a month" if slope is not None else "",
        replace_about=end.expected or "" if end else "",
        replace_from=end.early_80 or "" if end else "",
        replace_to=end.late_80 or "" if end else "",
        advice=judged.advice,
        points=judged.points_used,
        order_by=_order_by(end.early_80 if end else None),
        course=list(foreseen(tuple(past), _drawn_until(past[-1].date, end))),
    )


def _order_by(early: str | None) -> str:
    return str(date.fromisoformat(early) - timedelta(days=DELIVERY_DAYS)) if early else ""


def _drawn_until(last: str, end: Expected | None) -> date:
    """Return how far the course of a sensor is drawn: to the late limit, at most three years."""
    furthest = date.fromisoformat(last) + timedelta(days=DRAWN_DAYS)
    late = (end.late_80 or end.expected) if end else None
    return min(furthest, date.fromisoformat(late)) if late else furthest
