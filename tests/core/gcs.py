"""Portable chromatographs played by the virtual technician: gas dissolved in transformer oil."""

from __future__ import annotations

from dataclasses import replace

from calibration.engine.method.family import newest
from calibration.families.chromatograph.model import GcModel, Line
from calibration.simulate.commands import Share
from calibration.simulate.technician import Technician
from tests.core.families import Visit, asset

#: id, gas, in the gas [ppm], range, retention [s], blank
COMPONENTS = (
    ("a", "hydrogen", 500, 2000, 28, 5),
    ("b", "carbon monoxide", 500, 2000, 46, 5),
    ("c", "methane", 100, 1000, 60, 1),
    ("d", "carbon dioxide", 3000, 10000, 95, 8),
    ("e", "ethylene", 50, 1000, 118, 1),
    ("f", "ethane", 50, 1000, 136, 1),
    ("g", "acetylene", 10, 500, 160, 1),
)
PEAKS = [
    {
        "id": id,
        "gas": gas,
        "label": gas.capitalize(),
        "upper": str(top),
        "expected_s": str(at),
        "width_s": "6",
        "blank_ppm": str(blank),
    }
    for id, gas, _, top, at, blank in COMPONENTS
]
PARTS = [
    {"gas": gas, "value": str(ppm), "unit": "ppm", "uncertainty_percent": "2"}
    for _, gas, ppm, *_ in COMPONENTS
]
LINES = tuple(Line(id=id, gas=gas, at_s=float(at)) for id, gas, _, _, at, _ in COMPONENTS)
OUT_OF = {gas: float(ppm) for _, gas, ppm, *_ in COMPONENTS}


def facts(**more):
    return {
        "tag": "GC-1",
        "serial": "S-77",
        "description": "Oil laboratory",
        "area": "Substation",
        "loop_role": "indication",
        "input_unit": "ppm",
        "input_lower": "0",
        "input_upper": "10000",
        "output_unit": "ppm",
        "output_lower": "0",
        "output_upper": "10000",
        "tolerance": {"percent_of_reading": "5", "percent_of_span": "0.01"},
        "tolerance_source": "device manual",
        "smart": False,
        "indicated": False,
        "peaks": PEAKS,
        **more,
    }


def gas(name="C-7", parts=None):
    return {
        **asset("current"),
        "asset": name,
        "quantity": "gc_gas",
        "unit": "ppm",
        "spec": {"percent_of_reading": "2", "full_scale": "10000"},
        "parts": PARTS if parts is None else parts,
        "balance": "argon",
    }


def trap(**more):
    return {
        **asset("current"),
        "asset": "T-7",
        "quantity": "gas_trap",
        "unit": "ppm",
        "spec": {"absolute": "1", "full_scale": "100"},
        **more,
    }


def syringe(**more):
    return {
        **asset("current"),
        "asset": "Y-7",
        "quantity": "gas_syringe",
        "unit": "mL",
        "spec": {"absolute": "0.1", "full_scale": "5"},
        **more,
    }


def shares(parts):
    """Return what really comes out, by gas, given in ppm. [% vol]"""
    return tuple(Share(gas=g, percent=p / 10_000) for g, p in parts.items())


class GcVisit(Visit):
    """One job on a chromatograph from plan to signature."""

    def __init__(
        self,
        seed=5,
        parameters=None,
        facts_=None,
        asks=False,
        out=None,
        trap_=None,
        syringe_=None,
        **faults,
    ):
        self.method = newest("gc_calibrate")
        self.person = Technician(
            replace(GcModel(lines=LINES), **faults),
            seed,
            {"gc_gas": gas(), "gas_trap": trap_ or trap(), "gas_syringe": syringe_ or syringe()},
            {"operator": "Jo"},
            serial="S-77",
            bottles={"calibration_gas": shares(out or OUT_OF)},
            reason="as in the procedure",
        )
        self.events = []
        self.push(
            "opened",
            job="J-1",
            instrument=facts_ or facts(),
            method=self.method.id,
            version=self.method.version,
            parameters={k: {"value": v, "source": "test"} for k, v in (parameters or {}).items()},
            **({"asks": True} if asks else {}),
        )

    def line(self, place, **changes):
        """Change one component of the device."""
        lines = list(self.person.model.lines)
        lines[place] = replace(lines[place], **changes)
        self.person.model = replace(self.person.model, lines=tuple(lines))
        return self
