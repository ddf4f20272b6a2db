"""What the accepted pair points to: retention first, then what all components share, then one.

Pure: figures in, causes out, by component.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from statistics import fmean

from calibration.families.chromatograph.remedies import REMEDIES, TELLS
from calibration.runs.causes import Cause, cause

#: Components count as off by one ratio when they differ by no more than this. [1]
ALIKE = 0.02
#: A detector weakens by no more than this between two visits; else a leak is as likely. [1]
WEAKENS = 0.03
#: The response of one component moves by no more than this; else its gas is as likely. [1]
MOVES = 0.08


@dataclass(frozen=True, kw_only=True)
class One:
    """One component of the accepted pair. [ppm]"""

    id: str
    label: str
    value: float
    shows: float
    limit: float


@dataclass(frozen=True, kw_only=True)
class Evidence:
    """The pair, its retention, and what was measured to tell causes apart."""

    parts: tuple[One, ...]
    #: advice about retention: none read, all within, later the later, by one percentage, else
    times: str = ""
    #: by how much, in words
    said: str = ""
    apart: Mapping[str, float] = field(default_factory=dict)


def causes_of(seen: Evidence) -> dict[str, tuple[Cause, ...]]:
    """Return the causes of every component that is outside, by its short name.

    A run whose peaks are not where they belong is outside as a whole.
    """
    moved = _times(seen)
    if moved:
        return {p.id: moved for p in seen.parts}
    off = [p for p in seen.parts if abs(p.shows - p.value) > p.limit]
    common = _together(seen)
    return {p.id: common or _own(seen, p) for p in off}


def asks(seen: Evidence) -> str:
    """Return the measurement that would tell more; empty where none would."""
    for causes in causes_of(seen).values():
        if len(causes) > 1:
            return "volume" if causes[0].cause == "gc_volume" else "part"
    return ""


def _times(seen: Evidence) -> tuple[Cause, ...]:
    names = {"moisture": "gc_moisture", "carrier": "gc_carrier", "single": "gc_peak"}
    name = names.get(seen.times)
    return _sure(name, 0.0, seen.said) if name else ()


def _together(seen: Evidence) -> tuple[Cause, ...]:
    """Return what all components share; none where they do not move as one."""
    shares = [p.shows / p.value - 1 for p in seen.parts]
    if len(shares) < 2:
        return ()
    mean = fmean(shares)
    if abs(mean) < ALIKE or any(abs(s - mean) > ALIKE for s in shares):
        return ()
    said = f"All components are off by one ratio, {100 * mean:+.1f} %."
    if mean > 0:
        return _sure("gc_volume", 100 * mean, said)
    if -mean <= WEAKENS:
        return _sure("gc_aged", 100 * mean, said)
    told = seen.apart.get("other_syringe")
    if told is None:
        return _twins("volume", 100 * mean, said, "gc_volume", "gc_aged")
    first = seen.parts[0]
    gone = abs(told - first.value) < abs(first.shows - first.value) / 2
    return _sure("gc_volume" if gone else "gc_aged", 100 * mean, said)


def _own(seen: Evidence, p: One) -> tuple[Cause, ...]:
    share = p.shows / p.value - 1
    said = f"{p.label} alone is off, by {100 * share:+.1f} %."
    if abs(share) <= MOVES:
        return _sure("gc_response", 100 * share, said)
    told = seen.apart.get("other_gas")
    if told is None:
        return _twins("part", 100 * share, said, "gc_response", "gc_part")
    same = abs(told - 100) > 50 * abs(share)
    return _sure("gc_response" if same else "gc_part", 100 * share, said)


def _sure(name: str, percent: float, said: str) -> tuple[Cause, ...]:
    return (cause(name, percent, said, REMEDIES[name], 0.95),)


def _twins(tells: str, percent: float, said: str, *names: str) -> tuple[Cause, ...]:
    tell = TELLS[tells]
    return tuple(
        cause(
            name,
            percent,
            "Looks the same." if n else f"{said} {tell}",
            f"{tell} {REMEDIES[name]}",
            0.5,
        )
        for n, name in enumerate(names)
    )
