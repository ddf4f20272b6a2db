"""What is seen beside a revolution, and beside a load of material."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from calibration.kernel.codec import about


@dataclass(frozen=True, kw_only=True)
class Turn:
    """One whole revolution."""

    seconds: Decimal | None = about("time of it, mark to mark", unit="s", default=None)


@dataclass(frozen=True, kw_only=True)
class Truck:
    """One load of material on a truck."""

    empty: Decimal | None = about("truck empty", unit="kg", default=None)
    moist_belt: Decimal | None = about("moisture on the belt", unit="%", default=None)
    moist_truck: Decimal | None = about("moisture on the truck", unit="%", default=None)
