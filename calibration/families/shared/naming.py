"""Causes as they are said: one that is sure, or several that look alike with what would tell."""

from __future__ import annotations

from calibration.runs.cause_rows import Rows
from calibration.runs.causes import Cause, cause


def sure(name: str, percent: float, said: str, rows: Rows) -> tuple[Cause, ...]:
    """Return one cause that nothing else looks like. Its size in % of range."""
    return (cause(name, percent, said, rows[name].remedy, 0.95),)


def alike(
    names: tuple[str, ...], percent: float, said: str, tell: str, rows: Rows
) -> tuple[Cause, ...]:
    """Return causes that look alike, with the measurement that would tell before any remedy."""
    return tuple(
        cause(
            name,
            percent,
            "Looks the same." if n else f"{said} {tell}",
            f"{tell} {rows[name].remedy}",
            1 / len(names),
        )
        for n, name in enumerate(names)
    )
