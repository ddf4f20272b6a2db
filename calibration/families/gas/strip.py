"""The strip of a detector: cylinder, regulator and flow, sensor, output, control room."""

from __future__ import annotations

from decimal import Decimal

from calibration.decisions.tolerance import limit_at
from calibration.engine.job import events as ev
from calibration.engine.view.state import Station
from calibration.kernel.numbers import HUNDRED, exceeds
from calibration.kernel.rounding import as_typed, decimals_of, show, trimmed
from calibration.signals.transfer import ideal_output, input_for


def gas_stations(
    facts: ev.InstrumentFacts,
    cylinder: str,
    applied: Decimal,
    flow: Decimal | None,
    flow_wanted: Decimal | None,
    digital: Decimal | None,
    output: Decimal | None,
    indicated: Decimal | None,
    figure: str,
) -> tuple[Station, ...]:
    """Return the stations from the cylinder to the control room.

    Parameters
    ----------
    facts : InstrumentFacts
        As the run sees it: one channel.
    cylinder : str
        Its number; empty for the air around.
    applied, digital, output, indicated : Decimal or None
        [gas unit, gas unit, output unit, gas unit]
    flow, flow_wanted : Decimal or None
        [L/min]
    figure : str
        Name under which the figures of this point can be explained; empty while live.
    """
    unit = facts.input_unit
    name = f"{figure}." if figure else ""
    found = [
        _station("applied", "Cylinder" if cylinder else "Air", as_typed(applied), unit, cylinder)
    ]
    if cylinder:
        seen = as_typed(flow) if flow is not None else "–"
        wanted = trimmed(flow_wanted) if flow_wanted is not None else ""
        found.append(_station("flow", "Regulator, flow", seen, "L/min", "", wanted))
    limit = limit_at(facts.transfer, facts.tolerance, applied)
    limit = HUNDRED * limit / abs(facts.transfer.output_span)
    span = abs(facts.transfer.input_span)
    at = applied
    milliamps = facts.output_unit == "mA"
    shown = digital if digital is not None else None if milliamps else output
    if shown is not None:
        error = HUNDRED * (shown - at) / span
        found.append(
            _station(
                "digital" if milliamps else "output",
                "Sensor and display",
                as_typed(shown),
                unit,
                "enters here" if exceeds(error, limit, HUNDRED) else "",
                show(at, max(1, decimals_of(shown))),
                f"{show(error, 1, sign=True)} %",
                exceeds(error, limit, HUNDRED),
                name,
            )
        )
        at = shown
    if milliamps and output is not None:
        ideal = ideal_output(facts.transfer, at)
        error = HUNDRED * (output - ideal) / abs(facts.transfer.output_span)
        bad = exceeds(error, limit, HUNDRED)
        found.append(
            _station(
                "output",
                "Output",
                as_typed(output),
                "mA",
                "held or faulty: no measurement"
                if output < Decimal("3.6")
                else "enters here"
                if bad
                else "",
                show(ideal, 2),
                f"{show(error, 1, sign=True)} %",
                bad,
                name,
            )
        )
        at = input_for(facts.transfer, output)
    if indicated is not None:
        error = HUNDRED * (indicated - at) / span
        bad = exceeds(error, limit, HUNDRED)
        found.append(
            _station(
                "indicated",
                "Control room",
                as_typed(indicated),
                unit,
                "enters here" if bad else "",
                show(at, max(1, decimals_of(indicated))),
                f"{show(error, 1, sign=True)} %",
                bad,
                name,
            )
        )
    return tuple(found)


def _station(
    id: str,
    label: str,
    value: str,
    unit: str,
    remark: str,
    expected: str = "",
    error: str = "",
    bad: bool = False,
    figure: str = "",
) -> Station:
    return Station(
        id=id,
        label=label,
        value=value,
        unit=unit,
        expected=expected,
        error=error,
        bad=bad,
        remark=remark,
        figure=f"{figure}{id}" if figure and id != "flow" else "",
    )
