"""Three years of visits, from one seed and the core's simulators."""

from __future__ import annotations

import uuid
from dataclasses import replace
from datetime import date, datetime, time, timedelta
from typing import Any

from django.utils import timezone

from calibration.kernel.codec import encode
from calibration.simulate.ageing import Ageing, aged
from calibration.simulate.loop import LoopModel
from calibration.simulate.noise import uniform
from calibration.simulate.rigs import Model
from calibration.simulate.technician import Technician
from verifyloop.accounts.models import User
from verifyloop.accounts.people import made
from verifyloop.demo import gas
from verifyloop.demo.detectors import Detector
from verifyloop.demo.device import Device
from verifyloop.demo.devices import DEVICES, PACE
from verifyloop.demo.modules import MODULES, Own
from verifyloop.demo.references import REFERENCES as MORE_REFERENCES
from verifyloop.demo.visits import Visit
from verifyloop.demo.works import (
    ADDRESS,
    AREAS,
    INSTRUMENTS,
    LABORATORY,
    PASSWORD,
    PEOPLE,
    REFERENCES,
    RIGS,
    SEED,
    SITE,
    SITE_RULES,
    STANDARDS,
    Transmitter,
)
from verifyloop.kit.models import Reference
from verifyloop.plant.models import Area, Instrument, Site, SiteRule
from verifyloop.register.write_lock import writing
from verifyloop.rigs.models import Rig
from verifyloop.work.appending import Batch, append_events
from verifyloop.work.models import Job
from verifyloop.work.sent import NewEvent

Spec = Transmitter | Device | Detector | Own
YEARS = 3
#: read high, while nobody knew it
BAD_REFERENCE, BAD_SHIFT, BAD_FOR_DAYS = "R-109", 0.15, 400


@writing()
def build(now: datetime) -> None:
    """Make the whole works, ending at ``now``."""
    Site.objects.create(name=SITE, laboratory=LABORATORY, address=ADDRESS, demo=True)
    people = made(PEOPLE, PASSWORD)
    _kit(now.date())
    gas.shelf(now.date())
    for module in MODULES.values():
        module.shelf(now.date())
    _instruments()
    for day, spec, number in _visits(now.date()):
        _recalibrate(day)
        if isinstance(spec, Detector):
            _detector_visit(spec, number, day, people)
        elif type(spec) in MODULES:
            _module_visit(spec, number, day, people)
        elif isinstance(spec, Device):
            _device_visit(spec, number, day, people)
        elif isinstance(spec, Transmitter):
            _visit(spec, number, day, people)
    _kit(now.date())
    gas.as_today(now.date())
    gas.due(now.date())
    for module in MODULES.values():
        module.shelf(now.date())
        module.due(now.date())
    _rigs(now)
    gas.rigs(now)
    for module in MODULES.values():
        module.rigs(now)
    _running(now, people)


def _kit(today: date) -> None:
    for number, entry in enumerate((*REFERENCES, *MORE_REFERENCES)):
        due = today + timedelta(days=entry["due_in"])
        Reference.objects.update_or_create(
            asset=entry["asset"],
            defaults={
                "description": entry["description"],
                "serial": f"KR-{3000 + 7 * number}",
                "quantity": entry["quantity"],
                "unit": entry["unit"],
                "spec": entry["spec"],
                "issued_by": STANDARDS,
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
        Instrument.objects.planned(
            tag=spec.tag,
            serial=serial_of(spec.tag),
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
    _devices(areas)
    gas.instruments(areas, serial_of)
    for module in MODULES.values():
        module.instruments(areas, serial_of)


def _devices(areas: dict[str, Area]) -> None:
    for spec in DEVICES:
        Instrument.objects.planned(
            tag=spec.tag,
            serial=serial_of(spec.tag),
            description=spec.description,
            area=areas[spec.area],
            method=spec.method,
            loop_role=spec.role,
            caution=spec.caution,
            parameters={
                "interval_days": {
                    "value": str(spec.interval),
                    "unit": "d",
                    "source": "calibration plan of the works",
                }
            },
            **spec.record,
        )


def _visits(today: date) -> list[tuple[date, Spec, int]]:
    """Return all visits in order of time; the last of each instrument decides when it is due."""
    found: list[tuple[date, Spec, int]] = [*gas.visits(today)]
    for module in MODULES.values():
        found += module.visits(today)
    for spec in (*INSTRUMENTS, *DEVICES):
        day = today + timedelta(days=spec.due_in - spec.interval)
        number = 0
        while day > today - timedelta(days=365 * YEARS):
            found.append((day, spec, number))
            number += 1
            late = int(14 * uniform(SEED, f"late {spec.tag}", number)) - 4
            day -= timedelta(days=spec.interval + late)
    return sorted(found, key=lambda visit: (visit[0], visit[1].tag))


def _reaching(*ends: str) -> str:
    """Return the smallest pressure module that reaches a range in kPa."""
    most = max(abs(float(end)) for end in ends)
    modules = ((1, "R-101"), (50, "R-102"), (200, "R-103"), (1000, "R-104"))
    return next((name for limit, name in modules if most <= limit), "R-105")


def _module(spec: Transmitter, day: date) -> tuple[str, float]:
    """Return the pressure module for a visit, and by how many percent it read high."""
    module = "R-106" if spec.unit == "bar" else _reaching(spec.lower, spec.upper)
    age = (timezone.now().date() - day).days
    bad = module == "R-103" and 120 < age < BAD_FOR_DAYS
    return (BAD_REFERENCE, BAD_SHIFT) if bad else (module, 0.0)


def _who(tag: str, number: int, people: dict[str, User]) -> User:
    return people["tessa" if (number + sum(map(ord, tag))) % 2 else "bram"]


def _assets(who: User, module: str = "R-105") -> dict[str, str]:
    return {
        "pressure": module,
        "current": "R-201" if who.username == "tessa" else "R-202",
        "voltage": "R-322",
        "resistance": "R-321",
        "temperature": "R-301",
        "heat_source": "D-401" if who.username == "tessa" else "D-402",
        "sensor_signal": "R-311",
        "mass": "R-501",
    }


def _answers(day: date) -> dict[str, str]:
    summer = day.timetuple().tm_yday in range(120, 270)
    return {
        "operator": "Control room, shift B",
        "temperature": "22" if summer else "12",
        "supply_v": "24.1",
        "loop_ohm": "62",
        "resistor_ohm": "250",
    }


def _start(day: date, seed: int) -> datetime:
    hour = 7 + int(7 * uniform(seed, "hour", 0))
    return datetime.combine(day, time(hour, 10), tzinfo=timezone.get_current_timezone())


def _visit(spec: Transmitter, number: int, day: date, people: dict[str, User]) -> None:
    seed = SEED + 1000 * number + sum(map(ord, spec.tag))
    ageing = Ageing(zero_per_year=spec.zero, span_per_year=spec.span, season=spec.season)
    age = _days_since_adjusted(spec.tag, day)
    model = aged(fresh_model(spec), ageing, age, day.timetuple().tm_yday, seed)
    module, high = _module(spec, day)
    who = _who(spec.tag, number, people)
    shift = high / 100 * (model.upper - model.lower)
    person = Technician(
        model, seed, _assets(who, module), _answers(day), serial_of(spec.tag), shift
    )
    visit = Visit(spec.tag, who, person, _start(day, seed))
    visit.until("as_found")
    visit.run("as_found")
    if uniform(seed, "slip", 0) < 0.15:
        _slip(visit)
    visit.until("")
    if (timezone.now().date() - day).days > 25:
        _review(visit, people["rowan"])


def _device_visit(spec: Device, number: int, day: date, people: dict[str, User]) -> None:
    seed = SEED + 1000 * number + sum(map(ord, spec.tag))
    years = min(_days_since_adjusted(spec.tag, day), 1200.0) / 365.25
    model = spec.aged(years, 2 * uniform(seed, "drift", 0) - 1)
    who = _who(spec.tag, number, people)
    module = _reaching(spec.record["input_lower"], spec.record["input_upper"])
    assets = _assets(who, module)
    if spec.record.get("output_unit") == "V":
        assets["voltage"] = "R-323"
    person = Technician(model, seed, assets, _answers(day), serial_of(spec.tag))
    visit = Visit(spec.tag, who, person, _start(day, seed))
    visit.until("")
    if (timezone.now().date() - day).days > 25:
        _review(visit, people["rowan"])


def _detector_visit(spec: Detector, number: int, day: date, people: dict[str, User]) -> None:
    today, who = timezone.now().date(), _who(spec.tag, number, people)
    gas.as_on(day)
    start = _start(day, SEED + number)
    done = gas.visit(spec, number, day, today, who, start, serial_of(spec.tag))
    if (today - day).days > 25:
        _review(done, people["rowan"])


def _module_visit(spec: Any, number: int, day: date, people: dict[str, User]) -> None:
    who = _who(spec.tag, number, people)
    start = _start(day, SEED + number)
    done = MODULES[type(spec)].visit(spec, number, day, who, start, serial_of(spec.tag))
    if (timezone.now().date() - day).days > 25:
        _review(done, people["rowan"])


def _slip(visit: Visit) -> None:
    """A reading noticed to be wrong: taken back with a reason and taken again."""
    taken = visit.state.as_found.points[-1]
    visit.send(
        [visit.event("retracted", event=taken.event, reason="read the meter on the wrong range")]
    )
    values = {"applied": taken.applied, "reading": taken.reading}
    values = {k: v.replace("\u202f", "").replace("\u2212", "-") for k, v in values.items()}
    for name, shown in (("digital", taken.digital), ("indicated", taken.indicated)):
        if shown:
            values[name] = shown.replace("\u202f", "").replace("\u2212", "-")
    visit.send([visit.event("reading_taken", run="as_found", point=taken.index, **values)])


def _days_since_adjusted(tag: str, day: date) -> float:
    last = (
        Job.objects.filter(instrument__tag=tag, adjusted=True, signed_at__isnull=False)
        .order_by("-signed_at")
        .first()
    )
    if last is None or last.signed_at is None:
        return 400.0
    return float((day - last.signed_at.date()).days)


def _review(visit: Visit, reviewer: User) -> None:
    at = visit.clock + timedelta(days=2)
    name = uuid.uuid5(uuid.NAMESPACE_URL, f"{SEED}:{visit.job.number}:review")
    said = [NewEvent(name, "reviewed", {"outcome": "accepted"}, "typed", at)]
    if visit.state.follow_up == "open":
        name = uuid.uuid5(uuid.NAMESPACE_URL, f"{SEED}:{visit.job.number}:follow up")
        what = {"what": "Looked through trend and batches since then: nothing went out wrong."}
        said.insert(0, NewEvent(name, "followed_up", what, "typed", at))
    append_events(
        Batch(
            actor=reviewer,
            number=visit.job.number,
            expected_seq=visit.seq,
            events=said,
            now=at,
            identity_proven=True,
        )
    )


def _rigs(now: datetime) -> None:
    wired: list[tuple[str, Model, float]] = []
    for tag, faults in RIGS.items():
        spec = next(s for s in INSTRUMENTS if s.tag == tag)
        quick = {"source_tau_s": 0.7, "transmitter_tau_s": 0.25, "hysteresis_percent": 0.0}
        wired.append((tag, replace(fresh_model(spec), **{**quick, **faults}), 1.0))
    for device in DEVICES:
        if device.rig is not None:
            model = replace(device.model, **device.rig)
            if isinstance(model, LoopModel):
                model = replace(model, tag=device.tag)
            wired.append((device.tag, model, PACE[model.kind]))
    for number, (tag, model, pace) in enumerate(wired):
        Rig.objects.create(
            instrument=Instrument.objects.get(tag=tag),
            model=encode(model),
            seed=SEED + number,
            started_at=now - timedelta(minutes=5),
            pace=pace,
        )


def _running(now: datetime, people: dict[str, User]) -> None:
    """One job half done, one that waits in bypass."""
    half = next(s for s in INSTRUMENTS if s.tag == "PT-5103")
    model = replace(fresh_model(half), sensor_zero_percent=0.3, sensor_span_percent=0.35)
    bram, tessa = people["bram"], people["tessa"]
    answers = _answers(now.date())
    person = Technician(model, SEED, _assets(bram, "R-104"), answers, serial_of(half.tag))
    visit = Visit(half.tag, bram, person, now - timedelta(minutes=41))
    visit.until("as_found")
    visit.run("as_found", points=4)
    waiting = next(s for s in INSTRUMENTS if s.tag == "PT-3306")
    model = fresh_model(waiting)
    person = Technician(model, SEED, _assets(tessa, "R-102"), answers, serial_of(waiting.tag))
    visit = Visit(waiting.tag, tessa, person, now - timedelta(minutes=24))
    visit.until("warm_up")
    visit.send([visit.event("timer_started", step="warm_up")])


def serial_of(tag: str) -> str:
    """Return the made-up serial number of an instrument."""
    return f"KF-{sum(map(ord, tag)) * 37 % 90000 + 10000}-{tag[-2:]}"


def fresh_model(spec: Transmitter) -> LoopModel:
    """Return the loop as new: only noise and, for some, hysteresis."""
    span = float(spec.upper) - float(spec.lower)
    decimals = 1 if span >= 1000 else 2 if span >= 90 else 3 if span >= 5 else 4
    return LoopModel(
        lower=float(spec.lower),
        upper=float(spec.upper),
        input_decimals=decimals,
        indicated_decimals=max(0, decimals - 1),
        hysteresis_percent=spec.hysteresis,
    )
