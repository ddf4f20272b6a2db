"""Combining contributions to an uncertainty budget."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from calibration.kernel.codec import about
from calibration.kernel.distributions import coverage_factor
from calibration.kernel.errors import InputError
from calibration.kernel.registry import operation

Kind = Literal["standard", "expanded", "limit", "resolution", "type_a"]
Distribution = Literal["normal", "rectangular", "triangular", "u_shaped"]

#: Divisors from half-width to standard uncertainty: JCGM 100, 4.3.7 and 4.3.9; U-shaped arcsine.
DIVISORS = {
    "rectangular": math.sqrt(3),
    "triangular": math.sqrt(6),
    "u_shaped": math.sqrt(2),
    "normal": 2.0,
}


@dataclass(frozen=True, kw_only=True)
class Contribution:
    """One source of uncertainty."""

    name: str = about("what it is", label="what")
    value: float = about("as its source states it", label="value", unit="own unit")
    kind: Kind = about("what the value is", label="kind", default="standard")
    distribution: Distribution = about("for a limit", label="distribution", default="rectangular")
    k: float | None = about("coverage factor of an expanded value", label="k", default=None)
    divisor: float | None = about("own divisor, instead", label="own divisor", default=None)
    sensitivity: float = about("result unit per own unit", label="sensitivity", default=1.0)
    dof: float | None = about(
        "degrees of freedom; none is unlimited", label="degrees of freedom", default=None
    )


@dataclass(frozen=True, kw_only=True)
class CombineIn:
    """The budget."""

    contributions: tuple[Contribution, ...] = about("all sources", label="contributions")
    coverage: float = about("coverage probability", default=0.9545)


@dataclass(frozen=True, kw_only=True)
class Share:
    """One line of the finished budget."""

    name: str = about("what it is")
    divisor: float = about("from stated value to standard uncertainty", label="divisor")
    standard_uncertainty: float = about(
        "its part", label="standard uncertainty", unit="result unit", significant=3
    )
    share_percent: float = about("its part of the variance", label="share", unit="%", significant=3)


@dataclass(frozen=True, kw_only=True)
class CombineOut:
    """The budget added up."""

    expanded_uncertainty: float = about(
        "k times the standard uncertainty",
        label="expanded uncertainty U",
        unit="result unit",
        significant=2,
    )
    k: float = about("coverage factor from Student t", label="coverage factor k", significant=3)
    standard_uncertainty: float = about(
        "combined", label="standard uncertainty u", unit="result unit", significant=3
    )
    effective_dof: float | None = about(
        "Welch-Satterthwaite; null is unlimited",
        label="effective degrees of freedom",
        significant=3,
    )
    shares: tuple[Share, ...] = about("same order as given", label="shares")


@operation(
    "uncertainty.combine",
    title="Add up an uncertainty budget",
    family="Limits and decisions",
    words="gum budget coverage factor degrees of freedom welch type a",
    worked=lambda i, o: [
        f"u = √({' + '.join(f'{s.standard_uncertainty:.3g}²' for s in o.shares)}) "
        f"= {o.standard_uncertainty:.4g}",
        f"U = {o.k:.4g} × {o.standard_uncertainty:.4g} = {o.expanded_uncertainty:.4g}",
    ],
    formula="u² = Σ (c·u_i)²; ν = u⁴ / Σ (u_i⁴/ν_i); U = k·u, k from Student t at 95.45 %",
    source="JCGM 100:2008, 5.1.2, G.4.1 and table G.2",
    example={
        "contributions": [
            {"name": "reference", "value": 0.05, "kind": "limit"},
            {"name": "resolution", "value": 0.01, "kind": "resolution"},
            {"name": "repeats", "value": 0.02, "kind": "type_a", "dof": 4},
        ]
    },
)
def combine(request: CombineIn) -> CombineOut:
    """Combine independent contributions.

    ``resolution`` is the step of the display: half of it, rectangular. ``type_a`` is a standard
    deviation of the mean.

    Raises
    ------
    InputError
        ``contributions.none``, ``contribution.negative``, ``divisor.not_positive``,
        ``dof.too_small``, ``coverage.range``.

    References
    ----------
    JCGM 100:2008 (GUM), equations 10 and G.2b, clause F.2.2.1 for the resolution.
    """
    if not request.contributions:
        raise InputError(
            "contributions.none", "contributions", "The budget is empty.", "Add a contribution."
        )
    if not 0 < request.coverage < 1:
        raise InputError("coverage.range", "coverage", "Must lie between 0 and 1.", "Use 0.9545.")
    divisors = [_divisor(c, i) for i, c in enumerate(request.contributions)]
    parts = [
        abs(c.sensitivity) * c.value / d
        for c, d in zip(request.contributions, divisors, strict=True)
    ]
    variance = sum(p * p for p in parts)
    dof = _effective_dof(request.contributions, parts, variance)
    k = coverage_factor(dof, request.coverage)
    u = math.sqrt(variance)
    return CombineOut(
        standard_uncertainty=u,
        effective_dof=None if math.isinf(dof) else dof,
        k=k,
        expanded_uncertainty=k * u,
        shares=tuple(
            Share(
                name=c.name,
                divisor=d,
                standard_uncertainty=p,
                share_percent=100 * p * p / variance if variance else 0.0,
            )
            for c, d, p in zip(request.contributions, divisors, parts, strict=True)
        ),
    )


def _divisor(c: Contribution, index: int) -> float:
    at = f"contributions.{index}"
    if c.value < 0:
        raise InputError(
            "contribution.negative", f"{at}.value", f"'{c.name}' is negative.", "Leave the sign."
        )
    if c.dof is not None and c.dof < 1:
        raise InputError("dof.too_small", f"{at}.dof", "Below 1.", "Give 1 or more, or none.")
    if c.divisor is not None:
        divisor = c.divisor
    elif c.kind == "expanded":
        divisor = c.k if c.k is not None else 2.0
    elif c.kind == "limit":
        divisor = DIVISORS[c.distribution]
    elif c.kind == "resolution":
        divisor = 2 * DIVISORS["rectangular"]
    else:
        divisor = 1.0
    if divisor <= 0:
        raise InputError(
            "divisor.not_positive", f"{at}.divisor", "The divisor must be above 0.", "Check it."
        )
    return divisor


def _effective_dof(
    contributions: tuple[Contribution, ...], parts: list[float], variance: float
) -> float:
    weight = sum(
        p**4 / c.dof
        for c, p in zip(contributions, parts, strict=True)
        if c.dof is not None and not math.isinf(c.dof)
    )
    return variance * variance / weight if weight > 0 else math.inf
