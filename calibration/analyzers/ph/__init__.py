"""pH: buffers at their temperature, slope and offset of an electrode."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from calibration.analyzers.ph.buffers import SHIPPED, BufferTable, check_table, find_table, value_at
from calibration.kernel.checks import between, some
from calibration.kernel.codec import about
from calibration.kernel.errors import InputError
from calibration.kernel.fits import least_squares
from calibration.kernel.pictures import Chart, Picture, Series, Spot, sampled
from calibration.kernel.registry import operation

#: Molar gas constant and Faraday constant, CODATA 2018 (exact by the SI).
R, F = 8.314462618, 96485.33212
#: Buffers closer than this cannot give a slope. [pH]
APART = 1.0
#: Two slopes from the same millivolts that differ by more have counted other buffers.
SLOPES_DIFFER = 0.02
#: A buffer is mistaken for one that is this near. [pH]
MISTAKEN_WITHIN = 0.4
Verdict = Literal["accepted", "watch", "rejected"]


@dataclass(frozen=True, kw_only=True)
class BufferIn:
    """Which buffer, and how warm it is."""

    set: str = about("buffer set: primary, technical, or one of the site", default="technical")
    nominal: str = about("buffer, its pH at 25 °C")
    temperature_c: float = about("temperature", unit="°C", default=25.0)
    own_tables: tuple[BufferTable, ...] = about("tables of the site", default=(), hidden=True)


@dataclass(frozen=True, kw_only=True)
class BufferOut:
    """Its pH there."""

    ph: float = about("pH of the buffer", decimals=3)
    source: str = about("values from")


def _buffer_picture(i: BufferIn, o: BufferOut) -> Picture:
    table = find_table(i.set, i.nominal, i.own_tables, "nominal")
    return Chart(
        alt=f"pH of buffer {i.nominal} against temperature.",
        x_label="Temperature [°C]",
        y_label="pH",
        series=(Series(points=tuple(zip(table.temperatures_c, table.values, strict=True))),),
        spots=(Spot(x=i.temperature_c, y=o.ph, label=f"pH {o.ph:.3f}"),),
    )


@operation(
    "ph.buffer",
    title="pH of a buffer at its temperature",
    family="pH",
    formula="value of the table, straight between its entries",
    source="DIN 19266 (primary); labels of technical buffers; the site's own tables",
    example={"set": "primary", "nominal": "9.180", "temperature_c": "18"},
    words="buffer temperature 4.01 7.00 10.01 4.006 6.865 9.180",
    cautions=("The label on the bottle decides. Never reuse a buffer.",),
    worked=lambda i, o: [f"pH({i.nominal}, {i.temperature_c:g} °C) = {o.ph:.3f}"],
    picture=_buffer_picture,
    table={
        "vary": "temperature_c",
        "start": "5",
        "stop": "40",
        "step": "1",
        "columns": ("ph",),
    },
)
def buffer(request: BufferIn) -> BufferOut:
    """Give the pH of a buffer at a temperature.

    Raises
    ------
    InputError
        ``buffer.unknown``, ``buffer.temperature``, ``buffer.table``.

    References
    ----------
    DIN 19266 for the primary set.
    """
    for n, own in enumerate(request.own_tables):
        check_table(own, f"own_tables.{n}")
    table = find_table(request.set, request.nominal, request.own_tables, "nominal")
    return BufferOut(
        ph=value_at(table, request.temperature_c, "temperature_c"), source=table.source
    )


@dataclass(frozen=True, kw_only=True)
class BufferReading:
    """One buffer as measured."""

    set: str = about("buffer set", default="technical")
    nominal: str = about("buffer")
    temperature_c: float = about("temperature", unit="°C", default=25.0)
    reading_mv: float = about("electrode", unit="mV")


@dataclass(frozen=True, kw_only=True)
class Previous:
    """What the last calibration found."""

    slope_percent: float = about("last slope", unit="%")
    offset_mv: float = about("last offset", unit="mV")


@dataclass(frozen=True, kw_only=True)
class EvaluateIn:
    """Two or three buffers and what counts as good."""

    buffers: tuple[BufferReading, ...] = about("buffers")
    previous: Previous | None = about("last calibration", default=None)
    analyzer_slope_percent: float | None = about(
        "slope that the analyzer itself reports", unit="%", default=None
    )
    slope_low_percent: float = about("slope accepted from", unit="%", default=90.0)
    slope_high_percent: float = about("slope accepted to", unit="%", default=103.0)
    offset_limit_mv: float = about("offset accepted to", unit="mV", default=30.0)
    own_tables: tuple[BufferTable, ...] = about("tables of the site", default=(), hidden=True)


@dataclass(frozen=True, kw_only=True)
class BufferResult:
    """One buffer with its true value and what the line leaves over."""

    nominal: str = about("buffer")
    ph: float = about("pH at its temperature", decimals=3)
    reading_mv: float = about("electrode", unit="mV", decimals=1)
    residual_mv: float = about("off the line", unit="mV", decimals=2)


@dataclass(frozen=True, kw_only=True)
class EvaluateOut:
    """The electrode judged."""

    slope_percent: float = about("slope", unit="%", decimals=1)
    slope_mv_per_ph: float = about("slope", unit="mV/pH", decimals=2, fixed_unit=True)
    nernst_mv_per_ph: float = about("theoretical slope", unit="mV/pH", decimals=2)
    offset_mv: float = about("offset at pH 7", unit="mV", decimals=1)
    verdict: Verdict = about("verdict")
    slope_change_percent: float | None = about("change of slope", unit="%", decimals=1)
    offset_change_mv: float | None = about("change of offset", unit="mV", decimals=1)
    analyzer_ratio: float | None = about("analyzer's slope over ours", decimals=3)
    set_suspected: str | None = about("buffer set that the analyzer seems to count with")
    buffers: tuple[BufferResult, ...] = about("buffers")
    advice: tuple[str, ...] = about("advice")


def nernst_slope(temperature_c: float) -> float:
    """Return the theoretical slope of a pH electrode, negative. [mV/pH]

    References
    ----------
    Nernst equation: −ln10·R·T/F.

    >>> round(nernst_slope(25.0), 2)
    -59.16
    """
    return -1000 * math.log(10) * R * (temperature_c + 273.15) / F


def _evaluate_worked(i: EvaluateIn, o: EvaluateOut) -> Sequence[str]:
    a, b = o.buffers[0], o.buffers[-1]
    lines = []
    if len(o.buffers) == 2:
        lines.append(
            f"slope = ({b.reading_mv:g} − {a.reading_mv:g}) / ({b.ph:.3f} − {a.ph:.3f}) "
            f"= {o.slope_mv_per_ph:.2f} mV/pH"
        )
    else:
        lines.append(f"slope = least squares of {len(o.buffers)} = {o.slope_mv_per_ph:.2f} mV/pH")
    lines.append(f"{o.slope_mv_per_ph:.2f} / {o.nernst_mv_per_ph:.2f} = {o.slope_percent:.1f} %")
    return lines


def _evaluate_picture(i: EvaluateIn, o: EvaluateOut) -> Picture:
    def line(ph: float) -> float:
        return o.offset_mv + o.slope_mv_per_ph * (ph - 7)

    low = min(3.0, *(b.ph for b in o.buffers))
    high = max(11.0, *(b.ph for b in o.buffers))
    return Chart(
        alt=f"Electrode line through the buffers, slope {o.slope_percent:.1f} %, "
        f"offset {o.offset_mv:.1f} mV, beside the theoretical line.",
        x_label="pH",
        y_label="Electrode [mV]",
        series=(
            Series(
                points=sampled(lambda ph: o.nernst_mv_per_ph * (ph - 7), low, high, 2),
                name="theoretical",
                style="dash",
                tone="muted",
            ),
            Series(points=sampled(line, low, high, 2), name="this electrode"),
        ),
        spots=tuple(Spot(x=b.ph, y=b.reading_mv, label=f"pH {b.ph:.2f}") for b in o.buffers),
    )


@operation(
    "ph.evaluate",
    title="pH electrode: slope and offset",
    family="pH",
    formula="slope = ΔmV / ΔpH;  slope % = slope / (−ln10·R·T/F);  offset = mV of the line at pH 7",
    source="Nernst equation with CODATA 2018 constants; buffers by DIN 19266 or label",
    example={
        "buffers": [
            {"set": "technical", "nominal": "7.00", "temperature_c": "22", "reading_mv": "-4.1"},
            {"set": "technical", "nominal": "4.01", "temperature_c": "22", "reading_mv": "166.8"},
        ],
        "previous": {"slope_percent": "98.4", "offset_mv": "-2.0"},
    },
    words="electrode buffer slope offset nernst calibration probe",
    cautions=(
        "Rinse, pat dry, never leave the electrode in demineralized water.",
        "Limits are defaults: the analyzer's manual decides.",
    ),
    worked=_evaluate_worked,
    picture=_evaluate_picture,
)
def evaluate(request: EvaluateIn) -> EvaluateOut:
    """Judge an electrode by two or three buffers.

    Raises
    ------
    InputError
        ``buffers.too_few``, ``buffers.equal``, ``buffers.no_change``, ``buffer.unknown``,
        ``buffer.temperature``, ``buffers.temperatures``.

    References
    ----------
    Nernst equation; line by least squares (exact for two buffers).
    """
    some(request.buffers, "buffers", "buffers", 2)
    for n, own in enumerate(request.own_tables):
        check_table(own, f"own_tables.{n}")
    between(request.slope_low_percent, 1, 100, "slope_low_percent", "low slope limit", "%")
    ph = [_value(request, n) for n in range(len(request.buffers))]
    mv = [b.reading_mv for b in request.buffers]
    _apart(request, ph, mv)
    mean_c = sum(b.temperature_c for b in request.buffers) / len(request.buffers)
    fit = least_squares(ph, mv)
    nernst = nernst_slope(mean_c)
    percent, offset = 100 * fit.slope / nernst, fit.at(7.0)
    verdict, advice = _judge(request, percent, offset)
    ratio, other = _analyzers_own(request, ph, percent)
    if ratio is not None and abs(ratio - 1) > SLOPES_DIFFER:
        verdict = "rejected"
        advice = (*advice, _of_other_slope(ratio, other))
    before = request.previous
    return EvaluateOut(
        slope_percent=percent,
        slope_mv_per_ph=fit.slope,
        nernst_mv_per_ph=nernst,
        offset_mv=offset,
        verdict=verdict,
        slope_change_percent=percent - before.slope_percent if before else None,
        offset_change_mv=offset - before.offset_mv if before else None,
        analyzer_ratio=ratio,
        set_suspected=other,
        buffers=tuple(
            BufferResult(
                nominal=b.nominal,
                ph=p,
                reading_mv=b.reading_mv,
                residual_mv=b.reading_mv - fit.at(p),
            )
            for b, p in zip(request.buffers, ph, strict=True)
        ),
        advice=advice,
    )


def _analyzers_own(
    request: EvaluateIn, ph: Sequence[float], percent: float
) -> tuple[float | None, str | None]:
    """Return the analyzer's slope over ours, and the buffer set that would explain it.

    Both slopes come from the same millivolts: they differ by the pH that each counts between the
    buffers. A wrong set programmed passes every limit of the slope itself.
    """
    if request.analyzer_slope_percent is None:
        return None, None
    ratio = request.analyzer_slope_percent / percent
    if abs(ratio - 1) <= SLOPES_DIFFER:
        return ratio, None
    poured = {b.set for b in request.buffers}
    warm = request.buffers[0].temperature_c
    for name in dict.fromkeys(
        t.set for t in (*request.own_tables, *SHIPPED) if t.set not in poured
    ):
        counted = [_nearest(request, name, value, warm) for value in (min(ph), max(ph))]
        if None in counted:
            continue
        low, high = (float(c) for c in counted if c is not None)
        if low != high and abs(ratio - (max(ph) - min(ph)) / (high - low)) <= SLOPES_DIFFER / 2:
            return ratio, name
    return ratio, None


def _nearest(request: EvaluateIn, set_name: str, ph: float, temperature_c: float) -> float | None:
    """Return the buffer of a set that could be mistaken for one of this pH; none without one."""
    tables = (t for t in (*request.own_tables, *SHIPPED) if t.set == set_name)
    values = [value_at(t, temperature_c, "temperature_c") for t in tables]
    near = min(values, key=lambda v: abs(v - ph), default=None)
    return near if near is not None and abs(near - ph) <= MISTAKEN_WITHIN else None


def _of_other_slope(ratio: float, other: str | None) -> str:
    said = (
        f"From the same millivolts the analyzer reports {100 * ratio:.1f} % of this slope: it "
        "counts other buffers than those that were poured."
    )
    if other:
        return f"{said} It fits the {other} set: compare the set programmed with the bottles."
    return f"{said} Compare the set and the temperature programmed with the bottles."


def _value(request: EvaluateIn, n: int) -> float:
    b = request.buffers[n]
    table = find_table(b.set, b.nominal, request.own_tables, f"buffers.{n}.nominal")
    return value_at(table, b.temperature_c, f"buffers.{n}.temperature_c")


def _apart(request: EvaluateIn, ph: Sequence[float], mv: Sequence[float]) -> None:
    if max(ph) - min(ph) < APART:
        raise InputError(
            "buffers.equal",
            "buffers",
            "The buffers are the same, or too close to give a slope.",
            "Take a second buffer at least one pH away, on the side of the process.",
        )
    warm = [b.temperature_c for b in request.buffers]
    if max(warm) - min(warm) > 5:
        raise InputError(
            "buffers.temperatures",
            "buffers",
            "The buffers differ by more than 5 °C.",
            "Let them come to one temperature, then measure again.",
        )
    if max(mv) == min(mv):
        raise InputError(
            "buffers.no_change",
            "buffers",
            "The electrode gives the same millivolts in all buffers.",
            "Look for a broken glass, a wet connector or a cap left on.",
        )


def _judge(request: EvaluateIn, percent: float, offset: float) -> tuple[Verdict, tuple[str, ...]]:
    low, high = request.slope_low_percent, request.slope_high_percent
    if percent < 0:
        return "rejected", (
            "The line runs the wrong way: the buffers are swapped, or the wires are.",
        )
    advice: list[str] = []
    verdict: Verdict = "accepted"
    if percent < low:
        verdict = "rejected"
        advice.append(
            f"Slope {percent:.1f} % is below {low:g} %: clean the electrode, use fresh buffer, "
            "try again; then replace it."
        )
    elif percent > high:
        verdict = "rejected"
        advice.append(
            f"Slope {percent:.1f} % is above {high:g} %: check which buffers were used, their "
            "temperature and whether the reading had settled."
        )
    elif percent < low + 3:
        verdict = "watch"
        advice.append("The slope nears its limit: have a new electrode at hand.")
    if abs(offset) > request.offset_limit_mv:
        verdict = "rejected"
        advice.append(
            f"Offset {offset:.1f} mV is outside ±{request.offset_limit_mv:g} mV: the reference "
            "is fouled or poisoned; clean it, refill it, or replace the electrode."
        )
    before = request.previous
    if before and abs(offset - before.offset_mv) > request.offset_limit_mv / 2:
        verdict = "watch" if verdict == "accepted" else verdict
        advice.append("The offset moved a lot since the last time: look for fouling.")
    if not advice:
        advice.append("The electrode is fit for use.")
    return verdict, tuple(advice)
