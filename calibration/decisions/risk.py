"""Global risks of an acceptance rule: bad ones accepted, good ones rejected."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from itertools import pairwise

from calibration.kernel.checks import positive
from calibration.kernel.codec import about
from calibration.kernel.distributions import normal_cdf
from calibration.kernel.pictures import Band, Chart, Picture, Rule, Series, sampled
from calibration.kernel.registry import operation

#: Nodes and weights of the 10-point Gauss-Legendre rule on [-1, 1]; Abramowitz and Stegun 25.4.
NODES = (
    (0.1488743389816312, 0.2955242247147529),
    (0.4333953941292472, 0.2692667193099963),
    (0.6794095682990244, 0.2190863625159820),
    (0.8650633666889845, 0.1494513491505806),
    (0.9739065285171717, 0.0666713443086881),
)
FAR = 9.0


@dataclass(frozen=True, kw_only=True)
class RiskIn:
    """All in one unit."""

    process_sigma: float = about("spread of the instruments, one sigma", unit="any")
    tolerance: float = about("limit of error, plus or minus", unit="same")
    standard_uncertainty: float = about("standard uncertainty of the check", unit="same")
    acceptance_limit: float | None = about("accepted up to; as the limit when empty", default=None)


@dataclass(frozen=True, kw_only=True)
class RiskOut:
    """Shares of all instruments, 0 to 1."""

    false_accept: float = about("accepted though outside", decimals=6)
    false_reject: float = about("rejected though within", decimals=6)
    outside: float = about("outside the limit in truth", decimals=6)
    accepted: float = about("accepted by the check", decimals=6)


def gauss_legendre(
    function: Callable[[float], float], start: float, end: float, panels: int
) -> float:
    """Return the integral of a smooth function, by the 10-point rule on equal panels.

    References
    ----------
    Abramowitz and Stegun, 25.4.29 and table 25.4.

    >>> round(gauss_legendre(math.sin, 0.0, math.pi, 4), 12)
    2.0
    """
    half = (end - start) / panels / 2
    total = 0.0
    for i in range(panels):
        middle = start + (2 * i + 1) * half
        for node, weight in NODES:
            total += weight * (function(middle - half * node) + function(middle + half * node))
    return total * half


def _density(y: float, sigma: float) -> float:
    return math.exp(-0.5 * (y / sigma) ** 2) / (sigma * math.sqrt(2 * math.pi))


def _picture(i: RiskIn, o: RiskOut) -> Picture:
    accept = i.acceptance_limit if i.acceptance_limit is not None else i.tolerance
    wide = max(4 * i.process_sigma, 1.3 * i.tolerance)
    return Chart(
        alt=f"Spread of the instruments over the limits; {100 * o.outside:.3g} % are outside.",
        x_label="True error",
        y_label="Share",
        series=(
            Series(
                points=sampled(lambda y: _density(y, i.process_sigma), -wide, wide),
                name="instruments",
                fill=True,
            ),
        ),
        bands=(
            Band(axis="x", start=-wide, end=-i.tolerance, tone="outside"),
            Band(axis="x", start=i.tolerance, end=wide, tone="outside"),
        ),
        rules=(
            Rule(axis="x", at=-accept, label="accepted from"),
            Rule(axis="x", at=accept, label="to"),
        ),
    )


@operation(
    "decision.risk",
    title="Risk of a wrong verdict",
    family="Limits and decisions",
    formula="false accept = ∫_{|y|>T} φ(y/σ) P(|m| ≤ A | y) dy;  "
    "false reject = ∫_{|y|≤T} φ(y/σ) P(|m| > A | y) dy",
    source="JCGM 106:2012, 9.5, equations 19 and 20, for two normal distributions",
    example={
        "process_sigma": "0.25",
        "tolerance": "0.5",
        "standard_uncertainty": "0.06",
        "acceptance_limit": "0.5",
    },
    words="false accept reject consumer producer guard band probability",
    worked=lambda i, o: [
        f"false accept {100 * o.false_accept:.4f} %, false reject {100 * o.false_reject:.4f} %"
    ],
    picture=_picture,
)
def risk(request: RiskIn) -> RiskOut:
    """Integrate the joint normal distribution of true and measured error.

    Raises
    ------
    InputError
        ``process_sigma.not_positive``, ``tolerance.not_positive``,
        ``standard_uncertainty.not_positive``, ``acceptance_limit.not_positive``.

    References
    ----------
    JCGM 106:2012, 9.5.
    """
    sigma, t, u = request.process_sigma, request.tolerance, request.standard_uncertainty
    a = request.acceptance_limit if request.acceptance_limit is not None else t
    positive(sigma, "process_sigma", "spread")
    positive(t, "tolerance", "limit")
    positive(u, "standard_uncertainty", "standard uncertainty")
    positive(a, "acceptance_limit", "acceptance limit")

    def inside(y: float) -> float:
        """Probability that the measured error is within ±a, given the true error."""
        return normal_cdf((a - y) / u) - normal_cdf((-a - y) / u)

    def accepted(y: float) -> float:
        return _density(y, sigma) * inside(y)

    outside = math.erfc(t / (sigma * math.sqrt(2)))
    false_accept = 2 * _piecewise(accepted, t, t + FAR * sigma, a, u, sigma)
    accepted_within = 2 * _piecewise(accepted, 0.0, t, a, u, sigma)
    return RiskOut(
        false_accept=min(1.0, false_accept),
        false_reject=max(0.0, 1 - outside - accepted_within),
        outside=outside,
        accepted=false_accept + accepted_within,
    )


def _piecewise(
    function: Callable[[float], float], start: float, end: float, at: float, u: float, sigma: float
) -> float:
    """Integrate with fine panels where the acceptance falls off, coarser ones elsewhere."""
    end = min(end, max(start, FAR * sigma + start))
    edges = {start, end}
    edges |= {e for e in (at - FAR * u, at - u, at + u, at + FAR * u) if start < e < end}
    edges |= {e for e in (sigma, 2 * sigma, 4 * sigma) if start < e < end}
    places = sorted(edges)
    return sum(gauss_legendre(function, a, b, 3) for a, b in pairwise(places))
