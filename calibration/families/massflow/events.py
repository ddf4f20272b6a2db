"""What is seen beside a live zero."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from calibration.kernel.codec import about


@dataclass(frozen=True, kw_only=True)
class LiveZero:
    """What is seen beside a live zero."""

    spread: Decimal | None = about("scatter of it", unit="kg/h", default=None)
    mean_s: Decimal | None = about("mean over", unit="s", default=None)
    drive_gain: Decimal | None = about("drive gain", unit="%", default=None)
    density: Decimal | None = about("density", unit="kg/m³", default=None)
