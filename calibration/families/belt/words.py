"""What runs and steps of a belt scale say besides."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from calibration.engine.method.method import RunSpec

#: The step in which counts are read, and those in which the new ones are written.
FOUND, TAKE_OVER = "settings", "counts_taken_over"
ZERO_RUNS = ("as_found", "zero_as_left")
SPAN_RUNS = ("span_as_found", "span_as_left")
FIRST_RUNS = ("first_zero", "first_span")


@dataclass(frozen=True, kw_only=True)
class TurnsRun(RunSpec):
    """Whole revolutions: empty, or with weights; a first one is what others are held against."""

    of: Literal["zero", "span"] = "zero"
    baseline: bool = False
