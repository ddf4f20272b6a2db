"""What error is allowed, evaluated point by point."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from functools import cached_property
from typing import Literal

from calibration.kernel.codec import about
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import HUNDRED, ZERO
from calibration.kernel.rounding import trimmed
from calibration.signals.transfer import Transfer, ideal_output


@dataclass(frozen=True, kw_only=True)
class Tolerance:
    """Terms that are added together, or of which the greatest is taken."""

    combine: Literal["sum", "greatest"] = about("how the terms join", default="sum")
    percent_of_span: Decimal = about("share of the span", unit="%", default=ZERO)
    percent_of_reading: Decimal = about("share of the value applied", unit="%", default=ZERO)
    absolute: Decimal = about("fixed term at the input", unit="input unit", default=ZERO)
    output_absolute: Decimal = about("fixed term at the output", unit="output unit", default=ZERO)

    @cached_property
    def only_span(self) -> bool:
        """Tell whether the tolerance is a share of the span and nothing else."""
        return not (self.percent_of_reading or self.absolute or self.output_absolute)

    def __post_init__(self) -> None:
        terms = {
            "percent_of_span": self.percent_of_span,
            "percent_of_reading": self.percent_of_reading,
            "absolute": self.absolute,
            "output_absolute": self.output_absolute,
        }
        for name, term in terms.items():
            if term < 0:
                raise InputError(
                    "tolerance.negative", name, "A limit cannot be negative.", "Leave the sign out."
                )
        if not any(terms.values()):
            raise InputError(
                "tolerance.empty",
                "percent_of_span",
                "No limit is given.",
                "Give at least one term of the tolerance.",
            )


def limit_at(transfer: Transfer, tolerance: Tolerance, applied: Decimal) -> Decimal:
    """Return the largest error allowed at one value applied, >= 0. [output unit]

    Input-side terms pass through the ideal transfer, so that on a square root the same
    pressure error weighs more at low flow.

    >>> pump = Transfer(input_lower=ZERO, input_upper=Decimal(1600),
    ...                 output_lower=Decimal(4), output_upper=Decimal(20))
    >>> limit_at(pump, Tolerance(percent_of_span=Decimal("0.5")), Decimal(800))
    Decimal('0.08')
    """
    if tolerance.only_span:
        return abs(transfer.output_span) * tolerance.percent_of_span / HUNDRED
    terms = (
        abs(transfer.output_span) * tolerance.percent_of_span / HUNDRED,
        _through(transfer, applied, abs(applied) * tolerance.percent_of_reading / HUNDRED),
        _through(transfer, applied, tolerance.absolute),
        tolerance.output_absolute,
    )
    return sum(terms, ZERO) if tolerance.combine == "sum" else max(terms)


def _through(transfer: Transfer, applied: Decimal, step: Decimal) -> Decimal:
    if not step:
        return ZERO
    if transfer.characteristic == "linear":
        return step * abs(transfer.output_span) / abs(transfer.input_span)
    here = ideal_output(transfer, applied)
    around = (ideal_output(transfer, applied + step), ideal_output(transfer, applied - step))
    return max(abs(there - here) for there in around)


def in_words(tolerance: Tolerance, input_unit: str, output_unit: str) -> str:
    """Return the tolerance as it is written on a sheet, for example ``±0.5 % of span``.

    >>> in_words(Tolerance(percent_of_span=Decimal("0.5")), "kPa", "mA")
    '±0.5 % of span'
    """
    parts = [
        f"{trimmed(value)} {unit}"
        for value, unit in (
            (tolerance.percent_of_span, "% of span"),
            (tolerance.percent_of_reading, "% of reading"),
            (tolerance.absolute, input_unit),
            (tolerance.output_absolute, output_unit),
        )
        if value
    ]
    if len(parts) > 1 and tolerance.combine == "greatest":
        return "±the greatest of " + ", ".join(parts)
    return "±" + (f"({' + '.join(parts)})" if len(parts) > 1 else parts[0])
