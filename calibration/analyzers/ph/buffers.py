"""pH buffers and their values by temperature.

Primary set: DIN 19266 (values of the primary reference buffers). Technical set: the values that
makers print on bottles of 4.01, 7.00, 9.18 and 10.01, which follow the phthalate, borax and
carbonate buffers of DIN 19266 rounded to 0.01; the label on the bottle decides where it differs. A
site adds its own sets beside these.
"""

from __future__ import annotations

from bisect import bisect_right
from dataclasses import dataclass

from calibration.kernel.codec import about
from calibration.kernel.errors import InputError


@dataclass(frozen=True, kw_only=True)
class BufferTable:
    """Values of one buffer at rising temperatures."""

    set: str = about("buffer set")
    nominal: str = about("name of the buffer, its pH at 25 °C")
    temperatures_c: tuple[float, ...] = about("temperatures, rising", unit="°C")
    values: tuple[float, ...] = about("pH at these temperatures")
    source: str = about("source of the values", default="")


_PRIMARY_C = (0.0, 5.0, 10.0, 15.0, 20.0, 25.0, 30.0, 35.0, 40.0, 45.0, 50.0, 55.0, 60.0)
_TECHNICAL_C = _PRIMARY_C[:11]
_DIN = "DIN 19266"
_LABEL = "technical buffer, values as printed on the label"


def _primary(nominal: str, *values: float) -> BufferTable:
    return BufferTable(
        set="primary", nominal=nominal, temperatures_c=_PRIMARY_C, values=values, source=_DIN
    )


def _technical(nominal: str, *values: float) -> BufferTable:
    return BufferTable(
        set="technical", nominal=nominal, temperatures_c=_TECHNICAL_C, values=values, source=_LABEL
    )


_P1 = (1.666, 1.668, 1.670, 1.672, 1.675, 1.679, 1.683, 1.688, 1.694, 1.700, 1.707, 1.715, 1.723)
_P4 = (4.010, 4.004, 4.000, 3.999, 4.001, 4.006, 4.012, 4.021, 4.031, 4.043, 4.057, 4.071, 4.087)
_P6 = (6.984, 6.951, 6.923, 6.900, 6.881, 6.865, 6.853, 6.844, 6.838, 6.834, 6.833, 6.834, 6.836)
_P9 = (9.464, 9.395, 9.332, 9.276, 9.225, 9.180, 9.139, 9.102, 9.068, 9.038, 9.011, 8.985, 8.962)
SHIPPED: tuple[BufferTable, ...] = (
    _primary("1.679", *_P1),
    _primary("4.006", *_P4),
    _primary("6.865", *_P6),
    _primary("9.180", *_P9),
    _technical("4.01", 4.01, 4.00, 4.00, 4.00, 4.00, 4.01, 4.02, 4.03, 4.04, 4.05, 4.06),
    _technical("7.00", 7.12, 7.09, 7.06, 7.04, 7.02, 7.00, 6.99, 6.98, 6.97, 6.97, 6.97),
    _technical("9.18", *(round(v, 2) for v in _P9[:11])),
    _technical("10.01", 10.32, 10.25, 10.18, 10.12, 10.06, 10.01, 9.97, 9.93, 9.89, 9.86, 9.83),
)


def find_table(set_: str, nominal: str, own: tuple[BufferTable, ...], field: str) -> BufferTable:
    """Return the table of a buffer; a site's own tables come before the shipped ones.

    Raises
    ------
    InputError
        ``buffer.unknown``.

    >>> find_table("primary", "6.865", (), "buffer").temperatures_c[0]
    0.0
    """
    tables = (*own, *SHIPPED)
    for table in tables:
        if table.set == set_ and _same(table.nominal, nominal):
            return table
    known = ", ".join(t.nominal for t in tables if t.set == set_)
    raise InputError(
        "buffer.unknown",
        field,
        f"The {set_[:40]} set has no buffer {nominal[:20]}.",
        f"Use {known}." if known else "Use the set primary or technical, or one of the site.",
    )


def _same(a: str, b: str) -> bool:
    try:
        return float(a) == float(b)
    except ValueError:
        return a == b


def check_table(table: BufferTable, field: str) -> None:
    """Refuse a table whose temperatures do not rise or do not match its values.

    Raises
    ------
    InputError
        ``buffer.table``.

    >>> check_table(BufferTable(set="own", nominal="7", temperatures_c=(20.0, 25.0),
    ...                         values=(7.02, 7.0)), "table")
    """
    rising = all(
        a < b for a, b in zip(table.temperatures_c, table.temperatures_c[1:], strict=False)
    )
    fits = len(table.temperatures_c) == len(table.values) >= 2
    if not rising or not fits or not all(0 <= v <= 14 for v in table.values):
        raise InputError(
            "buffer.table",
            field,
            f"The table of buffer {table.nominal[:20]} cannot be used.",
            "Give rising temperatures, one pH from 0 to 14 for each, and at least two.",
        )


def value_at(table: BufferTable, temperature_c: float, field: str) -> float:
    """Return the pH of a buffer at a temperature, by straight lines between table entries.

    Raises
    ------
    InputError
        ``buffer.temperature``, outside the table.

    References
    ----------
    DIN 19266 for the primary set; linear interpolation errs by less than 0.002 pH there.

    >>> own = BufferTable(set="own", nominal="7", temperatures_c=(20.0, 25.0), values=(7.02, 7.0))
    >>> round(value_at(own, 22.5, "temperature"), 3)
    7.01
    """
    at, values = table.temperatures_c, table.values
    if not at[0] <= temperature_c <= at[-1]:
        raise InputError(
            "buffer.temperature",
            field,
            f"Buffer {table.nominal} is known from {at[0]:g} to {at[-1]:g} °C.",
            "Bring the buffer to a temperature in that range.",
        )
    i = min(bisect_right(at, temperature_c) - 1, len(at) - 2)
    share = (temperature_c - at[i]) / (at[i + 1] - at[i])
    return values[i] + share * (values[i + 1] - values[i])
