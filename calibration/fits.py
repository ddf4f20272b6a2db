"""Straight lines through error points: least squares and minimax."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations


@dataclass(frozen=True)
class Line:
    """``y = at_zero + slope * x``."""

    at_zero: float
    slope: float

    def at(self, x: float) -> float:
        """Return the line's value at ``x``."""
        return self.at_zero + self.slope * x


def least_squares(x: Sequence[float], y: Sequence[float]) -> Line:
    """Return the ordinary least-squares line; flat through the mean when ``x`` does not vary.

    Parameters
    ----------
    x, y : sequence of float, shape (n,), n >= 1

    References
    ----------
    Draper and Smith, Applied Regression Analysis, section 1.2.
    """
    n = len(x)
    mean_x, mean_y = sum(x) / n, sum(y) / n
    sxx = sum((a - mean_x) ** 2 for a in x)
    if sxx == 0:
        return Line(mean_y, 0.0)
    slope = sum((a - mean_x) * (b - mean_y) for a, b in zip(x, y, strict=True)) / sxx
    return Line(mean_y - slope * mean_x, slope)


def minimax_half_band(x: Sequence[float], y: Sequence[float]) -> float:
    """Return half the height of the narrowest straight band that holds all points.

    The best band is parallel to the line through some two points (an edge of their convex
    hull), so all pairs are tried.

    References
    ----------
    Chebyshev approximation by a straight line; IEC 61298-2, term independent linearity.
    """
    if len(set(x)) < 3:
        return 0.0
    best = float("inf")
    for i, j in combinations(range(len(x)), 2):
        if x[i] == x[j]:
            continue
        slope = (y[j] - y[i]) / (x[j] - x[i])
        rest = [b - slope * a for a, b in zip(x, y, strict=True)]
        best = min(best, (max(rest) - min(rest)) / 2)
    return best


def root_mean_square(values: Sequence[float]) -> float:
    """Return the root of the mean square; 0 for no values."""
    return float((sum(v * v for v in values) / len(values)) ** 0.5) if values else 0.0
