"""From an error, its limit and its uncertainty to a verdict."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from calibration.kernel.codec import about
from calibration.kernel.distributions import normal_cdf
from calibration.kernel.errors import InputError
from calibration.kernel.registry import operation

Rule = Literal["simple", "guarded", "guarded_rss"]
Outcome = Literal["pass", "conditional_pass", "conditional_fail", "fail"]
GUARD = 1e-11


@dataclass(frozen=True, kw_only=True)
class AssessIn:
    """All in one unit."""

    error: float = about("measured error", label="measured error", unit="any")
    limit: float = about("largest error allowed", label="limit", unit="same")
    expanded_uncertainty: float = about(
        "U of the measured error", label="expanded uncertainty U", unit="same"
    )
    k: float = about("coverage factor of U", default=2.0)
    rule: Rule = about("decision rule of the site", default="simple")


@dataclass(frozen=True, kw_only=True)
class AssessOut:
    """The verdict and what it is worth."""

    outcome: Outcome = about("by the rule", label="verdict")
    acceptance_limit: float | None = about(
        "|error| up to which it passes outright; null where U is as large as the limit",
        label="passes outright up to",
        unit="same",
    )
    probability_outside: float = about(
        "that the true error is outside the limit, 0 to 1", label="chance of being outside, 0 to 1"
    )
    ratio: float | None = about(
        "limit over expanded uncertainty; null when U is 0", label="limit over uncertainty"
    )


@operation(
    "decision.assess",
    title="Within or not, and how sure?",
    family="Limits and decisions",
    words="guard band pass fail within probability conformity verdict ratio",
    worked=lambda i, o: [
        f"passes outright up to {o.acceptance_limit:.5g}; |{i.error:g}| against {i.limit:g}"
        if o.acceptance_limit is not None
        else f"U = {i.expanded_uncertainty:g} is no smaller than the limit {i.limit:g}",
        f"u = {i.expanded_uncertainty:g} / {i.k:g} = {i.expanded_uncertainty / i.k:.4g}",
    ],
    formula="A = T (simple), T − U (guarded), √(T² − U²) (guarded, root sum square); "
    "P = 1 − Φ((T − e)/u) + Φ((−T − e)/u), u = U/k",
    source="JCGM 106:2012, 7 and 8; ILAC-G8:09/2019, 4.2",
    example={
        "error": 0.42,
        "limit": 0.5,
        "expanded_uncertainty": 0.1,
        "k": 2,
        "rule": "guarded",
    },
)
def assess(request: AssessIn) -> AssessOut:
    """Apply a decision rule. Exactly on a limit is within it.

    Raises
    ------
    InputError
        ``limit.not_positive``, ``uncertainty.negative``, ``k.not_positive``.

    References
    ----------
    JCGM 106:2012 for guard bands and the probability; ILAC-G8:09/2019 for the names of the
    four outcomes; root-sum-square guard band as the named alternative of the site rule.
    """
    t, big_u = request.limit, request.expanded_uncertainty
    if t <= 0:
        raise InputError("limit.not_positive", "limit", "The limit must be above 0.", "Give one.")
    if big_u < 0:
        raise InputError(
            "uncertainty.negative", "expanded_uncertainty", "U is negative.", "Leave the sign."
        )
    if request.k <= 0:
        raise InputError("k.not_positive", "k", "k must be above 0.", "Use 2.")
    accept = acceptance_limit(t, big_u, request.rule)
    return AssessOut(
        outcome=_outcome(abs(request.error), t, accept, request.rule),
        acceptance_limit=accept if accept > 0 else None,
        probability_outside=probability_outside(request.error, t, big_u / request.k),
        ratio=t / big_u if big_u else None,
    )


def acceptance_limit(limit: float, expanded_uncertainty: float, rule: Rule) -> float:
    """Return the size of error up to which an instrument passes outright; never below 0.

    >>> round(acceptance_limit(0.5, 0.1, "guarded"), 3), acceptance_limit(0.5, 0.1, "simple")
    (0.4, 0.5)
    """
    if rule == "guarded":
        return max(0.0, limit - expanded_uncertainty)
    if rule == "guarded_rss":
        return math.sqrt(max(0.0, limit**2 - expanded_uncertainty**2))
    return limit


def probability_outside(error: float, limit: float, u: float) -> float:
    """Return the probability that the true error lies outside ±limit (JCGM 106, 7).

    >>> round(probability_outside(0.5, 0.5, 0.05), 3)
    0.5
    """
    if u == 0:
        return 0.0 if abs(error) <= limit else 1.0
    return normal_cdf((-limit - error) / u) + normal_cdf((error - limit) / u)


def _outcome(size: float, limit: float, accept: float, rule: Rule) -> Outcome:
    guard = GUARD * limit
    if rule == "simple":
        return "pass" if size <= limit + guard else "fail"
    if size <= accept + guard and accept > 0:
        return "pass"
    if size <= limit + guard:
        return "conditional_pass"
    if size <= 2 * limit - accept + guard:
        return "conditional_fail"
    return "fail"
