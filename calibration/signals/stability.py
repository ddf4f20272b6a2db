"""Is the reading steady enough to take?"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

from calibration.kernel.codec import about
from calibration.kernel.errors import InputError
from calibration.kernel.fits import least_squares
from calibration.kernel.registry import operation


@dataclass(frozen=True, kw_only=True)
class Sample:
    """One value of the live signal."""

    t: float = about("time", unit="s")
    value: float = about("value", unit="reading unit")


@dataclass(frozen=True, kw_only=True)
class AssessIn:
    """The last stretch of a live signal and what counts as steady."""

    samples: tuple[Sample, ...] = about("oldest first, times rising", label="samples, oldest first")
    band: float = about(
        "largest distance from the mean", label="within the mean by", unit="reading unit"
    )
    dwell_s: float = about("how long it must hold", label="hold for", unit="s")
    slope_limit: float | None = about(
        "largest slope over the dwell",
        label="largest slope",
        unit="reading unit per s",
        default=None,
    )


@dataclass(frozen=True, kw_only=True)
class AssessOut:
    """Steadiness now."""

    stable: bool = about("true when the whole dwell is in band and flat enough", label="steady")
    since_s: float = about("how long it has been in band", label="in band for", unit="s")
    mean: float = about(
        "mean over the dwell, or what there is of it", label="mean", unit="reading unit"
    )
    std: float | None = about(
        "standard deviation of one sample; none of a single one",
        label="standard deviation",
        unit="reading unit",
    )
    slope: float | None = about(
        "least-squares slope; none of a single sample", label="slope", unit="reading unit per s"
    )
    remaining_s: float = about("at least this long still", label="still to wait", unit="s")
    samples_used: int = about("samples in the dwell", label="samples used")


@operation(
    "stability.assess",
    title="Steady enough?",
    family="Signals and loops",
    words="stable steady settle noise drift dwell band",
    formula="all samples of the dwell within ±band of their mean, |slope| ≤ limit",
    source="rule of this product; the slope is by least squares",
    example={
        "samples": [{"t": 0, "value": 12.01}, {"t": 5, "value": 12.0}, {"t": 10, "value": 12.0}],
        "band": 0.02,
        "dwell_s": 10,
    },
)
def assess(request: AssessIn) -> AssessOut:
    """Judge the newest ``dwell_s`` seconds of a signal.

    Raises
    ------
    InputError
        ``samples.none``, ``samples.order``, ``band.not_positive``, ``dwell.not_positive``.

    References
    ----------
    Rule of this product: in band *and* dwell, see docs/methods.
    """
    samples = request.samples
    _check(request)
    end = samples[-1].t
    held = _held_since(samples, request.band)
    window = [s for s in samples if s.t >= end - request.dwell_s - 1e-9]
    covered = window[0].t <= end - request.dwell_s + _gap(samples)
    values = [s.value for s in window]
    mean = sum(values) / len(values)
    slope = least_squares([s.t - end for s in window], values).slope
    flat = request.slope_limit is None or abs(slope) <= request.slope_limit
    in_band = max(values) - mean <= request.band and mean - min(values) <= request.band
    stable = covered and in_band and flat and end - samples[0].t >= request.dwell_s - 1e-9
    since = end - held
    return AssessOut(
        stable=stable,
        since_s=since,
        mean=mean,
        std=_std(values, mean),
        slope=slope if len(values) > 1 else None,
        remaining_s=0.0 if stable else max(0.0, request.dwell_s - since),
        samples_used=len(values),
    )


def _check(request: AssessIn) -> None:
    if not request.samples:
        raise InputError("samples.none", "samples", "There are no samples.", "Wait for a reading.")
    if request.band <= 0:
        raise InputError("band.not_positive", "band", "The band must be above 0.", "Widen it.")
    if request.dwell_s <= 0:
        raise InputError("dwell.not_positive", "dwell_s", "The dwell must be above 0.", "Use s.")
    times = [s.t for s in request.samples]
    if any(b <= a for a, b in itertools.pairwise(times)):
        raise InputError(
            "samples.order", "samples", "The times do not rise.", "Send them oldest first."
        )


def _gap(samples: Sequence[Sample]) -> float:
    """Return the widest step between samples: the dwell may start inside one."""
    return max((b.t - a.t for a, b in itertools.pairwise(samples)), default=0.0)


def _held_since(samples: Sequence[Sample], band: float) -> float:
    """Return the time from which on every sample lies within the band of the common mean."""
    low = high = samples[-1].value
    total, count, since = 0.0, 0, samples[-1].t
    for sample in reversed(samples):
        low, high = min(low, sample.value), max(high, sample.value)
        total, count = total + sample.value, count + 1
        mean = total / count
        if high - mean > band or mean - low > band:
            break
        since = sample.t
    return since


def _std(values: Sequence[float], mean: float) -> float | None:
    if len(values) < 2:
        return None
    return math.sqrt(sum((v - mean) ** 2 for v in values) / (len(values) - 1))
