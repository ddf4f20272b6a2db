"""What a run says of an instrument besides its errors; none where it does not say it."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from decimal import Decimal
from typing import Protocol

from calibration.kernel.numbers import ZERO


class Read(Protocol):
    """A point that was read."""

    @property
    def nominal_percent(self) -> Decimal:
        """Return where it was to be. [% of input span]"""

    @property
    def direction(self) -> str:
        """Return the way it was come to: up or down."""

    @property
    def error_percent_of_span(self) -> Decimal:
        """Return its error. [% of span]"""


#: A line is not drawn out further than this beyond what was read, and called a figure. [% of span]
BEYOND = 10.0


def reaches(at: Sequence[float], end: float) -> bool:
    """Tell whether an end of the span was read, or nearly, and something else as well.

    >>> reaches([0.0, 50.0, 95.0], 100.0), reaches([0.0, 50.0], 100.0)
    (True, False)
    """
    return len(at) > 1 and min(abs(x - end) for x in at) <= BEYOND


def hysteresis(points: Sequence[Read]) -> Decimal | None:
    """Return the largest gap between up and down [% of span]; none in one direction only.

    IEC 61298-2, on the mean errors of each nominal point.

    >>> from types import SimpleNamespace as Point
    >>> way = [Point(nominal_percent=Decimal(50), direction=name,
    ...              error_percent_of_span=Decimal(error))
    ...        for name, error in (("up", "-0.10"), ("down", "0.15"))]
    >>> hysteresis(way)
    Decimal('0.25')
    """
    gaps: list[Decimal] = []
    by_nominal: dict[Decimal, dict[str, list[Decimal]]] = defaultdict(lambda: defaultdict(list))
    for p in points:
        by_nominal[p.nominal_percent][p.direction].append(p.error_percent_of_span)
    for ways in by_nominal.values():
        if len(ways) == 2:
            up, down = ways["up"], ways["down"]
            gaps.append(abs(sum(up, ZERO) / len(up) - sum(down, ZERO) / len(down)))
    return max(gaps, default=None)


def repeatability(points: Sequence[Read]) -> Decimal | None:
    """Return the largest spread of errors come to the same way [% of span]; none of one cycle.

    IEC 61298-2.

    >>> from types import SimpleNamespace as Point
    >>> cycles = [Point(nominal_percent=Decimal(50), direction="up",
    ...                 error_percent_of_span=Decimal(error)) for error in ("0", "0.2", "-0.2")]
    >>> repeatability(cycles)
    Decimal('0.4')
    """
    groups: dict[tuple[Decimal, str], list[Decimal]] = defaultdict(list)
    for p in points:
        groups[p.nominal_percent, p.direction].append(p.error_percent_of_span)
    several = [group for group in groups.values() if len(group) > 1]
    return max((max(group) - min(group) for group in several), default=None)


def terminal(at: Sequence[float], mean: Sequence[float]) -> float | None:
    """Return the largest distance from the line through the ends [% of span]; none of two points.

    IEC 61298-2, terminal-based linearity.

    >>> round(terminal([0.0, 50.0, 100.0], [0.0, 0.3, 0.2]), 6)
    0.2
    """
    if len(at) < 3 or at[-1] == at[0]:
        return None
    slope = (mean[-1] - mean[0]) / (at[-1] - at[0])
    return max(abs(e - mean[0] - slope * (x - at[0])) for x, e in zip(at, mean, strict=True))
