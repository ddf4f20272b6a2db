"""How what wears in an instrument will last, from what was learnt at its jobs."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from calibration.engine.family import family_by_facts
from calibration.engine.lasting import Course, History
from verifyloop.plant.facts import all_rules, facts_of, parameters_of
from verifyloop.plant.models import Instrument, SiteRule
from verifyloop.work.along import learnt_of, learnt_of_all

#: What reaches its band within this time is on the list. [days]
AHEAD_DAYS = 90


@dataclass(frozen=True, kw_only=True)
class Sensor(Course):
    """One sensor and how long it will last."""

    tag: str
    description: str


def to_order(today: date) -> list[Sensor]:
    """Return the sensors that are weak, spent, or will be within ninety days.

    Of one that was never calibrated here nothing is foreseen.
    """
    until = str(today + timedelta(days=AHEAD_DAYS))
    found, rules, learnt = [], all_rules(), learnt_of_all()
    instruments = (
        Instrument.objects.filter(pk__in=learnt)
        .exclude(own={})
        .select_related("area")
        .prefetch_related("plans")
        .order_by("tag")
    )
    for i in instruments:
        for sensor in sensors_of(i, rules, learnt.get(i.pk, [])):
            soon = sensor.replace_from and sensor.replace_from <= until
            if sensor.status in ("weak", "replace") or soon:
                found.append(sensor)
    return sorted(found, key=lambda s: s.replace_about or "9999")


def sensors_of(
    i: Instrument, rules: Sequence[SiteRule] | None = None, learnt: History | None = None
) -> list[Sensor]:
    """Return the course of everything that wears in an instrument."""
    family = family_by_facts(facts_of(i, rig=False)) if i.own else None
    if family is None:
        return []
    numbers = {id: p.value for id, p in parameters_of(i, rules).items()}
    history = learnt_of(i) if learnt is None else learnt
    courses = family.courses(i.own, history, numbers)
    return [Sensor(tag=i.tag, description=i.description, **vars(c)) for c in courses]
