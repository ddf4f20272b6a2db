"""Trace oxygen over the silos of the made-up works, and its gas. Everything here is invented."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from datetime import date, datetime, timedelta
from typing import Any

from calibration.families.trace.model import TraceModel
from calibration.kernel.codec import encode
from calibration.simulate.noise import uniform
from calibration.simulate.technician import Technician
from verifyloop.accounts.models import User
from verifyloop.demo.visits import Visit
from verifyloop.demo.works import AREAS, GASES, SEED, STANDARDS
from verifyloop.kit.models import Reference
from verifyloop.plant.models import Area, Instrument, Plan
from verifyloop.rigs.models import Rig

INTERVAL_DAYS = 90
#: how much faster than real time the analyzers of the demo answer
PACE = 4.0
MANUAL = "analyzer manual, 5.3"
HOLD = {"holds_minutes": "20"}


@dataclass(frozen=True)
class Line:
    """One analyzer: its record, what it is after a visit, and the faults of today."""

    tag: str
    description: str
    due_in: int
    own: dict[str, Any]
    cylinder: str
    regulator: str
    model: TraceModel
    caution: str
    rig: dict[str, Any] = field(default_factory=dict)
    visits: int = 5


LINES = (
    Line(
        "AT-7310",
        "Nitrogen over silo 1",
        0,
        {"sample_ppm": "2.4", "fitted_on": "2025-09-15", "response_percent": "97", **HOLD},
        "C-801",
        "V-811",
        TraceModel(process_ppm=2.4, upper=20.0),
        "Nitrogen fills the silo head: nobody goes in, and the analyzer house is aired first.",
        # A fitting of the span line draws air.
        rig={"leak_ul_min": 4.5, "response": 0.97},
    ),
    Line(
        "AT-7320",
        "Nitrogen over silo 2",
        4,
        {"sample_ppm": "3.1", "fitted_on": "2025-03-03", "response_percent": "88", **HOLD},
        "C-802",
        "V-812",
        TraceModel(process_ppm=3.1, upper=20.0, gas_ppm=12.0),
        "Nitrogen fills the silo head: nobody goes in, and the analyzer house is aired first.",
        rig={"response": 0.955},
    ),
)


def _cylinder(asset: str, ppm: str, due_in: int, litres: float) -> dict[str, Any]:
    return {
        "asset": asset,
        "description": f"Oxygen {ppm} ppm in nitrogen",
        "quantity": "trace_gas",
        "unit": "ppm",
        "spec": {"percent_of_reading": "3", "full_scale": ppm},
        "own": {
            "oxygen_ppm": ppm,
            "uncertainty_percent": "3",
            "lot": f"N-{asset[2:]}",
            "bar": "95",
        },
        "due_in": due_in,
        "amount": litres,
        "issued_by": GASES,
    }


def _regulator(asset: str, on: str, diaphragm: str = "metal") -> dict[str, Any]:
    return {
        "asset": asset,
        "description": f"Regulator, {diaphragm} diaphragm",
        "quantity": "regulator",
        "unit": "bar",
        "spec": {"absolute": "0.2", "full_scale": "10"},
        "own": {"mounted_on": on, "low_bar": "5", "diaphragm": diaphragm},
        "due_in": 220,
        "amount": None,
        "issued_by": STANDARDS,
    }


SHELF = (
    _cylinder("C-801", "8", 150, 900.0),
    _cylinder("C-802", "12", 120, 700.0),
    _cylinder("C-803", "60", 60, 800.0),
    _regulator("V-811", "C-801"),
    _regulator("V-812", "C-802"),
    _regulator("V-813", "C-803", "rubber"),
)


def shelf(today: date) -> None:
    """Put gas and regulators on the shelf, as they are on a day."""
    for number, entry in enumerate(SHELF):
        due, own = today + timedelta(days=entry["due_in"]), dict(entry["own"])
        if "mounted_on" in own:
            own["mounted_since"] = str(today - timedelta(days=700))
        Reference.objects.update_or_create(
            asset=entry["asset"],
            defaults={
                "description": entry["description"],
                "serial": f"KG-{600 + 3 * number}",
                "quantity": entry["quantity"],
                "unit": entry["unit"],
                "spec": entry["spec"],
                "issued_by": entry["issued_by"],
                "certificate": f"CG-{due.year - 1}-{entry['asset'][2:]}",
                "calibrated_on": due - timedelta(days=365),
                "due_on": due,
                "withdrawn": "",
                "own": own,
                "amount": entry["amount"],
            },
        )


def as_on(day: date) -> None:
    """Bring the shelf to a day of the past: in date, and mounted long before."""
    for entry in SHELF:
        reference = Reference.objects.get(asset=entry["asset"])
        reference.due_on = day + timedelta(days=200)
        if "mounted_on" in reference.own:
            reference.own["mounted_since"] = str(day - timedelta(days=400))
        reference.save()


def instruments(areas: dict[str, Area], serial_of: Any) -> None:
    """Enter the analyzers."""
    for line in LINES:
        Instrument.objects.planned(
            tag=line.tag,
            serial=serial_of(line.tag),
            description=line.description,
            area=areas[AREAS[6]],
            method="trace_oxygen",
            loop_role="trip",
            input_unit="ppm",
            input_lower="0",
            input_upper="20",
            output_unit="mA",
            output_lower="4",
            output_upper="20",
            tolerance={"combine": "greatest", "absolute": "0.3", "percent_of_reading": "5"},
            tolerance_source="loop data sheet",
            smart=True,
            indicated=True,
            own=line.own,
            parameters={
                "bypass_minutes": {
                    "value": line.own["holds_minutes"],
                    "unit": "min",
                    "source": MANUAL,
                }
            },
            caution=line.caution,
        )


def visits(today: date) -> list[tuple[date, Line, int]]:
    """Return the visits of the past, each with its number."""
    return [
        (today + timedelta(days=line.due_in - INTERVAL_DAYS * (n + 1) - 3 * n), line, n)
        for line in LINES
        for n in range(line.visits)
    ]


def visit(line: Line, number: int, day: date, who: User, start: datetime, serial: str) -> Visit:
    """Play one visit up to its signature: a sound sensor that weakened a little."""
    as_on(day)
    seed = SEED + 1000 * number + sum(map(ord, line.tag))
    model = replace(
        line.model,
        response=0.975 + 0.015 * uniform(seed, "response", 0),
        weather_percent=1.6 * uniform(seed, "weather", 0) - 0.8,
        gas_ppm=line.model.gas_ppm * (1 + 0.01 * (2 * uniform(seed, "gas", 0) - 1)),
        # The oldest visit finds a regulator that was put on anew.
        gauge_found_bar=0.0 if number == line.visits - 1 else 4.6,
    )
    person = Technician(
        model,
        seed,
        {
            "trace_gas": line.cylinder,
            "regulator": line.regulator,
            "current": "R-201" if who.username == "tessa" else "R-202",
        },
        {"operator": "Control room, shift B"},
        serial,
    )
    done = Visit(line.tag, who, person, start)
    done.until("")
    return done


def due(today: date) -> None:
    """Set the due dates of today."""
    for line in LINES:
        Plan.objects.filter(instrument__tag=line.tag).update(
            next_due=today + timedelta(days=line.due_in),
            due_reason=f"every {INTERVAL_DAYS} days (calibration plan of the works)",
        )


def rigs(now: datetime) -> None:
    """Wire every analyzer to a rig, with the faults of today."""
    for number, line in enumerate(LINES):
        Rig.objects.create(
            instrument=Instrument.objects.get(tag=line.tag),
            model=encode(replace(line.model, tag=line.tag, **line.rig)),
            seed=SEED + 800 + number,
            started_at=now - timedelta(minutes=5),
            pace=PACE,
        )
