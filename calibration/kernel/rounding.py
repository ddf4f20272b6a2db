"""The only place that rounds, and only for showing."""

from __future__ import annotations

from collections.abc import Sequence
from decimal import ROUND_HALF_EVEN, Context, Decimal

MINUS = "\u2212"
THIN = "\u202f"
_STEPS = [Decimal(1).scaleb(-n) for n in range(31)]
#: Wide enough for every number that is let in, with every decimal shown.
_WIDE = Context(prec=1000)


def decimals_of(value: Decimal) -> int:
    """Return the number of decimals as typed: 2 for ``4.00``.

    Examples
    --------
    >>> decimals_of(Decimal("4.00"))
    2
    """
    exponent = value.as_tuple().exponent
    return max(0, -exponent) if isinstance(exponent, int) else 0


def fixed(value: Decimal | float, decimals: int) -> Decimal:
    """Round half to even to a number of decimals (ISO 80000-1, annex B, rule A).

    Examples
    --------
    >>> fixed(Decimal("2.5"), 0), fixed(Decimal("3.5"), 0)
    (Decimal('2'), Decimal('4'))
    """
    exact = value if isinstance(value, Decimal) else Decimal(repr(value))
    step = _STEPS[decimals] if decimals < len(_STEPS) else Decimal(1).scaleb(-decimals)
    rounded = exact.quantize(step, rounding=ROUND_HALF_EVEN, context=_WIDE)
    return rounded if rounded else abs(rounded)


def show_as_read(error: Decimal, limit: Decimal, reading: Decimal) -> str:
    """Return an error with as many decimals as the reading; more where the limit needs them.

    Examples
    --------
    >>> show_as_read(Decimal("0.3"), Decimal(1), Decimal("50.3"))
    '+0.3'
    """
    return show_error(error, limit, range(min(4, decimals_of(reading)), 7))


def show(value: Decimal | float, decimals: int, *, sign: bool = False) -> str:
    """Return a number for people: true minus sign, digits in threes from 10 000 on.

    Examples
    --------
    >>> show(Decimal("-0.5"), 2)
    '\u22120.50'
    """
    return _dress(fixed(value, decimals), sign)


def as_typed(value: Decimal, *, sign: bool = False) -> str:
    """Return a typed number for people with exactly the decimals it was typed with.

    Examples
    --------
    >>> as_typed(Decimal("4.00"))
    '4.00'
    """
    return _dress(value, sign)


def _dress(value: Decimal, sign: bool) -> str:
    text = format(value, "f")
    negative = text[0] == "-"
    if negative:
        text = text[1:]
    point = text.find(".")
    if (len(text) if point < 0 else point) > 4:
        whole, _, part = text.partition(".")
        text = f"{int(whole):,}".replace(",", THIN) + (f".{part}" if part else "")
    if negative:
        return MINUS + text
    return f"+{text}" if sign and value > 0 else text


def significant(value: float, digits: int = 3) -> str:
    """Return a figure with a number of significant digits, without exponent.

    Examples
    --------
    >>> significant(0.012345, 2)
    '0.012'
    """
    if value == 0:
        return "0"
    exact = Decimal(repr(value))
    return show(exact, max(0, digits - 1 - exact.adjusted()))


def expanded(value: float) -> str:
    """Return an expanded uncertainty: to two significant digits (JCGM 100, 7.2.6).

    Examples
    --------
    >>> expanded(0.0404)
    '0.040'
    """
    return significant(value, 2)


def trimmed(value: Decimal) -> str:
    """Return a set value without trailing zeros: ``4000.00`` is ``4000``, ``0.50`` is ``0.5``.

    Examples
    --------
    >>> trimmed(Decimal("4000.00")), trimmed(Decimal("0.50"))
    ('4000', '0.5')
    """
    if value == value.to_integral_value():
        return _dress(value.quantize(Decimal(1)), False)
    return _dress(value.normalize(), False)


def show_error(error: Decimal, limit: Decimal, steps: Sequence[int] = (2, 3, 4, 6)) -> str:
    """Return an error with so many decimals that it is seen on which side of the limit it lies.

    ``steps`` are the numbers of decimals that are tried, in order; the last one is taken as it is.

    Examples
    --------
    >>> show_error(Decimal("0.504"), Decimal("0.5"))
    '+0.504'
    """
    for decimals in steps:
        text = show(error, decimals, sign=True)
        shown = abs(round(error, decimals))
        if (shown > limit) == (abs(error) > limit) or shown == limit == abs(error):
            return text
    return text
