"""Pressure units and their factors into kilopascal."""

from __future__ import annotations

from decimal import Decimal

from calibration.errors import InputError

#: kPa per unit. NIST SP 811 (2008), appendix B.8; psi and inH2O (4 °C) as printed there.
KPA_PER = {
    "Pa": Decimal("0.001"),
    "mbar": Decimal("0.1"),
    "kPa": Decimal(1),
    "bar": Decimal(100),
    "MPa": Decimal(1000),
    "psi": Decimal("6.894757"),
    "inH2O": Decimal("0.249082"),
}


def pressure_factor(from_unit: str, to_unit: str) -> Decimal:
    """Return the factor that turns a pressure in one unit into another.

    Raises
    ------
    InputError
        ``unit.unknown``.
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
