"""Pictures as data: what to draw, in the units of the axes. Drawing itself is the screen's."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

Tone = Literal["ink", "muted", "accent", "within", "edge", "outside"]
Points = tuple[tuple[float, ...], ...]


@dataclass(frozen=True, kw_only=True)
class Series:
    """A line, staircase or cloud of points; each point is x, y."""

    points: Points
    name: str = ""
    style: Literal["line", "dash", "step", "dots"] = "line"
    tone: Tone = "accent"
    fill: bool = False


@dataclass(frozen=True, kw_only=True)
class Spot:
    """The working point, or another point with a name."""

    x: float
    y: float
    label: str
    tone: Tone = "accent"


@dataclass(frozen=True, kw_only=True)
class Band:
    """A stretch of one axis, between two limits."""

    axis: Literal["x", "y"]
    start: float
    end: float
    tone: Tone = "within"
    label: str = ""


@dataclass(frozen=True, kw_only=True)
class Rule:
    """A line across the picture at one value."""

    axis: Literal["x", "y"]
    at: float
    label: str = ""
    tone: Tone = "muted"


@dataclass(frozen=True, kw_only=True)
class Chart:
    """Curves over two axes."""

    alt: str
    x_label: str
    y_label: str
    series: tuple[Series, ...]
    spots: tuple[Spot, ...] = ()
    bands: tuple[Band, ...] = ()
    rules: tuple[Rule, ...] = ()
    log_y: bool = False
    kind: Literal["chart"] = "chart"


@dataclass(frozen=True, kw_only=True)
class Bar:
    """One length with its name and its figure as text."""

    label: str
    value: float
    text: str
    tone: Tone = "accent"


@dataclass(frozen=True, kw_only=True)
class Bars:
    """Lengths under each other, or end to end; with a limit where there is one."""

    alt: str
    bars: tuple[Bar, ...]
    together: bool = False
    limit: float | None = None
    limit_label: str = ""
    kind: Literal["bars"] = "bars"


@dataclass(frozen=True, kw_only=True)
class Sketch:
    """A drawn thing of the plant with its measures: named shares (0 to 1) and texts."""

    alt: str
    thing: Literal["displacer", "vessel", "bridge", "belt", "checklist"]
    shares: dict[str, float]
    texts: dict[str, str]
    lines: tuple[str, ...] = ()
    kind: Literal["sketch"] = "sketch"


Picture = Chart | Bars | Sketch


def sampled(
    function: Callable[[float], float], start: float, end: float, steps: int = 60
) -> Points:
    """Return the points of a function at evenly spaced places, both ends included.

    >>> sampled(lambda x: x * x, 0.0, 2.0, steps=2)
    ((0.0, 0.0), (1.0, 1.0), (2.0, 4.0))
    """
    width = (end - start) / steps
    places = [start + i * width for i in range(steps)] + [end]
    return tuple((x, function(x)) for x in places)


def staircase(values: Sequence[float]) -> Points:
    """Return numbered values, from number 0.

    >>> staircase([5.0, 7.5])
    ((0.0, 5.0), (1.0, 7.5))
    """
    return tuple((float(i), v) for i, v in enumerate(values))
