"""Gas detectors: bump check, zero, span, and when it is safe to put back."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Literal

from calibration.checks import between, positive
from calibration.codec import about
from calibration.errors import InputError
from calibration.fits import least_squares
from calibration.pictures import Band, Chart, Picture, Rule, Series, Spot, sampled
from calibration.registry import operation
from calibration.stability import AssessIn, Sample
from calibration.stability import assess as steadiness

Outcome = Literal[
    "accepted",
    "zero_gas_suspect",
    "no_response",
    "low_response",
    "high_response",
    "out_of_range",
    "unstable",
]
#: Below this share of the gas value there is no response at all. [%]
NONE_BELOW = 10.0
FAMILY_CAUTION = (
    "Put the detector in bypass, tell the operator, and take it out again, by the site's procedure."
)
GAS_CAUTION = "Calibration gas can harm: ventilate, and check the flow and the regulator first."


@dataclass(frozen=True, kw_only=True)
class Visit:
    """What was seen while gas was on: samples, or the settled value alone."""

    value: float | None = about("settled value", unit="gas unit", default=None)
    samples: tuple[Sample, ...] = about("or samples while gas is on", default=())
    band_percent: float = about("steady within, of the gas value", unit="%", default=2.0)
    dwell_s: float = about("steady for", unit="s", default=20.0)


@dataclass(frozen=True)
class _Seen:
    settled: float
    peak: float
    steady: bool


def _seen(visit: Visit, scale: float) -> _Seen:
    if visit.value is not None and not visit.samples:
        return _Seen(visit.value, visit.value, True)
    if not visit.samples:
        raise InputError(
            "value.needed",
            "value",
            "Neither a settled value nor samples are given.",
            "Type the value that the instrument settled at.",
        )
    positive(visit.band_percent, "band_percent", "band", "%")
    band = visit.band_percent / 100 * scale
    state = steadiness(AssessIn(samples=visit.samples, band=band, dwell_s=visit.dwell_s))
    settled = state.mean if visit.value is None else visit.value
    return _Seen(settled, max(s.value for s in visit.samples), state.stable)


def t90(samples: Sequence[Sample], start: float, end: float) -> float | None:
    """Return the time from the first sample to 90 % of the step, between samples by a line. [s]

    References
    ----------
    t90 as in IEC 60079-29-1: time to 90 % of the final indication.
    """
    wanted = start + 0.9 * (end - start)
    rising = end > start
    before = None
    for sample in samples:
        if (sample.value >= wanted) == rising or sample.value == wanted:
            if before is None or sample.value == before.value:
                return sample.t - samples[0].t
            share = (wanted - before.value) / (sample.value - before.value)
            return before.t + share * (sample.t - before.t) - samples[0].t
        before = sample
    return None


@dataclass(frozen=True, kw_only=True)
class BumpIn(Visit):
    """A response check with target gas; it changes nothing."""

    gas_value: float = about("gas value of the cylinder", unit="gas unit")
    tolerance_percent: float = about("accepted within, of the gas value", unit="%", default=20.0)
    t90_limit_s: float | None = about("t90 accepted to", unit="s", default=None)


@dataclass(frozen=True, kw_only=True)
class BumpOut:
    """Whether it responds well and fast enough."""

    outcome: Outcome = about("outcome")
    settled: float = about("settled value", unit="gas unit")
    peak: float = about("peak", unit="gas unit")
    sensitivity_percent: float = about("response, of the gas value", unit="%", decimals=1)
    t90_s: float | None = about("t90", unit="s", decimals=1)
    fast_enough: bool | None = about("fast enough")
    advice: str = about("advice")


ADVICE = {
    "accepted": "It responds as it should.",
    "no_response": "No response: is gas flowing, the adapter tight, the sensor in, the gas right?",
    "low_response": "Low: look for a blocked filter, low flow, another cylinder value, a tired or "
    "poisoned sensor.",
    "high_response": "High: check the cylinder value, the flow and the last adjustment.",
    "unstable": "It did not settle: check flow and adapter, wait, then take it again.",
    "out_of_range": "Outside the range of the instrument: check the gas and the settings.",
    "zero_gas_suspect": "Something is in the zero gas or in the air around: do not force the zero.",
}
SLOW = "Slow: look for a blocked filter, a wet membrane or low flow."


def _visit_picture(i: BumpIn | SpanIn, settled: float, low: float, high: float) -> Picture:
    points = tuple((s.t, s.value) for s in i.samples) or ((0.0, 0.0), (1.0, settled))
    return Chart(
        alt=f"Response to {i.gas_value:g} of gas, settled at {settled:.4g}.",
        x_label="Time [s]" if i.samples else "",
        y_label="Reading",
        series=(Series(points=points, style="line" if i.samples else "dash"),),
        bands=(Band(axis="y", start=low, end=high, label="accepted"),),
        rules=(Rule(axis="y", at=i.gas_value, label="gas value"),),
        spots=(Spot(x=points[-1][0], y=settled, label=f"{settled:.4g}"),),
    )


_RISE = [
    {"t": 10 * n, "value": value}
    for n, value in enumerate(["0", "22", "37", "44", "47", "48", "48.4", "48.5", "48.5", "48.4"])
]


@operation(
    "detector.bump",
    title="Bump check",
    family="Gas detectors",
    formula="response % = 100 × settled / gas value;  t90 = time to 90 % of the settled value",
    source="t90 as in IEC 60079-29-1; limits are site defaults",
    example={"samples": _RISE, "gas_value": "50", "t90_limit_s": "60"},
    words="bump response check test detector t90 sensitivity",
    cautions=(FAMILY_CAUTION, GAS_CAUTION, "A bump check proves response; it adjusts nothing."),
    worked=lambda i, o: [
        f"100 × {o.settled:.4g} / {i.gas_value:g} = {o.sensitivity_percent:.1f} %"
    ],
    picture=lambda i, o: _visit_picture(
        i,
        o.settled,
        i.gas_value * (1 - i.tolerance_percent / 100),
        i.gas_value * (1 + i.tolerance_percent / 100),
    ),
)
def bump(request: BumpIn) -> BumpOut:
    """Judge a response check.

    Raises
    ------
    InputError
        ``gas_value.not_positive``, ``value.needed``, ``tolerance_percent.out_of_range`` and those
        of the steadiness test.

    References
    ----------
    IEC 60079-29-1 for t90; the rest is a rule of this product.
    """
    positive(request.gas_value, "gas_value", "gas value")
    between(request.tolerance_percent, 0.1, 90, "tolerance_percent", "tolerance", "%")
    seen = _seen(request, request.gas_value)
    percent = 100 * seen.settled / request.gas_value
    outcome = _response(percent, 100 - request.tolerance_percent, 100 + request.tolerance_percent)
    if not seen.steady and outcome != "no_response":
        outcome = "unstable"
    time = None
    if request.samples and percent >= NONE_BELOW:
        time = t90(request.samples, request.samples[0].value, seen.settled)
    limit = request.t90_limit_s
    fast = None if limit is None or time is None else time <= limit
    return BumpOut(
        outcome=outcome,
        settled=seen.settled,
        peak=seen.peak,
        sensitivity_percent=percent,
        t90_s=time,
        fast_enough=fast,
        advice=SLOW if fast is False and outcome == "accepted" else ADVICE[outcome],
    )


def _response(percent: float, low: float, high: float) -> Outcome:
    if percent < NONE_BELOW:
        return "no_response"
    if percent < low - 1e-9:
        return "low_response"
    if percent > high + 1e-9:
        return "high_response"
    return "accepted"


@dataclass(frozen=True, kw_only=True)
class ZeroIn(Visit):
    """A reading in zero gas, before the zero is adjusted."""

    range: float = about("range of the instrument", unit="gas unit")
    allowed_percent: float = about("zero may be adjusted to", unit="% of range", default=10.0)
    accept_percent: float = about("zero is good to", unit="% of range", default=1.0)


@dataclass(frozen=True, kw_only=True)
class ZeroOut:
    """Whether the zero may be adjusted, and needs to be."""

    outcome: Outcome = about("outcome")
    settled: float = about("settled value", unit="gas unit")
    percent_of_range: float = about("zero", unit="% of range", decimals=2)
    adjust: bool = about("needs adjusting")
    advice: str = about("advice")


def _zero_picture(i: ZeroIn, o: ZeroOut) -> Picture:
    points = tuple((s.t, s.value) for s in i.samples) or ((0.0, o.settled), (1.0, o.settled))
    allowed, good = i.allowed_percent * i.range / 100, i.accept_percent * i.range / 100
    return Chart(
        alt=f"Reading in zero gas, settled at {o.settled:.3g}.",
        x_label="Time [s]" if i.samples else "",
        y_label="Reading",
        series=(Series(points=points),),
        bands=(Band(axis="y", start=-good, end=good, label="good"),),
        rules=(
            Rule(axis="y", at=allowed, label="adjusting range", tone="edge"),
            Rule(axis="y", at=-allowed, tone="edge"),
        ),
    )


@operation(
    "detector.zero",
    title="Detector zero",
    family="Gas detectors",
    formula="zero % = 100 × settled / range, against the good and the adjustable share",
    source="limits are site defaults; the detector's manual decides",
    example={"value": "2.4", "range": "100"},
    words="zero gas air background detector catalytic electrochemical",
    cautions=(
        FAMILY_CAUTION,
        "Never take ambient air as zero gas where the target gas may be present.",
    ),
    worked=lambda i, o: [f"100 × {o.settled:.4g} / {i.range:g} = {o.percent_of_range:.2f} %"],
    picture=_zero_picture,
)
def zero(request: ZeroIn) -> ZeroOut:
    """Judge a zero before it is adjusted; a high one may be gas, and is never forced.

    Raises
    ------
    InputError
        ``range.not_positive``, ``value.needed``, ``accept_percent.out_of_range``,
        ``allowed_percent.out_of_range``.

    References
    ----------
    Rule of this product, editable by the site.
    """
    positive(request.range, "range", "range")
    between(request.allowed_percent, 0.1, 100, "allowed_percent", "adjusting range", "%")
    between(request.accept_percent, 0.01, 100, "accept_percent", "limit of a good zero", "%")
    seen = _seen(request, request.range)
    percent = 100 * seen.settled / request.range
    outcome: Outcome = "accepted"
    advice = "Set the zero, then look at it again."
    if not seen.steady:
        outcome, advice = "unstable", ADVICE["unstable"]
    elif percent > request.allowed_percent:
        outcome, advice = "zero_gas_suspect", ADVICE["zero_gas_suspect"]
    elif percent < -request.allowed_percent:
        outcome = "out_of_range"
        advice = (
            "Far below zero: it was probably zeroed with gas around. Clean zero gas, then set it."
        )
    adjust = outcome == "accepted" and abs(percent) > request.accept_percent
    if outcome == "accepted" and not adjust:
        advice = "The zero is good: leave it."
    return ZeroOut(
        outcome=outcome,
        settled=seen.settled,
        percent_of_range=percent,
        adjust=adjust,
        advice=advice,
    )


@dataclass(frozen=True, kw_only=True)
class SpanIn(Visit):
    """A reading in span gas, after zero and before the span is adjusted."""

    gas_value: float = about("gas value of the cylinder", unit="gas unit")
    zero_value: float = about("reading in zero gas", unit="gas unit", default=0.0)
    range: float | None = about("range of the instrument", unit="gas unit", default=None)
    allowed_low_percent: float = about("span may be adjusted from", unit="%", default=50.0)
    allowed_high_percent: float = about("span may be adjusted to", unit="%", default=150.0)
    accept_percent: float = about("span is good within", unit="%", default=5.0)


@dataclass(frozen=True, kw_only=True)
class SpanOut:
    """Whether the span may be adjusted, and needs to be."""

    outcome: Outcome = about("outcome")
    settled: float = about("settled value", unit="gas unit")
    sensitivity_percent: float = about("sensitivity", unit="%", decimals=1)
    peak: float = about("peak", unit="gas unit")
    t90_s: float | None = about("t90", unit="s", decimals=1)
    adjust: bool = about("needs adjusting")
    gain: float | None = about("gain that puts it right", decimals=4)
    advice: str = about("advice")


@operation(
    "detector.span",
    title="Detector span",
    family="Gas detectors",
    formula="sensitivity % = 100 × (settled − zero) / gas value;  gain = 100 / sensitivity %",
    source="limits are site defaults; the detector's manual decides",
    example={"samples": _RISE, "gas_value": "50", "zero_value": "0.4", "range": "100"},
    words="span gas detector sensitivity adjust calibrate catalytic electrochemical",
    cautions=(FAMILY_CAUTION, GAS_CAUTION, "Never force a span that the instrument refuses."),
    worked=lambda i, o: [
        f"100 × ({o.settled:.4g} − {i.zero_value:g}) / {i.gas_value:g} "
        f"= {o.sensitivity_percent:.1f} %"
    ],
    picture=lambda i, o: _visit_picture(
        i,
        o.settled,
        i.gas_value * (1 - i.accept_percent / 100),
        i.gas_value * (1 + i.accept_percent / 100),
    ),
)
def span(request: SpanIn) -> SpanOut:
    """Judge a response to span gas before it is adjusted.

    Raises
    ------
    InputError
        ``gas_value.not_positive``, ``value.needed``, ``allowed.order``, ``range.not_positive``,
        ``accept_percent.out_of_range``.

    References
    ----------
    Rule of this product, editable by the site.
    """
    positive(request.gas_value, "gas_value", "gas value")
    between(request.accept_percent, 0.1, 90, "accept_percent", "limit of a good span", "%")
    if request.range is not None:
        positive(request.range, "range", "range")
    if not 0 < request.allowed_low_percent < request.allowed_high_percent:
        raise InputError(
            "allowed.order",
            "allowed_low_percent",
            "The adjusting range is empty.",
            "Give the low end below the high end, for example 50 and 150.",
        )
    seen = _seen(request, request.gas_value)
    percent = 100 * (seen.settled - request.zero_value) / request.gas_value
    outcome = _response(percent, request.allowed_low_percent, request.allowed_high_percent)
    if request.range is not None and seen.settled > request.range:
        outcome = "out_of_range"
    elif not seen.steady and outcome != "no_response":
        outcome = "unstable"
    adjust = outcome == "accepted" and abs(percent - 100) > request.accept_percent
    advice = ADVICE[outcome]
    if outcome == "accepted":
        advice = "Set the span, then look at it again." if adjust else "The span is good: leave it."
    elif outcome == "low_response":
        advice += " Below its adjusting range a sensor is replaced, not forced."
    time = None
    if request.samples and percent >= NONE_BELOW:
        time = t90(request.samples, request.samples[0].value, seen.settled)
    return SpanOut(
        outcome=outcome,
        settled=seen.settled,
        sensitivity_percent=percent,
        peak=seen.peak,
        t90_s=time,
        adjust=adjust,
        gain=100 / percent if outcome == "accepted" else None,
        advice=advice,
    )


@dataclass(frozen=True, kw_only=True)
class ReturnIn:
    """Readings after the gas was shut off."""

    samples: tuple[Sample, ...] = about("samples since gas off")
    gas_value: float = about("gas value of the cylinder", unit="gas unit")
    threshold_percent: float = about("safe below, of the gas value", unit="%", default=5.0)


@dataclass(frozen=True, kw_only=True)
class ReturnOut:
    """Whether the bypass may come off."""

    clear: bool = about("clear")
    last: float = about("last reading", unit="gas unit")
    threshold: float = about("safe below", unit="gas unit")
    time_constant_s: float | None = about("time constant of the fall", unit="s", decimals=1)
    seconds_to_clear: float | None = about("still to wait", unit="s", decimals=0)
    advice: str = about("advice")


def _return_picture(i: ReturnIn, o: ReturnOut) -> Picture:
    points = tuple((s.t, s.value) for s in i.samples)
    series = [Series(points=points, style="dots", name="readings")]
    tau = o.time_constant_s
    if tau:
        start, last = points[0][0], points[-1]
        end = last[0] + (o.seconds_to_clear or 0) * 1.2
        curve = sampled(lambda t: last[1] * math.exp((last[0] - t) / tau), start, max(end, last[0]))
        series.append(Series(points=curve, name="fitted fall", style="dash"))
    return Chart(
        alt="Readings after gas off, falling to the safe threshold.",
        x_label="Time since gas off [s]",
        y_label="Reading",
        series=tuple(series),
        rules=(Rule(axis="y", at=o.threshold, label="safe below", tone="edge"),),
    )


@operation(
    "detector.return_to_service",
    title="Clear of gas: may the bypass come off?",
    family="Gas detectors",
    formula="reading = c·e^(−t/τ), fitted to ln(reading);  wait = τ · ln(last / threshold)",
    source="first-order decay by least squares on the logarithm",
    example={
        "samples": [
            {"t": 0, "value": "48"},
            {"t": 15, "value": "27"},
            {"t": 30, "value": "15.5"},
            {"t": 45, "value": "8.6"},
        ],
        "gas_value": "50",
    },
    words="bypass remove return service gas off clear inhibit decay wait",
    cautions=(
        "An instrument left in bypass is the worst mistake: tell the operator when it is back.",
        "A reading that does not fall may be real gas.",
    ),
    worked=lambda i, o: (
        [f"safe below {i.threshold_percent:g} % of {i.gas_value:g} = {o.threshold:g}"]
        + ([] if o.time_constant_s is None else [f"τ = {o.time_constant_s:.1f} s"])
    ),
    picture=_return_picture,
)
def return_to_service(request: ReturnIn) -> ReturnOut:
    """Say whether the reading is below the threshold, or how long that will take.

    Raises
    ------
    InputError
        ``samples.too_few``, ``samples.order``, ``gas_value.not_positive``,
        ``threshold_percent.out_of_range``.

    References
    ----------
    First-order decay, least squares on the logarithm of the readings.
    """
    positive(request.gas_value, "gas_value", "gas value")
    between(request.threshold_percent, 0.1, 50, "threshold_percent", "threshold", "%")
    samples = request.samples
    if not samples:
        raise InputError(
            "samples.too_few", "samples", "No reading since gas off.", "Add a reading."
        )
    if any(b.t <= a.t for a, b in pairwise(samples)):
        raise InputError(
            "samples.order", "samples", "The times must rise.", "Sort the readings by time."
        )
    threshold = request.threshold_percent / 100 * request.gas_value
    last = samples[-1].value
    clear = last <= threshold
    noise = request.gas_value / 200
    above = [s for s in samples if s.value > noise]
    tau = None
    if len(above) >= 3:
        slope = least_squares([s.t for s in above], [math.log(s.value) for s in above]).slope
        tau = -1 / slope if slope < -1e-9 else None
    wait = 0.0 if clear else tau * math.log(last / threshold) if tau else None
    if clear:
        advice = "Below the threshold: reset latched alarms, then take the bypass off."
    elif wait is None and len(above) >= 3:
        advice = "It does not fall: check that gas is off, the adapter is off, and for real gas."
    elif wait is None:
        advice = "Still above; add readings to know how long it takes."
    else:
        advice = f"Keep the bypass on: about {wait:.0f} s more."
    return ReturnOut(
        clear=clear,
        last=last,
        threshold=threshold,
        time_constant_s=tau,
        seconds_to_clear=wait,
        advice=advice,
    )
