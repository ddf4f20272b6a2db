"""Tanks and hoppers on load cells."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from calibration.kernel.checks import between, not_negative, positive
from calibration.kernel.codec import about
from calibration.kernel.pictures import Bar, Bars, Picture, Sketch
from calibration.kernel.registry import operation

LOAD = "Weights and loads can crush: lift, secure and stand clear by the site's procedure."


@dataclass(frozen=True, kw_only=True)
class TheoreticalIn:
    """The cells and what rests on them."""

    cells: int = about("number of supports, cells or dummies")
    rated_kg: Decimal = about("rated load of each", unit="kg")
    sensitivity_mv_per_v: Decimal = about("mean sensitivity", unit="mV/V", default=Decimal(2))
    excitation_v: Decimal = about("excitation", unit="V", default=Decimal(10))
    dead_load_kg: Decimal = about("dead load", unit="kg", default=Decimal(0))
    applied_kg: Decimal = about("applied load", unit="kg")
    counts_per_mv_per_v: Decimal | None = about("counts of the indicator per mV/V", default=None)


@dataclass(frozen=True, kw_only=True)
class TheoreticalOut:
    """What the cells give together."""

    signal_mv_per_v: Decimal = about("signal with dead and applied load", unit="mV/V", decimals=5)
    signal_mv: Decimal = about("at the excitation", unit="mV", decimals=4)
    dead_mv_per_v: Decimal = about("signal of the dead load", unit="mV/V", decimals=5)
    dead_mv: Decimal = about("at the excitation", unit="mV", decimals=4)
    span_mv_per_v: Decimal = about("signal of the applied load", unit="mV/V", decimals=5)
    counts_per_kg: Decimal | None = about("counts per kilogram", unit="1/kg", decimals=4)
    used_percent: Decimal = about("share of the total rated load", unit="%", decimals=1)
    overloaded: bool = about("over the rated load")


def _bridge(i: TheoreticalIn, o: TheoreticalOut) -> Picture:
    return Sketch(
        alt=f"Bridge with {i.excitation_v} V across and {o.signal_mv:.3f} mV out.",
        thing="bridge",
        shares={"load": min(1.0, float(o.used_percent) / 100)},
        texts={
            "excitation": f"{i.excitation_v:g} V",
            "signal": f"{o.signal_mv:.3f} mV",
            "ratio": f"{o.signal_mv_per_v:.4f} mV/V",
            "load": f"{o.used_percent:.0f} % of {i.cells} × {i.rated_kg:g} kg",
        },
    )


@operation(
    "loadcell.theoretical",
    title="Load cells: theoretical signal",
    family="Weighing",
    formula="mV/V = mean sensitivity × load / (cells × rated load);  mV = mV/V × excitation",
    source="definition of the sensitivity of a strain-gauge load cell",
    example={
        "cells": 4,
        "rated_kg": "2200",
        "sensitivity_mv_per_v": "1.9987",
        "excitation_v": "10",
        "dead_load_kg": "1450",
        "applied_kg": "5000",
    },
    words="load cell mv/v bridge strain tank hopper weigh silo electronic calibration",
    cautions=(LOAD, "A theoretical calibration is verified with a known weight afterwards."),
    worked=lambda i, o: [
        f"{i.sensitivity_mv_per_v:g} × ({i.dead_load_kg:g} + {i.applied_kg:g}) / "
        f"({i.cells} × {i.rated_kg:g}) = {o.signal_mv_per_v:.5f} mV/V",
        f"× {i.excitation_v:g} V = {o.signal_mv:.4f} mV",
    ],
    picture=_bridge,
)
def theoretical(request: TheoreticalIn) -> TheoreticalOut:
    """Give the bridge signal of a load from cell data.

    Raises
    ------
    InputError
        ``cells.out_of_range``, ``rated_kg.not_positive``, ``sensitivity_mv_per_v.not_positive``,
        ``excitation_v.out_of_range`` and negative loads.

    References
    ----------
    Sensitivity: mV per V of excitation at rated load, the same for cells in parallel.
    """
    between(request.cells, 1, 32, "cells", "number of supports")
    positive(request.rated_kg, "rated_kg", "rated load", "kg")
    positive(request.sensitivity_mv_per_v, "sensitivity_mv_per_v", "sensitivity", "mV/V")
    between(request.excitation_v, Decimal("0.1"), 30, "excitation_v", "excitation", "V")
    not_negative(request.dead_load_kg, "dead_load_kg", "dead load")
    not_negative(request.applied_kg, "applied_kg", "applied load")
    capacity = request.cells * request.rated_kg
    per_kg = request.sensitivity_mv_per_v / capacity
    total = request.dead_load_kg + request.applied_kg
    counts = request.counts_per_mv_per_v
    return TheoreticalOut(
        signal_mv_per_v=per_kg * total,
        signal_mv=per_kg * total * request.excitation_v,
        dead_mv_per_v=per_kg * request.dead_load_kg,
        dead_mv=per_kg * request.dead_load_kg * request.excitation_v,
        span_mv_per_v=per_kg * request.applied_kg,
        counts_per_kg=None if counts is None else counts * per_kg,
        used_percent=100 * total / capacity,
        overloaded=total > capacity,
    )


@dataclass(frozen=True, kw_only=True)
class MinimumIn:
    """The cells, and the weight at hand."""

    cells: int = about("number of supports, cells or dummies")
    rated_kg: Decimal = about("rated load of each", unit="kg")
    share_percent: Decimal = about(
        "least share of the total capacity", unit="%", default=Decimal(5)
    )
    weight_kg: Decimal | None = about("weight at hand", unit="kg", default=None)
    step_kg: Decimal | None = about("step of the display", unit="kg", default=None)
    weight_uncertainty_kg: Decimal = about(
        "expanded uncertainty of the weight", unit="kg", default=Decimal(0)
    )
    tolerance_percent: Decimal | None = about(
        "tolerance at capacity", unit="% of capacity", default=None
    )


@dataclass(frozen=True, kw_only=True)
class MinimumOut:
    """The least weight for a calibration with weights."""

    minimum_kg: Decimal = about("least weight", unit="kg", decimals=1)
    capacity_kg: Decimal = about("total capacity", unit="kg", decimals=1)
    share_percent: Decimal | None = about("share of the weight at hand", unit="%", decimals=2)
    enough: bool | None = about("heavy enough")
    half_step_at_capacity: Decimal | None = about(
        "half a step is so many at capacity", unit="steps", decimals=1
    )
    uncertainty_at_capacity_kg: Decimal | None = about(
        "expanded uncertainty at capacity", unit="kg", decimals=2
    )
    tolerance_kg: Decimal | None = about("tolerance at capacity", unit="kg", decimals=2)
    advice: str = about("advice")


def _minimum_picture(i: MinimumIn, o: MinimumOut) -> Picture:
    bars = [Bar(label="least", value=float(o.minimum_kg), text=f"{o.minimum_kg:.0f} kg")]
    if i.weight_kg is not None:
        bars.append(
            Bar(
                label="at hand",
                value=float(i.weight_kg),
                text=f"{i.weight_kg:g} kg",
                tone="within" if o.enough else "outside",
            )
        )
    return Bars(alt=f"At least {o.minimum_kg:.0f} kg are needed.", bars=tuple(bars))


@operation(
    "loadcell.minimum_weight",
    title="Is the weight heavy enough?",
    family="Weighing",
    formula="least weight = share × cells × rated load;  "
    "U(capacity) = √(U² + step² / 3) × capacity / weight",
    source="product default of 5 % of the total cell capacity; the indicator's manual decides. "
    "Uncertainty: JCGM 100:2008, 4.3.7 and 5.1.2, k = 2",
    example={
        "cells": 4,
        "rated_kg": "2200",
        "weight_kg": "500",
        "step_kg": "0.5",
        "tolerance_percent": "0.1",
    },
    words="load cell test weight minimum tank hopper",
    cautions=(LOAD,),
    worked=lambda i, o: [
        f"{i.share_percent:g} % × {i.cells} × {i.rated_kg:g} kg = {o.minimum_kg:.1f} kg"
    ],
    picture=_minimum_picture,
)
def minimum_weight(request: MinimumIn) -> MinimumOut:
    """Give the least weight that calibrates, and judge the one at hand.

    Raises
    ------
    InputError
        ``cells.out_of_range``, ``rated_kg.not_positive``, ``share_percent.out_of_range``,
        ``weight_kg.not_positive``, ``step_kg.not_positive``,
        ``weight_uncertainty_kg.negative``, ``tolerance_percent.not_positive``.

    References
    ----------
    The share is a rule of this product, editable by the site: what the electronics accept. What
    the tolerance needs is another thing: an uncertainty at a small weight grows in proportion to
    the load. JCGM 100:2008, 4.3.7 (half a step either way, rectangular) and 5.1.2.
    """
    between(request.cells, 1, 32, "cells", "number of supports")
    positive(request.rated_kg, "rated_kg", "rated load", "kg")
    between(request.share_percent, Decimal("0.1"), 100, "share_percent", "share", "%")
    if request.tolerance_percent is not None:
        positive(request.tolerance_percent, "tolerance_percent", "tolerance", "%")
    not_negative(request.weight_uncertainty_kg, "weight_uncertainty_kg", "uncertainty")
    capacity = request.cells * request.rated_kg
    least = capacity * request.share_percent / 100
    weight = request.weight_kg
    if weight is not None:
        positive(weight, "weight_kg", "weight", "kg")
    if request.step_kg is not None:
        positive(request.step_kg, "step_kg", "step", "kg")
    tolerance = request.tolerance_percent
    allowed = capacity * tolerance / 100 if tolerance is not None else None
    grown = _at_capacity(request, capacity)
    accepted = None if weight is None else weight >= least
    enough = accepted and not (grown is not None and allowed is not None and grown > allowed)
    return MinimumOut(
        minimum_kg=least,
        capacity_kg=capacity,
        share_percent=None if weight is None else 100 * weight / capacity,
        enough=enough,
        half_step_at_capacity=None
        if weight is None or request.step_kg is None
        else capacity / weight / 2,
        uncertainty_at_capacity_kg=grown,
        tolerance_kg=allowed,
        advice=_advice(accepted, enough),
    )


def _at_capacity(request: MinimumIn, capacity: Decimal) -> Decimal | None:
    """Return the expanded uncertainty that a weight leaves at capacity. [kg]"""
    if request.weight_kg is None or (request.step_kg is None and not request.weight_uncertainty_kg):
        return None
    step = request.step_kg or Decimal(0)
    own = (request.weight_uncertainty_kg**2 + step**2 / 3).sqrt()
    return own * capacity / request.weight_kg


def _advice(accepted: bool | None, enough: bool | None) -> str:
    if accepted is None:
        return "Bring at least this weight."
    if not accepted:
        return "Too light: calibrate theoretically, then verify with this weight."
    if not enough:
        return (
            "The electronics accept it, the tolerance does not: at capacity its uncertainty is "
            "larger than what is allowed. Bring more weight, or add substitution loads."
        )
    return "Calibrate with weights."
