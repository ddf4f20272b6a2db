"""Zero and span of a gas detector, judged before they are adjusted."""

from __future__ import annotations

from dataclasses import dataclass

from calibration.detector.visit import (
    ADVICE,
    FAMILY_CAUTION,
    GAS_CAUTION,
    NONE_BELOW,
    RISE,
    Outcome,
    Visit,
    outcome_of,
    seen_in,
    t90,
    visit_picture,
)
from calibration.kernel.checks import between, positive
from calibration.kernel.codec import about
from calibration.kernel.errors import InputError
from calibration.kernel.pictures import Band, Chart, Picture, Rule, Series
from calibration.kernel.registry import operation


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
    seen = seen_in(request, request.range)
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
    example={"samples": RISE, "gas_value": "50", "zero_value": "0.4", "range": "100"},
    words="span gas detector sensitivity adjust calibrate catalytic electrochemical",
    cautions=(FAMILY_CAUTION, GAS_CAUTION, "Never force a span that the instrument refuses."),
    worked=lambda i, o: [
        f"100 × ({o.settled:.4g} − {i.zero_value:g}) / {i.gas_value:g} "
        f"= {o.sensitivity_percent:.1f} %"
    ],
    picture=lambda i, o: visit_picture(
        i.samples,
        i.gas_value,
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
    seen = seen_in(request, request.gas_value)
    percent = 100 * (seen.settled - request.zero_value) / request.gas_value
    outcome = outcome_of(percent, request.allowed_low_percent, request.allowed_high_percent)
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
