"""Straight lines through error points: least squares and minimax."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise


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

    >>> round(least_squares([0.0, 50.0, 100.0], [0.1, 0.2, 0.3]).at(75.0), 6)
    0.25
    """
    n = len(x)
    mean_x, mean_y = sum(x) / n, sum(y) / n
    sxx = sum((a - mean_x) ** 2 for a in x)
    if sxx == 0:
        return Line(mean_y, 0.0)
    slope = sum((a - mean_x) * (b - mean_y) for a, b in zip(x, y, strict=True)) / sxx
    return Line(mean_y - slope * mean_x, slope)


@dataclass(frozen=True)
class Deleted:
    """One point against the line through all others."""

    off: float
    rest_rms: float


def deleted(x: Sequence[float], y: Sequence[float]) -> list[Deleted]:
    """Return, for each point, its distance from the least-squares line of the others.

    ``rest_rms`` is the root mean square that the others keep about their line.

    References
    ----------
    Cook and Weisberg, Residuals and Influence in Regression (1982), section 2.2: deleted
    residual e/(1 − h) and the residual sum of squares without one point, from one fit of all.

    >>> [round(point.off, 3) for point in deleted([0, 25, 50, 75, 100], [0, 0, 1, 0, 0])]
    [0.5, 0.286, 1.0, 0.286, 0.5]
    """
    n = len(x)
    line = least_squares(x, y)
    mean_x = sum(x) / n
    sxx = sum((a - mean_x) ** 2 for a in x)
    rest = [b - line.at(a) for a, b in zip(x, y, strict=True)]
    total = sum(e * e for e in rest)
    found = []
    for i, (a, e) in enumerate(zip(x, rest, strict=True)):
        room = 1 - 1 / n - ((a - mean_x) ** 2 / sxx if sxx else 0.0)
        if room < 1e-9:  # all others stand at one place: their line is flat
            found.append(_deleted_slowly(x, y, i))
            continue
        left = max(0.0, total - e * e / room)
        found.append(Deleted(abs(e / room), float((left / (n - 1)) ** 0.5)))
    return found


def _deleted_slowly(x: Sequence[float], y: Sequence[float], i: int) -> Deleted:
    others_x, others_y = [*x[:i], *x[i + 1 :]], [*y[:i], *y[i + 1 :]]
    line = least_squares(others_x, others_y)
    rest = [b - line.at(a) for a, b in zip(others_x, others_y, strict=True)]
    return Deleted(abs(y[i] - line.at(x[i])), root_mean_square(rest))


def _hull_side(points: Sequence[tuple[float, float]], sign: int) -> list[tuple[float, float]]:
    """Return the lower (sign 1) or upper (sign -1) side of the convex hull, points rising in x."""
    side: list[tuple[float, float]] = []
    for p in points:
        while len(side) > 1:
            (ax, ay), (bx, by) = side[-2], side[-1]
            if sign * ((bx - ax) * (p[1] - ay) - (by - ay) * (p[0] - ax)) > 0:
                break
            side.pop()
        side.append(p)
    return side


def minimax_half_band(x: Sequence[float], y: Sequence[float]) -> float:
    """Return half the height of the narrowest straight band that holds all points.

    The best band is parallel to an edge of the points' convex hull, so its edges are tried.

    References
    ----------
    Chebyshev approximation by a straight line; IEC 61298-2, term independent linearity.

    >>> minimax_half_band([0, 50, 100], [0.0, 0.4, 0.0])
    0.2
    """
    if len(set(x)) < 3:
        return 0.0
    points = sorted(zip(x, y, strict=True))
    lower, upper = _hull_side(points, 1), _hull_side(points, -1)
    corners = lower + upper
    best = float("inf")
    for side in (lower, upper):
        for (ax, ay), (bx, by) in pairwise(side):
            if ax == bx:
                continue
            slope = (by - ay) / (bx - ax)
            rest = [b - slope * a for a, b in corners]
            best = min(best, (max(rest) - min(rest)) / 2)
    return best


def root_mean_square(values: Sequence[float]) -> float:
    """Return the root of the mean square; 0 for no values.

    >>> root_mean_square([3.0, 4.0, 0.0, 0.0])
    2.5
    """
    return float((sum(v * v for v in values) / len(values)) ** 0.5) if values else 0.0
