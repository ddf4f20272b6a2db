"""The loop strip: what each station shows, and where the error enters."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

from calibration.decisions.tolerance import limit_at
from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.view.columns import output_label
from calibration.engine.view.state import Station
from calibration.kernel.numbers import HUNDRED, exceeds
from calibration.kernel.rounding import as_typed, decimals_of, show
from calibration.signals.transfer import (
    ideal_output,
    indicated_span,
    indication,
    input_for,
    percent_of_input_span,
    slope_at,
)

HOP_LABELS = {
    "sensing": "sensor",
    "output": "output",
    "receiver": "control room",
    "transmitter": "transmitter",
    "output_and_receiver": "output or control room",
}


def stations(
    facts: InstrumentFacts,
    applied: Decimal,
    digital: Decimal | None,
    output: Decimal | None,
    indicated: Decimal | None,
    figure: str,
) -> tuple[Station, ...]:
    """Return the stations of one point, from the stimulus to the whole loop.

    Parameters
    ----------
    facts : InstrumentFacts
    applied, digital, output, indicated : Decimal or None
        What was read at each station. [input unit, input unit, output unit, input unit]
    figure : str
        Name under which the figures of this point can be explained.
    """
    limit = HUNDRED * limit_at(facts.transfer, facts.tolerance, applied)
    limit /= abs(facts.transfer.output_span)
    percent = percent_of_input_span(facts.transfer, applied)
    found = [
        Station(
            id="applied",
            label="Applied",
            value=as_typed(applied),
            unit=facts.input_unit,
            expected="",
            error="",
            bad=False,
            remark=f"{show(percent, 2)} % of range",
            figure=f"{figure}.applied",
        )
    ]
    errors: list[tuple[str, Decimal]] = []
    seen, in_percent = applied, facts.transfer.input_span
    if digital is not None:
        error = HUNDRED * (digital - seen) / abs(in_percent)
        errors.append(("digital", error))
        found.append(
            _station("digital", "Digital value", digital, facts.input_unit, seen, error, figure)
        )
        seen = digital
    if output is not None:
        ideal = ideal_output(facts.transfer, seen)
        error = HUNDRED * (output - ideal) / abs(facts.transfer.output_span)
        errors.append(("output", error))
        found.append(
            _station("output", output_label(facts), output, facts.output_unit, ideal, error, figure)
        )
        seen = input_for(facts.transfer, output)
    if indicated is not None:
        start = ideal_output(facts.transfer, seen) if output is None else output
        expected = indication(facts.transfer, facts.receiver, start)
        error = HUNDRED * (indicated - expected) / indicated_span(facts.transfer, facts.receiver)
        errors.append(("indicated", error))
        found.append(
            _station(
                "indicated", "Control room", indicated, facts.shown_unit, expected, error, figure
            )
        )
        seen = indicated
    worst = max(errors, key=lambda e: abs(e[1]), default=None)
    bad = worst[0] if worst and exceeds(worst[1], limit, HUNDRED) else ""
    total = HUNDRED * (seen - applied) / abs(in_percent)
    if indicated is not None and facts.receiver is not None:
        ought = indication(facts.transfer, facts.receiver, ideal_output(facts.transfer, applied))
        total = HUNDRED * (indicated - ought) / indicated_span(facts.transfer, facts.receiver)
    found = [_marked(s, bad) for s in found]
    if facts.transfer.curve is not None and output is not None:
        slope = slope_at(facts.transfer, applied)
        away = (output - ideal_output(facts.transfer, applied)) / slope
        allowed = limit_at(facts.transfer, facts.tolerance, applied) / slope
        return (*found, _in_degrees(away, allowed, figure))
    found.append(
        Station(
            id="whole",
            label="Whole loop",
            value=show(total, 2, sign=True),
            unit="%",
            expected="",
            error="",
            bad=False,
            remark=f"limit ±{show(limit, 2)} % of span",
            figure=f"{figure}.whole",
        )
    )
    return tuple(found)


def _in_degrees(away: Decimal, allowed: Decimal, figure: str) -> Station:
    """Return the error of a sensor as people speak of it."""
    return Station(
        id="whole",
        label="Error of the sensor",
        value=show(away, 2, sign=True),
        unit="°C",
        expected="",
        error="",
        bad=False,
        remark=f"limit ±{show(allowed, 2)} °C",
        figure=f"{figure}.whole",
    )


def _station(
    name: str,
    label: str,
    value: Decimal,
    unit: str,
    expected: Decimal,
    error: Decimal,
    figure: str,
) -> Station:
    return Station(
        id=name,
        label=label,
        value=as_typed(value),
        unit=unit,
        expected=show(expected, max(decimals_of(value), 3 if name == "output" else 1)),
        error=f"{show(error, 2, sign=True)} %",
        bad=False,
        remark="",
        figure=f"{figure}.{name}",
    )


def _marked(station: Station, bad: str) -> Station:
    if station.id != bad:
        return station
    return replace(station, bad=True, remark="enters here")
