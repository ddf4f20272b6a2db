"""What runs and steps say besides, where gas is injected into a chromatograph."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from calibration.engine.method.method import RunSpec, Step

#: Roles of the kit.
GAS, TRAP, SYRINGE = "calibration_gas", "trap", "syringe"
#: Ends of the names of runs, one a component.
SUFFIX = ("", "_b", "_c", "_d", "_e", "_f", "_g", "_h", "_i")
Group = Literal["found", "left", "blank"]
#: Steps of the injections of the gas, in their order: two, a third, and two anew.
INJECTIONS = ("inject_1", "inject_2", "inject_3", "inject_4", "inject_5")
#: Which of them may count as a pair.
PAIRS = ((0, 1), (1, 2), (3, 4))
APART = "tell"


@dataclass(frozen=True, kw_only=True)
class GcRun(RunSpec):
    """One component: the mean of the accepted pair, the check after storing, or the blank."""


@dataclass(frozen=True, kw_only=True)
class Injection(Step):
    """One injection: what every component shows, and when it comes."""

    group: Group = "found"


@dataclass(frozen=True, kw_only=True)
class Storing(Step):
    """The device takes the mean of the pair as its new response."""
