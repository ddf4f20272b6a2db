"""Causes as they are said: one that is sure, or several that look alike with what would tell."""

from __future__ import annotations

from collections.abc import Mapping

from calibration.runs.causes import Cause, cause


def sure(name: str, percent: float, said: str, remedies: Mapping[str, str]) -> tuple[Cause, ...]:
    """Return one cause that nothing else looks like. Its size in % of range."""
    return (cause(name, percent, said, remedies[name], 0.95),)


def alike(
    names: tuple[str, ...], percent: float, said: str, tell: str, remedies: Mapping[str, str]
) -> tuple[Cause, ...]:
    """Return causes that look alike, with the measurement that would tell before any remedy."""
    return tuple(
        cause(
            name,
            percent,
            "Looks the same." if n else f"{said} {tell}",
            f"{tell} {remedies[name]}",
            1 / len(names),
        )
        for n, name in enumerate(names)
    )
