"""How what wears in an instrument will last, from what was learnt at its jobs."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from calibration.engine.judging.validity import Course, History
from calibration.engine.method.family import family_by_facts
from verifyloop.plant.facts import all_rules, facts_of, parameters_of
from verifyloop.plant.models import Instrument, SiteRule
from verifyloop.register.kept import version_of
from verifyloop.register.unchanged import unchanged
from verifyloop.work.side_effects import learnt_of, learnt_of_all, newest_learnt

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
    soon = [
        sensor
        for sensor in unchanged("sensors", today, every_sensor)
        if sensor.status in ("weak", "replace")
        or (sensor.replace_from and sensor.replace_from <= until)
    ]
    return sorted(soon, key=lambda s: s.replace_about or "9999")


#: What was said of the sensors of an instrument, and of what; a place of working only.
_said: dict[int, tuple[Hashable, list[Sensor]]] = {}


def every_sensor() -> list[Sensor]:
    """Return the course of everything that wears in instruments that were calibrated here.

    An instrument is looked at anew where something new was signed of it, or what is particular to
    it, its limits or its words are others: its course rests on nothing else.
    """
    signed = newest_learnt()
    instruments = (
        Instrument.objects.filter(pk__in=signed)
        .exclude(own={})
        .select_related("area")
        .prefetch_related("plans")
        .order_by("tag")
    )
    rules, found = all_rules(), []
    marks = {i.pk: (signed[i.pk], version_of(i), _limits(i, rules)) for i in instruments}
    stale = {pk for pk, mark in marks.items() if _said.get(pk, ((), []))[0] != mark}
    learnt = learnt_of_all(stale) if stale else {}
    for i in instruments:
        if i.pk in stale:
            _said[i.pk] = marks[i.pk], sensors_of(i, rules, learnt.get(i.pk, []))
        found += _said[i.pk][1]
    return found


def _limits(i: Instrument, rules: Sequence[SiteRule]) -> Hashable:
    return tuple(sorted((id, p.value) for id, p in parameters_of(i, rules).items()))


def sensors_of(
    i: Instrument, rules: Sequence[SiteRule] | None = None, learnt: History | None = None
) -> list[Sensor]:
    """Return the course of everything that wears in an instrument."""
    family = family_by_facts(facts_of(i, rig=False)) if i.own else None
    if family is None:
        return []
    numbers = {id: p.value for id, p in parameters_of(i, rules).items()}
    history = learnt_of(i) if learnt is None else learnt
    courses = family.learning.courses(i.own, history, numbers)
    return [Sensor(tag=i.tag, description=i.description, **vars(c)) for c in courses]
