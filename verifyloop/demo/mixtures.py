"""Lime-kiln gas of the made-up works: analyzers and their gases. Everything here is invented."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from datetime import date, datetime, timedelta
from typing import Any

from calibration.families.mixture.model import Cell, Inside, MixModel
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

INTERVAL_DAYS = 90
#: how much faster than real time the analyzers of the demo answer
PACE = 4.0
COMPONENTS = [
    {
        "id": "a",
        "gas": "carbon dioxide",
        "label": "Carbon dioxide",
        "unit": "% vol",
        "upper": "50",
    },
    {
        "id": "b",
        "gas": "carbon monoxide",
        "label": "Carbon monoxide",
        "unit": "% vol",
        "upper": "5",
        "cross": [{"of": "a", "percent": "0.05"}],
    },
    {
        "id": "c",
        "gas": "oxygen",
        "label": "Oxygen",
        "unit": "% vol",
        "upper": "25",
        "infrared": False,
        "set_from": "20",
    },
]
CELLS = (
    Cell(id="a", gas="carbon dioxide", unit="% vol", upper=50.0),
    Cell(id="b", gas="carbon monoxide", unit="% vol", upper=5.0),
    Cell(id="c", gas="oxygen", unit="% vol", upper=25.0, infrared=False),
)
PROCESS = (
    Inside(gas="carbon dioxide", percent=37.5),
    Inside(gas="carbon monoxide", percent=0.7),
    Inside(gas="oxygen", percent=2.3),
)
PARTS = (
    {"gas": "carbon dioxide", "value": "40", "unit": "% vol", "uncertainty_percent": "1"},
    {"gas": "carbon monoxide", "value": "4", "unit": "% vol", "uncertainty_percent": "2"},
    {"gas": "oxygen", "value": "8", "unit": "% vol", "uncertainty_percent": "1"},
)


@dataclass(frozen=True)
class Kiln:
    """One analyzer: its record, and the faults of today."""

    tag: str
    description: str
    due_in: int
    auto_zero: str
    rig: dict[str, Any] = field(default_factory=dict)
    visits: int = 5
    #: how much faster than real time it answers; one that zeroes by the clock is not hurried
    pace: float = PACE
    since: timedelta = timedelta(minutes=5)


KILNS = (
    # A bent hose at the tee: the pump draws air of the room into the mixture.
    Kiln("AT-3510", "Gas of lime kiln 1", 0, "", {"drawn_in": 0.06}),
    # Its cell of carbon monoxide has drifted.
    Kiln(
        "AT-3520",
        "Gas of lime kiln 2",
        6,
        "360",
        {
            "cells": (
                replace(CELLS[0], zero_per_day=0.09),
                replace(CELLS[1], gain=0.965, zero_per_day=-0.04),
                CELLS[2],
            ),
            "zeroes_every_s": 360 * 60.0,
        },
        pace=1.0,
        since=timedelta(days=4),
    ),
)


def _gas(asset: str, quantity: str, parts: Any, due_in: int, description: str) -> dict[str, Any]:
    return {
        "asset": asset,
        "description": description,
        "quantity": quantity,
        "unit": "% vol",
        "spec": {"percent_of_reading": "2", "full_scale": "100"},
        "own": {"parts": list(parts), "balance": "nitrogen", "lot": f"M-{asset[2:]}"},
        "due_in": due_in,
    }


SHELF = (
    _gas("C-821", "mixture", PARTS, 140, "Kiln mixture, three parts"),
    _gas("C-822", "mixture", PARTS[:2], 90, "Kiln mixture, two parts"),
    _gas("C-830", "mixture_zero", (), 300, "Nitrogen 5.0"),
)


def shelf(today: date) -> None:
    """Put the gases on the shelf, as they are on a day."""
    for number, entry in enumerate(SHELF):
        due = today + timedelta(days=entry["due_in"])
        Reference.objects.update_or_create(
            asset=entry["asset"],
            defaults={
                **{k: entry[k] for k in ("description", "quantity", "unit", "spec", "own")},
                "serial": f"KM-{700 + 3 * number}",
                "issued_by": GASES,
                "certificate": f"CM-{due.year - 1}-{entry['asset'][2:]}",
                "calibrated_on": due - timedelta(days=365),
                "due_on": due,
                "withdrawn": "",
                "amount": 1400.0,
            },
        )


def instruments(areas: dict[str, Area], serial_of: Any) -> None:
    """Enter the analyzers; they are read at their displays."""
    for kiln in KILNS:
        own: dict[str, Any] = {"components": COMPONENTS}
        if kiln.auto_zero:
            own["auto_zero_minutes"] = kiln.auto_zero
        Instrument.objects.planned(
            tag=kiln.tag,
            serial=serial_of(kiln.tag),
            description=kiln.description,
            area=areas[AREAS[2]],
            method="mixture_calibrate",
            loop_role="indication",
            input_unit="% vol",
            input_lower="0",
            input_upper="50",
            output_unit="% vol",
            output_lower="0",
            output_upper="50",
            tolerance={"percent_of_span": "2"},
            tolerance_source="analyzer manual, 3.1",
            smart=False,
            indicated=False,
            own=own,
            caution="Kiln gas holds carbon monoxide: gas alarm on, nobody alone in the cabin.",
        )


def visits(today: date) -> list[tuple[date, Kiln, int]]:
    """Return the visits of the past, each with its number."""
    return [
        (today + timedelta(days=kiln.due_in - INTERVAL_DAYS * (n + 1) - 3 * n), kiln, n)
        for kiln in KILNS
        for n in range(kiln.visits)
    ]


def visit(kiln: Kiln, number: int, day: date, who: User, start: datetime, serial: str) -> Visit:
    """Play one visit up to its signature: cells that drifted a little, one that is set."""
    Reference.objects.filter(asset__in=[e["asset"] for e in SHELF]).update(
        due_on=day + timedelta(days=200)
    )
    seed = SEED + 1000 * number + sum(map(ord, kiln.tag))
    cells = tuple(
        replace(
            c,
            gain=1 - 0.012 * uniform(seed, c.id, 0) - (0.02 if number == 2 and c.id == "a" else 0),
            zero=c.upper * 0.004 * (uniform(seed, c.id, 1) - 0.5),
        )
        for c in CELLS
    )
    person = Technician(
        MixModel(cells=cells, process=PROCESS),
        seed,
        {"mixture": "C-821", "mixture_zero": "C-830"},
        {"operator": "Control room, shift B"},
        serial,
        bottles={
            "zero_gas": (),
            "mixture": tuple(
                Share(gas=str(p["gas"]), percent=float(str(p["value"]))) for p in PARTS
            ),
        },
    )
    done = Visit(kiln.tag, who, person, start)
    done.until("")
    return done


def due(today: date) -> None:
    """Set the due dates of today."""
    for kiln in KILNS:
        Plan.objects.filter(instrument__tag=kiln.tag).update(
            next_due=today + timedelta(days=kiln.due_in),
            due_reason=f"every {INTERVAL_DAYS} days (calibration plan of the works)",
        )


def rigs(now: datetime) -> None:
    """Wire every analyzer to a rig, with the faults of today."""
    for number, kiln in enumerate(KILNS):
        model = replace(MixModel(cells=CELLS, process=PROCESS), **kiln.rig)
        Rig.objects.create(
            instrument=Instrument.objects.get(tag=kiln.tag),
            model=encode(model),
            seed=SEED + 900 + number,
            started_at=now - kiln.since,
            pace=kiln.pace,
        )
