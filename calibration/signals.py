"""The ideal transfer of a transmitter: input to output signal, linear or square root."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from functools import cached_property
from typing import Literal

from calibration import drawings
from calibration.codec import about
from calibration.errors import InputError
from calibration.numbers import HUNDRED, ZERO
from calibration.registry import operation

Characteristic = Literal["linear", "square_root"]


@dataclass(frozen=True, kw_only=True)
class Transfer:
    """Range and characteristic. Ranges may be reversed (lower > upper) or elevated."""

    characteristic: Characteristic = about(
        "shape of the ideal transfer", label="characteristic", default="linear"
    )
    input_lower: Decimal = about("lower range value", unit="input unit")
    input_upper: Decimal = about("upper range value", unit="input unit")
    output_lower: Decimal = about(
        "output at the lower range value", label="output at the lower one", unit="output unit"
    )
    output_upper: Decimal = about(
        "output at the upper range value", label="output at the upper one", unit="output unit"
    )

    def __post_init__(self) -> None:
        if self.input_lower == self.input_upper:
            raise InputError(
                "range.zero_width",
                "input_upper",
                "The lower and the upper range value are the same.",
                "Give two different range values.",
            )
        if self.output_lower == self.output_upper:
            raise InputError(
                "range.zero_width",
                "output_upper",
                "Both ends of the output range are the same.",
                "Give two different output values, for example 4 and 20.",
            )

    @cached_property
    def input_span(self) -> Decimal:
        """Upper minus lower range value, signed. [input unit]"""
        return self.input_upper - self.input_lower

    @cached_property
    def output_span(self) -> Decimal:
        """Output at the upper minus output at the lower range value, signed. [output unit]"""
        return self.output_upper - self.output_lower


def ideal_output(transfer: Transfer, applied: Decimal) -> Decimal:
    """Return the output of a perfect instrument. [output unit]

    Parameters
    ----------
    transfer : Transfer
    applied : Decimal
        Value really applied, not the nominal one. [input unit]

    References
    ----------
    Linear: straight line through the end points. Square root: output fraction is the root of
    the input fraction (ISO 5167-1, flow proportional to the root of differential pressure);
    below the lower range value the output stays at its lower end.
    """
    above = applied - transfer.input_lower
    if transfer.characteristic == "linear":
        return transfer.output_lower + above * transfer.output_span / transfer.input_span
    fraction = above / transfer.input_span
    root = fraction.sqrt() if fraction > 0 else ZERO
    return transfer.output_lower + root * transfer.output_span


def input_for(transfer: Transfer, output: Decimal) -> Decimal:
    """Return the input at which a perfect instrument gives ``output``. [input unit]

    A square-root output below its lower end belongs to no flow and gives the lower range value.
    """
    above = output - transfer.output_lower
    if transfer.characteristic == "linear":
        return transfer.input_lower + above * transfer.input_span / transfer.output_span
    fraction = above / transfer.output_span
    squared = fraction * fraction if fraction > 0 else ZERO
    return transfer.input_lower + squared * transfer.input_span


def at_percent(transfer: Transfer, percent: Decimal) -> Decimal:
    """Return the input at a percentage of the input span. [input unit]"""
    return transfer.input_lower + transfer.input_span * percent / HUNDRED


def percent_of_input_span(transfer: Transfer, applied: Decimal) -> Decimal:
    """Return how far into the input span a value lies. [% of input span]"""
    return HUNDRED * (applied - transfer.input_lower) / transfer.input_span


@dataclass(frozen=True, kw_only=True)
class ScaleIn(Transfer):
    """A range, and one of input, output or percent of output span."""

    input: Decimal | None = about(
        "value at the input", label="input", unit="input unit", default=None
    )
    output: Decimal | None = about(
        "value at the output", label="output", unit="output unit", default=None
    )
    percent: Decimal | None = about(
        "output in percent", label="percent", unit="% of output span", default=None
    )


@dataclass(frozen=True, kw_only=True)
class ScaleOut:
    """The same state of the instrument, said in all the ways."""

    input: Decimal = about("value at the input", label="input", unit="input unit")
    output: Decimal = about("value at the output", label="output", unit="output unit")
    percent: Decimal = about(
        "output in percent", label="output", unit="% of output span", decimals=3
    )
    percent_of_input_span: Decimal = about(
        "input in percent", label="input", unit="% of input span", decimals=3
    )
    clipped: bool = about(
        "true when the value lies outside the range, or below a root's zero",
        label="outside the range",
    )


def _worked(i: ScaleIn, o: ScaleOut) -> Sequence[str]:
    if i.input is None:
        given = f"{o.output:g} is {o.percent:.6g} % of the output span"
        return [given, f"input = {o.input:.8g}, {o.percent_of_input_span:.6g} % of its span"]
    share = f"({o.input:g} − {i.input_lower:g}) / {i.input_span:g}"
    root = f"√({share})" if i.characteristic == "square_root" else share
    return [f"output = {i.output_lower:g} + {root} × {i.output_span:g} = {o.output:.8g}"]


@operation(
    "signal.scale",
    title="Scale a signal",
    family="Signals and loops",
    words="ma percent transmitter range 4-20 square root flow convert input output",
    worked=_worked,
    picture=drawings.scale,
    one_of=("input", "output", "percent"),
    table={
        "vary": "input",
        "start": "0",
        "stop": "4000",
        "step": "100",
        "columns": ("output", "percent"),
        "set": {"output": None, "percent": None},
    },
    formula="output = lower + f(input fraction) × output span; f = fraction or its square root",
    source="straight line through the range ends; ISO 5167-1 for the square root",
    example={
        "characteristic": "linear",
        "input_lower": "0",
        "input_upper": "4000",
        "output_lower": "4",
        "output_upper": "20",
        "input": "3001.2",
    },
)
def scale(request: ScaleIn) -> ScaleOut:
    """Give input, output and percent of one state of an ideal instrument.

    Raises
    ------
    InputError
        ``range.zero_width``, ``value.one_needed`` when not exactly one of the three is given,
        ``root.negative`` for an output under the zero of a root.

    References
    ----------
    As :func:`ideal_output`.
    """
    given = [v for v in (request.input, request.output, request.percent) if v is not None]
    if len(given) != 1:
        raise InputError(
            "value.one_needed",
            "input",
            f"{len(given)} values are given where one is needed.",
            "Give exactly one of input, output and percent.",
        )
    if request.input is not None:
        applied = request.input
        output = ideal_output(request, applied)
    else:
        output = request.output if request.output is not None else _from_percent(request)
        _refuse_negative_root(request, output)
        applied = input_for(request, output)
    percent = HUNDRED * (output - request.output_lower) / request.output_span
    share = percent_of_input_span(request, applied)
    clipped = not (0 <= share <= HUNDRED and 0 <= percent <= HUNDRED)
    return ScaleOut(
        input=applied, output=output, percent=percent, percent_of_input_span=share, clipped=clipped
    )


def _refuse_negative_root(request: ScaleIn, output: Decimal) -> None:
    """Refuse an output under the zero of a root: no input gives it."""
    below = (output - request.output_lower) / request.output_span < 0
    if request.characteristic == "square_root" and below:
        raise InputError(
            "root.negative",
            "output" if request.output is not None else "percent",
            "A square-root output never goes below its lower end: no input gives this.",
            f"Give at least {request.output_lower} (0 %), or choose a linear characteristic.",
        )


def _from_percent(request: ScaleIn) -> Decimal:
    percent = request.percent if request.percent is not None else ZERO
    return request.output_lower + percent * request.output_span / HUNDRED
