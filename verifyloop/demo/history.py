"""Three years of visits, from one seed and the core's simulators."""

from __future__ import annotations

import uuid
from dataclasses import replace
from datetime import date, datetime, time, timedelta

from django.db import transaction
from django.utils import timezone

from calibration.codec import encode
from calibration.simulate.ageing import Ageing, aged
from calibration.simulate.noise import uniform
from verifyloop.accounts.models import User
from verifyloop.demo.visits import Cart, Visit, fresh_model, serial_of
from verifyloop.demo.works import (
    AREAS,
    INSTRUMENTS,
    PASSWORD,
    PEOPLE,
    REFERENCES,
    RIGS,
    SEED,
    SITE_RULES,
    Transmitter,
)
from verifyloop.kit.models import Reference
from verifyloop.plant.models import Area, Instrument, SiteRule
from verifyloop.rigs.models import Rig
from verifyloop.work.models import Job
from verifyloop.work.services import NewEvent, append_events

YEARS = 3
#: the module that read high, while nobody knew it
BAD_REFERENCE, BAD_SHIFT, BAD_FOR_DAYS = "R-109", 0.15, 400


@transaction.atomic
def build(now: datetime) -> None:
    """Make the whole works, ending at ``now``."""
    people = _people()
    _kit(now.date())
    _instruments()
    for day, spec, number in _visits(now.date()):
        _recalibrate(day)
        _visit(spec, number, day, people)
    _kit(now.date())
    _rigs(now)
    _running(now, people)


def _people() -> dict[str, User]:
    found = {}
    for username, first, last, role in PEOPLE:
        user = User(username=username, first_name=first, last_name=last, role=role)
        user.set_password(PASSWORD)
        user.save()
        found[username] = user
    return found


def _kit(today: date) -> None:
    for number, entry in enumerate(REFERENCES):
        due = today + timedelta(days=entry["due_in"])
        Reference.objects.update_or_create(
            asset=entry["asset"],
            defaults={
                "description": entry["description"],
                "serial": f"KR-{3000 + 7 * number}",
                "quantity": entry["quantity"],
                "unit": entry["unit"],
                "spec": entry["spec"],
                "certificate": f"C-{due.year - 1}-{entry['asset'][2:]}",
                "calibrated_on": due - timedelta(days=365),
                "due_on": due,
                "withdrawn": entry["withdrawn"],
            },
        )


def _recalibrate(day: date) -> None:
    """Bring every reference into the year of its calibration that holds a day."""
    for reference in Reference.objects.all():
        due = reference.due_on
        while due - timedelta(days=365) > day:
            due -= timedelta(days=365)
        while due < day:
            due += timedelta(days=365)
        if due != reference.due_on or reference.withdrawn:
            reference.due_on, reference.calibrated_on = due, due - timedelta(days=365)
            reference.certificate = f"C-{due.year - 1}-{reference.asset[2:]}"
            reference.withdrawn = ""
            reference.save()


def _instruments() -> None:
    for key, value, unit, source in SITE_RULES:
        SiteRule.objects.create(
            method="pressure_transmitter", key=key, value=value, unit=unit, source=source
        )
    areas = {n: Area.objects.create(name=n, order=i) for i, n in enumerate(AREAS, start=1)}
    for spec in INSTRUMENTS:
        Instrument.objects.create(
            tag=spec.tag,
            serial=serial_of(spec),
            description=spec.description,
            area=areas[spec.area],
            method="pressure_transmitter",
            loop_role=spec.role,
            input_unit=spec.unit,
            input_lower=spec.lower,
            input_upper=spec.upper,
            tolerance={"percent_of_span": spec.tolerance},
            tolerance_source="loop data sheet",
            parameters=spec.manual,
            smart=spec.smart,
            indicated=spec.indicated,
            caution=spec.caution,
        )


def _visits(today: date) -> list[tuple[date, Transmitter, int]]:
    """Return all visits in order of time; the last of each instrument decides when it is due."""
    found = []
    for spec in INSTRUMENTS:
        day = today + timedelta(days=spec.due_in - spec.interval)
        number = 0
        while day > today - timedelta(days=365 * YEARS):
            found.append((day, spec, number))
            number += 1
            late = int(14 * uniform(SEED, f"late {spec.tag}", number)) - 4
            day -= timedelta(days=spec.interval + late)
    return sorted(found, key=lambda visit: (visit[0], visit[1].tag))


def _cart(spec: Transmitter, day: date, number: int, people: dict[str, User]) -> Cart:
    span = max(abs(float(spec.upper)), abs(float(spec.lower)))
    module = next(
        name
        for limit, name in (
            (1, "R-101"),
            (50, "R-102"),
            (200, "R-103"),
            (1000, "R-104"),
            (7000, "R-105"),
        )
        if span <= limit or name == "R-105"
    )
    if spec.unit == "bar":
        module = "R-106"
    age = (timezone.now().date() - day).days
    bad = module == "R-103" and 120 < age < BAD_FOR_DAYS
    who = people["tessa" if (number + len(spec.tag) + span) % 2 else "bram"]
    return Cart(
        who=who,
        reference=BAD_REFERENCE if bad else module,
        meter="R-201" if who.username == "tessa" else "R-202",
        reference_error=BAD_SHIFT if bad else 0.0,
    )


def _visit(spec: Transmitter, number: int, day: date, people: dict[str, User]) -> None:
    seed = SEED + 1000 * number + sum(map(ord, spec.tag))
    ageing = Ageing(zero_per_year=spec.zero, span_per_year=spec.span, season=spec.season)
    age = _days_since_adjusted(spec, day)
    model = aged(fresh_model(spec), ageing, age, day.timetuple().tm_yday, seed)
    cart = _cart(spec, day, number, people)
    hour = 7 + int(7 * uniform(seed, "hour", 0))
    start = datetime.combine(day, time(hour, 10), tzinfo=timezone.get_current_timezone())
    visit = Visit(spec, cart, model, start, seed)
    visit.prepare()
    visit.warm()
    state = visit.run("as_found")
    if uniform(seed, "slip", 0) < 0.15:
        state = _slip(visit, state)
    if visit.judge(state) == "adjust":
        visit.adjust()
        visit.run("as_left")
    visit.give_back()
    if (timezone.now().date() - day).days > 25:
        _review(visit, people["rowan"])


def _slip(visit: Visit, state: object) -> object:
    """A reading noticed to be wrong: taken back with a reason and taken again."""
    taken = visit.send().as_found.points[-1]
    visit.event("retracted", event=taken.event, reason="read the meter on the wrong range")
    values = {"applied": taken.applied, "reading": taken.reading}
    values = {k: v.replace("\u202f", "").replace("\u2212", "-") for k, v in values.items()}
    for name, shown in (("digital", taken.digital), ("indicated", taken.indicated)):
        if shown:
            values[name] = shown.replace("\u202f", "").replace("\u2212", "-")
    visit.event("reading_taken", run="as_found", point=taken.index, **values)
    return visit.send()


def _days_since_adjusted(spec: Transmitter, day: date) -> float:
    last = (
        Job.objects.filter(instrument__tag=spec.tag, adjusted=True, signed_at__isnull=False)
        .order_by("-signed_at")
        .first()
    )
    if last is None or last.signed_at is None:
        return 400.0
    return float((day - last.signed_at.date()).days)


def _review(visit: Visit, reviewer: User) -> None:
    at = visit.clock + timedelta(days=2)
    name = uuid.uuid5(uuid.NAMESPACE_URL, f"{SEED}:{visit.job.number}:review")
    append_events(
        actor=reviewer,
        number=visit.job.number,
        expected_seq=visit.seq,
        events=[NewEvent(name, "reviewed", {"outcome": "accepted"}, "typed", at)],
        now=at,
        identity_proven=True,
    )


def _rigs(now: datetime) -> None:
    for number, (tag, faults) in enumerate(RIGS.items()):
        spec = next(s for s in INSTRUMENTS if s.tag == tag)
        quick = {"source_tau_s": 0.7, "transmitter_tau_s": 0.25, "hysteresis_percent": 0.0}
        model = replace(fresh_model(spec), **{**quick, **faults})
        Rig.objects.create(
            instrument=Instrument.objects.get(tag=tag),
            model=encode(model),
            seed=SEED + number,
            started_at=now - timedelta(minutes=5),
        )


def _running(now: datetime, people: dict[str, User]) -> None:
    """One job half done, one that waits in bypass."""
    half = next(s for s in INSTRUMENTS if s.tag == "PT-5103")
    model = replace(fresh_model(half), sensor_zero_percent=0.3, sensor_span_percent=0.35)
    cart = Cart(people["bram"], "R-104", "R-202")
    visit = Visit(half, cart, model, now - timedelta(minutes=41), SEED)
    visit.prepare()
    visit.warm()
    visit.run("as_found", points=4)
    waiting = next(s for s in INSTRUMENTS if s.tag == "PT-3306")
    cart = Cart(people["tessa"], "R-102", "R-201")
    visit = Visit(waiting, cart, fresh_model(waiting), now - timedelta(minutes=24), SEED)
    visit.prepare()
    visit.event("timer_started", step="warm_up")
    visit.send()
