"""What readings in buffers point to. Where two causes look alike, both are named, and what tells.

Pure: figures in, causes out. Limits come from the method; what counts as a difference comes from
the uncertainty of the readings themselves.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from calibration.analyzers.ph import SLOPES_DIFFER, nernst_slope
from calibration.families.ph.cause_rows import ROWS
from calibration.families.ph.tells import LIKE, TELLS
from calibration.runs.causes import Cause, cause

#: The temperature that the analyzer shows may be this far from the thermometer: both have their
#: own error, of class B and of the thermometer. [°C]
WARM_WITHIN = 1.0
#: The offset of a sound electrode wanders by no more than this between two visits. [mV]
OFFSET_WANDERS = 10.0
#: Below this share of the theoretical slope an electrode does not answer at all.
DEAD_SLOPE = 0.3
#: A slope of the other sign and of at least this share is that of buffers exchanged. [%]
EXCHANGED = 70.0
#: mV per pH of the theory at 25 °C, for sizes only.
PER_PH = 59.2
#: A reading on record of the other set must be met this well. [pH]
SET_MET = 0.03


@dataclass(frozen=True, kw_only=True)
class InOne:
    """One buffer as it was read; U at k = 2 is that of the error, in pH."""

    ph: float
    mv: float
    shown: float
    u: float
    t90_s: float | None = None
    #: what the same bottle would be called by other sets, at this temperature
    other_sets: Mapping[str, float] = field(default_factory=dict)


@dataclass(frozen=True, kw_only=True)
class Evidence:
    """What a run in buffers and the steps around it say; the first buffer is the one near 7."""

    buffers: tuple[InOne, ...]
    warm_c: float
    warm_shown_c: float | None = None
    t90_limit_s: float = 40.0
    slope_low: float = 90.0
    slope_high: float = 103.0
    offset_limit_mv: float = 30.0
    #: slope that the analyzer reports, from the same millivolts [%]
    reported_slope: float | None = None
    #: what the process reads, what a grab sample of it reads, and U of the difference [pH]
    process_shown: float | None = None
    grab: float | None = None
    process_u: float = 0.1
    #: the buffer that was read last, in which the electrode still stands [pH]
    last_ph: float | None = None
    #: what tells twins apart, where it was measured: by its field
    apart: Mapping[str, float] = field(default_factory=dict)
    span_ph: float = 14.0


@dataclass(frozen=True, kw_only=True)
class Line:
    """Slope and offset from the millivolts of two buffers."""

    percent: float
    offset_mv: float


def line_of(first: InOne, second: InOne, warm_c: float) -> Line:
    """Return the line of an electrode through two buffers.

    References
    ----------
    Nernst equation, as :func:`calibration.analyzers.ph.evaluate`.
    """
    per_ph = (second.mv - first.mv) / (second.ph - first.ph)
    return Line(
        percent=100 * per_ph / nernst_slope(warm_c),
        offset_mv=first.mv + per_ph * (7 - first.ph),
    )


def causes_of(seen: Evidence) -> tuple[Cause, ...]:
    """Return the causes, the likeliest first; of twins both, the second marked as such."""
    for rule in (
        _exchanged,
        _dead,
        _temperature,
        _other_set,
        _reported,
        _slow,
        _one_side,
        _slope,
        _offset,
    ):
        found = rule(seen)
        if found:
            return found
    return _process(seen)


def twins(causes: Sequence[Cause]) -> str:
    """Return the twin of the first cause where both are still possible; empty where it is sure."""
    if len(causes) < 2:
        return ""
    return causes[1].cause if LIKE.get(causes[0].cause) == causes[1].cause else ""


def _named(seen: Evidence, name: str, size_ph: float, evidence: str) -> tuple[Cause, ...]:
    """Return a cause, with its twin where nothing has told them apart."""
    percent = 100 * size_ph / seen.span_ph
    twin = LIKE.get(name, "")
    told = _told(seen, name)
    if twin and not told:
        tells = TELLS[name]
        both = f"{evidence} {tells}"
        return (
            cause(name, percent, both, f"{tells} {ROWS[name].remedy}", 0.5),
            cause(twin, percent, both, f"{tells} {ROWS[twin].remedy}", 0.5),
        )
    sure = told or name
    return (cause(sure, percent, evidence, ROWS[sure].remedy, 0.95),)


def _told(seen: Evidence, name: str) -> str:
    """Return which of two twins the measurement says; empty while it was not made."""
    pair = {name, LIKE.get(name, "")}
    near = seen.buffers[0]
    far = next((b for b in seen.buffers if b.ph == seen.last_ph), seen.buffers[-1])
    if pair == {"cracked_glass", "shorted_cable"} and "unplugged_mv" in seen.apart:
        return "shorted_cable" if abs(seen.apart["unplugged_mv"]) < 5 else "cracked_glass"
    if pair == {"aged_electrode", "wet_plug"} and "dry_mv" in seen.apart:
        # A dry plug brings back half or more of what was lost.
        lost = abs(nernst_slope(seen.warm_c) * (far.ph - near.ph)) - abs(far.mv - near.mv)
        back = abs(seen.apart["dry_mv"]) - abs(far.mv)
        return "wet_plug" if back > max(2.0, 0.4 * lost) else "aged_electrode"
    if pair == {"poisoned_reference", "blocked_junction"} and "again_mv" in seen.apart:
        moved = abs(seen.apart["again_mv"] - near.mv)
        back = abs(near.mv) - abs(seen.apart["again_mv"])
        return "blocked_junction" if back > 3.0 and moved > 3.0 else "poisoned_reference"
    if pair == {"earth_loop", "grab_sample"} and "second_grab" in seen.apart:
        off = abs((seen.process_shown or 0.0) - seen.apart["second_grab"])
        return "earth_loop" if off > seen.process_u else "grab_sample"
    return ""


def _exchanged(seen: Evidence) -> tuple[Cause, ...]:
    """The slope is that of an electrode, and its sign is the other one."""
    if len(seen.buffers) < 2:
        return ()
    lines = [line_of(seen.buffers[0], b, seen.warm_c) for b in seen.buffers[1:]]
    percent = min(line.percent for line in lines)
    if percent > -EXCHANGED:
        return ()
    size = max(abs(b.shown - b.ph) for b in seen.buffers)
    said = f"The slope is {percent:.1f} %: that of an electrode, with the buffers exchanged."
    return _named(seen, "buffers_exchanged", size, said)


def _dead(seen: Evidence) -> tuple[Cause, ...]:
    """Hardly any difference between buffers: broken glass, or a short."""
    if len(seen.buffers) < 2:
        return ()
    lines = [line_of(seen.buffers[0], b, seen.warm_c) for b in seen.buffers[1:]]
    if max(line.percent for line in lines) > 100 * DEAD_SLOPE:
        return ()
    values = " and ".join(f"{b.mv:.0f} mV in pH {b.ph:.2f}" for b in seen.buffers[:2])
    size = max(abs(b.shown - b.ph) for b in seen.buffers)
    return _named(seen, "cracked_glass", size, f"{values}: it hardly answers.")


def _temperature(seen: Evidence) -> tuple[Cause, ...]:
    if seen.warm_shown_c is None:
        return ()
    off = seen.warm_shown_c - seen.warm_c
    if abs(off) <= WARM_WITHIN + 0.5:
        return ()
    far = max(seen.buffers, key=lambda b: abs(b.ph - 7))
    size = abs((far.ph - 7) * off / (273.15 + seen.warm_c))
    return _named(
        seen,
        "temperature_sensor",
        size,
        f"The analyzer shows {seen.warm_shown_c:.1f} °C where the thermometer shows "
        f"{seen.warm_c:.1f} °C; three pH from 7 that is {abs(off) * 3 / 298:.2f} pH.",
    )


def _other_set(seen: Evidence) -> tuple[Cause, ...]:
    """Every reading is what the bottles would be worth by another set."""
    off = [b.shown - b.ph for b in seen.buffers]
    if len(seen.buffers) < 2 or not any(
        abs(o) > b.u for o, b in zip(off, seen.buffers, strict=True)
    ):
        return ()
    for name in seen.buffers[0].other_sets:
        if all(
            name in b.other_sets and abs(b.shown - b.other_sets[name]) <= max(SET_MET, b.u)
            for b in seen.buffers
        ):
            read = " and ".join(f"{b.shown:.2f} in {b.ph:.3f}" for b in seen.buffers)
            size = max(off, key=abs)
            return _named(
                seen,
                "other_buffer_set",
                size,
                f"It reads {read}: as it would after counting by the {name} set.",
            )
    return ()


def _reported(seen: Evidence) -> tuple[Cause, ...]:
    """The analyzer's own slope, from the same millivolts, is another one."""
    if seen.reported_slope is None or len(seen.buffers) < 2:
        return ()
    ours = line_of(seen.buffers[0], seen.buffers[1], seen.warm_c).percent
    ratio = seen.reported_slope / ours if ours else 1.0
    if abs(ratio - 1) <= SLOPES_DIFFER:
        return ()
    size = abs(1 - 1 / ratio) * abs(seen.buffers[1].ph - seen.buffers[0].ph)
    return _named(
        seen,
        "other_buffer_set",
        size,
        f"It reports a slope of {seen.reported_slope:.1f} % where these millivolts and bottles "
        f"give {ours:.1f} %: {100 * ratio:.1f} % of it.",
    )


def _slow(seen: Evidence) -> tuple[Cause, ...]:
    slowest = max((b.t90_s for b in seen.buffers if b.t90_s is not None), default=0.0)
    if slowest <= seen.t90_limit_s:
        return ()
    size = max((abs(b.shown - b.ph) for b in seen.buffers), default=0.0)
    return _named(
        seen,
        "coated_electrode",
        size,
        f"It took {slowest:.0f} s to 90 %; {seen.t90_limit_s:.0f} s is the most.",
    )


def _sides(seen: Evidence) -> dict[str, float]:
    """Return by side how much less than the buffers differ is shown between them. [pH]"""
    near = seen.buffers[0]
    found = {}
    for b in seen.buffers[1:]:
        short = abs(b.ph - near.ph) - abs(b.shown - near.shown)
        found["acid" if b.ph < near.ph else "alkaline"] = short
    return found


def _sure(seen: Evidence, side: str, short: float) -> bool:
    """Tell whether a side is short beyond doubt: between the buffers, or the far one by itself."""
    near = seen.buffers[0]
    far = next(b for b in seen.buffers[1:] if (b.ph < near.ph) == (side == "acid"))
    alone = abs(far.shown - far.ph) > far.u and abs(near.shown - near.ph) <= near.u / 2
    return abs(short) > math.hypot(near.u, far.u) or alone


def _one_side(seen: Evidence) -> tuple[Cause, ...]:
    """Only the alkaline side is short: that bottle took up carbon dioxide."""
    short = _sides(seen)
    if set(short) != {"acid", "alkaline"}:
        return ()
    if short["alkaline"] <= 0 or not _sure(seen, "alkaline", short["alkaline"]):
        return ()
    if short["acid"] > short["alkaline"] / 2:
        return ()
    return _named(
        seen,
        "alkaline_buffer",
        short["alkaline"],
        f"It reads {short['alkaline']:.2f} pH short on the alkaline side and not on the acid one.",
    )


def _slope(seen: Evidence) -> tuple[Cause, ...]:
    """It answers less than when it was last calibrated, or less than an electrode may."""
    if len(seen.buffers) < 2:
        return ()
    side, short = max(_sides(seen).items(), key=lambda s: abs(s[1]))
    percent = min(line_of(seen.buffers[0], b, seen.warm_c).percent for b in seen.buffers[1:])
    poor = percent < seen.slope_low
    if not _sure(seen, side, short) and not poor:
        return ()
    if percent > seen.slope_high or (short < 0 and not poor):
        return _named(
            seen,
            "slope_moved",
            abs(short),
            f"It shows {abs(short):.2f} pH more between the buffers than they differ; its own "
            f"slope is {percent:.1f} %.",
        )
    said = (
        f"The slope is {percent:.1f} % by the millivolts; between the buffers it shows "
        f"{abs(short):.2f} pH less than they differ."
    )
    if set(_sides(seen)) == {"alkaline"} and short < 0.16:
        return _of_pair(seen, "alkaline_buffer", "aged_electrode", short, said)
    return _named(seen, "aged_electrode", short, said)


def _of_pair(
    seen: Evidence, one: str, other: str, size_ph: float, evidence: str
) -> tuple[Cause, ...]:
    """Return two causes that two buffers cannot tell apart, where a third bottle would."""
    tells = TELLS["alkaline_buffer"]
    percent = 100 * size_ph / seen.span_ph
    if "fresh_mv" in seen.apart:
        far = seen.buffers[1]
        fresher = far.mv - seen.apart["fresh_mv"]
        sure = one if fresher > 1.5 else other
        return (cause(sure, percent, evidence, ROWS[sure].remedy, 0.95),)
    return tuple(
        cause(name, percent, f"{evidence} {tells}", f"{tells} {ROWS[name].remedy}", 0.5)
        for name in (one, other)
    )


def _offset(seen: Evidence) -> tuple[Cause, ...]:
    near = seen.buffers[0]
    off = near.shown - near.ph
    line = (
        line_of(near, seen.buffers[1], seen.warm_c)
        if len(seen.buffers) > 1
        else Line(percent=100.0, offset_mv=near.mv - nernst_slope(seen.warm_c) * (near.ph - 7))
    )
    beyond = abs(line.offset_mv) > seen.offset_limit_mv
    if abs(off) <= near.u and not beyond:
        return ()
    said = f"In pH {near.ph:.2f} it reads {off:+.2f} pH; its offset is {line.offset_mv:.0f} mV."
    if abs(off) * PER_PH > OFFSET_WANDERS or beyond:
        return _named(seen, "poisoned_reference", abs(off), said)
    return _named(seen, "offset_moved", abs(off), said)


def _process(seen: Evidence) -> tuple[Cause, ...]:
    """Right in buffers and wrong in the process."""
    if seen.process_shown is None or seen.grab is None:
        return ()
    off = seen.process_shown - seen.grab
    if abs(off) <= seen.process_u:
        return ()
    return _named(
        seen,
        "earth_loop",
        abs(off),
        f"Right in the buffers, and {off:+.2f} pH from the grab sample in the process.",
    )
