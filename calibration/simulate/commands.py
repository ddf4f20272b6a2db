"""What may be done to a virtual instrument, and what it shows."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from calibration.kernel.codec import about

HopName = Literal["sensor", "output", "receiver", "transmitter"]
End = Literal["zero", "span"]
CommandKind = Literal[
    "apply",
    "trim",
    "fix",
    "release",
    "write",
    "gas",
    "shut",
    "adapter",
    "inhibit",
    "reset",
    "tell",
]
#: A written setting counts, and can be read back, after this time. [s]
WRITE_DELAY_S = 1.0
#: Samples of the noise are independent at this distance. [s]
NOISE_STEP_S = 0.25


@dataclass(frozen=True, kw_only=True)
class Share:
    """One gas of a mixture."""

    gas: str = about("gas")
    percent: float = about("share", unit="% vol")


@dataclass(frozen=True, kw_only=True)
class Given:
    """One named figure."""

    name: str = about("name")
    value: float = about("value")


@dataclass(frozen=True, kw_only=True)
class Command:
    """Something done to a rig at a time."""

    t: float = about("when", unit="s")
    kind: CommandKind = about("what")
    value: float = about("value to go to, in the unit of the scale; for fix in mA", default=0.0)
    scale: Literal["input", "percent"] = about(
        "unit of the value: of the input, or percent of the range", default="input"
    )
    hop: HopName = about("what is trimmed", default="output")
    end: End = about("zero or span", default="zero")
    to: float | None = about(
        "for a screw: the output to set; null means the ideal one", unit="output unit", default=None
    )
    reference_offset: float = about(
        "how much the reference used for a sensor trim reads high", unit="input unit", default=0.0
    )
    setting: str = about(
        "for write: name of the setting; for tell: what a rig of its own kind is told", default=""
    )
    text: str = about("for write: its new value; for gas: the balance", default="")
    more: tuple[Given, ...] = about("for tell: figures that belong to it", default=())
    mix: tuple[Share, ...] = about("for gas: what is in it besides the balance", default=())
    litres: float | None = about("for gas: what is left", unit="L", default=None)
    forced: bool = about("for trim: against the instrument's own refusal", default=False)


@dataclass(frozen=True, kw_only=True)
class Live:
    """What the instruments show at one moment, with the decimals they show."""

    t: float
    target: Decimal
    applied: Decimal
    digital: Decimal
    output: Decimal
    indicated: Decimal
    #: gas that flows [L/min]
    flow: Decimal = Decimal(0)


def written(commands: Sequence[Command], t: float) -> dict[str, str]:
    """Return the settings that were written and count at a time."""
    return {c.setting: c.text for c in commands if c.kind == "write" and c.t + WRITE_DELAY_S <= t}
