"""A flow meter against a quantity that was weighed or metered beside it."""

from __future__ import annotations

import math
from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from calibration.kernel.checks import between, not_negative, positive, some
from calibration.kernel.codec import about
from calibration.kernel.distributions import coverage_factor
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import to_float
from calibration.kernel.pictures import Bar, Bars, Picture
from calibration.kernel.registry import operation

#: Fewer runs show no scatter that means anything.
LEAST = 3
#: Range of n values in standard deviations, by n (d₂). NIST/SEMATECH e-Handbook, 6.3.2.
RANGE_IN_S = {3: 1.693, 4: 2.059, 5: 2.326, 6: 2.534, 7: 2.704, 8: 2.847, 9: 2.970, 10: 3.078}
#: Air and the weights of a scale, as by convention. [kg/m³] OIML D 28:2004, 4.
AIR, WEIGHTS = 1.2, 8000.0


@dataclass(frozen=True, kw_only=True)
class ProvedRun:
    """One run: what the meter counted, and what it was."""

    counted: Decimal = about("counted by the meter", unit="kg")
    reference: Decimal = about("weighed, or metered beside it", unit="kg")


@dataclass(frozen=True, kw_only=True)
class ProveIn:
    """All runs at one flow."""

    runs: tuple[ProvedRun, ...] = about("runs")
    reference_is: Literal["weighed", "metered"] = about("the reference", default="weighed")
    density: Decimal = about("density of the fluid", unit="kg/m³", default=Decimal(1000))
    reference_percent: Decimal = about(
        "expanded uncertainty of the reference", unit="%", default=Decimal("0.05")
    )
    repeat_percent: Decimal = about(
        "all runs within", unit="%", default=Decimal("0.05"), label="Repeatability accepted"
    )
    limit_percent: Decimal = about("error accepted to", unit="%", default=Decimal("0.2"))


@dataclass(frozen=True, kw_only=True)
class ProveOut:
    """What the meter is off, and how well that is known."""

    errors_percent: tuple[Decimal, ...] = about("error of each run", unit="%", decimals=3)
    error_percent: Decimal = about("mean error", unit="%", decimals=3)
    factor: Decimal = about("meter factor", decimals=5)
    range_percent: Decimal = about("between the farthest runs", unit="%", decimals=3)
    repeatable: bool = about("repeatable enough")
    mean_uncertainty_percent: Decimal = about(
        "uncertainty of the mean from the scatter", unit="%", decimals=3
    )
    uncertainty_percent: Decimal = about("expanded uncertainty", unit="%", decimals=3)
    buoyancy_percent: Decimal = about("air buoyancy, put right", unit="%", decimals=3)
    within: bool | None = about("within the limit")
    advice: str = about("advice")


def _picture(i: ProveIn, o: ProveOut) -> Picture:
    return Bars(
        alt=f"Error of each run; mean {o.error_percent:.3f} percent.",
        bars=tuple(
            Bar(label=f"run {n}", value=abs(float(e)), text=f"{e:+.3f} %")
            for n, e in enumerate(o.errors_percent, start=1)
        ),
    )


@operation(
    "flow.prove",
    title="Flow meter against a quantity",
    family="Flow",
    formula="error % = 100 × (counted − true) / true;  factor = mean of true / counted;  "
    "true = weighed × (1 − 1.2/8000) / (1 − 1.2/density);  "
    "u of the mean = t₉₅ × range / (d₂ × √n)",
    source="buoyancy: OIML D 28:2004; range to standard deviation: NIST/SEMATECH e-Handbook, "
    "6.3.2; t₉₅: JCGM 100:2008, table G.2",
    example={
        "runs": [
            {"counted": "1001.2", "reference": "1000.0"},
            {"counted": "1000.9", "reference": "1000.0"},
            {"counted": "1001.3", "reference": "1000.0"},
            {"counted": "1001.0", "reference": "1000.0"},
            {"counted": "1001.2", "reference": "1000.0"},
        ]
    },
    words="proving prover factor repeatability mass flow meter weighed tank",
    cautions=("Filling, draining and the fluid itself by the site's procedure.",),
    worked=lambda i, o: [
        f"buoyancy {o.buoyancy_percent:+.3f} %",
        f"range {o.range_percent:.3f} % over {len(i.runs)} runs: the mean is known to "
        f"±{o.mean_uncertainty_percent:.3f} %",
    ],
    picture=_picture,
)
def prove(request: ProveIn) -> ProveOut:
    """Give error, factor, repeatability and uncertainty of a meter against a quantity.

    Raises
    ------
    InputError
        ``runs.too_few``, ``runs.too_many``, ``counted.not_positive``, ``reference.not_positive``,
        ``density.out_of_range``, ``reference_percent.negative``, ``repeat_percent.not_positive``,
        ``limit_percent.not_positive``.

    References
    ----------
    OIML D 28:2004: a balance that is adjusted with weights of 8000 kg/m³ in air of 1.2 kg/m³ shows
    less than the mass of what is lighter than those. NIST/SEMATECH e-Handbook of Statistical
    Methods, 6.3.2, for d₂. JCGM 100:2008, G.3.
    """
    some(request.runs, "runs", "runs", LEAST)
    between(request.density, 100, 20_000, "density", "density", "kg/m³")
    not_negative(request.reference_percent, "reference_percent", "uncertainty")
    positive(request.repeat_percent, "repeat_percent", "repeatability", "%")
    positive(request.limit_percent, "limit_percent", "limit", "%")
    air = _buoyancy(request)
    errors, factors = [], []
    for n, run in enumerate(request.runs):
        positive(run.counted, f"runs.{n}.counted", "what was counted", "kg")
        positive(run.reference, f"runs.{n}.reference", "reference", "kg")
        true = run.reference * air
        errors.append(100 * (run.counted - true) / true)
        factors.append(true / run.counted)
    wide = max(errors) - min(errors)
    mean, count = sum(errors, Decimal(0)) / len(errors), len(errors)
    of_mean = Decimal(repr(_of_mean(to_float(wide), count)))
    whole = (of_mean**2 + request.reference_percent**2).sqrt()
    repeatable = wide <= request.repeat_percent
    within = abs(mean) <= request.limit_percent if repeatable else None
    return ProveOut(
        errors_percent=tuple(errors),
        error_percent=mean,
        factor=sum(factors, Decimal(0)) / len(factors),
        range_percent=wide,
        repeatable=repeatable,
        mean_uncertainty_percent=of_mean,
        uncertainty_percent=whole,
        buoyancy_percent=100 * (air - 1),
        within=within,
        advice=_advice(within),
    )


def _buoyancy(request: ProveIn) -> Decimal:
    """Return the mass of what was weighed, as a multiple of what the scale shows."""
    if request.reference_is != "weighed":
        return Decimal(1)
    density = to_float(request.density)
    return Decimal(repr((1 - AIR / WEIGHTS) / (1 - AIR / density)))


def _of_mean(wide: float, count: int) -> float:
    """Return how well a mean is known at 95 %, from the range of few runs. [as the range]"""
    most = max(RANGE_IN_S)
    if count > most:
        raise InputError(
            "runs.too_many",
            "runs",
            f"{count} runs at one flow; ten are enough.",
            "Give the last ten.",
        )
    s = wide / RANGE_IN_S[count]
    return coverage_factor(count - 1, 0.95) * s / math.sqrt(count)


def _advice(within: bool | None) -> str:
    if within is None:
        return (
            "The runs do not repeat: gas, valves that pass, a start that is not still. Find the "
            "cause and begin anew; no factor is taken from these."
        )
    return "Within the limit." if within else "Outside: the factor is set only by the site's rule."
