"""One instrument of each family with its rig, played by the virtual technician."""

from __future__ import annotations

import uuid
from datetime import UTC, datetime, timedelta

import calibration.families  # noqa: F401  # registers them
from calibration.engine.admission.admit import admit
from calibration.engine.job.events import make_event
from calibration.engine.job.fold import view
from calibration.engine.job.job import Job
from calibration.engine.job.ledger import build
from calibration.engine.method.family import newest
from calibration.kernel.numbers import exact
from calibration.simulate.block import BlockModel
from calibration.simulate.loop import LoopModel
from calibration.simulate.technician import Technician
from tests.core.glance import Glance

START = datetime(2026, 5, 4, 8, 0, tzinfo=UTC)
PRESSURE = {
    "input_unit": "kPa",
    "input_lower": "0",
    "input_upper": "4000",
    "output_unit": "mA",
    "output_lower": "4",
    "output_upper": "20",
    "tolerance": {"percent_of_span": "0.5"},
    "smart": True,
    "indicated": True,
}
VESSEL = [
    {"name": "arrangement", "value": "wet_leg", "label": "Arrangement"},
    {"name": "density", "value": "820", "unit": "kg/m³", "label": "Density"},
    {"name": "lower_tap_m", "value": "0.5", "unit": "m", "label": "Lower tap"},
    {"name": "level_upper_m", "value": "3.2", "unit": "m", "label": "100 % level"},
    {"name": "leg_height_m", "value": "4.1", "unit": "m", "label": "Upper tap"},
    {"name": "fill_density", "value": "998", "unit": "kg/m³", "label": "Fill of the leg"},
]
DISPLACER = [
    {"name": "displacer_kg", "value": "1.362", "unit": "kg", "label": "Displacer"},
    {"name": "diameter_m", "value": "38.4", "unit": "mm", "label": "Diameter"},
    {"name": "length_m", "value": "813", "unit": "mm", "label": "Length"},
    {"name": "density", "value": "870", "unit": "kg/m³", "label": "Density"},
]
FLOW = {
    **PRESSURE,
    "input_upper": "25",
    "indicated_unit": "t/h",
    "indicated_lower": "0",
    "indicated_upper": "40",
}
#: facts and model of each family; faults are laid over the model
FAMILIES = {
    "smart_transmitter": (PRESSURE, LoopModel(lower=0, upper=4000)),
    "pt100_sensor": (
        {
            "sensor": "Pt100",
            "input_unit": "°C",
            "input_lower": "0",
            "input_upper": "200",
            "output_unit": "Ω",
            "characteristic": "platinum",
            "tolerance": {"absolute": "0.3", "percent_of_reading": "0.5"},
        },
        BlockModel(sensor="Pt100"),
    ),
    "type_k_sensor": (
        {
            "sensor": "K",
            "input_unit": "°C",
            "input_lower": "100",
            "input_upper": "600",
            "output_unit": "mV",
            "characteristic": "type_K",
            "tolerance": {"absolute": "2.5"},
        },
        BlockModel(sensor="K", noise_c=0.02),
    ),
    "pt100_transmitter": (
        {
            **PRESSURE,
            "sensor": "Pt100",
            "input_unit": "°C",
            "input_upper": "150",
            "indicated": False,
        },
        LoopModel(lower=0, upper=150, sensor="Pt100", input_decimals=2),
    ),
    "type_k_transmitter": (
        {
            **PRESSURE,
            "sensor": "K",
            "input_unit": "°C",
            "input_upper": "800",
            "indicated": False,
        },
        LoopModel(lower=0, upper=800, sensor="K"),
    ),
    "temperature_loop": (
        {
            **PRESSURE,
            "sensor": "Pt100",
            "input_unit": "°C",
            "input_upper": "150",
            "smart": False,
            "indicated": False,
            "tolerance": {"percent_of_span": "0.75"},
        },
        BlockModel(sensor="Pt100", lower=0.0, upper=150.0),
    ),
    "displacer": (
        {
            **PRESSURE,
            "input_unit": "%",
            "input_upper": "100",
            "tolerance": {"percent_of_span": "1"},
            "smart": False,
            "indicated": False,
            "settings": DISPLACER,
        },
        LoopModel(lower=1362.0, upper=542.9, zero_moves_span=0.25, span_moves_zero=-0.35),
    ),
    "dp_level": (
        {
            **PRESSURE,
            "input_lower": "-36.106",
            "input_upper": "-10.374",
            "settings": VESSEL,
        },
        LoopModel(lower=-36.106, upper=-10.374, input_decimals=3, indicated_decimals=2),
    ),
    "flow_root_in_transmitter": (
        {**FLOW, "characteristic": "square_root", "tolerance": {"absolute": "0.125"}},
        LoopModel(
            lower=0,
            upper=25,
            characteristic="square_root",
            indicated_lower=0,
            indicated_upper=40,
            input_decimals=3,
            indicated_decimals=2,
            source_offset_percent=0.01,
            noise_percent=0.003,
        ),
    ),
    "flow_root_in_receiver": (
        {**FLOW, "indicated_characteristic": "square_root"},
        LoopModel(
            lower=0,
            upper=25,
            receiver_characteristic="square_root",
            indicated_lower=0,
            indicated_upper=40,
            input_decimals=3,
            indicated_decimals=2,
            source_offset_percent=0.01,
            noise_percent=0.003,
        ),
    ),
}
METHOD_OF = {
    "smart_transmitter": "smart_transmitter",
    "pt100_sensor": "temperature_sensor",
    "type_k_sensor": "temperature_sensor",
    "pt100_transmitter": "temperature_transmitter",
    "type_k_transmitter": "temperature_transmitter",
    "temperature_loop": "temperature_loop",
    "displacer": "displacer_level",
    "dp_level": "dp_level",
    "flow_root_in_transmitter": "dp_flow",
    "flow_root_in_receiver": "dp_flow",
}
UNITS = {
    "pressure": ("kPa", "7000", "0.005"),
    "current": ("mA", "24", "0.01"),
    "voltage": ("mV", "100", "0.005"),
    "resistance": ("Ω", "400", "0.005"),
    "temperature": ("°C", "660", "0.005"),
    "sensor_signal": ("°C", "1300", "0.002"),
    "heat_source": ("°C", "660", "0.003"),
    "mass": ("g", "2000", "0.01"),
}


def asset(quantity):
    unit, full_scale, percent = UNITS[quantity]
    return {
        "asset": f"R-{quantity}",
        "description": quantity.replace("_", " "),
        "serial": "1",
        "quantity": quantity,
        "unit": unit,
        "spec": {
            "percent_of_reading": percent,
            "full_scale": full_scale,
            "resolution": "0.0001",
        },
        "certificate": "C-1",
        "calibrated_on": "2026-01-01",
        "due_on": "2027-01-01",
    }


class Visit:
    """One job of a family from plan to signature."""

    def __init__(
        self, family, seed=5, parameters=None, facts=None, asks=False, method="", **faults
    ):
        given, model = FAMILIES[family]
        self.method = newest(method or METHOD_OF[family])
        model = type(model)(**{**vars(model), **faults})
        self.person = Technician(
            model, seed, {q: asset(q) for q in UNITS}, {"operator": "Jo"}, serial="S-77"
        )
        self.events = []
        instrument = {
            "tag": "X-1",
            "serial": "S-77",
            "description": family.replace("_", " "),
            "area": "Boiler house",
            "loop_role": "control",
            "tolerance_source": "data sheet",
            "output_lower": "0",
            "output_upper": "1",
            **given,
            **(facts or {}),
        }
        self.push(
            "opened",
            job="J-1",
            instrument=instrument,
            method=self.method.id,
            version=self.method.version,
            parameters=parameters or {},
            **({"asks": True} if asks else {}),
        )

    @property
    def now(self):
        return START + timedelta(seconds=30 * len(self.events))

    def push(self, kind, /, **data):
        if kind == "signed":
            data = {"name": "Ana", "statement": "done"}
        event = make_event(
            id=str(uuid.uuid5(uuid.NAMESPACE_OID, str(len(self.events)))),
            seq=len(self.events) + 1,
            kind=kind,
            at=self.now.isoformat(),
            by="Ana",
            role="technician",
            source="typed",
            data=data,
        )
        if self.events:
            admit(self.standing(), event, {e.id: e for e in self.events})
        self.events.append(event)

    def standing(self):
        """The job as it stands; what was worked out of it for a look serves the next entry."""
        count, last, job = self.__dict__.get("_standing", (0, None, None))
        if count != len(self.events) or last is not self.events[-1]:
            job = Job(build(self.method, self.events), self.now)
            self._standing = (len(self.events), self.events[-1], job)
        return job

    def state(self):
        with exact():
            return view(self.standing(), self.events)

    def look(self):
        """What the present step shows; the rest of the state only if it is asked for."""
        return Glance(self.standing(), self.events)

    def step(self, state=None):
        """Do the present step, or one point of a run; values that look like slips are kept."""
        for kind, data in self.person.act(state or self.look()):
            kept = {"kept": True} if kind in ("reading_taken", "adjusted") else {}
            self.push(kind, **data, **kept)

    def until(self, step_id):
        """Go on until a step is the present one, or the job is closed."""
        for _ in range(200):
            state = self.look()
            if state.status != "open" or state.current_step == step_id:
                return self.state()
            self.step(state)
        raise AssertionError(f"{self.method.id} does not come to '{step_id}'")
