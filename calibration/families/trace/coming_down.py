"""How a sensor that saw air comes down: fast, slow and, after long air, for hours."""

from __future__ import annotations

import math

#: Shares of the air and their time constants. [s]
PARTS = ((0.0020, 30.0), (0.0003, 240.0))
#: What a minute of air leaves behind beyond that, and its time constant. [share, s]
PER_MINUTE, LONG_S = 0.00004, 5400.0
AIR_PPM = 209476.0


def excess_ppm(seconds: float, in_air_s: float) -> float:
    """Return by how much a new sensor still reads high, some time after it was in air. [ppm]

    Parameters
    ----------
    seconds : float
        Since gas flows over it. [s]
    in_air_s : float
        How long it was in air. [s]

    References
    ----------
    Sum of exponentials, as oxygen leaves the electrolyte by diffusion (J. Crank, The mathematics
    of diffusion, 1975, 4.3, keeps the first terms); sizes are defaults of this product.
    """
    short = sum(AIR_PPM * share * math.exp(-seconds / tau) for share, tau in PARTS)
    long = AIR_PPM * PER_MINUTE * in_air_s / 60 * math.exp(-seconds / LONG_S)
    return short + long
