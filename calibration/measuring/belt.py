"""Belt scales: how long to run, how far it moved, and material tests."""

from __future__ import annotations

import math
from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from calibration.kernel.checks import between, not_negative, positive
from calibration.kernel.codec import about
from calibration.kernel.errors import InputError
from calibration.kernel.pictures import Band, Bar, Bars, Chart, Picture, Series, Sketch, Spot
from calibration.kernel.registry import operation

LOCKOUT = "Stop and lock out the belt before anybody reaches it, by the site's procedure."


@dataclass(frozen=True, kw_only=True)
class RevolutionsIn:
    """The belt and about how long the test should run."""

    length_m: Decimal = about("length of the belt", unit="m")
    speed_m_s: Decimal = about("speed of the belt", unit="m/s")
    target_minutes: Decimal = about("at least this long", unit="min", default=Decimal(10))


@dataclass(frozen=True, kw_only=True)
class RevolutionsOut:
    """Whole revolutions, so that every part of the belt counts alike."""

    revolutions: int = about("whole revolutions")
    actual_minutes: Decimal = about("they take", unit="min", decimals=2)
    one_revolution_s: Decimal = about("one revolution takes", unit="s", decimals=1)
    distance_m: Decimal = about("belt that passes", unit="m", decimals=1)


def _revolutions_picture(i: RevolutionsIn, o: RevolutionsOut) -> Picture:
    return Sketch(
        alt=f"A belt of {i.length_m} m that goes round {o.revolutions} times.",
        thing="belt",
        shares={"turns": min(1.0, o.revolutions / 12)},
        texts={
            "length": f"{i.length_m:g} m",
            "speed": f"{i.speed_m_s:g} m/s",
            "turns": f"{o.revolutions} ×",
            "time": f"{o.actual_minutes:.2f} min",
        },
    )


@operation(
    "belt.revolutions",
    title="Belt scale: revolutions of a test",
    family="Weighing",
    formula="revolutions = ⌈target × speed / length⌉;  time = revolutions × length / speed",
    source="whole revolutions, rounded up",
    example={"length_m": "86.4", "speed_m_s": "1.6", "target_minutes": "10"},
    words="belt scale conveyor weigher minutes test duration",
    cautions=(LOCKOUT,),
    worked=lambda i, o: [
        f"{i.target_minutes:g} min × 60 × {i.speed_m_s:g} / {i.length_m:g} → {o.revolutions}",
        f"{o.revolutions} × {i.length_m:g} / {i.speed_m_s:g} / 60 = {o.actual_minutes:.2f} min",
    ],
    picture=_revolutions_picture,
)
def revolutions(request: RevolutionsIn) -> RevolutionsOut:
    """Give whole revolutions near the target time, rounded up.

    Raises
    ------
    InputError
        ``length_m.not_positive``, ``speed_m_s.not_positive``, ``target_minutes.not_positive``,
        ``target_minutes.too_long``.

    References
    ----------
    Time of a whole number of revolutions.
    """
    positive(request.length_m, "length_m", "length", "m")
    positive(request.speed_m_s, "speed_m_s", "speed", "m/s")
    positive(request.target_minutes, "target_minutes", "time", "min")
    exact = request.target_minutes * 60 * request.speed_m_s / request.length_m
    if exact > 100_000:
        raise InputError(
            "target_minutes.too_long",
            "target_minutes",
            "That is more than 100 000 revolutions.",
            "Check the length, the speed and the minutes.",
        )
    turns = math.ceil(exact - Decimal("1e-20"))
    one = request.length_m / request.speed_m_s
    return RevolutionsOut(
        revolutions=turns,
        actual_minutes=turns * one / 60,
        one_revolution_s=one,
        distance_m=turns * request.length_m,
    )


@dataclass(frozen=True, kw_only=True)
class DeviationIn:
    """Counts of the last and of this test."""

    old_zero: Decimal | None = about("old zero count; none the first time", default=None)
    new_zero: Decimal = about("new zero count")
    span_count: Decimal = about("span count")
    old_span: Decimal | None = about("old span count with weights", default=None)
    new_span: Decimal | None = about("new span count with weights", default=None)
    zero_limit_percent: Decimal = about(
        "zero deviation accepted to", unit="% of span", default=Decimal("0.1")
    )
    span_limit_percent: Decimal = about(
        "span deviation accepted to", unit="%", default=Decimal("0.25")
    )


@dataclass(frozen=True, kw_only=True)
class DeviationOut:
    """How far zero and span moved."""

    zero_percent: Decimal | None = about("zero deviation", unit="% of span", decimals=3)
    zero_accepted: bool | None = about("zero accepted")
    baseline: bool = about("the first zero: what later ones are held against")
    span_percent: Decimal | None = about("span deviation", unit="%", decimals=3)
    span_accepted: bool | None = about("span accepted")
    advice: str = about("advice")


def _deviation_picture(i: DeviationIn, o: DeviationOut) -> Picture:
    wide, spots = 1.5, []
    if o.zero_percent is not None:
        share = float(o.zero_percent / i.zero_limit_percent)
        wide = max(wide, abs(share))
        spots.append(Spot(x=share, y=1.0, label="zero"))
    if o.span_percent is not None:
        share = float(o.span_percent / i.span_limit_percent)
        wide = max(wide, abs(share))
        spots.append(Spot(x=share, y=0.0, label="span"))
    return Chart(
        alt="Deviation of zero and span against their limits.",
        x_label="Deviation, in limits",
        y_label="",
        series=(
            Series(points=((-wide * 1.1, 0.5), (wide * 1.1, 0.5)), tone="muted", style="dash"),
        ),
        spots=tuple(spots),
        bands=(Band(axis="x", start=-1.0, end=1.0, label="accepted"),),
    )


@operation(
    "belt.deviation",
    title="Belt scale: zero and span deviation",
    family="Weighing",
    formula="zero % = 100 × (new zero − old zero) / span count;  "
    "span % = 100 × (new span − old span) / old span",
    source="zero is judged against the span count, as its zero count has no size of its own; a "
    "first zero is a baseline and deviates from nothing",
    example={
        "old_zero": "20150",
        "new_zero": "20178",
        "span_count": "41200",
        "old_span": "41200",
        "new_span": "41260",
    },
    words="belt scale zero count drift conveyor",
    cautions=(LOCKOUT, "Limits are defaults: the scale's manual decides."),
    worked=lambda i, o: [
        f"zero: 100 × ({i.new_zero:g} − {i.old_zero:g}) / {i.span_count:g} = {o.zero_percent:.3f} %"
        if i.old_zero is not None
        else f"zero: {i.new_zero:g} counts, the baseline"
    ],
    picture=_deviation_picture,
)
def deviation(request: DeviationIn) -> DeviationOut:
    """Give zero and span deviation of a belt scale.

    Raises
    ------
    InputError
        ``span_count.not_positive``, ``old_span.not_positive``, ``span.one_missing``,
        ``zero_limit_percent.not_positive``, ``span_limit_percent.not_positive``.

    References
    ----------
    Deviation of zero in percent of the span count.
    """
    positive(request.span_count, "span_count", "span count")
    positive(request.zero_limit_percent, "zero_limit_percent", "limit", "%")
    positive(request.span_limit_percent, "span_limit_percent", "limit", "%")
    zero = zero_ok = None
    if request.old_zero is not None:
        zero = 100 * (request.new_zero - request.old_zero) / request.span_count
        zero_ok = abs(zero) <= request.zero_limit_percent
    if (request.old_span is None) != (request.new_span is None):
        raise InputError(
            "span.one_missing",
            "old_span" if request.old_span is None else "new_span",
            "One of the two span counts is missing.",
            "Give both span counts, or none for a zero test alone.",
        )
    span = span_ok = None
    if request.old_span is not None and request.new_span is not None:
        positive(request.old_span, "old_span", "old span count")
        span = 100 * (request.new_span - request.old_span) / request.old_span
        span_ok = abs(span) <= request.span_limit_percent
    if zero_ok is False:
        advice = "Look for build-up, a shifted belt or a stuck idler, then run the zero again."
    elif span_ok is False:
        advice = "Check the weights and the belt tension, then run the span again."
    elif zero is None:
        advice = "A first zero: keep it as the baseline, and run it once more to see its scatter."
    else:
        advice = "Both counts may be taken over."
    return DeviationOut(
        zero_percent=zero,
        zero_accepted=zero_ok,
        baseline=zero is None,
        span_percent=span,
        span_accepted=span_ok,
        advice=advice,
    )


@dataclass(frozen=True, kw_only=True)
class MaterialIn:
    """A load weighed on another scale, and what the belt scale made of it."""

    weighed_kg: Decimal = about("weighed on the reference scale", unit="kg")
    totalizer_kg: Decimal = about("belt scale counted", unit="kg")
    old_span: Decimal | None = about("present span count or factor", default=None)
    span_acts: Literal["multiplies", "divides"] = about("the span number", default="divides")
    limit_percent: Decimal = about("accepted to", unit="%", default=Decimal("0.5"))


@dataclass(frozen=True, kw_only=True)
class MaterialOut:
    """The error and the span that would remove it."""

    error_percent: Decimal = about("error of the belt scale", unit="%", decimals=3)
    accepted: bool = about("within the limit")
    corrected_span: Decimal | None = about("corrected span")


def _material_picture(i: MaterialIn, o: MaterialOut) -> Picture:
    tone = "within" if o.accepted else "outside"
    return Bars(
        alt=f"Belt scale {o.error_percent:.2f} percent off.",
        bars=(
            Bar(label="reference", value=float(i.weighed_kg), text=f"{i.weighed_kg:g} kg"),
            Bar(
                label="belt scale",
                value=float(i.totalizer_kg),
                text=f"{i.totalizer_kg:g} kg",
                tone=tone,  # type: ignore[arg-type]
            ),
        ),
    )


@operation(
    "belt.material_test",
    title="Belt scale: material test",
    family="Weighing",
    formula="error % = 100 × (counted − weighed) / weighed;  "
    "corrected span = span × counted / weighed (a span that divides)",
    source="comparison with a reference scale",
    example={
        "weighed_kg": {"value": "24.36", "unit": "t"},
        "totalizer_kg": {"value": "24.61", "unit": "t"},
        "old_span": "41260",
    },
    words="belt scale truck material reference totalizer",
    cautions=("The reference scale must be in date and empty of old load.", LOCKOUT),
    worked=lambda i, o: [
        f"100 × ({i.totalizer_kg:g} − {i.weighed_kg:g}) / {i.weighed_kg:g} "
        f"= {o.error_percent:.3f} %"
    ],
    picture=_material_picture,
)
def material_test(request: MaterialIn) -> MaterialOut:
    """Give the error of a belt scale and its corrected span.

    Raises
    ------
    InputError
        ``weighed_kg.not_positive``, ``totalizer_kg.negative``, ``old_span.not_positive``,
        ``totalizer_kg.not_positive``.

    References
    ----------
    Ratio of counted to weighed material.
    """
    positive(request.weighed_kg, "weighed_kg", "weighed material", "kg")
    not_negative(request.totalizer_kg, "totalizer_kg", "counted material")
    between(request.limit_percent, 0, 100, "limit_percent", "limit", "%")
    error = 100 * (request.totalizer_kg - request.weighed_kg) / request.weighed_kg
    corrected = None
    if request.old_span is not None:
        positive(request.old_span, "old_span", "span")
        positive(request.totalizer_kg, "totalizer_kg", "counted material", "kg")
        ratio = request.totalizer_kg / request.weighed_kg
        corrected = (
            request.old_span * ratio if request.span_acts == "divides" else request.old_span / ratio
        )
    return MaterialOut(
        error_percent=error,
        accepted=abs(error) <= request.limit_percent,
        corrected_span=corrected,
    )
