"""Trace oxygen analyzers played by the virtual technician."""

from __future__ import annotations

from dataclasses import replace

from calibration.engine.method.family import newest
from calibration.families.trace.model import TraceModel
from calibration.simulate.technician import Technician
from tests.core.families import Visit, asset


def facts(**more):
    return {
        "tag": "AT-9",
        "serial": "S-77",
        "description": "Nitrogen over the silo",
        "area": "Silo",
        "loop_role": "trip",
        "input_unit": "ppm",
        "input_lower": "0",
        "input_upper": "20",
        "output_unit": "mA",
        "output_lower": "4",
        "output_upper": "20",
        "tolerance": {"combine": "greatest", "absolute": "0.2", "percent_of_reading": "5"},
        "tolerance_source": "loop data sheet",
        "smart": True,
        "indicated": True,
        "sample_ppm": "2",
        "holds_minutes": "20",
        "response_percent": "92",
        "responded_on": "2026-02-01",
        **more,
    }


def cylinder(ppm="8", **more):
    return {
        **asset("current"),
        "asset": "C-9",
        "quantity": "trace_gas",
        "unit": "ppm",
        "spec": {"percent_of_reading": "3", "full_scale": ppm},
        "oxygen_ppm": ppm,
        "uncertainty_percent": "3",
        "bar": "100",
        **more,
    }


def regulator(**more):
    return {
        **asset("current"),
        "asset": "V-9",
        "quantity": "regulator",
        "unit": "bar",
        "spec": {"absolute": "0.1", "full_scale": "10"},
        "mounted_on": "C-9",
        "mounted_since": "2026-04-01",
        "low_bar": "5",
        **more,
    }


class TraceVisit(Visit):
    """One job on a trace oxygen analyzer from plan to signature."""

    def __init__(
        self,
        method="trace_oxygen",
        seed=5,
        parameters=None,
        facts_=None,
        asks=False,
        regulator_=None,
        cylinder_=None,
        answers=None,
        **faults,
    ):
        self.method = newest(method)
        self.person = Technician(
            replace(TraceModel(upper=20.0), **faults),
            seed,
            {
                "trace_gas": cylinder_ or cylinder(),
                "regulator": regulator_ or regulator(),
                "current": asset("current"),
            },
            {"operator": "Jo", "air_seconds": "20", "sensor_serial": "N-2", **(answers or {})},
            serial="S-77",
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

    def causes(self):
        """Return the causes as found."""
        return list(self.state().as_found.causes)
