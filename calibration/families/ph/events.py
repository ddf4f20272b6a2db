"""What happens with buffers: the electrode goes into one, the analyzer takes it as a point."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from calibration.kernel.codec import about
from calibration.signals.stability import Sample


@dataclass(frozen=True, kw_only=True)
class InBuffer:
    """What is read in a buffer beside what the analyzer shows."""

    mv: Decimal = about("electrode", unit="mV")
    t90_s: Decimal | None = about("time to 90 % of the change", unit="s", default=None)
    curve: tuple[Sample, ...] = about("pH shown since it is in the buffer", default=())


@dataclass(frozen=True, kw_only=True)
class Immersed:
    """Rinsed in one portion of a buffer, and now in the second."""

    step: str = about("step")
    role: str = about("which buffer")


@dataclass(frozen=True, kw_only=True)
class Accepted:
    """The analyzer was told to take the present reading as a point of its calibration."""

    step: str = about("step")
    role: str = about("which buffer")
