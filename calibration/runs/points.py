"""Which points a run has, and in which order."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from calibration.kernel.codec import about
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import HUNDRED, ZERO
from calibration.kernel.registry import operation

Direction = Literal["up", "down"]
Pattern = Literal["up", "up_down", "down_up"]
POINT_COUNTS = (3, 5, 9, 11)


@dataclass(frozen=True, kw_only=True)
class PlanIn:
    """What kind of run is wanted."""

    input_lower: Decimal = about("lower range value", unit="input unit")
    input_upper: Decimal = about("upper range value", unit="input unit")
    points: int = about(
        "3, 5, 9 or 11 evenly spaced points", label="points, 3, 5, 9 or 11", default=5
    )
    percents: tuple[Decimal, ...] = about(
        "own points instead", label="own points instead", unit="% of span", default=()
    )
    pattern: Pattern = about("order of the points", label="order", default="up_down")
    cycles: int = about("how many times the pattern is run, 1 to 10", label="cycles", default=1)
    overshoot_percent: Decimal = about(
        "how far past the turning point to go before coming back",
        label="go past the turn by",
        unit="% of span",
        default=ZERO,
    )


@dataclass(frozen=True, kw_only=True)
class PlannedPoint:
    """One stop of the run."""

    nominal_percent: Decimal = about("where in the span", label="at", unit="% of span")
    nominal: Decimal = about("value to apply", label="apply", unit="input unit")
    direction: Direction = about("the way the input moves to get here", label="way")
    cycle: int = about("counted from 1", label="cycle")
    approach: Decimal | None = about(
        "value to go past before this point, when the way turns here",
        label="first go past",
        unit="input unit",
    )


@dataclass(frozen=True, kw_only=True)
class PlanOut:
    """The stops, in order."""

    points: tuple[PlannedPoint, ...] = about("ordered points", label="points, in order")


@operation(
    "run.plan",
    title="Plan a run",
    family="Runs and adjusting",
    words="points up down order test nominal percent cycle overshoot",
    formula="nominal = lower range value + percent × span",
    source="IEC 61298-2: test points over the range, going up and coming down",
    example={"input_lower": "0", "input_upper": "4000", "points": 5, "pattern": "up_down"},
)
def plan(request: PlanIn) -> PlanOut:
    """Return the ordered test points of a run.

    The turning point is visited once per turn: up 0, 25, 50, 75, 100, then down 75 … 0.

    Raises
    ------
    InputError
        ``points.count``, ``points.order``, ``cycles.count``, ``range.zero_width``.

    References
    ----------
    IEC 61298-2, measurement procedure up and down the range.
    """
    percents = _percents(request)
    if not 1 <= request.cycles <= 10:
        raise InputError("cycles.count", "cycles", "Between 1 and 10 cycles.", "Use 1 to 10.")
    span = request.input_upper - request.input_lower
    if not span:
        raise InputError(
            "range.zero_width", "input_upper", "Both range values are the same.", "Use two values."
        )
    first: Direction = "down" if request.pattern == "down_up" else "up"
    points: list[PlannedPoint] = []
    previous: Direction = first
    for cycle in range(1, request.cycles + 1):
        for percent, direction in _stops(percents, request.pattern, cycle):
            turned = direction != previous and request.overshoot_percent > 0
            sign = 1 if direction == "down" else -1
            beyond = percents[-1] if direction == "down" else percents[0]
            past = request.input_lower + span * (beyond + sign * request.overshoot_percent) / 100
            points.append(
                PlannedPoint(
                    nominal_percent=percent,
                    nominal=request.input_lower + span * percent / HUNDRED,
                    direction=direction,
                    cycle=cycle,
                    approach=past if turned else None,
                )
            )
            previous = direction
    return PlanOut(points=tuple(points))


def _percents(request: PlanIn) -> tuple[Decimal, ...]:
    if request.percents:
        if len(request.percents) < 2 or list(request.percents) != sorted(set(request.percents)):
            raise InputError(
                "points.order",
                "percents",
                "The points must rise, without repeats, and be at least two.",
                "Write them from low to high, for example 0, 25, 50, 75, 100.",
            )
        return request.percents
    if request.points not in POINT_COUNTS:
        raise InputError(
            "points.count", "points", f"{request.points} points.", "Use 3, 5, 9 or 11 points."
        )
    steps = request.points - 1
    return tuple(HUNDRED * i / steps for i in range(request.points))


def _stops(
    percents: Sequence[Decimal], pattern: Pattern, cycle: int
) -> list[tuple[Decimal, Direction]]:
    rising: list[tuple[Decimal, Direction]] = [(p, "up") for p in percents]
    falling: list[tuple[Decimal, Direction]] = [(p, "down") for p in reversed(percents)]
    if pattern == "up":
        return rising
    first, second = (rising, falling) if pattern == "up_down" else (falling, rising)
    return (first if cycle == 1 else first[1:]) + second[1:]
