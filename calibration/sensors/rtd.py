"""Platinum resistance thermometers."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from calibration.kernel.checks import between
from calibration.kernel.codec import about
from calibration.kernel.errors import InputError
from calibration.kernel.pictures import Band, Chart, Picture, Series, Spot, sampled
from calibration.kernel.registry import operation

#: Callendar-Van Dusen coefficients, IEC 60751. [1/°C, 1/°C², 1/°C⁴]
A, B, C = 3.9083e-3, -5.775e-7, -4.183e-12
LOWEST_C, HIGHEST_C = -200.0, 850.0
#: Class: constant [°C], share of |t|, and the range of wire-wound sensors [°C]; IEC 60751.
CLASSES = {
    "AA": (0.1, 0.0017, -50.0, 250.0),
    "A": (0.15, 0.002, -100.0, 450.0),
    "B": (0.3, 0.005, -196.0, 600.0),
    "C": (0.6, 0.01, -196.0, 600.0),
}
Nominal = Literal[100, 200, 500, 1000]
SOURCE = "IEC 60751, Callendar-Van Dusen equation and tolerance classes (wire-wound)"
FORMULA = "R = R₀ (1 + A t + B t²), below 0 °C plus R₀ C (t − 100 °C) t³"
WORDS = "pt100 pt500 pt1000 platinum resistance thermometer callendar ohm sensor simulate decade"
CAUTIONS = ("With two wires the lead resistance adds to the sensor: use three or four wires.",)


@dataclass(frozen=True, kw_only=True)
class ClassTolerance:
    """Limits of error by class; none outside the range of the class."""

    AA: float | None = about("class AA, plus or minus", unit="°C", fixed_unit=True, decimals=2)
    A: float | None = about("class A, plus or minus", unit="°C", fixed_unit=True, decimals=2)
    B: float | None = about("class B, plus or minus", unit="°C", fixed_unit=True, decimals=2)
    C: float | None = about("class C, plus or minus", unit="°C", fixed_unit=True, decimals=2)


@dataclass(frozen=True, kw_only=True)
class ResistanceIn:
    """A temperature to turn into a resistance."""

    r0_ohm: Nominal = about("resistance at 0 °C", unit="Ω", default=100, fixed_unit=True)
    temperature_c: float = about("temperature", unit="°C")


@dataclass(frozen=True, kw_only=True)
class ResistanceOut:
    """The resistance of an ideal sensor."""

    resistance_ohm: float = about("resistance", unit="Ω", decimals=3)
    sensitivity_ohm_per_c: float = about("sensitivity there", unit="Ω/°C", decimals=4)
    tolerance_c: ClassTolerance = about("limits of error by class")


@dataclass(frozen=True, kw_only=True)
class TemperatureIn:
    """A resistance to turn into a temperature."""

    r0_ohm: Nominal = about("resistance at 0 °C", unit="Ω", default=100, fixed_unit=True)
    resistance_ohm: float = about("resistance", unit="Ω")


@dataclass(frozen=True, kw_only=True)
class TemperatureOut:
    """The temperature of an ideal sensor."""

    temperature_c: float = about("temperature", unit="°C", decimals=3)
    sensitivity_ohm_per_c: float = about("sensitivity there", unit="Ω/°C", decimals=4)
    tolerance_c: ClassTolerance = about("limits of error by class")


def ratio(t: float) -> float:
    """Return R(t)/R₀ of a platinum sensor (IEC 60751). t in °C, -200 to 850.

    >>> round(100 * ratio(100.0), 2)
    138.51
    """
    value = 1 + A * t + B * t * t
    return value + C * (t - 100) * t**3 if t < 0 else value


def ratio_slope(t: float) -> float:
    """Return the slope of R(t)/R₀. [1/°C]

    >>> round(ratio_slope(0.0), 7)
    0.0039083
    """
    slope = A + 2 * B * t
    return slope + C * (4 * t**3 - 300 * t**2) if t < 0 else slope


def temperature_for(w: float) -> float:
    """Return the temperature at which R/R₀ is ``w``. [°C]

    Closed root above 0 °C, Newton's method below.

    References
    ----------
    Inverse of the Callendar-Van Dusen equation.

    >>> round(temperature_for(1.3851), 2)
    100.01
    """
    t = (-A + math.sqrt(A * A - 4 * B * (1 - w))) / (2 * B)
    if w < 1:
        for _ in range(20):
            step = (ratio(t) - w) / ratio_slope(t)
            t -= step
            if abs(step) < 1e-11:
                break
    return t


def tolerances(t: float) -> ClassTolerance:
    """Return the limits of error of all classes at a temperature. [°C]

    >>> tolerances(100.0)
    ClassTolerance(AA=0.27, A=0.35, B=0.8, C=1.6)
    """
    found = {
        name: base + share * abs(t) if low <= t <= high else None
        for name, (base, share, low, high) in CLASSES.items()
    }
    return ClassTolerance(**found)


def _picture(r0: float, t: float, ohm: float) -> Picture:
    tolerance = tolerances(t).B
    bands = () if tolerance is None else (Band(axis="x", start=t - tolerance, end=t + tolerance),)
    return Chart(
        alt=f"Resistance against temperature with the working point {t:.2f} °C, {ohm:.2f} Ω.",
        x_label="Temperature [°C]",
        y_label="Resistance [Ω]",
        series=(Series(points=sampled(lambda x: r0 * ratio(x), LOWEST_C, HIGHEST_C)),),
        spots=(Spot(x=t, y=ohm, label=f"{t:.2f} °C, {ohm:.2f} Ω"),),
        bands=bands,
    )


@operation(
    "rtd.resistance",
    title="Resistance of a Pt sensor",
    family="Temperature",
    formula=FORMULA,
    source=SOURCE,
    example={"r0_ohm": 100, "temperature_c": "250"},
    words=f"rtd {WORDS}",
    cautions=CAUTIONS,
    inverse="rtd.temperature",
    table={
        "vary": "temperature_c",
        "start": "-50",
        "stop": "400",
        "step": "5",
        "columns": ("resistance_ohm", "tolerance_c.A", "tolerance_c.B"),
    },
    worked=lambda i, o: [
        f"R = {i.r0_ohm} × (1 + 3.9083·10⁻³ × {i.temperature_c:g} − 5.775·10⁻⁷ × "
        f"{i.temperature_c:g}²"
        + (f" − 4.183·10⁻¹² × ({i.temperature_c:g} − 100) × " if i.temperature_c < 0 else "")
        + (f"{i.temperature_c:g}³" if i.temperature_c < 0 else "")
        + f") = {o.resistance_ohm:.3f} Ω"
    ],
    picture=lambda i, o: _picture(i.r0_ohm, i.temperature_c, o.resistance_ohm),
)
def resistance(request: ResistanceIn) -> ResistanceOut:
    """Give the resistance of an ideal platinum sensor.

    Raises
    ------
    InputError
        ``temperature_c.out_of_range``.

    References
    ----------
    IEC 60751:2022, Callendar-Van Dusen equation with its standard coefficients.
    """
    t = request.temperature_c
    between(t, LOWEST_C, HIGHEST_C, "temperature_c", "temperature of a platinum sensor", "°C")
    return ResistanceOut(
        resistance_ohm=request.r0_ohm * ratio(t),
        sensitivity_ohm_per_c=request.r0_ohm * ratio_slope(t),
        tolerance_c=tolerances(t),
    )


@operation(
    "rtd.temperature",
    title="Temperature of a Pt sensor",
    family="Temperature",
    formula=f"{FORMULA}; solved for t",
    source=SOURCE,
    example={"r0_ohm": 100, "resistance_ohm": "194.10"},
    words=f"rtd {WORDS}",
    cautions=CAUTIONS,
    inverse="rtd.resistance",
    worked=lambda i, o: [
        f"R/R₀ = {i.resistance_ohm:g} / {i.r0_ohm} = {i.resistance_ohm / i.r0_ohm:.6f}",
        f"t = {o.temperature_c:.3f} °C",
    ],
    picture=lambda i, o: _picture(i.r0_ohm, o.temperature_c, i.resistance_ohm),
)
def temperature(request: TemperatureIn) -> TemperatureOut:
    """Give the temperature of an ideal platinum sensor, to better than 0.001 °C.

    Raises
    ------
    InputError
        ``resistance.out_of_range``.

    References
    ----------
    IEC 60751:2022, inverse of the Callendar-Van Dusen equation.
    """
    r0 = request.r0_ohm
    low, high = r0 * ratio(LOWEST_C), r0 * ratio(HIGHEST_C)
    if not low - 1e-9 * r0 <= request.resistance_ohm <= high + 1e-9 * r0:
        raise InputError(
            "resistance.out_of_range",
            "resistance_ohm",
            f"A Pt{r0} has {low:.2f} Ω at −200 °C and {high:.2f} Ω at 850 °C.",
            "Check the resistance and the nominal value of the sensor.",
        )
    t = temperature_for(request.resistance_ohm / r0)
    return TemperatureOut(
        temperature_c=t,
        sensitivity_ohm_per_c=r0 * ratio_slope(t),
        tolerance_c=tolerances(t),
    )
