"""What runs and steps of a vessel on load cells say besides."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from calibration.engine.method.method import RunSpec

Points = Literal["up_down", "short", "substitution", "corners"]
#: Steps in which zero and span are set.
SEND_ZERO, SEND_SPAN = "send_zero", "send_span"
#: The step in which the settings of the electronics are read, and where they are read again.
FOUND, COUNTS = "settings", "counts"


@dataclass(frozen=True, kw_only=True)
class LoadRun(RunSpec):
    """Loads on the vessel, by one pattern."""

    points: Points = "up_down"
