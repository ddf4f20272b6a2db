"""Thermocouples: emf of a temperature and temperature of an emf."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cache
from typing import Literal

from calibration.kernel.codec import about
from calibration.kernel.errors import InputError
from calibration.kernel.pictures import Chart, Picture, Spot, sampled
from calibration.kernel.pictures import Series as Line
from calibration.kernel.registry import operation
from calibration.sensors.thermocouple.coefficients import K_BUMP, REFERENCE, Piece

Type = Literal["B", "E", "J", "K", "N", "R", "S", "T"]
#: Below this the emf of type B has a second temperature; it is read on the branch above. [°C]
TYPE_B_TURN = 21.0203
CLOSE_C = 1e-7
SOURCE = "ITS-90 reference functions: NIST Monograph 175; IEC 60584-1"
CAUTIONS = (
    "Add emfs, never temperatures: the scale is not straight.",
    "Use extension wire of the same type up to the point where the reference junction is measured.",
)


@dataclass(frozen=True, kw_only=True)
class EmfIn:
    """A temperature to turn into an emf."""

    type: Type = about("thermocouple type")
    temperature_c: float = about("measuring junction", unit="°C")
    reference_junction_c: float = about("reference junction", unit="°C", default=0.0)


@dataclass(frozen=True, kw_only=True)
class EmfOut:
    """What a meter at the reference junction reads."""

    emf_mv: float = about("emf", unit="mV", decimals=3)
    sensitivity_uv_per_c: float = about("sensitivity there", unit="µV/°C", decimals=2)
    reference_emf_mv: float = about("emf of the reference junction", unit="mV", decimals=3)


@dataclass(frozen=True, kw_only=True)
class TemperatureIn:
    """An emf to turn into a temperature."""

    type: Type = about("thermocouple type")
    emf_mv: float = about("emf read at the terminals", unit="mV")
    reference_junction_c: float = about("reference junction", unit="°C", default=0.0)


@dataclass(frozen=True, kw_only=True)
class TemperatureOut:
    """What the measuring junction is at."""

    temperature_c: float = about("temperature", unit="°C", decimals=2)
    sensitivity_uv_per_c: float = about("sensitivity there", unit="µV/°C", decimals=2)
    reference_emf_mv: float = about("emf of the reference junction", unit="mV", decimals=3)
    total_emf_mv: float = about("emf against 0 °C", unit="mV", decimals=3)


def limits(type_: Type) -> tuple[float, float]:
    """Return the range of a type's reference function. [°C]

    >>> limits("K")
    (-270.0, 1372.0)
    """
    pieces = REFERENCE[type_]
    return pieces[0].lower_c, pieces[-1].upper_c


def _piece(type_: Type, t: float) -> Piece:
    for piece in REFERENCE[type_]:
        if t <= piece.upper_c:
            return piece
    return REFERENCE[type_][-1]


def reference_emf(type_: Type, t: float) -> tuple[float, float]:
    """Return emf against 0 °C and its slope.

    Parameters
    ----------
    type_ : str
        Letter of the thermocouple.
    t : float
        Within :func:`limits`. [°C]

    Returns
    -------
    tuple of float
        Emf [mV] and slope [mV/°C].

    References
    ----------
    NIST Monograph 175, reference functions on the ITS-90.

    >>> round(reference_emf("K", 100.0)[0], 3)
    4.096
    """
    emf = slope = 0.0
    for c in reversed(_piece(type_, t).coefficients):
        slope = slope * t + emf
        emf = emf * t + c
    if type_ == "K" and t > 0:
        a0, a1, a2 = K_BUMP
        bump = a0 * math.exp(a1 * (t - a2) ** 2)
        emf += bump
        slope += bump * 2 * a1 * (t - a2)
    return emf, slope


@cache
def _ends(type_: Type) -> tuple[float, float, float, float]:
    """Return lowest and highest temperature of the inverse, and the emf at both."""
    low, high = limits(type_)
    low = TYPE_B_TURN if type_ == "B" else low
    return low, high, reference_emf(type_, low)[0], reference_emf(type_, high)[0]


def temperature_for(type_: Type, emf: float) -> float:
    """Return the temperature of an emf against 0 °C, by root finding. [°C]

    Newton's step on the reference function, kept inside a bracket by bisection. Type B is read
    on its upper branch, above 21 °C.

    Raises
    ------
    InputError
        ``emf.out_of_range``.

    >>> round(temperature_for("K", 4.096), 1)
    100.0
    """
    low, high, emf_low, emf_high = _ends(type_)
    slack = 1e-9 * (emf_high - emf_low)
    if not emf_low - slack <= emf <= emf_high + slack:
        raise InputError(
            "emf.out_of_range",
            "emf_mv",
            f"{emf:.3f} mV against 0 °C is outside type {type_}: "
            f"{emf_low:.3f} to {emf_high:.3f} mV.",
            "Check the type, the polarity and the millivolts.",
        )
    t = low + (high - low) * (emf - emf_low) / (emf_high - emf_low)
    for _ in range(100):
        found, slope = reference_emf(type_, t)
        if found > emf:
            high = t
        else:
            low = t
        step = t - (found - emf) / slope if slope > 0 else low - 1
        following = step if low <= step <= high else (low + high) / 2
        if abs(following - t) < CLOSE_C:
            return following
        t = following
    return t


def _checked(type_: Type, t: float, field: str) -> float:
    low, high = limits(type_)
    if not low <= t <= high:
        raise InputError(
            "temperature.out_of_range",
            field,
            f"Type {type_} is defined from {low:g} to {high:g} °C.",
            "Choose a type that reaches it, or check the temperature.",
        )
    return t


def _picture(type_: Type, t: float, emf: float, label: str) -> Picture:
    low, high = limits(type_)
    return Chart(
        alt=f"Emf of type {type_} against temperature, with the working point {label}.",
        x_label="Measuring junction [°C]",
        y_label="Emf against 0 °C [mV]",
        series=(Line(points=sampled(lambda x: reference_emf(type_, x)[0], low, high)),),
        spots=(Spot(x=t, y=emf, label=label),),
    )


@operation(
    "thermocouple.emf",
    title="Emf of a thermocouple",
    family="Temperature",
    formula="E = E_ref(t) − E_ref(t_r);  E_ref(t) = Σ c_i tⁱ, the reference function of the type",
    source=SOURCE,
    example={"type": "K", "temperature_c": "500", "reference_junction_c": "23"},
    words="tc mv millivolt type k j t e n r s b cold junction simulate",
    cautions=CAUTIONS,
    inverse="thermocouple.temperature",
    table={
        "vary": "temperature_c",
        "start": "0",
        "stop": "1000",
        "step": "10",
        "columns": ("emf_mv", "sensitivity_uv_per_c"),
    },
    worked=lambda i, o: [
        f"E_ref({i.temperature_c:g} °C) = {o.emf_mv + o.reference_emf_mv:.3f} mV",
        f"E_ref({i.reference_junction_c:g} °C) = {o.reference_emf_mv:.3f} mV",
        f"E = {o.emf_mv + o.reference_emf_mv:.3f} − {o.reference_emf_mv:.3f} = {o.emf_mv:.3f} mV",
    ],
    picture=lambda i, o: _picture(
        i.type,
        i.temperature_c,
        o.emf_mv + o.reference_emf_mv,
        f"{i.temperature_c:g} °C",
    ),
)
def emf(request: EmfIn) -> EmfOut:
    """Give the emf between measuring and reference junction.

    Raises
    ------
    InputError
        ``temperature.out_of_range``.

    References
    ----------
    NIST Monograph 175 (1993); IEC 60584-1.
    """
    t = _checked(request.type, request.temperature_c, "temperature_c")
    reference = _checked(request.type, request.reference_junction_c, "reference_junction_c")
    at_t, slope = reference_emf(request.type, t)
    at_reference, _ = reference_emf(request.type, reference)
    return EmfOut(
        emf_mv=at_t - at_reference,
        sensitivity_uv_per_c=1000 * slope,
        reference_emf_mv=at_reference,
    )


@operation(
    "thermocouple.temperature",
    title="Temperature of a thermocouple",
    family="Temperature",
    formula="E_ref(t) = E + E_ref(t_r), solved for t on the reference function",
    source=SOURCE,
    example={"type": "K", "emf_mv": "19.718", "reference_junction_c": "23"},
    words="tc mv millivolt type k j t e n r s b cold junction inverse",
    cautions=(
        *CAUTIONS,
        "Type B gives nearly no emf below 50 °C; there it cannot be read.",
    ),
    inverse="thermocouple.emf",
    worked=lambda i, o: [
        f"E_ref({i.reference_junction_c:g} °C) = {o.reference_emf_mv:.3f} mV",
        f"E against 0 °C = {i.emf_mv:.3f} + {o.reference_emf_mv:.3f} = {o.total_emf_mv:.3f} mV",
        f"E_ref(t) = {o.total_emf_mv:.3f} mV at t = {o.temperature_c:.2f} °C",
    ],
    picture=lambda i, o: _picture(i.type, o.temperature_c, o.total_emf_mv, f"{i.emf_mv:g} mV"),
)
def temperature(request: TemperatureIn) -> TemperatureOut:
    """Give the temperature of the measuring junction: emfs are added, never temperatures.

    Raises
    ------
    InputError
        ``emf.out_of_range``, ``temperature.out_of_range``.

    References
    ----------
    NIST Monograph 175 (1993); IEC 60584-1.
    """
    reference = _checked(request.type, request.reference_junction_c, "reference_junction_c")
    at_reference, _ = reference_emf(request.type, reference)
    total = request.emf_mv + at_reference
    t = temperature_for(request.type, total)
    return TemperatureOut(
        temperature_c=t,
        sensitivity_uv_per_c=1000 * reference_emf(request.type, t)[1],
        reference_emf_mv=at_reference,
        total_emf_mv=total,
    )
