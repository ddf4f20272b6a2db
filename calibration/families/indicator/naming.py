"""What an indicator shows with nothing and with a load on it, and what it points to.

Pure: figures in, causes out.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from calibration.families.indicator.cause_rows import ROWS
from calibration.families.indicator.tells import TELLS
from calibration.families.shared.differential import Telling
from calibration.families.shared.naming import alike, sure
from calibration.kernel.numbers import to_float
from calibration.kernel.units import UNITS
from calibration.runs.causes import Cause

#: A kilogram in other units: pound and ounce by NIST SP 811, tonne and gram of the SI.
IN_UNITS = {u: 1 / to_float(UNITS[u].factor) for u in ("lb", "oz", "t", "g")}
IN_UNITS["kg"] = 1 / IN_UNITS["lb"]
#: So near to a unit it is that unit. [share]
UNIT_WITHIN = 0.01
#: A factor found explains what is shown when it does to so much of it.
EXPLAINS = 0.5
#: A zero this far below nothing was set with a load on. [share of the load]
BELOW = 0.02


@dataclass(frozen=True, kw_only=True)
class Weighed:
    """Nothing and a load on it; in kg."""

    capacity: float
    load: float
    limit: float
    zero_limit: float
    u: float
    zero: float
    shows: float
    #: factor found, as a share of the one on record; none where not known
    factor: float | None = None
    apart: Mapping[str, float] = field(default_factory=dict)


def causes_of(seen: Weighed) -> tuple[Cause, ...]:
    """Return the causes, the likeliest first; of those that look alike all."""
    off = seen.shows - seen.zero - seen.load
    if abs(off) > max(seen.limit, seen.u):
        return _span(seen, off)
    if abs(seen.zero) > max(seen.zero_limit, seen.u):
        return _zero(seen)
    return ()


def _span(seen: Weighed, off: float) -> tuple[Cause, ...]:
    ratio = (seen.shows - seen.zero) / seen.load
    percent, share = 100 * off / seen.capacity, 100 * off / seen.load
    said = f"The load shows {share:+.2f} % of itself."
    for unit, per_kg in IN_UNITS.items():
        if abs(ratio / per_kg - 1) < UNIT_WITHIN:
            what = "a factor of 0.4536: pounds taken for kilograms" if unit == "kg" else unit
            return sure("unit_wrong", percent, f"{said} That is {what}.", ROWS)
    if seen.factor is not None and abs(seen.factor - ratio) < (1 - EXPLAINS) * abs(ratio - 1):
        said += f" The factor found is {100 * (seen.factor - 1):+.2f} % from the record."
        return sure("factor_mistyped", percent, said, ROWS)
    other = seen.apart.get("other_percent")
    if other is None:
        tell = TELLS["other_percent"].tells
        return alike(("cell_moved", "load_wrong"), percent, said, tell, ROWS)
    same = abs(other - share) < abs(share) / 2
    said += f" Another load shows {other:+.2f} %."
    return sure("cell_moved" if same else "load_wrong", percent, said, ROWS)


def _zero(seen: Weighed) -> tuple[Cause, ...]:
    percent = 100 * seen.zero / seen.capacity
    said = f"With nothing on it shows {seen.zero:+.2f} kg; the span is right."
    if seen.zero < -BELOW * seen.load:
        return sure("zeroed_with_load", percent, said, ROWS)
    if seen.zero < 0:
        return sure("indicator_zero", percent, said, ROWS)
    cleared = seen.apart.get("cleared")
    if cleared is None:
        tell = TELLS["cleared"].tells
        return alike(("lies_on_it", "indicator_zero"), percent, said, tell, ROWS)
    gone = abs(cleared) < abs(seen.zero) / 2
    return sure("lies_on_it" if gone else "indicator_zero", percent, said, ROWS)


def asks(causes: tuple[Cause, ...]) -> tuple[Telling, ...]:
    """Return the measurement that would tell causes apart; none where one stands alone."""
    if len(causes) < 2:
        return ()
    return (TELLS["cleared" if causes[0].cause == "lies_on_it" else "other_percent"],)
