"""The automatic zero of an analyzer: how often, and what one time comes to."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from calibration.engine.judging.validity import Acted, ByItself
from calibration.families.mixture.causes import limit_of
from calibration.families.mixture.facts import Multi
from calibration.kernel.codec import decode
from calibration.kernel.numbers import exact, parse_decimal
from calibration.kernel.rounding import trimmed


def by_itself(own: Mapping[str, Any]) -> ByItself | None:
    """Return its automatic zero; none where it has none."""
    every = decode(Multi, dict(own)).auto_zero_minutes
    if not every:
        return None
    return ByItself(id="auto_zero", label="Automatic zero", every_minutes=every)


def acted(own: Mapping[str, Any], values: Mapping[str, str]) -> Acted:
    """Return by how much each component had moved, held against its limit.

    What it put right is how far off every reading was just before.
    """
    said, beyond = [], []
    with exact():
        for c in decode(Multi, dict(own)).components:
            if c.id not in values:
                continue
            moved = parse_decimal(values[c.id], c.id)
            shown = f"{moved:+f}".replace("-", "−")
            said.append(f"{c.label.lower()} {shown} {c.unit}")
            if abs(moved) > limit_of(c):
                beyond.append(f"{c.label} more than its {trimmed(limit_of(c))} {c.unit}")
    text = ", ".join(said)
    if beyond:
        text += f". {'; '.join(beyond)}: it read wrong by as much just before."
    return Acted(good=not beyond, text=text)
