"""Flow and weighing of the made-up works: meters, scales, weights. Everything here is invented."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import date, datetime, timedelta
from typing import Any

from calibration.families.belt.model import BeltModel
from calibration.families.indicator.model import IndicatorModel
from calibration.families.loadcells.model import LoadCellModel
from calibration.families.magmeter.model import MagModel
from calibration.families.massflow.model import MassFlowModel
from calibration.kernel.codec import encode
from calibration.simulate.noise import uniform
from calibration.simulate.technician import Technician
from verifyloop.accounts.models import User
from verifyloop.demo.plant_data import BELT, CELL, INDICATOR, LINES, MAGNETIC, MASS, SHELF
from verifyloop.demo.visits import Visit
from verifyloop.demo.works import AREAS, SEED, STANDARDS
from verifyloop.kit.models import Reference
from verifyloop.plant.models import Area, Instrument, Plan
from verifyloop.rigs.models import Rig


@dataclass(frozen=True, kw_only=True)
class Machine:
    """One instrument: its record, how it is today, and what wore on past visits."""

    tag: str
    description: str
    area: int
    method: str
    unit: str
    upper: str
    tolerance: Mapping[str, str]
    own: Mapping[str, Any]
    model: Any
    due_in: int
    every: int
    #: by what a reference measures: the one that is taken
    kit: Mapping[str, str] = field(default_factory=dict)
    settings: tuple[Mapping[str, str], ...] = ()
    #: what drifts from visit to visit, by how much at most
    drifts: Mapping[str, float] = field(default_factory=dict)
    caution: str = ""
    visits: int = 2
    #: how much faster than real time it answers
    pace: float = 4.0


GREATEST = {"combine": "greatest", "percent_of_reading": "0.1"}
CELLS = {"test_weights": "W-601"}
SIGNALS = (
    {"name": "zero_mvv", "value": "0.32966", "unit": "mV/V", "label": "Zero"},
    {"name": "span_mvv", "value": "1.13675", "unit": "mV/V", "label": "Span"},
)
FACTOR = ({"name": "cell_factor", "value": "2.0375", "unit": "", "label": "Factor"},)
MACHINES = (
    Machine(
        tag="FT-5310",
        description="Syrup to pan 1",
        area=4,
        method="massflow_zero",
        unit="kg/h",
        upper="20000",
        tolerance={"absolute": "1.2"},
        own=MASS,
        model=MassFlowModel(zero=0.4),
        due_in=9,
        every=180,
        kit={"flow_quantity": "K-621"},
        drifts={"zero": 0.5},
        caution="Syrup at 80 °C: a trapped line can burst when it warms.",
    ),
    # The shut valve passes a little: the zero looks as if it had moved.
    Machine(
        tag="FT-5320",
        description="Syrup to pan 2",
        area=4,
        method="massflow_zero",
        unit="kg/h",
        upper="20000",
        tolerance={"absolute": "1.2"},
        own=MASS,
        model=MassFlowModel(zero=0.2, leak=4.6),
        due_in=0,
        every=180,
        kit={"flow_quantity": "K-621"},
        drifts={"zero": 0.5},
        caution="Syrup at 80 °C: a trapped line can burst when it warms.",
    ),
    Machine(
        tag="FT-2110",
        description="Raw juice to purification",
        area=1,
        method="magmeter_verify",
        unit="m³/h",
        upper="400",
        tolerance={"percent_of_span": "0.5"},
        own=MAGNETIC,
        model=MagModel(lines=LINES),
        due_in=24,
        every=365,
        kit={"flow_tester": "P-631"},
        drifts={"magnet_percent": 0.3},
        visits=1,
    ),
    # Lime has grown on its electrodes.
    Machine(
        tag="FT-2120",
        description="Limed juice",
        area=1,
        method="magmeter_verify",
        unit="m³/h",
        upper="400",
        tolerance={"percent_of_span": "0.5"},
        own={**MAGNETIC, "build": "compact"},
        model=MagModel(lines=LINES, coated=6.0),
        due_in=1,
        every=365,
        kit={"flow_tester": "P-631"},
        drifts={"magnet_percent": 0.3},
        visits=1,
    ),
    Machine(
        tag="WT-1110",
        description="Beets to the slicers",
        area=0,
        method="belt_routine",
        unit="t/h",
        upper="300",
        tolerance={"percent_of_span": "0.5"},
        own=BELT,
        model=BeltModel(zero_percent=0.05),
        due_in=5,
        every=30,
        kit={"test_weights": "W-602"},
        drifts={"zero_percent": 0.15, "span_percent": 0.2},
        visits=4,
        caution="The belt starts by itself when the slicers call: lock out, every person.",
    ),
    # Earth has built up on the weigh bridge.
    Machine(
        tag="WT-1120",
        description="Beets to the wash",
        area=0,
        method="belt_routine",
        unit="t/h",
        upper="300",
        tolerance={"percent_of_span": "0.5"},
        own=BELT,
        model=BeltModel(build_up_kg_m=0.5),
        due_in=-1,
        every=30,
        kit={"test_weights": "W-602"},
        drifts={"zero_percent": 0.15, "span_percent": 0.2},
        visits=4,
        caution="The belt starts by itself when the wash calls: lock out, every person.",
    ),
    Machine(
        tag="WT-3510",
        description="Lime hopper 1",
        area=2,
        method="loadcell_weights",
        unit="kg",
        upper="5000",
        tolerance={**GREATEST, "absolute": "0.5"},
        own=CELL,
        settings=SIGNALS,
        model=LoadCellModel(zero_kg=0.1),
        due_in=16,
        every=365,
        kit=CELLS,
        drifts={"zero_kg": 0.3, "span_percent": 0.03},
        caution="Lime burns eyes and skin; a hopper is entered only by permit.",
    ),
    # Its pipe was clamped again after a repair: it carries part of every load.
    Machine(
        tag="WT-5410",
        description="Syrup tank 4",
        area=4,
        method="loadcell_weights",
        unit="kg",
        upper="5000",
        tolerance={**GREATEST, "absolute": "0.5"},
        own=CELL,
        settings=SIGNALS,
        model=LoadCellModel(pipe_percent=0.9, pipe_sticks=0.3),
        due_in=0,
        every=365,
        kit=CELLS,
        drifts={"zero_kg": 0.3, "span_percent": 0.03},
        visits=1,
    ),
    Machine(
        tag="WI-7110",
        description="Platform in the bag store",
        area=6,
        method="indicator_adjust",
        unit="kg",
        upper="300",
        tolerance={**GREATEST, "absolute": "0.05"},
        own=INDICATOR,
        settings=FACTOR,
        model=IndicatorModel(cell_percent=0.02),
        due_in=40,
        every=365,
        kit={"test_weights": "W-603"},
        drifts={"cell_percent": 0.05},
    ),
    # Two digits of its factor were swapped when the indicator was changed.
    Machine(
        tag="WI-7120",
        description="Platform at the loading bay",
        area=6,
        method="indicator_adjust",
        unit="kg",
        upper="300",
        tolerance={**GREATEST, "absolute": "0.05"},
        own=INDICATOR,
        settings=FACTOR,
        model=IndicatorModel(factor_percent=100 * (2.0735 / 2.0375 - 1)),
        due_in=2,
        every=365,
        kit={"test_weights": "W-603"},
        drifts={"cell_percent": 0.05},
        visits=1,
    ),
)


def shelf(today: date) -> None:
    """Put weights, scales and tester on the shelf, as they are on a day."""
    for number, (asset, description, quantity, unit, own, due_in) in enumerate(SHELF):
        due = today + timedelta(days=due_in)
        Reference.objects.update_or_create(
            asset=asset,
            defaults={
                "description": description,
                "quantity": quantity,
                "unit": unit,
                "spec": {"percent_of_reading": "0.05", "full_scale": "100000"},
                "own": own,
                "serial": f"KW-{900 + 7 * number}",
                "issued_by": STANDARDS,
                "certificate": f"CW-{due.year - 1}-{asset[2:]}",
                "calibrated_on": due - timedelta(days=365),
                "due_on": due,
                "withdrawn": "",
            },
        )


def instruments(areas: dict[str, Area], serial_of: Any) -> None:
    """Enter the instruments; all are read at their displays."""
    for machine in MACHINES:
        Instrument.objects.planned(
            tag=machine.tag,
            serial=serial_of(machine.tag),
            description=machine.description,
            area=areas[AREAS[machine.area]],
            method=machine.method,
            loop_role="control",
            input_unit=machine.unit,
            input_lower="0",
            input_upper=machine.upper,
            output_unit=machine.unit,
            output_lower="0",
            output_upper=machine.upper,
            tolerance=dict(machine.tolerance),
            tolerance_source="data sheet",
            smart=False,
            indicated=False,
            settings=[dict(s) for s in machine.settings],
            own=dict(machine.own),
            caution=machine.caution,
        )


def visits(today: date) -> list[tuple[date, Machine, int]]:
    """Return the visits of the past, each with its number."""
    return [
        (today + timedelta(days=m.due_in - m.every * (n + 1) - 2 * n), m, n)
        for m in MACHINES
        for n in range(m.visits)
    ]


def visit(
    machine: Machine, number: int, day: date, who: User, start: datetime, serial: str
) -> Visit:
    """Play one visit up to its signature: a sound instrument that drifted a little."""
    names = [entry[0] for entry in SHELF]
    Reference.objects.filter(asset__in=names).update(due_on=day + timedelta(days=200))
    seed = SEED + 1000 * number + sum(map(ord, machine.tag))
    drifted = {
        name: most * (2 * uniform(seed, name, 0) - 1) for name, most in machine.drifts.items()
    }
    sound = type(machine.model)(**({"lines": LINES} if isinstance(machine.model, MagModel) else {}))
    person = Technician(
        replace(sound, **drifted),
        seed,
        machine.kit,
        {"operator": "Control room, shift B", "minutes": "40", "program": "4.2"},
        serial,
        reason="the set of this place",
    )
    done = Visit(machine.tag, who, person, start)
    done.until("")
    return done


def due(today: date) -> None:
    """Set the due dates of today."""
    for machine in MACHINES:
        Plan.objects.filter(instrument__tag=machine.tag).update(
            next_due=today + timedelta(days=machine.due_in),
            due_reason=f"every {machine.every} days (calibration plan of the works)",
        )


def rigs(now: datetime) -> None:
    """Wire every instrument to a rig, with the faults of today."""
    for number, machine in enumerate(MACHINES):
        Rig.objects.create(
            instrument=Instrument.objects.get(tag=machine.tag),
            model=encode(machine.model),
            seed=SEED + 1200 + number,
            started_at=now - timedelta(minutes=5),
            pace=machine.pace,
        )
