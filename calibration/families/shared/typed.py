"""Values that were typed in a table, by name: read as numbers, and nothing but those."""

from __future__ import annotations

from collections.abc import Iterable
from decimal import Decimal

from calibration.kernel.errors import InputError
from calibration.kernel.numbers import parse_decimal


def number(values: dict[str, object], name: str) -> Decimal | None:
    """Take a number out of typed values; none where it was left empty.

    Raises
    ------
    InputError
        those of a number.
    """
    value = values.pop(name, None)
    if value is None or (isinstance(value, str) and not value.strip()):
        return None
    return parse_decimal(value, f"data.{name}")


def nothing_else(values: Iterable[str]) -> None:
    """Refuse values of other names.

    Raises
    ------
    InputError
        ``field.unknown``.
    """
    for name in values:
        raise InputError(
            "field.unknown", f"data.{name[:40]}", "Nothing of that name is read here.", "Drop it."
        )
