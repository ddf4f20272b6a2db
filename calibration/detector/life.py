"""The response of a sensor over its life, and when it will be spent."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from statistics import fmean
from typing import Literal

from calibration.kernel.checks import positive, some
from calibration.kernel.codec import about
from calibration.kernel.distributions import coverage_factor
from calibration.kernel.errors import InputError
from calibration.kernel.fits import Line, least_squares
from calibration.kernel.pictures import Chart, Picture, Rule, Series, Spot, sampled
from calibration.kernel.registry import operation

DAYS_A_MONTH = 365.25 / 12
#: Predictions further away than this say "no date". [days]
FARTHEST = 10 * 365
Status = Literal["good", "weak", "replace", "too_few"]


@dataclass(frozen=True, kw_only=True)
class Past:
    """The response noted at one calibration."""

    date: str = about("date, YYYY-MM-DD")
    response: float = about("response", unit="%")
    replaced: bool = about("sensor replaced just before", default=False)


@dataclass(frozen=True, kw_only=True)
class LifeIn:
    """The history of one sensor position."""

    history: tuple[Past, ...] = about("history")
    weak_percent: float = about("weak below", unit="%", default=60.0)
    replace_percent: float = about("replace below", unit="%", default=40.0)


@dataclass(frozen=True, kw_only=True)
class Expected:
    """When a band is reached."""

    band: str = about("band")
    expected: str | None = about("expected")
    early_80: str | None = about("80 %: not before")
    late_80: str | None = about("80 %: not after")
    early_95: str | None = about("95 %: not before")
    late_95: str | None = about("95 %: not after")


@dataclass(frozen=True, kw_only=True)
class LifeOut:
    """The state of the sensor and its expected end."""

    status: Status = about("status")
    slope_per_month: float | None = about("change by month", unit="%", decimals=2)
    points_used: int = about("results since the last replacement")
    advice: str = about("advice")
    dates: tuple[Expected, ...] = about("expected dates")


@dataclass(frozen=True)
class _Fit:
    line: Line
    spread: float
    mean_x: float
    sxx: float
    n: int
    first: date
    last: float

    def half_width(self, x: float, probability: float) -> float:
        """Return the half-width of the prediction interval of one new result."""
        t = coverage_factor(self.n - 2, probability)
        return t * self.spread * math.sqrt(1 + 1 / self.n + (x - self.mean_x) ** 2 / self.sxx)


def _dated(history: Sequence[Past]) -> list[tuple[date, Past]]:
    found = []
    for n, past in enumerate(history):
        try:
            found.append((date.fromisoformat(past.date), past))
        except ValueError:
            raise InputError(
                "date.invalid",
                f"history.{n}.date",
                f"'{past.date[:20]}' is no date.",
                "Write it as year-month-day, for example 2026-03-01.",
            ) from None
    found.sort(key=lambda pair: pair[0])
    start = max((i for i, (_, p) in enumerate(found) if p.replaced), default=0)
    return found[start:]


def _fit(points: Sequence[tuple[date, Past]]) -> _Fit:
    first = points[0][0]
    x = [float((day - first).days) for day, _ in points]
    y = [p.response for _, p in points]
    line = least_squares(x, y)
    rest = sum((b - line.at(a)) ** 2 for a, b in zip(x, y, strict=True))
    mean_x = fmean(x)
    return _Fit(
        line=line,
        spread=math.sqrt(rest / (len(x) - 2)),
        mean_x=mean_x,
        sxx=sum((a - mean_x) ** 2 for a in x),
        n=len(x),
        first=first,
        last=x[-1],
    )


def _crossing(curve: Callable[[float], float], start: float, level: float) -> float | None:
    """Return the first day at or after ``start`` at which a curve is at or under a level."""
    if curve(start) <= level:
        return start
    low, step = start, 16.0
    while curve(low + step) > level:
        low += step
        step *= 1.5
        if low > start + FARTHEST:
            return None
    high = low + step
    while high - low > 0.01:
        middle = (low + high) / 2
        low, high = (middle, high) if curve(middle) > level else (low, middle)
    return high


def _day(fit: _Fit, x: float | None) -> str | None:
    if x is None or x > fit.last + FARTHEST:
        return None
    return (fit.first + timedelta(days=math.ceil(x))).isoformat()


def _expected(fit: _Fit, name: str, level: float) -> Expected:
    def date_of(sign: int, probability: float) -> str | None:
        def curve(x: float) -> float:
            return fit.line.at(x) + sign * fit.half_width(x, probability)

        return _day(fit, _crossing(curve, fit.last, level))

    return Expected(
        band=name,
        expected=_day(fit, _crossing(fit.line.at, fit.last, level)),
        early_80=date_of(-1, 0.80),
        late_80=date_of(1, 0.80),
        early_95=date_of(-1, 0.95),
        late_95=date_of(1, 0.95),
    )


def expected_on(history: Sequence[Past], day: date) -> float | None:
    """Return the response that the trend expects on a day; none with fewer than three results. [%]

    Parameters
    ----------
    history : sequence of Past
    day : date

    Raises
    ------
    InputError
        ``date.invalid``.

    References
    ----------
    Ordinary least squares since the last replacement, as :func:`life`.

    >>> past = [Past(date=f"2026-{month:02}-01", response=100.0 - month) for month in (1, 4, 7)]
    >>> round(expected_on(past, date(2026, 10, 1)), 1)
    89.9
    """
    points = _dated(history)
    if len(points) < 3 or points[0][0] == points[-1][0]:
        return None
    fit = _fit(points)
    return max(0.0, fit.line.at(float((day - fit.first).days)))


@dataclass(frozen=True, kw_only=True)
class Foreseen:
    """What the trend expects on a day, and between which limits eight in ten lie."""

    day: date
    expected: float
    low: float
    high: float


def foreseen(history: Sequence[Past], until: date, steps: int = 12) -> tuple[Foreseen, ...]:
    """Return the course that the trend expects from the last result on, with its 80 % limits. [%]

    Nothing while there are fewer than three results since the last replacement.

    Raises
    ------
    InputError
        ``date.invalid``.

    References
    ----------
    Prediction interval of one new observation: Draper and Smith, section 1.4, as :func:`life`.

    >>> past = [Past(date=f"2026-{month:02}-01", response=100.0 - month) for month in (1, 4, 7)]
    >>> [round(one.expected, 1) for one in foreseen(past, date(2026, 10, 1), steps=1)]
    [93.0, 89.9]
    """
    points = _dated(history)
    if len(points) < 3 or points[0][0] == points[-1][0]:
        return ()
    fit, last = _fit(points), points[-1][0]
    days = max(1, (until - last).days)
    found = []
    for n in range(steps + 1):
        day = last + timedelta(days=days * n // steps)
        x = float((day - fit.first).days)
        expected, half = fit.line.at(x), fit.half_width(x, 0.80)
        found.append(
            Foreseen(
                day=day,
                expected=max(0.0, expected),
                low=max(0.0, expected - half),
                high=max(0.0, expected + half),
            )
        )
    return tuple(found)


def _picture(i: LifeIn, o: LifeOut) -> Picture:
    points = _dated(i.history)
    first = points[0][0]
    months = [(day - first).days / DAYS_A_MONTH for day, _ in points]
    dots = tuple((m, p.response) for m, (_, p) in zip(months, points, strict=True))
    series = [Series(points=dots, style="dots", name="responses")]
    if o.status != "too_few":
        fit = _fit(points)
        end = months[-1] * 1.6 + 1

        def edge(sign: int) -> Callable[[float], float]:
            return lambda m: max(
                0.0,
                fit.line.at(m * DAYS_A_MONTH) + sign * fit.half_width(m * DAYS_A_MONTH, 0.80),
            )

        series += [
            Series(
                points=sampled(lambda m: fit.line.at(m * DAYS_A_MONTH), 0, end, 2), name="trend"
            ),
            Series(
                points=sampled(edge(-1), 0, end, 30), style="dash", tone="muted", name="80 % limits"
            ),
            Series(points=sampled(edge(1), 0, end, 30), style="dash", tone="muted"),
        ]
    return Chart(
        alt="Responses of the sensor since its replacement, with the trend and its limits.",
        x_label="Months since replacement",
        y_label="Response [%]",
        series=tuple(series),
        rules=(
            Rule(axis="y", at=i.weak_percent, label="weak", tone="edge"),
            Rule(axis="y", at=i.replace_percent, label="replace", tone="outside"),
        ),
        spots=(Spot(x=dots[-1][0], y=dots[-1][1], label=f"{dots[-1][1]:g} % last"),),
    )


@operation(
    "sensor.life",
    title="How long will the sensor last?",
    family="Gas detectors",
    formula="response = a + b × days by least squares since the last replacement;  "
    "limits: ± t × s × √(1 + 1/n + (x − x̄)²/Sxx)",
    source="Draper and Smith, Applied Regression Analysis, 1.4: prediction of a new observation",
    example={
        "history": [
            {"date": "2026-01-12", "response": "98", "replaced": True},
            {"date": "2026-04-14", "response": "91"},
            {"date": "2026-07-09", "response": "86"},
            {"date": "2026-10-13", "response": "78"},
        ]
    },
    words="sensor life ageing replace trend sensitivity remaining order date",
    cautions=("A response is known only from the last calibration: poisoning comes at once.",),
    worked=lambda i, o: (
        [f"{o.points_used} results since the last replacement"]
        + ([] if o.slope_per_month is None else [f"b = {o.slope_per_month:.2f} % a month"])
    ),
    picture=_picture,
)
def life(request: LifeIn) -> LifeOut:
    """Judge the last response and predict when it reaches the bands.

    Raises
    ------
    InputError
        ``history.too_few``, ``date.invalid``, ``bands.order``, ``replace_percent.not_positive``,
        ``dates.equal``.

    References
    ----------
    Ordinary least squares with a prediction interval; Draper and Smith, section 1.4.
    """
    some(request.history, "history", "results")
    positive(request.replace_percent, "replace_percent", "band", "%")
    if request.replace_percent >= request.weak_percent:
        raise InputError(
            "bands.order",
            "replace_percent",
            "The band to replace at must lie below the weak one.",
            "Swap them, for example weak 60, replace 40.",
        )
    points = _dated(request.history)
    last = points[-1][1].response
    status: Status = "good"
    if last < request.replace_percent:
        status = "replace"
    elif last < request.weak_percent:
        status = "weak"
    if len(points) < 3:
        return LifeOut(
            status="too_few" if status == "good" else status,
            slope_per_month=None,
            points_used=len(points),
            advice=f"{len(points)} results since the last replacement: too few to predict a date.",
            dates=(),
        )
    if points[0][0] == points[-1][0]:
        raise InputError(
            "dates.equal",
            "history",
            "All results are of one day.",
            "Give results of different days.",
        )
    fit = _fit(points)
    dates = (
        _expected(fit, "weak", request.weak_percent),
        _expected(fit, "replace", request.replace_percent),
    )
    advice = {
        "good": "Good for service.",
        "weak": "Weak: order a replacement.",
        "replace": "Spent: replace it; it is not worth calibrating.",
        "too_few": "",
    }[status]
    if status == "good" and dates[1].expected:
        advice = f"Good for service; expected to be spent about {dates[1].expected}."
    return LifeOut(
        status=status,
        slope_per_month=fit.line.slope * DAYS_A_MONTH,
        points_used=len(points),
        advice=advice,
        dates=dates,
    )
