"""The strip: cylinder, regulator and tubing, sensor and display, output, control room."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.view.state import Station
from calibration.families.shared.loop.strip import stations

NAMES = {"applied": "Cylinder", "digital": "Sensor, display", "output": "Output"}


def trace_stations(
    facts: InstrumentFacts,
    cylinder: str,
    residual: str,
    applied: Decimal,
    digital: Decimal | None,
    output: Decimal | None,
    indicated: Decimal | None,
    figure: str,
) -> tuple[Station, ...]:
    """Return the stations from the cylinder to the control room.

    Parameters
    ----------
    facts : InstrumentFacts
    cylinder : str
        Its number; empty for the process.
    residual : str
        What is left of the air in the regulator; empty where it was not bled.
    applied, digital, output, indicated : Decimal or None
        [ppm, ppm, mA, ppm]
    figure : str
        Name under which the figures of this point can be explained.
    """
    found = list(stations(facts, applied, digital, output, indicated, figure))
    found = [replace(s, label=NAMES.get(s.id, s.label)) for s in found]
    if not cylinder:
        found[0] = replace(found[0], label="Process, usual", remark="")
        return tuple(s for s in found if s.id in ("applied", "digital", "output", "indicated"))
    found[0] = replace(found[0], remark=cylinder)
    if residual:
        found.insert(
            1,
            Station(
                id="regulator",
                label="Regulator",
                value=residual,
                unit="",
                expected="",
                error="",
                bad=False,
                remark="air left in it, at most" if residual.endswith("%") else "air in it",
                figure="",
            ),
        )
    return tuple(found)
