"""Normal and Student t, without a statistics library."""

from __future__ import annotations

import math
from functools import lru_cache
from statistics import NormalDist

_NORMAL = NormalDist()


def normal_cdf(z: float) -> float:
    """Return the standard normal distribution function (Abramowitz and Stegun 26.2.2).

    >>> round(normal_cdf(1.96), 4)
    0.975
    """
    return 0.5 * math.erfc(-z / math.sqrt(2))


def _beta_fraction(a: float, b: float, x: float) -> float:
    """Continued fraction of the incomplete beta function (DLMF 8.17.22), Lentz's method."""
    tiny = 1e-300
    c, d = 1.0, 1.0 - (a + b) * x / (a + 1)
    d = 1 / (d if abs(d) > tiny else tiny)
    result = d
    for m in range(1, 400):
        for numerator in (
            m * (b - m) * x / ((a + 2 * m - 1) * (a + 2 * m)),
            -(a + m) * (a + b + m) * x / ((a + 2 * m) * (a + 2 * m + 1)),
        ):
            d = 1 + numerator * d
            d = 1 / (d if abs(d) > tiny else tiny)
            c = 1 + numerator / c
            c = c if abs(c) > tiny else tiny
            result *= c * d
        if abs(c * d - 1) < 1e-15:
            break
    return result


def incomplete_beta(a: float, b: float, x: float) -> float:
    """Return the regularized incomplete beta function I_x(a, b), DLMF 8.17.

    >>> round(incomplete_beta(2.0, 3.0, 0.5), 4)
    0.6875
    """
    if x <= 0:
        return 0.0
    if x >= 1:
        return 1.0
    log_front = (
        math.lgamma(a + b) - math.lgamma(a) - math.lgamma(b) + a * math.log(x) + b * math.log1p(-x)
    )
    if x < (a + 1) / (a + b + 2):
        return math.exp(log_front) * _beta_fraction(a, b, x) / a
    return 1 - math.exp(log_front) * _beta_fraction(b, a, 1 - x) / b


def t_two_sided(t: float, dof: float) -> float:
    """Return the probability that Student's t lies within ±t (Abramowitz and Stegun 26.7.1).

    >>> round(t_two_sided(2.228, 10), 3)
    0.95
    """
    return 1 - incomplete_beta(dof / 2, 0.5, dof / (dof + t * t))


@lru_cache(maxsize=4096)
def coverage_factor(dof: float, probability: float = 0.9545) -> float:
    """Return k such that a two-sided t interval holds ``probability`` (JCGM 100, G.3).

    Parameters
    ----------
    dof : float
        Effective degrees of freedom, >= 1; infinity gives the normal value.

    >>> round(coverage_factor(10), 2)
    2.28
    """
    if math.isinf(dof) or dof > 1e7:
        return _NORMAL.inv_cdf(0.5 + probability / 2)
    low, high = 0.0, 2.0
    while t_two_sided(high, dof) < probability:
        high *= 2
    for _ in range(80):
        middle = (low + high) / 2
        if t_two_sided(middle, dof) < probability:
            low = middle
        else:
            high = middle
    return (low + high) / 2
