"""What the errors in two buffers are worth at the value of the process."""

from __future__ import annotations

import math
from dataclasses import dataclass


@dataclass(frozen=True)
class Carried:
    """Error and expanded uncertainty at another value. [pH]"""

    error: float
    u: float
    share: float


def carried(
    near: tuple[float, float, float], side: tuple[float, float, float], process: float
) -> Carried:
    """Carry the errors found in two buffers to the process along the straight line through them.

    Parameters
    ----------
    near, side : tuple of float
        pH, error and expanded uncertainty in the buffer near 7 and in the one on the side. [pH]
    process : float
        [pH]

    Raises
    ------
    ZeroDivisionError
        when both buffers are the same.

    References
    ----------
    Linear interpolation, u² = (1 − w)²·u₇² + w²·u_s² with w = (x − 7)/(s − 7): JCGM 100, 5.1.2,
    for errors that do not depend on each other.
    """
    w = (process - near[0]) / (side[0] - near[0])
    return Carried(
        error=(1 - w) * near[1] + w * side[1],
        u=math.hypot((1 - w) * near[2], w * side[2]),
        share=w,
    )
