"""Visits to gas detectors, the shelf of cylinders, and the rigs of detectors."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, datetime, timedelta
from typing import Any

from django.db.models import Sum

from calibration.families.gas.learnt import sensors_now
from calibration.gas.amounts import ATMOSPHERE
from calibration.kernel.codec import encode
from calibration.simulate.commands import Share
from calibration.simulate.detector import DetectorModel
from calibration.simulate.noise import uniform
from calibration.simulate.technician import Bottle, Technician
from verifyloop.accounts.models import User
from verifyloop.demo.detectors import CYLINDERS, DETECTORS, SPAN_OF, Detector
from verifyloop.demo.visits import Visit
from verifyloop.demo.works import GASES, SEED
from verifyloop.kit.gas import cylinder_by_asset, truth_of
from verifyloop.kit.models import Cylinder
from verifyloop.plant.models import Area, Instrument, Plan
from verifyloop.rigs.models import Rig
from verifyloop.work.side_effects import learnt_of

#: Full enough for all of the history; the pressure of today is set at its end.
FULL = "9000"
#: how much faster than real time the detectors of the demo run
PACE = 4.0
REASON = "as in the instrument procedure"


def shelf(today: date) -> None:
    """Put the cylinders on the shelf, full."""
    for entry in CYLINDERS:
        values = {k: v for k, v in entry.items() if k not in ("bar", "due_in", "withdrawn")}
        Cylinder.objects.create(
            **values,
            pressure_bar=FULL,
            certificate=f"GC-{entry['asset'][2:]}",
            issued_by=GASES,
            filled_on=today - timedelta(days=200),
            expires_on=today + timedelta(days=165),
        )


def as_on(day: date) -> None:
    """Bring every cylinder into the year that holds a day."""
    Cylinder.objects.update(
        filled_on=day - timedelta(days=200), expires_on=day + timedelta(days=165)
    )


def as_today(today: date) -> None:
    """Give every cylinder the pressure and the dates of today."""
    for entry in CYLINDERS:
        cylinder = Cylinder.objects.get(asset=entry["asset"])
        drawn = cylinder.uses.aggregate(sum=Sum("litres"))["sum"] or 0.0
        pressure = float(entry["bar"]) + drawn * ATMOSPHERE / float(entry["water_l"])
        cylinder.pressure_bar = f"{pressure:.2f}"
        cylinder.expires_on = today + timedelta(days=entry["due_in"])
        cylinder.filled_on = cylinder.expires_on - timedelta(days=365)
        cylinder.withdrawn = entry.get("withdrawn", "")
        cylinder.save()


PROCEDURE = "site rule: gas detection procedure"
#: What is planned besides: method, interval and when it is due. [d]
ALSO = {"gas_zero_span": ("gas_bump", 30, 17), "gas_bump": ("gas_zero_span", 180, 96)}


def instruments(areas: dict[str, Area], serial_of: Any) -> None:
    """Enter the detectors."""
    for spec in DETECTORS:
        first = spec.channels[0]
        made = Instrument.objects.planned(
            tag=spec.tag,
            serial=serial_of(spec.tag),
            description=spec.description,
            area=areas[spec.area],
            method=spec.method,
            loop_role="indication" if spec.portable else "trip",
            input_unit=first["unit"],
            input_lower="0",
            input_upper=first["range"],
            output_unit="gas" if spec.portable else "mA",
            output_lower="0" if spec.portable else "4",
            output_upper=first["range"] if spec.portable else "20",
            tolerance={
                "combine": "greatest",
                "percent_of_span": "3",
                "percent_of_reading": "10",
            },
            tolerance_source="detector manual, 6.2",
            smart=not spec.portable,
            indicated=not spec.portable,
            own={"channels": list(spec.channels)},
            parameters=_every(spec.interval),
            caution=spec.caution,
            next_due=None,
        )
        if spec.method in ALSO:
            method, interval, _ = ALSO[spec.method]
            Plan.objects.create(instrument=made, method=method, parameters=_every(interval))


def _every(days: int) -> dict[str, Any]:
    return {"interval_days": {"value": str(days), "unit": "d", "source": PROCEDURE}}


def visits(today: date) -> list[tuple[date, Detector, int]]:
    """Return the visits of the past, each with its number."""
    found = []
    for spec in DETECTORS:
        for n in range(spec.visits):
            day = today + timedelta(days=spec.due_in - spec.interval * (n + 1))
            found.append((day - timedelta(days=3 * n), spec, n))
    return found


def due(today: date) -> None:
    """Set the due dates of today."""
    for spec in DETECTORS:
        days = {spec.method: (spec.interval, spec.due_in)}
        if spec.method in ALSO:
            method, interval, due_in = ALSO[spec.method]
            days[method] = (interval, due_in)
        for method, (interval, due_in) in days.items():
            Plan.objects.filter(instrument__tag=spec.tag, method=method).update(
                next_due=today + timedelta(days=due_in),
                due_reason=f"every {interval} days ({PROCEDURE})",
            )


def model_of(spec: Detector, days_ago: int, seed: int, today: date) -> DetectorModel:
    """Return a detector as it is some days ago: aged since it was set."""
    instrument = Instrument.objects.get(tag=spec.tag)
    known = sensors_now(instrument.own, learnt_of(instrument), today)
    heads = []
    for n, head in enumerate(spec.heads):
        base = float(known.get(head.id, {}).get("base_percent", 100)) / 100
        wander = 1 + 0.008 * (2 * uniform(seed, f"response {n}", 0) - 1)
        zero = head.zero + 0.5 * (2 * uniform(seed, f"zero {n}", 0) - 1)
        left = spec.raw(days_ago) / base if spec.visits else 1.0
        heads.append(replace(head, response=left * wander, zero=round(zero, 3)))
    return replace(spec.model, heads=tuple(heads))


def visit(
    spec: Detector, number: int, day: date, today: date, who: User, start: datetime, serial: str
) -> Visit:
    """Play one visit up to its signature."""
    seed = SEED + 1000 * number + sum(map(ord, spec.tag))
    model = model_of(spec, (today - day).days, seed, day)
    person = Technician(
        model,
        seed,
        _assets(spec, who),
        {
            "operator": "Control room, shift B",
            "temperature": "18",
            "flow_alarm_s": "4",
            "beside_instrument": "GP-07",
            "beside_reads": "20.9",
            "place": "outdoors at the gate, upwind",
        },
        serial,
        bottles=_bottles(spec),
        reason=REASON,
    )
    done = Visit(spec.tag, who, person, start)
    done.until("")
    return done


def _roles(spec: Detector) -> dict[str, str]:
    """Return which cylinder each role takes."""
    names = ("span_gas", "span_gas_b", "span_gas_c", "span_gas_d")
    found = {"zero_gas": "G-601", "zero_gas_b": "G-601", "nitrogen": "G-602"}
    if any(c["gas"] == "oxygen" for c in spec.channels) and not spec.portable:
        found["proof_gas"] = "G-603"
    for name, channel in zip(names, spec.channels, strict=False):
        found[name] = "G-641" if spec.portable else SPAN_OF.get(channel["gas"], "G-602")
    return found


def _assets(spec: Detector, who: User) -> dict[str, str]:
    meter = "R-201" if who.username == "tessa" else "R-202"
    return {**_roles(spec), "current": meter, "voltage": "R-323"}


def _bottles(spec: Detector) -> dict[str, Bottle]:
    found = {}
    for role, asset in _roles(spec).items():
        cylinder = cylinder_by_asset(asset)
        assert cylinder is not None
        mix, balance = truth_of(cylinder)
        shares = tuple(Share(gas=m["gas"], percent=float(m["percent"])) for m in mix)
        found[role] = Bottle(shares, balance)
    return found


def rigs(now: datetime) -> None:
    """Wire every detector to a rig, with the faults of today."""
    for number, spec in enumerate(DETECTORS):
        seed = SEED + 500 + number
        model = model_of(spec, 0, seed, now.date())
        first, *others = model.heads
        rig = dict(spec.rig)
        if "response" in rig:
            rig["response"] *= first.response
        model = replace(
            model,
            heads=(replace(first, **rig), *others),
            around=spec.around,
            inhibited=spec.inhibited,
        )
        Rig.objects.create(
            instrument=Instrument.objects.get(tag=spec.tag),
            model=encode(model),
            seed=seed,
            started_at=now - timedelta(minutes=5),
            pace=PACE,
        )
