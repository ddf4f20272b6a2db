"""What runs and steps say besides, where trace oxygen is measured."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from calibration.engine.method.method import RunSpec, Step

#: Roles of the kit.
GAS, REGULATOR = "span_gas", "regulator"
#: Steps that others ask about.
MOUNTED, BLEED, APART, BEFORE, OUTLET, BACK, FITTED = (
    "mounted",
    "bleed",
    "apart",
    "process_before",
    "outlet_shut",
    "process_back",
    "fitted",
)
#: Parameter with what a new sensor may be off before it is set.
NEW_WITHIN = "new_within_percent"
Side = Literal["high", "low"]
SIDES: tuple[Side, ...] = ("high", "low")


@dataclass(frozen=True, kw_only=True)
class SpanRun(RunSpec):
    """A run in span gas, or of a sensor that comes down: the reading, and how it moves."""

    #: the sensor saw air and is watched until it is down; nothing is judged by it
    settles: bool = False


@dataclass(frozen=True, kw_only=True)
class Bleeding(Step):
    """A step in which a regulator is filled and vented, the high side first."""


@dataclass(frozen=True, kw_only=True)
class SettingSpan(Step):
    """A step in which the span is set in the analyzer."""
