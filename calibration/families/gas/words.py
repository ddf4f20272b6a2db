"""What runs, steps and references say besides, where gas is applied."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from calibration.engine.method.method import KitRole, RunSpec, Step
from calibration.gas.cylinder import Purpose


@dataclass(frozen=True, kw_only=True)
class GasRole(KitRole):
    """A cylinder that the method needs: what it is applied for."""

    purpose: Purpose = "span"


@dataclass(frozen=True, kw_only=True)
class GasRun(RunSpec):
    """A run whose points are gases."""

    #: what is applied, one a point
    gases: tuple[Purpose, ...] = ()
    #: the reading must be clear of gas before it counts
    clear: bool = False
    #: read at the display, though the detector has an output
    on_display: bool = False
    #: parameter with what is accepted in it, of the gas value; the instrument's limit where empty
    limit: str = ""


@dataclass(frozen=True, kw_only=True)
class GasSet(Step):
    """A step that sets zero or span: which end, and with which gas."""

    end: Literal["zero", "span"] = "zero"
    gas: Purpose = "zero"


@dataclass(frozen=True, kw_only=True)
class Exposure(Step):
    """One exposure: a gas is opened once, and all its channels are read, and set, together.

    In the air around every channel takes part; of a cylinder those that it is chosen for, and
    the step is that of the first of them.
    """

    gas: Purpose = "span"
    #: the last look in clean air: it must be clear of gas, and nothing is set
    clear: bool = False
    #: of this channel alone, whatever else is in the gas: the others are not under the adapter
    alone: bool = False
    #: what it shows last is what is left; else that is read in a run of its own
    proves: bool = True
