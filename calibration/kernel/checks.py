"""Refusals that many operations share."""

from __future__ import annotations

from decimal import Decimal

from calibration.kernel.errors import InputError

Number = Decimal | float


def _name(field: str) -> str:
    """Return the last name of a dotted field, past its place in a list."""
    return next((part for part in reversed(field.split(".")) if not part.isdigit()), field)


def positive(value: Number, field: str, name: str, unit: str = "") -> None:
    """Refuse a value that is not above 0.

    Raises
    ------
    InputError
        ``<field>.not_positive``.

    >>> positive(0.0, "flow", "flow", "L/min")
    Traceback (most recent call last):
        ...
    calibration.kernel.errors.InputError: The flow must be above 0.
    """
    if value <= 0:
        raise InputError(
            f"{_name(field)}.not_positive",
            field,
            f"The {name} must be above 0.",
            f"Give the {name}" + (f" in {unit}." if unit else "."),
        )


def not_negative(value: Number, field: str, name: str) -> None:
    """Refuse a value below 0.

    Raises
    ------
    InputError
        ``<field>.negative``.

    >>> not_negative(-0.1, "kit.0.load", "load")
    Traceback (most recent call last):
        ...
    calibration.kernel.errors.InputError: The load cannot be below 0.
    """
    if value < 0:
        raise InputError(
            f"{_name(field)}.negative",
            field,
            f"The {name} cannot be below 0.",
            f"Give the {name} without the minus sign.",
        )


def between(
    value: Number, low: Number, high: Number, field: str, name: str, unit: str = ""
) -> None:
    """Refuse a value outside low to high, both included.

    Raises
    ------
    InputError
        ``<field>.out_of_range``.

    >>> between(120, 0, 100, "percent", "place", "%")
    Traceback (most recent call last):
        ...
    calibration.kernel.errors.InputError: The place is outside 0 to 100 %.
    """
    if not low <= value <= high:
        unit = f" {unit}" if unit else ""
        raise InputError(
            f"{_name(field)}.out_of_range",
            field,
            f"The {name} is outside {low:g} to {high:g}{unit}.",
            f"Use a value from {low:g} to {high:g}{unit}.",
        )


def some(values: tuple[object, ...], field: str, name: str, least: int = 1) -> None:
    """Refuse a list that is too short.

    Raises
    ------
    InputError
        ``<field>.too_few``.

    >>> some((1, 2), "points", "points", least=3)
    Traceback (most recent call last):
        ...
    calibration.kernel.errors.InputError: 2 given where at least 3 of points are needed.
    """
    if len(values) < least:
        raise InputError(
            f"{_name(field)}.too_few",
            field,
            f"{len(values)} given where at least {least} of {name} are needed.",
            f"Add {name}.",
        )
