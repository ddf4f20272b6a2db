"""What runs and steps of an electromagnetic flow meter say besides."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from calibration.engine.method.method import Step
from calibration.families.magmeter.facts import MagMeter, TestLine
from calibration.kernel.rounding import trimmed

ROLE = "tester"
#: Where the liquid is written down, and where the tester says how warm the coil is.
LIQUID, RUN_FIELDS = "liquid", "tester_fields"
LIVE = "live_output"


@dataclass(frozen=True, kw_only=True)
class Plugging(Step):
    """Plugs that go in, or come out, in order."""

    way: Literal["in", "out"] = "in"
    #: only these of them; all where there are none
    which: tuple[str, ...] = ()


@dataclass(frozen=True, kw_only=True)
class Testing(Step):
    """The tester goes through its lines."""


def limit_of(line: TestLine) -> str:
    """Return how far a line may be off what is stored, in words; empty for yes or no."""
    if line.kind == "percent":
        return f"±{trimmed(line.limit_percent)} %"
    if line.kind == "absolute":
        return f"±{trimmed(line.limit)}" if line.limit is not None else ""
    return "at least" if line.kind == "at_least" else ""


@dataclass(frozen=True)
class Plug:
    """One plug of the tester: its name, and where it goes."""

    id: str
    label: str
    goes: str


def plugs(own: MagMeter) -> tuple[Plug, ...]:
    """Return the plugs in the order in which they go in; they come out the other way round."""
    found = [
        Plug("coil", "Coil plug", "Coil socket of the sensor"),
        Plug("electrode", "Electrode plug", "Electrode socket of the sensor"),
    ]
    if own.build == "remote":
        found.append(Plug("cable", "Cable plug", "Socket of the cable at the electronics"))
    found += [
        Plug("board", "Board plug", "Service socket of the electronics"),
        Plug("output", "Output lead", "Output terminals, wires parked"),
    ]
    return tuple(found)
