"""pH loops and the buffers on the shelf of the made-up works. Everything here is invented."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from datetime import date, datetime, timedelta
from typing import Any

from calibration.families.ph.electrode import ElectrodeModel
from calibration.families.ph.rig import Poured
from calibration.kernel.codec import encode
from calibration.simulate.noise import uniform
from calibration.simulate.technician import Technician
from verifyloop.accounts.models import User
from verifyloop.demo.visits import Visit
from verifyloop.demo.works import AREAS, SEED, STANDARDS
from verifyloop.kit.models import Reference
from verifyloop.plant.models import Area, Instrument, Plan
from verifyloop.rigs.models import Rig

INTERVAL_DAYS = 30
#: how much faster than real time the electrodes of the demo answer
PACE = 4.0
ROLES = ("buffer_near", "buffer_side", "buffer_third")


@dataclass(frozen=True)
class Loop:
    """One pH loop: its record, its electrode as it is after a visit, and the faults of today."""

    tag: str
    description: str
    area: str
    due_in: int
    own: dict[str, Any]
    #: bottles by role
    bottles: tuple[str, ...]
    model: ElectrodeModel
    caution: str
    rig: dict[str, Any] = field(default_factory=dict)
    parameters: dict[str, Any] = field(default_factory=dict)
    visits: int = 6


LOOPS = (
    Loop(
        "AT-2210",
        "Carbonated juice, second stage",
        AREAS[1],
        0,
        {
            "buffer_set": "technical",
            "process_ph": "9.1",
            "process_c": "40",
            "side": "alkaline",
            "mounting": "flow-through",
            "fitted_on": "2026-03-02",
        },
        ("B-701", "B-703", "B-702"),
        ElectrodeModel(process_ph=9.1, process_c=40, programmed="technical", slope=0.975),
        "Hot juice with lime: let the sample cooler run down before the electrode is lifted.",
        # Lime scale on the glass.
        rig={"tau_s": 42.0},
        parameters={
            "third_buffer": {
                "value": "yes",
                "source": "site rule: alkaline buffers are watched by an acid one",
            }
        },
    ),
    Loop(
        "AT-4220",
        "Boiler feedwater",
        AREAS[3],
        1,
        {
            "buffer_set": "primary",
            "process_ph": "9.2",
            "process_c": "25",
            "side": "acid",
            "mounting": "flow-through",
            "fitted_on": "2025-11-17",
        },
        ("B-711", "B-712", "B-713"),
        ElectrodeModel(process_ph=9.2, programmed="primary", slope=0.984, offset_mv=4.0),
        "Sample line from the boiler: hot and under pressure upstream of the cooler.",
        # A new board counts by the technical set; the last calibration went by it.
        rig={"programmed": "technical", "stored_slope": 0.9391, "stored_offset_mv": 11.9},
    ),
)


def _bottle(
    asset: str, set_: str, nominal: str, opened_ago: int | None, due_in: int = 300, ml: float = 4000
) -> dict[str, Any]:
    u = "0.01" if set_ == "primary" else "0.02"
    return {
        "asset": asset,
        "description": f"Buffer {nominal}, {set_}",
        "quantity": "ph_buffer",
        "unit": "pH",
        "spec": {"absolute": u, "full_scale": "14"},
        "own": {"set": set_, "nominal": nominal, "lot": f"L-{asset[2:]}6"},
        "opened_ago": opened_ago,
        "due_in": due_in,
        "amount": ml,
        "truth": {},
    }


BOTTLES = (
    _bottle("B-701", "technical", "7.00", 21),
    _bottle("B-702", "technical", "4.01", 21),
    _bottle("B-703", "technical", "9.18", 12),
    _bottle("B-704", "technical", "10.01", 40, due_in=-15),
    _bottle("B-705", "technical", "7.00", 190),
    _bottle("B-711", "primary", "6.865", 33),
    _bottle("B-712", "primary", "4.006", 33),
    _bottle("B-713", "primary", "9.180", None),
)
THERMOMETER = {
    "asset": "R-601",
    "description": "Thermometer for buffers",
    "quantity": "buffer_temperature",
    "unit": "°C",
    "spec": {"absolute": "0.3", "full_scale": "100", "resolution": "0.1"},
    "own": {},
    "opened_ago": None,
    "due_in": 160,
    "amount": None,
    "truth": {},
}


def shelf(today: date) -> None:
    """Put bottles and thermometer on the shelf, as they are on a day."""
    for number, entry in enumerate((*BOTTLES, THERMOMETER)):
        due = today + timedelta(days=entry["due_in"])
        own = dict(entry["own"])
        if entry["opened_ago"] is not None:
            own["opened_on"] = str(today - timedelta(days=entry["opened_ago"]))
        Reference.objects.update_or_create(
            asset=entry["asset"],
            defaults={
                "description": entry["description"],
                "serial": f"KB-{400 + 3 * number}",
                "quantity": entry["quantity"],
                "unit": entry["unit"],
                "spec": entry["spec"],
                "issued_by": STANDARDS,
                "certificate": f"CB-{due.year - 1}-{entry['asset'][2:]}",
                "calibrated_on": due - timedelta(days=365),
                "due_on": due,
                "withdrawn": "",
                "own": own,
                "amount": entry["amount"],
            },
        )


def as_on(day: date) -> None:
    """Bring the shelf to a day of the past: opened lately, in date."""
    for entry in (*BOTTLES, THERMOMETER):
        reference = Reference.objects.get(asset=entry["asset"])
        reference.due_on = day + timedelta(days=200)
        if "set" in reference.own:
            reference.own["opened_on"] = str(day - timedelta(days=10))
        reference.save()


def instruments(areas: dict[str, Area], serial_of: Any) -> None:
    """Enter the loops."""
    for loop in LOOPS:
        Instrument.objects.planned(
            tag=loop.tag,
            serial=serial_of(loop.tag),
            description=loop.description,
            area=areas[loop.area],
            method="ph_buffers",
            loop_role="control",
            input_unit="pH",
            input_lower="0",
            input_upper="14",
            output_unit="mA",
            output_lower="4",
            output_upper="20",
            tolerance={"absolute": "0.1"},
            tolerance_source="loop data sheet",
            smart=True,
            indicated=True,
            own=loop.own,
            settings=[
                {"name": "buffer_set", "value": loop.own["buffer_set"], "label": "Buffer set"}
            ],
            parameters=loop.parameters,
            caution=loop.caution,
        )


def visits(today: date) -> list[tuple[date, Loop, int]]:
    """Return the visits of the past, each with its number."""
    return [
        (today + timedelta(days=loop.due_in - INTERVAL_DAYS * (n + 1) - 2 * n), loop, n)
        for loop in LOOPS
        for n in range(loop.visits)
    ]


def visit(loop: Loop, number: int, day: date, who: User, start: datetime, serial: str) -> Visit:
    """Play one visit up to its signature: a sound electrode that wandered a little."""
    as_on(day)
    seed = SEED + 1000 * number + sum(map(ord, loop.tag))
    moved = 2 * uniform(seed, "offset", 0) - 1
    model = replace(
        loop.model,
        slope=loop.model.slope - 0.002 * number,
        offset_mv=loop.model.offset_mv + 1.5 * moved,
        stored_slope=loop.model.slope - 0.002 * number,
        stored_offset_mv=loop.model.offset_mv - 4.5 * (number % 2),
        room_c=19 + 4 * uniform(seed, "room", 0),
    )
    own = {b["asset"]: b["own"] for b in BOTTLES}
    roles = dict(zip(ROLES, loop.bottles, strict=True))
    person = Technician(
        model,
        seed,
        {
            **roles,
            "buffer_temperature": "R-601",
            "current": "R-201" if who.username == "tessa" else "R-202",
        },
        {"operator": "Control room, shift B"},
        serial,
        bottles={r: Poured(own[a]["set"], own[a]["nominal"]) for r, a in roles.items()},
    )
    done = Visit(loop.tag, who, person, start)
    done.until("")
    return done


def due(today: date) -> None:
    """Set the due dates of today."""
    for loop in LOOPS:
        Plan.objects.filter(instrument__tag=loop.tag).update(
            next_due=today + timedelta(days=loop.due_in),
            due_reason=f"every {INTERVAL_DAYS} days (calibration plan of the works)",
        )


def rigs(now: datetime) -> None:
    """Wire every loop to a rig, with the faults of today."""
    for number, loop in enumerate(LOOPS):
        model = replace(
            loop.model,
            tag=loop.tag,
            stored_slope=loop.model.slope,
            stored_offset_mv=loop.model.offset_mv,
        )
        Rig.objects.create(
            instrument=Instrument.objects.get(tag=loop.tag),
            model=encode(replace(model, **loop.rig)),
            seed=SEED + 700 + number,
            started_at=now - timedelta(minutes=5),
            pace=PACE,
        )
