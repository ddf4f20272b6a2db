"""Level: weights for a displacer, range values for a differential pressure transmitter."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from calibration.kernel.checks import between, not_negative, positive, some
from calibration.kernel.codec import about
from calibration.kernel.errors import InputError
from calibration.kernel.pictures import Picture, Sketch
from calibration.kernel.registry import operation

#: Standard acceleration of free fall. [m/s²] CGPM 1901.
GRAVITY = 9.80665
GRAMS_PER_LB = 453.59237


@dataclass(frozen=True, kw_only=True)
class WeightsIn:
    """A displacer and its liquid; the volume, or diameter and length."""

    displacer_kg: float = about("mass of the displacer", unit="kg")
    volume_l: float | None = about("volume of the displacer", unit="L", default=None)
    diameter_m: float | None = about("or its diameter", unit="m", default=None)
    length_m: float | None = about("and its length", unit="m", default=None)
    density: float = about("density of the liquid", unit="kg/m³")
    upper_density: float = about(
        "density of the upper liquid, for an interface", unit="kg/m³", default=0.0
    )
    percents: tuple[float, ...] = about("levels", unit="%", default=(0.0, 25.0, 50.0, 75.0, 100.0))


@dataclass(frozen=True, kw_only=True)
class Hang:
    """What to hang at one level, in place of the displacer."""

    percent: float = about("level", unit="%")
    hung_kg: float = about("hang", unit="kg", decimals=4)
    hung_g: float = about("hang", unit="g", decimals=1)
    hung_lb: float = about("hang", unit="lb", decimals=4)
    buoyancy_kg: float = about("buoyancy", unit="kg", decimals=4)


@dataclass(frozen=True, kw_only=True)
class WeightsOut:
    """The weights of all levels."""

    heavy_g: float = about("hang at the lowest level", unit="g", decimals=1)
    light_g: float = about("hang at the highest level", unit="g", decimals=1)
    volume_l: float = about("volume of the displacer", unit="L", decimals=4)
    span_kg: float = about("heavy minus light weight", unit="kg", decimals=4)
    weights: tuple[Hang, ...] = about("weights")


def _weights_picture(i: WeightsIn, o: WeightsOut) -> Picture:
    heaviest = max(w.hung_kg for w in o.weights)
    shown = o.weights[len(o.weights) // 2]
    return Sketch(
        alt=f"Displacer at {shown.percent:g} %, replaced by {shown.hung_g:.1f} g.",
        thing="displacer",
        shares={
            "level": min(1.0, max(0.0, shown.percent / 100)),
            **{f"weight {n}": w.hung_kg / heaviest for n, w in enumerate(o.weights)},
        },
        texts={
            "level": f"{shown.percent:g} %",
            "displacer": f"{i.displacer_kg:g} kg, {o.volume_l:.3f} L",
            **{
                f"weight {n}": f"{w.percent:g} %: {w.hung_g:.1f} g" for n, w in enumerate(o.weights)
            },
        },
    )


@operation(
    "displacer.weights",
    title="Weights for a displacer",
    family="Level",
    formula="hung mass = displacer mass − V × (ρ_upper + (ρ − ρ_upper) × level)",
    source="Archimedes' principle",
    example={
        "displacer_kg": "1.362",
        "diameter_m": {"value": "38.4", "unit": "mm"},
        "length_m": {"value": "813", "unit": "mm"},
        "density": "870",
    },
    words="weights displacer level torque tube hang buoyancy interface",
    cautions=(
        "Zero at the heavy weight, span at the light one; each shifts the other: repeat.",
        "Weights can fall: keep clear below, and follow the site's procedure for the open chamber.",
    ),
    worked=lambda i, o: [
        f"V = {o.volume_l:.4f} L",
        f"at 100 %: {i.displacer_kg:g} − {i.density:g} × {o.volume_l / 1000:.6f} m³ "
        f"= {i.displacer_kg - i.density * o.volume_l / 1000:.4f} kg",
    ],
    picture=_weights_picture,
    table={
        "vary": "percents.0",
        "start": "0",
        "stop": "100",
        "step": "5",
        "columns": ("weights.0.hung_g", "weights.0.hung_lb", "weights.0.buoyancy_kg"),
        "set": {"percents": ["0"]},
    },
)
def displacer_weights(request: WeightsIn) -> WeightsOut:
    """Give the mass to hang in place of the displacer at each level.

    Raises
    ------
    InputError
        ``displacer_kg.not_positive``, ``density.not_positive``, ``density.order``,
        ``volume.needed``, ``displacer.floats``, ``percents.too_few``.

    References
    ----------
    Archimedes' principle; masses compared in air, whose buoyancy cancels out.
    """
    positive(request.displacer_kg, "displacer_kg", "mass of the displacer", "kg")
    positive(request.density, "density", "density", "kg/m³")
    not_negative(request.upper_density, "upper_density", "density")
    if request.upper_density >= request.density:
        raise InputError(
            "density.order",
            "upper_density",
            "The upper liquid must be the lighter one.",
            "Swap the two densities, or leave the upper one at 0.",
        )
    some(request.percents, "percents", "levels")
    volume = _volume(request)
    weights = []
    for n, percent in enumerate(request.percents):
        between(percent, 0, 120, f"percents.{n}", "level", "%")
        mean = request.upper_density + (request.density - request.upper_density) * percent / 100
        buoyancy = volume / 1000 * mean
        hung = request.displacer_kg - buoyancy
        if hung <= 0:
            raise InputError(
                "displacer.floats",
                "displacer_kg",
                f"At {percent:g} % the displacer would float: nothing is left to hang.",
                "Check its mass, its volume and the density.",
            )
        weights.append(
            Hang(
                percent=percent,
                hung_kg=hung,
                hung_g=1000 * hung,
                hung_lb=1000 * hung / GRAMS_PER_LB,
                buoyancy_kg=buoyancy,
            )
        )
    masses = [w.hung_kg for w in weights]
    return WeightsOut(
        heavy_g=1000 * max(masses),
        light_g=1000 * min(masses),
        volume_l=volume,
        span_kg=max(masses) - min(masses),
        weights=tuple(weights),
    )


def _volume(request: WeightsIn) -> float:
    if request.volume_l is not None:
        positive(request.volume_l, "volume_l", "volume", "L")
        return request.volume_l
    if request.diameter_m is None or request.length_m is None:
        raise InputError(
            "volume.needed",
            "volume_l",
            "The volume of the displacer is not known.",
            "Give its volume, or its diameter and length.",
        )
    positive(request.diameter_m, "diameter_m", "diameter", "m")
    positive(request.length_m, "length_m", "length", "m")
    return 1000 * math.pi / 4 * request.diameter_m**2 * request.length_m


Leg = Literal["open_or_dry", "wet_leg", "remote_seals"]


@dataclass(frozen=True, kw_only=True)
class RangeIn:
    """A vessel and where the transmitter hangs; heights above the transmitter are positive."""

    arrangement: Leg = about("low-pressure side", default="wet_leg")
    density: float = about("density of the liquid", unit="kg/m³")
    lower_tap_m: float = about("lower tap above the transmitter", unit="m", default=0.0)
    level_lower_m: float = about("0 % level above the lower tap", unit="m", default=0.0)
    level_upper_m: float = about("100 % level above the lower tap", unit="m")
    leg_height_m: float = about("upper tap above the transmitter", unit="m", default=0.0)
    fill_density: float = about("density in the leg or capillary", unit="kg/m³", default=0.0)


@dataclass(frozen=True, kw_only=True)
class RangeOut:
    """Range values for the transmitter."""

    lower_range_value_kpa: float = about("lower range value", unit="kPa", decimals=4)
    upper_range_value_kpa: float = about("upper range value", unit="kPa", decimals=4)
    span_kpa: float = about("span", unit="kPa", decimals=4)
    zero: Literal["elevated", "suppressed", "at zero"] = about("zero is")
    leg_kpa: float = about("pressure of the low side", unit="kPa", decimals=4)


def _range_worked(i: RangeIn, o: RangeOut) -> Sequence[str]:
    near = i.fill_density if i.arrangement == "remote_seals" else i.density
    return [
        f"low side = {i.fill_density:g} × 9.80665 × {i.leg_height_m:g} m = {o.leg_kpa:.4f} kPa",
        f"LRV = 9.80665 × ({i.density:g} × {i.level_lower_m:g} + {near:g} × {i.lower_tap_m:g}) "
        f"− low side = {o.lower_range_value_kpa:.4f} kPa",
        f"URV = 9.80665 × ({i.density:g} × {i.level_upper_m:g} + {near:g} × {i.lower_tap_m:g}) "
        f"− low side = {o.upper_range_value_kpa:.4f} kPa",
    ]


def _range_picture(i: RangeIn, o: RangeOut) -> Picture:
    top = max(i.leg_height_m, i.lower_tap_m + i.level_upper_m, 0.0)
    bottom = min(0.0, i.lower_tap_m)
    tall = (top - bottom) * 1.12 or 1.0

    def share(height: float) -> float:
        return (height - bottom) / tall

    return Sketch(
        alt=f"Vessel with its taps; {o.lower_range_value_kpa:.3f} to "
        f"{o.upper_range_value_kpa:.3f} kPa.",
        thing="vessel",
        shares={
            "transmitter": share(0.0),
            "lower tap": share(i.lower_tap_m),
            "0 %": share(i.lower_tap_m + i.level_lower_m),
            "100 %": share(i.lower_tap_m + i.level_upper_m),
            "upper tap": share(i.leg_height_m if i.leg_height_m else top),
            "leg": 1.0 if i.fill_density > 0 else 0.0,
        },
        texts={
            "0 %": f"0 %: {o.lower_range_value_kpa:.3f} kPa",
            "100 %": f"100 %: {o.upper_range_value_kpa:.3f} kPa",
        },
    )


@operation(
    "level.range",
    title="Range values for level by differential pressure",
    family="Level",
    formula="p = ρ g h(level) + ρ_near g h(tap) − ρ_leg g h(leg)",
    source="hydrostatics, g = 9.80665 m/s²",
    example={
        "arrangement": "wet_leg",
        "density": "820",
        "lower_tap_m": "0.5",
        "level_upper_m": "3.2",
        "leg_height_m": "4.1",
        "fill_density": "998",
    },
    words="wet leg dry leg remote seal diaphragm capillary zero elevation suppression tank dp lrv",
    cautions=("Ranging is not calibration. Check the wet leg is full before trusting the zero.",),
    worked=_range_worked,
    picture=_range_picture,
)
def level_range(request: RangeIn) -> RangeOut:
    """Give lower and upper range value of a level transmitter.

    Raises
    ------
    InputError
        ``density.not_positive``, ``range.zero_width``, ``fill_density.needed``.

    References
    ----------
    Hydrostatic pressure ρ g h; standard acceleration of free fall.
    """
    positive(request.density, "density", "density", "kg/m³")
    not_negative(request.fill_density, "fill_density", "density")
    if request.level_lower_m == request.level_upper_m:
        raise InputError(
            "range.zero_width",
            "level_upper_m",
            "The 0 % and the 100 % level are the same.",
            "Give two different levels.",
        )
    if request.arrangement != "open_or_dry" and request.fill_density == 0:
        raise InputError(
            "fill_density.needed",
            "fill_density",
            "A wet leg or a capillary holds a liquid.",
            "Give the density of the fill, or choose an open or dry leg.",
        )
    near = request.fill_density if request.arrangement == "remote_seals" else request.density
    tap = near * GRAVITY * request.lower_tap_m / 1000
    leg = request.fill_density * GRAVITY * request.leg_height_m / 1000
    lower = request.density * GRAVITY * request.level_lower_m / 1000 + tap - leg
    upper = request.density * GRAVITY * request.level_upper_m / 1000 + tap - leg
    small = 1e-9 * abs(upper - lower)
    return RangeOut(
        lower_range_value_kpa=lower,
        upper_range_value_kpa=upper,
        span_kpa=upper - lower,
        zero="at zero" if abs(lower) <= small else "elevated" if lower < 0 else "suppressed",
        leg_kpa=leg,
    )
