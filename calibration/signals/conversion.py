"""One value in all units of its kind."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from calibration.kernel.checks import not_negative
from calibration.kernel.codec import about
from calibration.kernel.errors import InputError
from calibration.kernel.pictures import Chart, Picture, Series, Spot
from calibration.kernel.registry import operation
from calibration.kernel.units import UNITS, alternatives, convert

ABSOLUTE_ZERO_C = Decimal("-273.15")


@dataclass(frozen=True, kw_only=True)
class ConvertIn:
    """A value with its unit."""

    value: Decimal = about("value")
    unit: str = about("unit")
    to_unit: str = about("wanted unit", default="")


@dataclass(frozen=True, kw_only=True)
class InUnit:
    """The value in one unit."""

    unit: str = about("unit")
    value: Decimal = about("value")


@dataclass(frozen=True, kw_only=True)
class ConvertOut:
    """The wanted one, and all the others."""

    value: Decimal = about("value")
    unit: str = about("unit")
    all: tuple[InUnit, ...] = about("in every unit")


def _picture(i: ConvertIn, o: ConvertOut) -> Picture:
    top = 2 * i.value if i.value else Decimal(100)
    ends = tuple((float(v), float(convert(v, i.unit, o.unit))) for v in (Decimal(0), top))
    return Chart(
        alt=f"{i.value} {i.unit} is {o.value:.6g} {o.unit}.",
        x_label=i.unit,
        y_label=o.unit,
        series=(Series(points=ends),),
        spots=(Spot(x=float(i.value), y=float(o.value), label=f"{o.value:.5g} {o.unit}"),),
    )


@operation(
    "unit.convert",
    title="Convert a unit",
    family="Signals and loops",
    formula="value × factor of its unit / factor of the other (temperatures with their offset)",
    source="NIST SP 811 (2008), appendix B.8",
    example={"value": "100", "unit": "psi", "to_unit": "kPa"},
    words="pressure temperature length mass flow volume density speed " + " ".join(UNITS),
    cautions=("These are gauge or absolute as given: nothing is added for the atmosphere.",),
    picture=_picture,
    worked=lambda i, o: [f"{i.value:g} {i.unit} = {o.value:.8g} {o.unit}"],
)
def convert_unit(request: ConvertIn) -> ConvertOut:
    """Give a value in all units of its family.

    Raises
    ------
    InputError
        ``unit.unknown``, ``unit.family``, ``temperature.below_zero``, ``value.negative``.

    References
    ----------
    NIST SP 811 (2008), appendix B.8.
    """
    if request.unit not in UNITS:
        raise InputError(
            "unit.unknown",
            "unit",
            f"'{request.unit[:20]}' is no unit here.",
            "Use one of " + ", ".join(UNITS) + ".",
        )
    family = UNITS[request.unit].family
    if family == "temperature":
        if convert(request.value, request.unit, "°C") < ABSOLUTE_ZERO_C:
            raise InputError(
                "temperature.below_zero",
                "value",
                "That is below absolute zero.",
                "Check the sign and the unit.",
            )
    elif family in ("length", "mass", "volume", "density", "molar mass", "resistance"):
        not_negative(request.value, "value", family)
    units = alternatives(request.unit)[1:]
    wanted = request.to_unit or (units[0] if units else request.unit)
    return ConvertOut(
        value=convert(request.value, request.unit, wanted, "to_unit"),
        unit=wanted,
        all=tuple(InUnit(unit=u, value=convert(request.value, request.unit, u)) for u in units),
    )
