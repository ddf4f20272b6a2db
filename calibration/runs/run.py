"""A multi-point run: what the readings say."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from calibration.decisions.tolerance import Tolerance, limit_at
from calibration.kernel import fits
from calibration.kernel.checks import between, not_negative
from calibration.kernel.codec import about
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import HUNDRED, ZERO, exceeds, to_float
from calibration.kernel.registry import operation
from calibration.runs.causes import Cause
from calibration.runs.characteristics import (
    hysteresis,
    reaches,
    repeatability,
    terminal,
)
from calibration.runs.diagnosis import Evaluated, diagnose
from calibration.runs.points import Direction
from calibration.runs.sensor_faults import USUAL_JUNCTION_C, Seen, name_fault
from calibration.sensors.curves import SensorName
from calibration.signals.transfer import Transfer, ideal_output, input_for, percent_of_input_span

#: Ten cycles of eleven points up and down are 210 readings.
MOST_READINGS = 300


@dataclass(frozen=True, kw_only=True)
class Reading:
    """One reading at one point."""

    nominal_percent: Decimal = about("the point it belongs to", label="at", unit="% of span")
    applied: Decimal = about(
        "value really applied, from the reference", label="applied", unit="input unit"
    )
    reading: Decimal = about("output read", label="reading", unit="output unit")
    direction: Direction = about("the way the input moved", label="way", default="up")
    cycle: int = about("counted from 1", label="cycle", default=1)
    noise: float | None = about(
        "standard deviation while reading", label="noise", unit="output unit", default=None
    )


@dataclass(frozen=True, kw_only=True)
class EvaluateIn(Transfer):
    """Range, limits and readings of one run."""

    tolerance: Tolerance = about("what error is allowed", label="tolerance")
    readings: tuple[Reading, ...] = about("in the order taken", label="readings")
    adjust_share: Decimal = about(
        "adjust limit as a share of the tolerance, 0 to 1", default=Decimal("0.7")
    )
    cut_off_percent: Decimal = about(
        "flow below which errors are shown and not judged",
        label="low-flow cut-off",
        unit="% of flow",
        default=ZERO,
    )
    sensor: SensorName | None = about(
        "temperature sensor that is fed or read", label="sensor", default=None
    )
    wires: int = about("wires of a platinum sensor", label="wires", default=4)
    junction_c: float = about(
        "reference junction, or the room",
        label="junction or room",
        unit="°C",
        default=USUAL_JUNCTION_C,
    )


@dataclass(frozen=True, kw_only=True)
class Point:
    """What one reading says."""

    nominal_percent: Decimal = about("the point", label="at", unit="% of span")
    direction: Direction = about("the way the input moved", label="way")
    cycle: int = about("counted from 1", label="cycle")
    applied: Decimal = about("value applied", label="applied", unit="input unit")
    reading: Decimal = about("output read", label="reading", unit="output unit")
    ideal: Decimal = about("output of a perfect instrument", label="ideal", unit="output unit")
    error: Decimal = about("reading minus ideal", label="error", unit="output unit")
    error_percent_of_span: Decimal = about(
        "error over the output span", label="error", unit="% of span", decimals=4
    )
    error_input_units: Decimal = about(
        "error as the input that causes it", label="error as input", unit="input unit"
    )
    limit: Decimal = about("largest error allowed here", label="limit", unit="output unit")
    limit_percent: Decimal = about(
        "the same over the output span", label="limit", unit="% of span", decimals=4
    )
    within: bool = about(
        "true when |error| is not above the limit; on the limit is within", label="within"
    )
    near: bool = about("within, but past the adjust limit", label="near the limit")
    judged: bool = about("false below the low-flow cut-off", label="judged")


@dataclass(frozen=True, kw_only=True)
class Summary:
    """What the run says."""

    max_error_percent: Decimal = about(
        "error of largest size, with its sign", label="largest error", unit="% of span", decimals=4
    )
    worst_point: int = about("index of the reading with that error", hidden=True)
    hysteresis_percent: Decimal | None = about(
        "largest up/down gap of the mean errors; none where no point was read both ways",
        label="hysteresis",
        unit="% of span",
        decimals=4,
    )
    repeatability_percent: Decimal | None = about(
        "largest spread of same-way errors over the cycles; none of a single cycle",
        label="repeatability",
        unit="% of span",
        decimals=4,
    )
    zero_shift_percent: float | None = about(
        "fitted error at 0 %; none where nothing was read near it",
        label="zero shift",
        unit="% of span",
        decimals=4,
    )
    span_error_percent: float | None = about(
        "fitted error at 100 % minus at 0 %; none where an end was not read",
        label="span error",
        unit="% of span",
        decimals=4,
    )
    fit_lower_percent: float = about("line of best fit at 0 %, to be drawn", hidden=True)
    fit_upper_percent: float = about("line of best fit at 100 %, to be drawn", hidden=True)
    nonlinearity_terminal_percent: float | None = about(
        "largest distance of the mean curve from the line through its ends; none of two points",
        label="linearity, terminal",
        unit="% of span",
        decimals=4,
    )
    nonlinearity_independent_percent: float | None = about(
        "half the narrowest straight band around the mean curve; none of two points",
        label="linearity, independent",
        unit="% of span",
        decimals=4,
    )
    verdict: Literal["within", "near", "outside"] = about(
        "near: within, but some point is past the adjust limit", label="verdict"
    )


@dataclass(frozen=True, kw_only=True)
class EvaluateOut:
    """Per point, in total, and why."""

    points: tuple[Point, ...] = about("one per reading, same order", label="points")
    summary: Summary = about("the whole run")
    diagnosis: tuple[Cause, ...] = about(
        "most weighty cause first; empty when nothing is wrong", label="causes"
    )


EXAMPLE = {
    "input_lower": "0",
    "input_upper": "4000",
    "output_lower": "4",
    "output_upper": "20",
    "tolerance": {"percent_of_span": "0.25"},
    "readings": [
        {"nominal_percent": "0", "applied": "0", "reading": "4.01"},
        {"nominal_percent": "50", "applied": "2000", "reading": "12.04"},
        {"nominal_percent": "100", "applied": "4000", "reading": "20.06"},
    ],
}


@operation(
    "run.evaluate",
    title="Evaluate a run",
    family="Runs and adjusting",
    words="errors hysteresis linearity repeatability verdict as found as left tolerance",
    worked=lambda i, o: [
        f"worst: 100 × ({p.reading:g} − {p.ideal:.6g}) / {i.output_span:g} "
        f"= {p.error_percent_of_span:.4f} % at {p.nominal_percent:g} %"
        for p in (o.points[o.summary.worst_point],)
    ],
    formula="error % = 100 × (reading − ideal(applied)) / output span",
    source="IEC 61298-2: inaccuracy, hysteresis, repeatability, terminal-based and independent "
    "linearity",
    example=EXAMPLE,
)
def evaluate(request: EvaluateIn) -> EvaluateOut:
    """Compute errors, verdicts and characteristics of a run and name the causes.

    Raises
    ------
    InputError
        ``readings.none``, ``readings.too_many``, ``adjust_share.range``, ``cut_off_percent.range``,
        ``wires.out_of_range``, ``cycle.out_of_range``, ``noise.negative``.

    References
    ----------
    IEC 61298-2 for the terms; the fits are least squares on error against percent of the
    input span (of the ideal output for a square root).
    """
    if not request.readings:
        raise InputError(
            "readings.none", "readings", "There are no readings.", "Take at least one reading."
        )
    if len(request.readings) > MOST_READINGS:
        raise InputError(
            "readings.too_many",
            "readings",
            f"{len(request.readings)} readings are more than one run has.",
            f"Evaluate at most {MOST_READINGS} readings at once.",
        )
    if not 0 < request.adjust_share <= 1:
        raise InputError(
            "adjust_share.range", "adjust_share", "Must be above 0, at most 1.", "Use e.g. 0.7."
        )
    _refuse_impossible(request)
    points = tuple(_point(request, reading) for reading in request.readings)
    judged = [i for i, p in enumerate(points) if p.judged] or list(range(len(points)))
    evaluated = _for_diagnosis(request, points, judged)
    summary = _summary(points, judged, evaluated)
    return EvaluateOut(
        points=points, summary=summary, diagnosis=_causes(request, points, evaluated, summary)
    )


def _causes(
    request: EvaluateIn, points: Sequence[Point], evaluated: Evaluated, summary: Summary
) -> tuple[Cause, ...]:
    """Return the fault of a sensor where one fits, else the causes of the error picture."""
    if summary.verdict == "within":
        return ()
    found = _sensor_fault(request, points) if request.sensor is not None else None
    return (found,) if found else diagnose(evaluated, summary.verdict)


#: Outside this part of the output span a 4-20 mA output is held back. [% of span]
FREE_LOW, FREE_HIGH = Decimal(-1), Decimal("102.9")


def _sensor_fault(request: EvaluateIn, points: Sequence[Point]) -> Cause | None:
    bare = request.curve is not None
    indicated = [to_float(input_for(request, p.reading)) for p in points]
    percent = [HUNDRED * (p.reading - request.output_lower) / request.output_span for p in points]
    low = [t for t, p in zip(indicated, percent, strict=True) if p <= FREE_LOW and not bare]
    high = [t for t, p in zip(indicated, percent, strict=True) if p >= FREE_HIGH and not bare]
    return name_fault(
        Seen(
            sensor=request.sensor or "",
            wires=request.wires,
            bare=bare,
            junction_c=request.junction_c,
            applied_c=tuple(to_float(p.applied) for p in points),
            indicated_c=tuple(indicated),
            limit_c=tuple(
                to_float(p.limit * abs(request.input_span / request.output_span)) for p in points
            ),
            span_c=abs(to_float(request.input_span)),
            held_low_c=max(low, default=-math.inf),
            held_high_c=min(high, default=math.inf),
        )
    )


def _refuse_impossible(request: EvaluateIn) -> None:
    """Refuse what no run has: a cut-off of everything, cycle 0, a noise below none, five wires."""
    if not 0 <= request.cut_off_percent < HUNDRED:
        raise InputError(
            "cut_off_percent.range",
            "cut_off_percent",
            "The low-flow cut-off is at least 0 and under 100 %.",
            "Use e.g. 5; 0 judges everything.",
        )
    between(request.wires, 2, 4, "wires", "number of wires of a platinum sensor")
    for place, reading in enumerate(request.readings):
        between(reading.cycle, 1, MOST_READINGS, f"readings.{place}.cycle", "cycle")
        if reading.noise is not None:
            not_negative(reading.noise, f"readings.{place}.noise", "noise")


def _point(request: EvaluateIn, reading: Reading) -> Point:
    span = abs(request.output_span)
    ideal = ideal_output(request, reading.applied)
    error = reading.reading - ideal
    limit = limit_at(request, request.tolerance, reading.applied)
    floats = request.curve is not None
    judged = _flow_percent(request, reading.applied) >= request.cut_off_percent
    within = not judged or not exceeds(error, limit, span, floats=floats)
    return Point(
        nominal_percent=reading.nominal_percent,
        direction=reading.direction,
        cycle=reading.cycle,
        applied=reading.applied,
        reading=reading.reading,
        ideal=ideal,
        error=error,
        error_percent_of_span=HUNDRED * error / span,
        error_input_units=input_for(request, reading.reading) - reading.applied,
        limit=limit,
        limit_percent=HUNDRED * limit / span,
        within=within,
        near=judged
        and within
        and exceeds(error, limit * request.adjust_share, span, floats=floats),
        judged=judged,
    )


def _flow_percent(request: EvaluateIn, applied: Decimal) -> Decimal:
    """Return the flow that a differential pressure stands for; it goes with the root. [%]"""
    if not request.cut_off_percent:
        return HUNDRED
    share = (applied - request.input_lower) / request.input_span
    return HUNDRED * share.sqrt() if share > 0 else ZERO


def _for_diagnosis(request: EvaluateIn, every: Sequence[Point], judged: Sequence[int]) -> Evaluated:
    lower, span = request.output_lower, request.output_span
    points = [every[i] for i in judged]
    return Evaluated(
        nominal=tuple(to_float(p.nominal_percent) for p in points),
        input_percent=tuple(to_float(percent_of_input_span(request, p.applied)) for p in points),
        ideal_percent=tuple(to_float(HUNDRED * (p.ideal - lower) / span) for p in points),
        read_percent=tuple(to_float(HUNDRED * (p.reading - lower) / span) for p in points),
        error=tuple(to_float(p.error_percent_of_span) for p in points),
        limit=tuple(to_float(p.limit_percent) for p in points),
        direction=tuple(p.direction for p in points),
        noise=tuple(
            100 * r.noise / abs(to_float(span)) for r in request.readings if r.noise is not None
        ),
        characteristic=request.characteristic,
    )


def _summary(points: Sequence[Point], judged: Sequence[int], evaluated: Evaluated) -> Summary:
    worst = max(judged, key=lambda i: abs(points[i].error_percent_of_span))
    line = fits.least_squares(evaluated.position, evaluated.error)
    at, mean = evaluated.mean_curve
    verdict: Literal["within", "near", "outside"] = "within"
    if not all(p.within for p in points):
        verdict = "outside"
    elif any(p.near for p in points):
        verdict = "near"
    return Summary(
        max_error_percent=points[worst].error_percent_of_span,
        worst_point=worst,
        hysteresis_percent=hysteresis([points[i] for i in judged]),
        repeatability_percent=repeatability([points[i] for i in judged]),
        zero_shift_percent=line.at(0.0) if reaches(at, 0.0) else None,
        span_error_percent=line.at(100.0) - line.at(0.0)
        if reaches(at, 0.0) and reaches(at, 100.0)
        else None,
        fit_lower_percent=line.at(0.0),
        fit_upper_percent=line.at(100.0),
        nonlinearity_terminal_percent=terminal(at, mean),
        nonlinearity_independent_percent=evaluated.half_band if len(at) > 2 else None,
        verdict=verdict,
    )


@dataclass(frozen=True, kw_only=True)
class DiagnoseOut:
    """The causes alone."""

    causes: tuple[Cause, ...] = about("most weighty first; empty when nothing is wrong")


@operation(
    "run.diagnose",
    title="Which error is it?",
    family="Runs and adjusting",
    words="cause zero span hysteresis stuck noise reversed outlier why diagnosis",
    formula="each signature is tested against shares of the limit",
    source="terms of IEC 61298-2; thresholds in docs/methods",
    example=EXAMPLE,
)
def diagnose_run(request: EvaluateIn) -> DiagnoseOut:
    """Name the causes of the errors of a run.

    Raises
    ------
    InputError
        As :func:`evaluate`.

    References
    ----------
    As :func:`calibration.diagnosis.diagnose`.
    """
    return DiagnoseOut(causes=evaluate(request).diagnosis)
