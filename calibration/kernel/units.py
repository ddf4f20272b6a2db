"""Units that people choose from, and their exact or published factors."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from calibration.kernel.errors import InputError


@dataclass(frozen=True)
class Unit:
    """value in base = value × factor + offset."""

    family: str
    factor: Decimal
    offset: Decimal = Decimal(0)


def _family(name: str, **factors: str) -> dict[str, Unit]:
    return {unit: Unit(name, Decimal(factor)) for unit, factor in factors.items()}


#: NIST SP 811 (2008), appendix B.8, as printed there; foot, pound, inch and US gallon exact.
UNITS: dict[str, Unit] = {
    **_family("pressure", kPa="1", bar="100", mbar="0.1", psi="6.894757", MPa="1000", Pa="0.001"),
    **_family("pressure", inH2O="0.249082", inH2O_20="0.24864", mmHg="0.1333224"),
    "°C": Unit("temperature", Decimal(1)),
    "K": Unit("temperature", Decimal(1), Decimal("-273.15")),
    "°F": Unit("temperature", Decimal(5) / 9, Decimal(-160) / 9),
    **_family("length", m="1", cm="0.01", mm="0.001", ft="0.3048"),
    "in": Unit("length", Decimal("0.0254")),
    **_family("mass", kg="1", g="0.001", t="1000", lb="0.45359237", oz="0.028349523125"),
    "kg/m³": Unit("density", Decimal(1)),
    "g/cm³": Unit("density", Decimal(1000)),
    "lb/ft³": Unit("density", Decimal("16.01846")),
    **_family("volume", L="1", mL="0.001", gal="3.785411784"),
    "cm³": Unit("volume", Decimal("0.001")),
    "m³": Unit("volume", Decimal(1000)),
    "in³": Unit("volume", Decimal("0.016387064")),
    "ft³": Unit("volume", Decimal("28.316846592")),
    "L/min": Unit("flow", Decimal(1)),
    "mL/min": Unit("flow", Decimal("0.001")),
    "L/h": Unit("flow", Decimal(1) / 60),
    "m³/h": Unit("flow", Decimal(1000) / 60),
    "ft³/h": Unit("flow", Decimal("28.316846592") / 60),
    "kg/h": Unit("mass flow", Decimal(1)),
    "t/h": Unit("mass flow", Decimal(1000)),
    "kg/min": Unit("mass flow", Decimal(60)),
    "lb/min": Unit("mass flow", Decimal("27.2155422")),
    "m/s": Unit("speed", Decimal(1)),
    "m/min": Unit("speed", Decimal(1) / 60),
    "ft/min": Unit("speed", Decimal("0.00508")),
    **_family("time", s="1", min="60", h="3600"),
    **_family("voltage", V="1", mV="0.001"),
    "µV": Unit("voltage", Decimal("0.000001")),
    **_family("current", mA="1", A="1000"),
    "µA": Unit("current", Decimal("0.001")),
    "Ω": Unit("resistance", Decimal(1)),
    "kΩ": Unit("resistance", Decimal(1000)),
    "g/mol": Unit("molar mass", Decimal(1)),
}
KPA_PER = {name: unit.factor for name, unit in UNITS.items() if unit.family == "pressure"}


#: Units that are shown and typed, and not turned into others.
SHOWN = (
    *UNITS, "%", "% vol", "%LEL", "ppm", "ppb", "pH", "mg/m³", "µS/cm", "mS/cm", "%/h", "kg/s",
    "L/s", "m³/d", "t/d", "Hz", "rpm", "mV/V", "NTU", "gas",
)  # fmt: skip
#: How people write a unit, and what it is called here; a gauge pressure is one all the same.
WRITTEN = {
    "barg": "bar", "bara": "bar", "bar(g)": "bar", "bar g": "bar", "psig": "psi", "psia": "psi",
    "c": "°C", "deg c": "°C", "degc": "°C", "grad c": "°C", "celsius": "°C", "f": "°F",
    "deg f": "°F", "degf": "°F", "kelvin": "K", "ohm": "Ω", "ohms": "Ω", "kohm": "kΩ",
    "inwc": "inH2O", "percent": "%", "pct": "%", "vol%": "% vol", "%vol": "% vol", "% lel": "%LEL",
    "lel": "%LEL", "m3/h": "m³/h", "m3": "m³", "kg/m3": "kg/m³", "g/cm3": "g/cm³", "l/min": "L/min",
    "l/h": "L/h", "l": "L", "to/h": "t/h", "ph": "pH",
}  # fmt: skip


def known_unit(unit: str, field: str) -> None:
    """Refuse what is no unit here, and name the one that may be meant.

    Parameters
    ----------
    unit : str
        As typed.
    field : str
        Where it was typed.

    Raises
    ------
    InputError
        ``unit.spelled`` for another way to write one, ``unit.unknown``.

    >>> known_unit("barg", "unit")
    Traceback (most recent call last):
        ...
    calibration.kernel.errors.InputError: 'barg' is written 'bar' here.
    """
    if unit in SHOWN:
        return
    low = " ".join(unit.lower().split())
    near = WRITTEN.get(low) or next((u for u in SHOWN if u.lower() == low), "")
    if near:
        raise InputError(
            "unit.spelled",
            field,
            f"'{unit[:20]}' is written '{near}' here.",
            f"Write {near}; gauge or absolute belongs into the description."
            if near in ("bar", "psi")
            else f"Write {near}.",
        )
    raise InputError(
        "unit.unknown", field, f"'{unit[:20]}' is no unit here.", "Choose a unit of the list."
    )


#: Quantities of which a site prefers a unit, with the one that is preferred otherwise.
PREFERRED = {"pressure": "bar", "temperature": "°C", "flow": "m³/h", "mass": "kg"}


def alternatives(unit: str) -> tuple[str, ...]:
    """Return the units that measure the same as ``unit``, itself first; none for others.

    Examples
    --------
    >>> alternatives("V")
    ('V', 'mV', 'µV')
    """
    known = UNITS.get(unit)
    if known is None:
        return ()
    others = tuple(n for n, u in UNITS.items() if u.family == known.family and n != unit)
    return (unit, *others) if others else ()


def convert(value: Decimal, from_unit: str, to_unit: str, field: str = "unit") -> Decimal:
    """Return a value of one unit in another of the same family.

    Raises
    ------
    InputError
        ``unit.unknown``, ``unit.family``.

    References
    ----------
    NIST SP 811 (2008), appendix B.8.

    Examples
    --------
    >>> convert(Decimal(1), "psi", "kPa"), convert(Decimal(1), "in", "m")
    (Decimal('6.894757'), Decimal('0.0254'))
    """
    if from_unit == to_unit:
        return value
    start, end = _known(from_unit, field), _known(to_unit, field)
    if start.family != end.family:
        raise InputError(
            "unit.family",
            field,
            f"'{from_unit}' cannot be turned into '{to_unit}'.",
            "Choose one of " + ", ".join(alternatives(to_unit)) + ".",
        )
    return (value * start.factor + start.offset - end.offset) / end.factor


def _known(unit: str, field: str) -> Unit:
    try:
        return UNITS[unit]
    except KeyError:
        raise InputError(
            "unit.unknown", field, f"'{unit[:20]}' is no unit here.", "Choose a unit of the list."
        ) from None


def pressure_factor(from_unit: str, to_unit: str) -> Decimal:
    """Return the factor that turns a pressure in one unit into another.

    Raises
    ------
    InputError
        ``unit.unknown``.

    Examples
    --------
    >>> pressure_factor("bar", "kPa")
    Decimal('100')
    """
    if from_unit == to_unit:
        return Decimal(1)
    for unit in (from_unit, to_unit):
        if unit not in KPA_PER:
            raise InputError(
                "unit.unknown",
                "unit",
                f"'{unit}' is no pressure unit here.",
                "Use " + ", ".join(KPA_PER),
            )
    return KPA_PER[from_unit] / KPA_PER[to_unit]
