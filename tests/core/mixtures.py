"""Analyzers of several components played by the virtual technician: a lime kiln's gas."""

from __future__ import annotations

from dataclasses import replace

from calibration.engine.method.family import newest
from calibration.families.mixture.model import Adds, Cell, Inside, MixModel
from calibration.simulate.commands import Share
from calibration.simulate.technician import Technician
from tests.core.families import Visit, asset

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
        "cross": [{"of": "a", "percent": "0.1"}],
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
MIXED = (
    {"gas": "carbon dioxide", "value": "40", "unit": "% vol", "uncertainty_percent": "1"},
    {"gas": "carbon monoxide", "value": "4", "unit": "% vol", "uncertainty_percent": "2"},
    {"gas": "oxygen", "value": "8", "unit": "% vol", "uncertainty_percent": "1"},
)
CELLS = (
    Cell(id="a", gas="carbon dioxide", unit="% vol", upper=50.0),
    Cell(id="b", gas="carbon monoxide", unit="% vol", upper=5.0),
    Cell(id="c", gas="oxygen", unit="% vol", upper=25.0, infrared=False),
)
PROCESS = (
    Inside(gas="carbon dioxide", percent=38.0),
    Inside(gas="carbon monoxide", percent=0.6),
    Inside(gas="oxygen", percent=2.1),
)
OUT_OF = {p["gas"]: float(p["value"]) for p in MIXED}


def facts(components=None, **more):
    return {
        "tag": "AT-5",
        "serial": "S-77",
        "description": "Kiln gas",
        "area": "Lime kiln",
        "loop_role": "indication",
        "input_unit": "% vol",
        "input_lower": "0",
        "input_upper": "50",
        "output_unit": "% vol",
        "output_lower": "0",
        "output_upper": "50",
        "tolerance": {"percent_of_span": "2"},
        "tolerance_source": "analyzer manual",
        "smart": False,
        "indicated": False,
        "components": components or COMPONENTS,
        **more,
    }


def gas(name, parts, balance="nitrogen"):
    return {
        **asset("current"),
        "asset": name,
        "quantity": "mixture" if parts else "mixture_zero",
        "unit": "% vol",
        "spec": {"percent_of_reading": "2", "full_scale": "100"},
        "parts": list(parts),
        "balance": balance,
    }


def shares(parts):
    """Return what really comes out, by gas. [% vol]"""
    return tuple(Share(gas=g, percent=p) for g, p in parts.items())


class MixVisit(Visit):
    """One job on an analyzer of several components from plan to signature."""

    def __init__(
        self,
        seed=5,
        parameters=None,
        facts_=None,
        asks=False,
        zero_parts=(),
        mixed=MIXED,
        out=None,
        **faults,
    ):
        self.method = newest("mixture_calibrate")
        really = {p["gas"]: float(p["value"]) for p in mixed} if out is None else out
        self.person = Technician(
            replace(MixModel(cells=CELLS, process=PROCESS), **faults),
            seed,
            {
                "mixture": gas("C-5", mixed),
                "mixture_zero": {**gas("N-5", ()), "parts": list(zero_parts)},
            },
            {"operator": "Jo"},
            serial="S-77",
            bottles={
                "zero_gas": shares({p["gas"]: float(p["value"]) for p in zero_parts}),
                "mixture": shares(really),
            },
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

    def cell(self, place, **changes):
        """Change one cell of the analyzer."""
        cells = list(self.person.model.cells)
        cells[place] = replace(cells[place], **changes)
        self.person.model = replace(self.person.model, cells=tuple(cells))
        return self


__all__ = ["Adds", "MixVisit", "facts", "gas"]
