"""What the accepted pair points to: retention first, then what all components share, then one.

Pure: figures in, causes out, by component.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from statistics import fmean

from calibration.families.chromatograph.cause_rows import ROWS
from calibration.families.chromatograph.tells import TELLS
from calibration.families.shared.naming import alike, sure
from calibration.runs.causes import Cause

#: Components count as off by one ratio when they differ by no more than this. [1]
ALIKE = 0.02
#: A detector weakens by no more than this between two visits; else a leak is as likely. [1]
WEAKENS = 0.03
#: More than this no detector loses between two visits: the gas is as likely. [1]
STEP = 0.10
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
            by = {"gc_volume": "volume", "gc_gas": "gas"}
            return by.get(causes[0].cause, "part")
    return ""


def _times(seen: Evidence) -> tuple[Cause, ...]:
    names = {"moisture": "gc_moisture", "carrier": "gc_carrier", "single": "gc_peak"}
    name = names.get(seen.times)
    return sure(name, 0.0, seen.said, ROWS) if name else ()


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
        return sure("gc_volume", 100 * mean, said, ROWS)
    if -mean <= WEAKENS:
        return sure("gc_aged", 100 * mean, said, ROWS)
    told = seen.apart.get("other_syringe")
    if told is None:
        gas = ("gc_gas",) if -mean > STEP else ()
        names = ("gc_volume", *gas, "gc_aged")
        return alike(names, 100 * mean, said, TELLS["volume"], ROWS)
    first = seen.parts[0]
    if abs(told - first.value) < abs(first.shows - first.value) / 2:
        return sure("gc_volume", 100 * mean, said, ROWS)
    other = seen.apart.get("other_cylinder")
    if -mean <= STEP:
        return sure("gc_aged", 100 * mean, said, ROWS)
    if other is None:
        return alike(("gc_gas", "gc_aged"), 100 * mean, said, TELLS["gas"], ROWS)
    right = abs(other - 100) < 50 * abs(mean)
    return sure("gc_gas" if right else "gc_aged", 100 * mean, said, ROWS)


def _own(seen: Evidence, p: One) -> tuple[Cause, ...]:
    share = p.shows / p.value - 1
    said = f"{p.label} alone is off, by {100 * share:+.1f} %."
    if abs(share) <= MOVES:
        return sure("gc_response", 100 * share, said, ROWS)
    told = seen.apart.get("other_gas")
    if told is None:
        return alike(("gc_response", "gc_part"), 100 * share, said, TELLS["part"], ROWS)
    same = abs(told - 100) > 50 * abs(share)
    return sure("gc_response" if same else "gc_part", 100 * share, said, ROWS)
