"""What runs and steps say besides, where several components are read on one mixture."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from calibration.engine.method.method import RunSpec, Step

Gas = Literal["zero", "span"]
#: Roles of the kit, by what they are applied for.
ROLES: dict[Gas, str] = {"zero": "zero_gas", "span": "mixture"}
#: In which order they are read.
GASES: tuple[Gas, Gas] = ("zero", "span")
#: Ends of the names of runs, one a component.
SUFFIX = ("", "_b", "_c", "_d", "_e", "_f")
BEFORE, APART = "process_before", "tell_apart"


@dataclass(frozen=True, kw_only=True)
class MixRun(RunSpec):
    """One component, in zero gas and in the mixture."""


@dataclass(frozen=True, kw_only=True)
class Together(Step):
    """One gas, all components at once: read, and set where it is to be."""

    gas: Gas = "span"
    #: nothing is set: it is looked at again
    again: bool = False
