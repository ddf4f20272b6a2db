"""How much gas a calibration takes and how much a cylinder still holds."""

from __future__ import annotations

import math
from dataclasses import dataclass

from calibration.kernel.checks import not_negative, positive, some
from calibration.kernel.codec import about
from calibration.kernel.pictures import Bar, Bars, Picture
from calibration.kernel.registry import operation

#: Standard atmosphere. [bar]
ATMOSPHERE = 1.01325


@dataclass(frozen=True, kw_only=True)
class ConsumptionIn:
    """What one visit takes, and the cylinder."""

    flow_l_per_min: float = about("flow of the regulator", unit="L/min")
    steps_min: tuple[float, ...] = about("minutes with gas on, a figure per step", unit="min")
    instruments: int = about("instruments on this round", default=1)
    cylinder_water_l: float = about("water volume of the cylinder", unit="L")
    pressure_bar: float = about("gauge pressure now", unit="bar")
    minimum_bar: float = about("pressure to change it at", unit="bar", default=5.0)


@dataclass(frozen=True, kw_only=True)
class ConsumptionOut:
    """Need and supply in litres at one atmosphere."""

    needed_l: float = about("needed for the round", unit="L", decimals=1)
    left_l: float = about("left in the cylinder", unit="L", decimals=1)
    uses_left: int = about("instruments it still serves")
    enough: bool = about("enough for the round")
    pressure_after_bar: float = about("gauge pressure after the round", unit="bar", decimals=1)


def _picture(i: ConsumptionIn, o: ConsumptionOut) -> Picture:
    return Bars(
        alt=f"{o.needed_l:.1f} litres needed, {o.left_l:.1f} litres left.",
        bars=(
            Bar(
                label="needed",
                value=o.needed_l,
                text=f"{o.needed_l:.1f} L",
                tone="within" if o.enough else "outside",
            ),
            Bar(label="left", value=o.left_l, text=f"{o.left_l:.1f} L"),
        ),
    )


@operation(
    "gas.consumption",
    title="Is there enough gas?",
    family="Gas",
    formula="needed = flow × Σ minutes × instruments;  "
    "left = water volume × (p − p_min) / 1.01325 bar",
    source="ideal gas, litres at one standard atmosphere (101.325 kPa)",
    example={
        "flow_l_per_min": "0.5",
        "steps_min": ["2", "3"],
        "instruments": 6,
        "cylinder_water_l": "1.7",
        "pressure_bar": "24",
        "minimum_bar": "5",
    },
    words="cylinder litres left bottle pressure round supply",
    cautions=("A nearly empty cylinder gives falling flow: change it at the minimum pressure.",),
    worked=lambda i, o: [
        f"needed = {i.flow_l_per_min:g} × {sum(i.steps_min):g} min × {i.instruments} "
        f"= {o.needed_l:.1f} L",
        f"left = {i.cylinder_water_l:g} × ({i.pressure_bar:g} − {i.minimum_bar:g}) / 1.01325 "
        f"= {o.left_l:.1f} L",
    ],
    picture=_picture,
)
def consumption(request: ConsumptionIn) -> ConsumptionOut:
    """Compare what a round needs with what is left above the minimum pressure.

    Raises
    ------
    InputError
        ``flow_l_per_min.not_positive``, ``steps_min.too_few``, ``instruments.not_positive``,
        ``cylinder_water_l.not_positive`` and the like.

    References
    ----------
    Ideal gas law at constant temperature (Boyle).
    """
    positive(request.flow_l_per_min, "flow_l_per_min", "flow", "L/min")
    some(request.steps_min, "steps_min", "minutes")
    for n, minutes in enumerate(request.steps_min):
        positive(minutes, f"steps_min.{n}", "time", "min")
    positive(request.instruments, "instruments", "number of instruments")
    positive(request.cylinder_water_l, "cylinder_water_l", "water volume", "L")
    not_negative(request.pressure_bar, "pressure_bar", "gauge pressure")
    not_negative(request.minimum_bar, "minimum_bar", "minimum pressure")
    each = request.flow_l_per_min * sum(request.steps_min)
    needed = each * request.instruments
    usable = max(0.0, request.pressure_bar - request.minimum_bar)
    left = request.cylinder_water_l * usable / ATMOSPHERE
    drop = needed * ATMOSPHERE / request.cylinder_water_l
    return ConsumptionOut(
        needed_l=needed,
        left_l=left,
        uses_left=math.floor(left / each + 1e-9),
        enough=needed <= left * (1 + 1e-12),
        pressure_after_bar=max(0.0, request.pressure_bar - drop),
    )
