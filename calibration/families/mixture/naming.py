"""What the components in zero gas and in a mixture point to, taken together.

Pure: figures in, causes out, by component. A cause that lies in how the gas came to the cells
moves all of them by one law; what is left over is a component's own.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from statistics import fmean

from calibration.families.mixture.cause_rows import ROWS
from calibration.families.mixture.tells import TELLS
from calibration.families.shared.naming import alike, sure
from calibration.runs.causes import Cause

AIR_OXYGEN = 20.95
#: What room air is taken for, and how far a reading may be from it before the air itself is in
#: doubt. [% vol]
ROOM_AIR, ROOM_AIR_NEAR = 20.9, 0.5
#: Infrared cells count as moved by one share when they differ by no more than this. [1]
ALIKE = 0.008
#: The span of a cell drifts by no more than this between two visits; else its gas is as likely. [%]
DRIFTS_PERCENT = 5.0
#: A cross-term on record may be so much of an error; it moves with filter and age. [share]
EXPLAINED = 0.2


@dataclass(frozen=True, kw_only=True)
class One:
    """One component: what it read in both gases, against what it should; in its own unit."""

    id: str
    label: str
    oxygen: bool
    infrared: bool
    range: float
    limit: float
    zero_error: float | None
    value: float
    shows: float | None
    #: what the others add by its record, of their values in the mixture
    cross: float = 0.0
    scatter: float = 0.0
    #: read in air of the room, of which nobody has a paper
    room_air: bool = False


@dataclass(frozen=True, kw_only=True)
class Evidence:
    """All components as found, and what was measured to tell causes apart."""

    parts: tuple[One, ...]
    apart: Mapping[str, float] = field(default_factory=dict)


def causes_of(seen: Evidence) -> dict[str, tuple[Cause, ...]]:
    """Return the causes of every component that is outside, by its short name."""
    together = common(seen)
    return {p.id: together or _own(seen, p) for p in seen.parts if _outside(p)}


def asks(seen: Evidence) -> str:
    """Return the measurement that would tell more; empty where none would."""
    for causes in causes_of(seen).values():
        if len(causes) > 1:
            names = {c.cause for c in causes}
            if "mix_air" in names:
                return "air"
            if "air_drawn_in" in names:
                return "overflow"
            return "other" if "mix_part_wrong" in names else "single"
    return ""


def _outside(p: One) -> bool:
    zero = p.zero_error is not None and abs(p.zero_error) > p.limit
    return zero or (p.shows is not None and abs(p.shows - p.value) > p.limit)


def _share(p: One) -> float:
    """Return by which share of its value a component reads otherwise, its zero taken off."""
    assert p.shows is not None
    return (p.shows - (p.zero_error or 0.0)) / p.value - 1


def common(seen: Evidence) -> tuple[Cause, ...]:
    """Return the cause that all infrared cells share; none where they do not move as one."""
    cells = [p for p in seen.parts if p.infrared and p.value > 0 and p.shows is not None]
    if len(cells) < 2:
        return ()
    shares = [_share(p) for p in cells]
    mean = fmean(shares)
    loose = max(ALIKE, 2 * max(p.scatter / p.value for p in cells))
    small = min(p.limit / p.value for p in cells) / 2
    if abs(mean) <= max(small, loose) or any(abs(s - mean) > loose for s in shares):
        return ()
    percent = 100 * mean * cells[0].value / cells[0].range
    said = f"All infrared cells read {100 * mean:+.1f} %, by one share."
    if mean > 0:
        return sure("cell_pressure", percent, said, ROWS)
    oxygen = next((p for p in seen.parts if p.oxygen and p.shows is not None), None)
    if oxygen is not None and oxygen.shows is not None:
        more = oxygen.shows - (oxygen.zero_error or 0.0) - oxygen.value * (1 + mean)
        expected = -mean * AIR_OXYGEN
        said += f" Oxygen reads {more:+.2f} more; drawn-in air would bring {expected:+.2f}."
        air = more > expected / 2
        return sure("air_drawn_in" if air else "cell_pressure", percent, said, ROWS)
    told = seen.apart.get("with_overflow")
    if told is not None:
        gone = abs(told - cells[0].value) < abs((cells[0].shows or 0.0) - cells[0].value) / 2
        return sure("air_drawn_in" if gone else "cell_pressure", percent, said, ROWS)
    return alike(("air_drawn_in", "cell_pressure"), percent, said, TELLS["overflow"], ROWS)


def _own(seen: Evidence, p: One) -> tuple[Cause, ...]:
    """Return what a component itself shows."""
    if p.zero_error is not None and abs(p.zero_error) > p.limit:
        percent = 100 * p.zero_error / p.range
        said = f"In zero gas it reads {p.zero_error:+.3g}."
        return sure("mix_zero_moved", percent, said, ROWS)
    assert p.shows is not None
    error = p.shows - p.value
    percent = 100 * error / p.range
    if not p.value:
        return sure(
            "mix_cross", percent, f"It reads {error:+.3g} in a gas that holds none of it.", ROWS
        )
    said = f"It reads {error:+.3g} from the mixture, its zero is right."
    return _of_span(seen, p, error, percent, said)


def good_air(shown: float | None) -> bool:
    """Tell whether a reading of oxygen may be that of good air: 20.4 to 21.4. [% vol]"""
    return shown is not None and abs(shown - ROOM_AIR) <= ROOM_AIR_NEAR + 1e-9


def _of_span(seen: Evidence, p: One, error: float, percent: float, said: str) -> tuple[Cause, ...]:
    """Return what a component with a right zero may have: a disturbance, its span, its part."""
    if p.room_air and not good_air(p.shows):
        told = seen.apart.get("air_beside")
        said = f"It reads {p.shows:.3g} in room air, which holds {ROOM_AIR}."
        if told is None:
            return alike(("mix_air", "mix_span_moved"), percent, said, TELLS["air"], ROWS)
        said += f" Another instrument reads {told:.3g} there."
        return sure("mix_span_moved" if good_air(told) else "mix_air", percent, said, ROWS)
    if p.cross and p.cross * error > 0 and abs(p.cross) >= EXPLAINED * abs(error):
        told = seen.apart.get("alone_share")
        if told is None:
            return alike(("mix_cross", "mix_span_moved"), percent, said, TELLS["single"], ROWS)
        right = abs(told - 100) < 50 * abs(error) / p.value
        return sure("mix_cross" if right else "mix_span_moved", percent, said, ROWS)
    if 100 * abs(error) <= DRIFTS_PERCENT * p.value:
        return sure("mix_span_moved", percent, said, ROWS)
    told = seen.apart.get("other_share")
    if told is None:
        return alike(("mix_span_moved", "mix_part_wrong"), percent, said, TELLS["other"], ROWS)
    same = abs(told - 100) > 50 * abs(error) / p.value
    return sure("mix_span_moved" if same else "mix_part_wrong", percent, said, ROWS)
