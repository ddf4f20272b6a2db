"""Portable chromatographs of the substation's oil laboratory. Everything here is invented."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from datetime import date, datetime, timedelta
from typing import Any

from calibration.families.chromatograph.model import GcModel, Line
from calibration.kernel.codec import encode
from calibration.simulate.commands import Share
from calibration.simulate.noise import uniform
from calibration.simulate.technician import Technician
from verifyloop.accounts.models import User
from verifyloop.demo.visits import Visit
from verifyloop.demo.works import AREAS, GASES, SEED
from verifyloop.kit.models import Reference
from verifyloop.plant.models import Area, Instrument, Plan
from verifyloop.rigs.models import Rig

INTERVAL_DAYS = 30
#: how much faster than real time the devices of the demo answer
PACE = 4.0
#: short name, gas, in the calibration gas, range, retention, blank [ppm, s]
COMPONENTS = (
    ("a", "hydrogen", "480", "2000", "31", "5"),
    ("b", "carbon monoxide", "510", "2000", "49", "5"),
    ("c", "methane", "95", "1000", "66", "1"),
    ("d", "carbon dioxide", "2900", "10000", "104", "8"),
    ("e", "ethylene", "52", "1000", "127", "1"),
    ("f", "ethane", "48", "1000", "149", "1"),
    ("g", "acetylene", "11", "500", "172", "1"),
)
PEAKS = [
    {
        "id": id,
        "gas": gas,
        "label": gas.capitalize(),
        "upper": upper,
        "expected_s": at,
        "width_s": "6",
        "blank_ppm": blank,
    }
    for id, gas, _, upper, at, blank in COMPONENTS
]
LINES = tuple(Line(id=id, gas=gas, at_s=float(at)) for id, gas, _, _, at, _ in COMPONENTS)


@dataclass(frozen=True)
class Device:
    """One chromatograph, and the faults of today."""

    tag: str
    description: str
    due_in: int
    rig: dict[str, Any] = field(default_factory=dict)
    visits: int = 5


DEVICES = (
    # Its column took up moisture: the later a peak, the more it is late.
    Device("GC-9101", "Oil laboratory, first device", 0, {"moisture_percent": 7.5}),
    Device("GC-9102", "Oil laboratory, second device", 3, {"aged_percent": 2.0}),
)
SHELF: tuple[dict[str, Any], ...] = (
    {
        "asset": "C-841",
        "description": "Fault gases in argon",
        "quantity": "gc_gas",
        "own": {
            "parts": [
                {"gas": gas, "value": ppm, "unit": "ppm", "uncertainty_percent": "2"}
                for _, gas, ppm, *_ in COMPONENTS
            ],
            "balance": "argon",
            "lot": "F-41",
        },
        "due_in": 130,
        "amount": 60.0,
        "since": None,
    },
    {
        "asset": "T-851",
        "description": "Trap for clean air",
        "quantity": "gas_trap",
        "own": {"days": "90"},
        "due_in": 200,
        "amount": None,
        "since": ("opened_on", 30),
    },
    {
        "asset": "T-852",
        "description": "Trap for clean air",
        "quantity": "gas_trap",
        "own": {"days": "90"},
        "due_in": 200,
        "amount": None,
        "since": ("opened_on", 140),
    },
    {
        "asset": "Y-861",
        "description": "Gas-tight syringe",
        "quantity": "gas_syringe",
        "own": {"volume_ml": "5"},
        "due_in": 250,
        "amount": None,
        "since": ("seal_on", 100),
    },
    {
        "asset": "Y-862",
        "description": "Gas-tight syringe",
        "quantity": "gas_syringe",
        "own": {"volume_ml": "5"},
        "due_in": 250,
        "amount": None,
        "since": ("seal_on", 500),
    },
)


def shelf(today: date) -> None:
    """Put gas and traps on the shelf, as they are on a day."""
    for number, entry in enumerate(SHELF):
        due, own = today + timedelta(days=entry["due_in"]), dict(entry["own"])
        if entry["since"] is not None:
            name, days = entry["since"]
            own[name] = str(today - timedelta(days=days))
        Reference.objects.update_or_create(
            asset=entry["asset"],
            defaults={
                "description": entry["description"],
                "serial": f"KO-{800 + 3 * number}",
                "quantity": entry["quantity"],
                "unit": "ppm",
                "spec": {"percent_of_reading": "2", "full_scale": "10000"},
                "issued_by": GASES,
                "certificate": f"CO-{due.year - 1}-{entry['asset'][2:]}",
                "calibrated_on": due - timedelta(days=365),
                "due_on": due,
                "withdrawn": "",
                "own": own,
                "amount": entry["amount"],
            },
        )


def instruments(areas: dict[str, Area], serial_of: Any) -> None:
    """Enter the devices."""
    for device in DEVICES:
        Instrument.objects.planned(
            tag=device.tag,
            serial=serial_of(device.tag),
            description=device.description,
            area=areas[AREAS[8]],
            method="gc_calibrate",
            loop_role="indication",
            input_unit="ppm",
            input_lower="0",
            input_upper="10000",
            output_unit="ppm",
            output_lower="0",
            output_upper="10000",
            tolerance={"percent_of_reading": "5", "percent_of_span": "0.01"},
            tolerance_source="device manual, 7",
            smart=False,
            indicated=False,
            own={"peaks": PEAKS},
            caution="Hydrogen and acetylene under pressure: bottle secured, hood on, no flame.",
        )


def visits(today: date) -> list[tuple[date, Device, int]]:
    """Return the visits of the past, each with its number."""
    return [
        (today + timedelta(days=device.due_in - INTERVAL_DAYS * (n + 1) - 2 * n), device, n)
        for device in DEVICES
        for n in range(device.visits)
    ]


def visit(device: Device, number: int, day: date, who: User, start: datetime, serial: str) -> Visit:
    """Play one visit up to its signature: a sound device whose detector weakened a little."""
    Reference.objects.filter(asset__in=[e["asset"] for e in SHELF]).update(
        due_on=day + timedelta(days=200)
    )
    for reference in Reference.objects.filter(quantity="gas_trap"):
        reference.own["opened_on"] = str(day - timedelta(days=20))
        reference.save()
    seed = SEED + 1000 * number + sum(map(ord, device.tag))
    model = GcModel(
        lines=tuple(
            replace(line, response=1 + 0.01 * (uniform(seed, line.id, 0) - 0.5)) for line in LINES
        ),
        aged_percent=1.5 * uniform(seed, "aged", 0),
    )
    person = Technician(
        model,
        seed,
        {"gc_gas": "C-841", "gas_trap": "T-851", "gas_syringe": "Y-861"},
        {},
        serial,
        bottles={
            "calibration_gas": tuple(
                Share(gas=gas, percent=float(ppm) / 10_000) for _, gas, ppm, *_ in COMPONENTS
            )
        },
    )
    done = Visit(device.tag, who, person, start)
    done.until("")
    return done


def due(today: date) -> None:
    """Set the due dates of today."""
    for device in DEVICES:
        Plan.objects.filter(instrument__tag=device.tag).update(
            next_due=today + timedelta(days=device.due_in),
            due_reason=f"every {INTERVAL_DAYS} days (calibration plan of the works)",
        )


def rigs(now: datetime) -> None:
    """Wire every device to a rig, with the faults of today."""
    for number, device in enumerate(DEVICES):
        Rig.objects.create(
            instrument=Instrument.objects.get(tag=device.tag),
            model=encode(GcModel(lines=LINES, **device.rig)),
            seed=SEED + 950 + number,
            started_at=now - timedelta(minutes=5),
            pace=PACE,
        )
