"""The strip of a pH loop: buffer, electrode, temperature, analyzer, output, control room."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

from calibration.analyzers.ph import nernst_slope
from calibration.decisions.tolerance import limit_at
from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.view.state import Station
from calibration.families.shared.loop.strip import stations
from calibration.kernel.numbers import to_float
from calibration.kernel.rounding import show

NAMES = {"applied": "Buffer", "digital": "Analyzer", "output": "Output"}


def buffer_stations(
    facts: InstrumentFacts,
    applied: Decimal,
    mv: Decimal | None,
    warm: tuple[str, str],
    digital: Decimal | None,
    output: Decimal | None,
    indicated: Decimal | None,
    figure: str,
) -> tuple[Station, ...]:
    """Return the stations from the buffer to the control room.

    Parameters
    ----------
    facts : InstrumentFacts
    applied, digital, output, indicated : Decimal or None
        [pH, pH, mA, pH]
    mv : Decimal or None
        Of the electrode. [mV]
    warm : tuple of str
        By the thermometer, and as the analyzer shows it; as typed. [°C]
    figure : str
        Name under which the figures of this point can be explained.
    """
    found = list(stations(facts, applied, digital, output, indicated, figure))
    found = [replace(s, label=NAMES.get(s.id, s.label)) for s in found]
    found[0] = replace(found[0], remark="at its temperature")
    found[1:1] = _between(applied, mv, warm)
    return (*found[:-1], _whole(found[-1], facts, applied, digital, output, indicated))


def _between(applied: Decimal, mv: Decimal | None, warm: tuple[str, str]) -> list[Station]:
    """Return electrode and temperature."""
    ideal = nernst_slope(float(warm[0] or 25)) * (to_float(applied) - 7)
    electrode = Station(
        id="electrode",
        label="Electrode",
        value="–" if mv is None else show(mv, 1, sign=True),
        unit="mV",
        expected=show(ideal, 1, sign=True),
        error="",
        bad=False,
        remark="a new one without offset",
        figure="",
    )
    if not warm[1]:
        return [electrode]
    off = Decimal(warm[1]) - Decimal(warm[0]) if warm[0] else Decimal(0)
    return [
        electrode,
        Station(
            id="temperature",
            label="Temperature",
            value=warm[1],
            unit="°C",
            expected=warm[0],
            error=f"{show(off, 1, sign=True)} °C",
            bad=abs(off) > Decimal("1.5"),
            remark="against the thermometer",
            figure="",
        ),
    ]


def _whole(
    last: Station,
    facts: InstrumentFacts,
    applied: Decimal,
    digital: Decimal | None,
    output: Decimal | None,
    indicated: Decimal | None,
) -> Station:
    """Return the error of the whole loop as people say it. [pH]"""
    span_out = abs(facts.transfer.output_span)
    limit = limit_at(facts.transfer, facts.tolerance, applied)
    limit *= abs(facts.transfer.input_span) / span_out
    seen = indicated if indicated is not None else digital
    if seen is None and output is not None:
        share = (output - facts.output_lower) / facts.transfer.output_span
        seen = facts.input_lower + share * facts.transfer.input_span
    error = (seen if seen is not None else applied) - applied
    return replace(
        last,
        value=show(error, 2, sign=True),
        unit="pH",
        remark=f"limit ±{show(limit, 2)} pH",
        bad=abs(error) > limit,
    )
