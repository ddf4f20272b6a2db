"""What every visit to a gas detector shares: samples, steadiness, t90, outcomes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from calibration.kernel.checks import positive
from calibration.kernel.codec import about
from calibration.kernel.errors import InputError
from calibration.kernel.pictures import Band, Chart, Picture, Rule, Series, Spot
from calibration.signals.stability import AssessIn, Sample
from calibration.signals.stability import assess as steadiness

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
class Seen:
    """What a visit amounts to."""

    settled: float
    peak: float
    steady: bool


def seen_in(visit: Visit, scale: float) -> Seen:
    """Return settled value, peak and steadiness; the band is a share of ``scale``.

    Raises
    ------
    InputError
        ``value.needed``, ``band_percent.not_positive`` and those of the steadiness test.

    >>> seen_in(Visit(value=24.6), 25.0)
    Seen(settled=24.6, peak=24.6, steady=True)
    """
    if visit.value is not None and not visit.samples:
        return Seen(visit.value, visit.value, True)
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
    return Seen(settled, max(s.value for s in visit.samples), state.stable)


def t90(samples: Sequence[Sample], start: float, end: float) -> float | None:
    """Return the time from the first sample to 90 % of the step, between samples by a line. [s]

    References
    ----------
    t90 as in IEC 60079-29-1: time to 90 % of the final indication.

    >>> t90([Sample(t=0.0, value=0.0), Sample(t=10.0, value=20.0)], 0.0, 20.0)
    9.0
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


def visit_picture(
    samples: Sequence[Sample], gas_value: float, settled: float, low: float, high: float
) -> Picture:
    """Return the response over time with the accepted band.

    >>> drawn = visit_picture([Sample(t=0.0, value=0.0), Sample(t=10.0, value=20.0)],
    ...                       20.0, 20.0, 18.0, 22.0)
    >>> drawn.y_label
    'Reading'
    """
    points = tuple((s.t, s.value) for s in samples) or ((0.0, 0.0), (1.0, settled))
    return Chart(
        alt=f"Response to {gas_value:g} of gas, settled at {settled:.4g}.",
        x_label="Time [s]" if samples else "",
        y_label="Reading",
        series=(Series(points=points, style="line" if samples else "dash"),),
        bands=(Band(axis="y", start=low, end=high, label="accepted"),),
        rules=(Rule(axis="y", at=gas_value, label="gas value"),),
        spots=(Spot(x=points[-1][0], y=settled, label=f"{settled:.4g}"),),
    )


RISE = [
    {"t": 10 * n, "value": value}
    for n, value in enumerate(["0", "22", "37", "44", "47", "48", "48.4", "48.5", "48.5", "48.4"])
]


def outcome_of(percent: float, low: float, high: float) -> Outcome:
    """Return the outcome of a response in percent of the gas value.

    >>> outcome_of(102.0, 95.0, 105.0), outcome_of(4.0, 95.0, 105.0)
    ('accepted', 'no_response')
    """
    if percent < NONE_BELOW:
        return "no_response"
    if percent < low - 1e-9:
        return "low_response"
    if percent > high + 1e-9:
        return "high_response"
    return "accepted"
