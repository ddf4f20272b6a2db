"""One gas detector of each method with its gas train, played by the virtual technician."""

from __future__ import annotations

from dataclasses import replace

import calibration.families  # noqa: F401  # registers them
from calibration.engine.job.job import Job
from calibration.engine.job.ledger import build
from calibration.engine.method.family import newest
from calibration.families.gas.view import gas_lines, gas_state
from calibration.kernel.numbers import exact
from calibration.simulate.commands import Share
from calibration.simulate.detector import DetectorModel, Head
from calibration.simulate.technician import Bottle, Technician
from tests.core.families import Visit, asset


def channel(id, gas, unit, top, principle, value, **more):
    return {
        "id": id,
        "gas": gas,
        "unit": unit,
        "range": top,
        "principle": principle,
        "gas_value": value,
        "usual_t90_s": "18.4",
        **more,
    }


METHANE = channel("a", "methane", "%LEL", "100", "catalytic", "50")
CO = channel("b", "carbon monoxide", "ppm", "300", "electrochemical", "100", full_scale_v="5")
HEADS = {
    "methane": Head(id="a", gas="methane", unit="%LEL", range=100, gas_value=50, alarm=20),
    "co": Head(
        id="b",
        gas="carbon monoxide",
        unit="ppm",
        range=300,
        principle="electrochemical",
        gas_value=100,
        decimals=0,
    ),
}


def cylinder(parts, balance="air", number="G-1", due="2027-01-01", shelf=(), **more):
    """A cylinder as a reference of a job."""
    holds = {
        "parts": parts,
        "balance": balance,
        "water_l": "10",
        "pressure_bar": "60",
        **more,
    }
    return {
        **asset("current"),
        "asset": number,
        "description": "cylinder",
        "quantity": "gas",
        "unit": "gas",
        "due_on": due,
        "gas": holds,
        "shelf": list(shelf),
    }


def part(gas, value, unit, lel_set=None):
    return {"gas": gas, "value": value, "unit": unit, **({"lel_set": lel_set} if lel_set else {})}


def shelved(number, parts, balance="air"):
    return {
        "asset": number,
        "holds": {"parts": parts, "balance": balance, "water_l": "10", "pressure_bar": "60"},
    }


#: Other cylinders that stand on the shelf.
SHELF = (
    shelved("G-25", [part("methane", "25", "%LEL")]),
    shelved("G-20", [part("methane", "20", "%LEL")]),
)
SPAN = cylinder([part("methane", "50", "%LEL")], number="G-50", shelf=SHELF)
SPAN_CO = cylinder([part("carbon monoxide", "100", "ppm")], number="G-CO")
ZERO = cylinder([], number="G-ZERO")
NITROGEN = cylinder([], "nitrogen", number="G-N2")
FOUR = cylinder(
    [
        part("methane", "50", "%LEL"),
        part("carbon monoxide", "100", "ppm"),
        part("hydrogen sulfide", "25", "ppm"),
        part("oxygen", "18", "% vol"),
    ],
    "nitrogen",
    number="G-MIX",
    demand=True,
)
BOTTLES = {
    "zero_gas": Bottle(),
    "zero_gas_b": Bottle(),
    "span_gas": Bottle((Share(gas="methane", percent=2.2),)),
    "span_gas_b": Bottle((Share(gas="carbon monoxide", percent=0.01),)),
    "nitrogen": Bottle((Share(gas="oxygen", percent=0.0),), "nitrogen"),
}
MIX = Bottle(
    (
        Share(gas="methane", percent=2.2),
        Share(gas="carbon monoxide", percent=0.01),
        Share(gas="hydrogen sulfide", percent=0.0025),
        Share(gas="oxygen", percent=18.0),
    ),
    "nitrogen",
)
FIXED = {
    "input_unit": "%LEL",
    "input_lower": "0",
    "input_upper": "100",
    "output_unit": "mA",
    "output_lower": "4",
    "output_upper": "20",
    "tolerance": {"combine": "greatest", "percent_of_span": "3", "percent_of_reading": "10"},
    "smart": True,
}
PORTABLE_CHANNELS = [
    {**METHANE, "demand": True, "principle": "infrared"},
    channel("b", "carbon monoxide", "ppm", "500", "electrochemical", "100", demand=True),
    channel("c", "hydrogen sulfide", "ppm", "100", "electrochemical", "25", demand=True),
    channel("d", "oxygen", "% vol", "25", "oxygen", "18", demand=True),
]
PORTABLE = {
    **FIXED,
    "output_unit": "gas",
    "output_lower": "0",
    "output_upper": "100",
    "smart": False,
    "channels": PORTABLE_CHANNELS,
}
PORTABLE_MODEL = DetectorModel(
    milliamps=False,
    heads=(
        replace(HEADS["methane"], principle="infrared"),
        replace(HEADS["co"], range=500),
        Head(
            id="c",
            gas="hydrogen sulfide",
            unit="ppm",
            range=100,
            principle="electrochemical",
            gas_value=25,
        ),
        Head(
            id="d",
            gas="oxygen",
            unit="% vol",
            range=25,
            principle="oxygen",
            gas_value=18,
        ),
    ),
)
ONE = {**FIXED, "channels": [METHANE]}
ONE_MODEL = DetectorModel(heads=(HEADS["methane"],))
#: facts and model of each method
DETECTORS = {
    "gas_bump": (ONE, ONE_MODEL),
    "gas_zero_span": (ONE, ONE_MODEL),
    "gas_infrared": (
        {**FIXED, "channels": [{**METHANE, "principle": "infrared"}]},
        DetectorModel(heads=(replace(HEADS["methane"], principle="infrared", overshoot=0.15),)),
    ),
    "gas_oxygen": (
        {
            **FIXED,
            "input_unit": "% vol",
            "input_upper": "25",
            "channels": [channel("a", "oxygen", "% vol", "25", "oxygen", None)],
        },
        DetectorModel(
            heads=(Head(id="a", gas="oxygen", unit="% vol", range=25, principle="oxygen"),)
        ),
    ),
    "gas_two_channel": (
        {**FIXED, "channels": [{**METHANE, "full_scale_v": "5"}, CO]},
        DetectorModel(heads=(HEADS["methane"], HEADS["co"])),
    ),
    "gas_head": (ONE, ONE_MODEL),
    "gas_two_heads": (
        {**FIXED, "channels": [{**METHANE, "full_scale_v": "5"}, CO]},
        DetectorModel(heads=(HEADS["methane"], HEADS["co"])),
    ),
    "gas_portable": (PORTABLE, PORTABLE_MODEL),
    "gas_receiving": (PORTABLE, PORTABLE_MODEL),
}
ASSETS = {
    "zero_gas": ZERO,
    "zero_gas_b": ZERO,
    "span_gas": SPAN,
    "span_gas_b": SPAN_CO,
    "nitrogen": NITROGEN,
    "current": asset("current"),
    "voltage": asset("voltage"),
}
ANSWERS = {
    "operator": "Jo",
    "flow_alarm_s": "4",
    "samples": "640",
    "interval_min": "1",
    "beside_instrument": "GP-07",
    "beside_reads": "20.9",
    "place": "at the gate, upwind",
}


class GasVisit(Visit):
    """A job on a detector from plan to signature."""

    @property
    def job(self):
        return Job(build(self.method, self.events), self.now)

    @property
    def gas(self):
        """The gas that is wanted now."""
        with exact():
            return gas_state(self.job)

    @property
    def lines(self):
        """What it answered to each gas so far."""
        with exact():
            return gas_lines(self.job)

    def __init__(
        self,
        method,
        seed=5,
        parameters=None,
        facts=None,
        assets=None,
        channel=None,
        asks=False,
        **changes,
    ):
        given, model = DETECTORS[method]
        if channel:
            first, *others = given["channels"]
            given = {**given, "channels": [{**first, **channel}, *others]}
        portable = not model.milliamps
        bottles = dict.fromkeys(("span_gas", "span_gas_b", "span_gas_c", "span_gas_d"), MIX)
        kit = {**ASSETS, **(dict.fromkeys(bottles, FOUR) if portable else {}), **(assets or {})}
        self.method = newest(method)
        self.person = Technician(
            replace(model, **changes),
            seed,
            kit,
            ANSWERS,
            serial="S-77",
            bottles=bottles if portable else BOTTLES,
        )
        self.events = []
        self.push(
            "opened",
            job="J-1",
            instrument={
                "tag": "X-1",
                "serial": "S-77",
                "description": "detector",
                "area": "Boiler house",
                "loop_role": "trip",
                "tolerance_source": "manual",
                **given,
                **(facts or {}),
            },
            method=method,
            version=self.method.version,
            parameters=parameters or {},
            **({"asks": True} if asks else {}),
        )

    def head(self, n=0, **changes):
        """Change one head of the detector."""
        heads = list(self.person.model.heads)
        heads[n] = replace(heads[n], **changes)
        self.person.model = replace(self.person.model, heads=tuple(heads))
        return self

    def step(self, state=None):
        kinds = ("reading_taken", "adjusted", "gas_set", "gas_on", "exposed")
        for kind, data in self.person.act(state or self.look()):
            self.push(kind, **data, **({"kept": True} if kind in kinds else {}))
