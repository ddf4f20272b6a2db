"""How an instrument drifts between visits."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from calibration.simulate.loop import LoopModel
from calibration.simulate.noise import gaussian


@dataclass(frozen=True, kw_only=True)
class Ageing:
    """Drift of one instrument. All in percent of span."""

    zero_per_year: float = 0.1
    span_per_year: float = 0.1
    wander: float = 0.05
    season: float = 0.0


def aged(
    fresh: LoopModel, ageing: Ageing, days_since_adjustment: float, day_of_year: int, seed: int
) -> LoopModel:
    """Return the loop some days after its last adjustment.

    Parameters
    ----------
    fresh : LoopModel
        As it was left.
    ageing : Ageing
    days_since_adjustment : float
        >= 0. [d]
    day_of_year : int
        For the seasonal part, which is largest in summer, 1 to 366.
    seed : int
        Different for each visit.
    """
    years = days_since_adjustment / 365.25
    walk = ageing.wander * math.sqrt(max(years, 0.0))
    summer = ageing.season * math.sin(2 * math.pi * (day_of_year - 105) / 365.25)
    return replace(
        fresh,
        sensor_zero_percent=fresh.sensor_zero_percent
        + ageing.zero_per_year * years
        + walk * gaussian(seed, "zero", 0)
        + summer,
        sensor_span_percent=fresh.sensor_span_percent
        + ageing.span_per_year * years
        + walk * gaussian(seed, "span", 0),
    )
