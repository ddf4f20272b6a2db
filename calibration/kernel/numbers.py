"""Numbers as people type them, and the one conversion between Decimal and float."""

from __future__ import annotations

import math
import re
from contextlib import AbstractContextManager
from decimal import Context, Decimal, localcontext

from calibration.kernel.errors import InputError

PRECISION = 34
#: A comparison in which a float took part is made with this share of the span as guard.
FLOAT_GUARD = Decimal("1e-9")
#: A comparison of Decimals is guarded only against the last digit of a division.
DECIMAL_GUARD = Decimal("1e-28")

_LARGEST_EXPONENT = 30
_LONGEST = 40
_PLAIN = re.compile(r"[+-]?(\d+(\.\d*)?|\.\d+)([eE][+-]?\d{1,4})?")
_SPACES = dict.fromkeys(map(ord, " \u00a0\u2007\u2009\u202f_'"), None)
_SIGNS = str.maketrans({"\u2212": "-", "\u2013": "-", ",": "."})
ZERO = Decimal(0)
HUNDRED = Decimal(100)


def exact() -> AbstractContextManager[Context]:
    """Return the arithmetic context of the core, so results never depend on the caller's.

    >>> with exact():
    ...     Decimal(1) / 3
    Decimal('0.3333333333333333333333333333333333')
    """
    return localcontext(Context(prec=PRECISION))


def parse_decimal(value: object, field: str) -> Decimal:
    """Read a number the way it was typed, keeping its decimals.

    A comma is a decimal comma; blanks between groups of digits are dropped.

    Parameters
    ----------
    value : str, int, float or Decimal
        What was typed or received.
    field : str
        Name to use in a refusal.

    Returns
    -------
    Decimal
        The value with the decimals typed: ``"4,00"`` gives ``Decimal("4.00")``.

    Raises
    ------
    InputError
        ``number.missing``, ``number.not_a_number``, ``number.not_finite``,
        ``number.ambiguous``, ``number.out_of_range``.

    Examples
    --------
    >>> parse_decimal("12,04", "reading")
    Decimal('12.04')
    """
    if isinstance(value, str) and len(value) <= _LONGEST and _PLAIN.fullmatch(value):
        return _in_range(Decimal(value), value, field)
    if isinstance(value, bool) or value is None:
        raise InputError("number.missing", field, "No number was given.", "Type the value read.")
    if isinstance(value, float):
        if not math.isfinite(value):
            raise _not_finite(field)
        value = repr(value)
    text = str(value).strip()
    if not text:
        raise InputError("number.missing", field, "The field is empty.", "Type the value read.")
    if len(text) > _LONGEST:
        raise InputError(
            "number.out_of_range",
            field,
            f"The number has {len(text)} characters.",
            f"Use at most {_LONGEST} characters.",
        )
    if text.lower().lstrip("+-") in ("nan", "inf", "infinity", "snan"):
        raise _not_finite(field)
    if text.count(",") > 1 or ("," in text and "." in text):
        raise InputError(
            "number.ambiguous",
            field,
            f"'{text}' has both a comma and a point, or several commas.",
            "Write one decimal sign and no separators, for example 1234.5.",
        )
    plain = text.translate(_SPACES).translate(_SIGNS)
    if not _PLAIN.fullmatch(plain):
        raise InputError(
            "number.not_a_number",
            field,
            f"'{text}' is not a number.",
            "Use digits and one decimal sign, for example 12.04.",
        )
    return _in_range(Decimal(plain), text, field)


def _in_range(number: Decimal, text: str, field: str) -> Decimal:
    if number and abs(number.adjusted()) > _LARGEST_EXPONENT:
        raise InputError(
            "number.out_of_range",
            field,
            f"'{text}' is beyond any reading.",
            "Check the number of digits and the exponent.",
        )
    return number


def _not_finite(field: str) -> InputError:
    return InputError(
        "number.not_finite",
        field,
        "Infinity and 'not a number' cannot be recorded.",
        "Type the value read, in digits.",
    )


def to_float(value: Decimal) -> float:
    """Hand a Decimal over to float arithmetic (fits, sensor functions, statistics).

    >>> to_float(Decimal("4.00"))
    4.0
    """
    return float(value)


def from_float(value: float, field: str = "value") -> Decimal:
    """Take a float back into Decimal arithmetic at the float's own shortest form.

    Raises
    ------
    InputError
        ``number.not_finite``.

    >>> from_float(0.1)
    Decimal('0.1')
    """
    if not math.isfinite(value):
        raise _not_finite(field)
    return Decimal(repr(value))


def exceeds(magnitude: Decimal, limit: Decimal, span: Decimal, *, floats: bool = False) -> bool:
    """Tell whether ``abs(magnitude)`` is outside ``limit``; exactly on the limit is within.

    Parameters
    ----------
    magnitude, limit, span : Decimal
        In one unit.
    floats : bool
        True when a float took part in either figure: the guard is then 1e-9 of span.

    >>> exceeds(Decimal("-0.080"), Decimal("0.080"), Decimal(16))
    False
    >>> exceeds(Decimal("0.0801"), Decimal("0.080"), Decimal(16))
    True
    """
    guard = (FLOAT_GUARD if floats else DECIMAL_GUARD) * abs(span)
    return abs(magnitude) > limit + guard
