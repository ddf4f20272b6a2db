"""When a detector is clear of gas, and its bypass may come off."""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import pairwise

from calibration.kernel.checks import between, positive
from calibration.kernel.codec import about
from calibration.kernel.errors import InputError
from calibration.kernel.fits import least_squares
from calibration.kernel.pictures import Chart, Picture, Rule, Series, sampled
from calibration.kernel.registry import operation
from calibration.signals.stability import Sample


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
