"""The ideal transfer of an instrument: linear, square root, or the curve of a sensor."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from functools import cached_property
from typing import Literal

from calibration.kernel.codec import about
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import HUNDRED, ZERO, from_float, to_float
from calibration.kernel.registry import operation
from calibration.sensors import curves

Characteristic = Literal[
    "linear",
    "square_root",
    "platinum",
    "type_B",
    "type_E",
    "type_J",
    "type_K",
    "type_N",
    "type_R",
    "type_S",
    "type_T",
]

#: An end that was worked out through a curve may miss itself by so much. [%]
ROUNDED = Decimal("1e-9")


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
        if self.curve is not None:
            self.curve.check(to_float(self.input_lower), "input_lower")
            self.curve.check(to_float(self.input_upper), "input_upper")
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

    @cached_property
    def curve(self) -> curves.Curve | None:
        """The curve of a sensor; none for linear and square root."""
        return curves.CURVES.get(self.characteristic)

    @cached_property
    def curve_ends(self) -> tuple[float, float]:
        """Value of the curve at both ends of the input range."""
        assert self.curve is not None
        return (
            self.curve.value(to_float(self.input_lower)),
            self.curve.value(to_float(self.input_upper)),
        )


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
    below the lower range value the output stays at its lower end. Sensor curves: IEC 60751 and
    the ITS-90 reference functions, laid between the two ends of the output.

    >>> pump = Transfer(input_lower=Decimal(0), input_upper=Decimal(1600),
    ...                 output_lower=Decimal(4), output_upper=Decimal(20))
    >>> ideal_output(pump, Decimal("400.3"))
    Decimal('8.003')
    """
    if transfer.curve is not None:
        t = to_float(applied)
        transfer.curve.check(t, "applied", margin=5.0)
        low, high = transfer.curve_ends
        share = from_float((transfer.curve.value(t) - low) / (high - low))
        return transfer.output_lower + share * transfer.output_span
    above = applied - transfer.input_lower
    if transfer.characteristic == "linear":
        return transfer.output_lower + above * transfer.output_span / transfer.input_span
    fraction = above / transfer.input_span
    root = fraction.sqrt() if fraction > 0 else ZERO
    return transfer.output_lower + root * transfer.output_span


def input_for(transfer: Transfer, output: Decimal) -> Decimal:
    """Return the input at which a perfect instrument gives ``output``. [input unit]

    A square-root output below its lower end belongs to no flow and gives the lower range value.
    Beyond the curve of a sensor the last slope goes on.

    >>> pump = Transfer(input_lower=Decimal(0), input_upper=Decimal(1600),
    ...                 output_lower=Decimal(4), output_upper=Decimal(20))
    >>> input_for(pump, Decimal(12))
    Decimal('800')
    """
    if transfer.curve is not None:
        low, high = transfer.curve_ends
        share = to_float((output - transfer.output_lower) / transfer.output_span)
        return from_float(transfer.curve.inverse(low + share * (high - low)))
    above = output - transfer.output_lower
    if transfer.characteristic == "linear":
        return transfer.input_lower + above * transfer.input_span / transfer.output_span
    fraction = above / transfer.output_span
    squared = fraction * fraction if fraction > 0 else ZERO
    return transfer.input_lower + squared * transfer.input_span


def slope_at(transfer: Transfer, at: Decimal) -> Decimal:
    """Return how much output a small change of input makes, > 0. [output unit / input unit]

    For a square root the mean slope of the range: its own has no end at zero.

    >>> pump = Transfer(input_lower=Decimal(0), input_upper=Decimal(1600),
    ...                 output_lower=Decimal(4), output_upper=Decimal(20))
    >>> slope_at(pump, Decimal(800))
    Decimal('0.01')
    """
    mean = abs(transfer.output_span / transfer.input_span)
    if transfer.curve is None:
        return mean
    low, high = transfer.curve_ends
    slope = transfer.curve.slope(to_float(at)) / (high - low)
    return abs(from_float(slope) * transfer.output_span)


def at_percent(transfer: Transfer, percent: Decimal) -> Decimal:
    """Return the input at a percentage of the input span. [input unit]

    >>> reversed_ = Transfer(input_lower=Decimal(100), input_upper=Decimal(0),
    ...                      output_lower=Decimal(4), output_upper=Decimal(20))
    >>> at_percent(reversed_, Decimal(25))
    Decimal('75')
    """
    return transfer.input_lower + transfer.input_span * percent / HUNDRED


def percent_of_input_span(transfer: Transfer, applied: Decimal) -> Decimal:
    """Return how far into the input span a value lies. [% of input span]

    >>> elevated = Transfer(input_lower=Decimal(-50), input_upper=Decimal(150),
    ...                     output_lower=Decimal(4), output_upper=Decimal(20))
    >>> percent_of_input_span(elevated, Decimal(0))
    Decimal('25')
    """
    return HUNDRED * (applied - transfer.input_lower) / transfer.input_span


def indication(transfer: Transfer, receiver: Transfer | None, output: Decimal) -> Decimal:
    """Return what a perfect receiver shows for an output. [unit of the indication]

    Parameters
    ----------
    transfer : Transfer
        Of the transmitter.
    receiver : Transfer or None
        From the output to the indication, root included where the receiver takes it; none when
        the receiver shows the input itself.
    output : Decimal
        [output unit]

    >>> pump = Transfer(input_lower=Decimal(0), input_upper=Decimal(1600),
    ...                 output_lower=Decimal(4), output_upper=Decimal(20))
    >>> room = Transfer(input_lower=Decimal(4), input_upper=Decimal(20),
    ...                 output_lower=Decimal(0), output_upper=Decimal(16))
    >>> indication(pump, room, Decimal(12)), indication(pump, None, Decimal(12))
    (Decimal('8'), Decimal('800'))
    """
    return input_for(transfer, output) if receiver is None else ideal_output(receiver, output)


def indicated_span(transfer: Transfer, receiver: Transfer | None) -> Decimal:
    """Return the span of the indication, > 0. [unit of the indication]

    >>> pump = Transfer(input_lower=Decimal(0), input_upper=Decimal(1600),
    ...                 output_lower=Decimal(4), output_upper=Decimal(20))
    >>> indicated_span(pump, None)
    Decimal('1600')
    """
    return abs(transfer.input_span if receiver is None else receiver.output_span)


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
    one_of=("input", "output", "percent"),
    table={
        "vary": "input",
        "start": "0",
        "stop": "4000",
        "step": "100",
        "columns": ("output", "percent"),
        "set": {"output": None, "percent": None},
    },
    formula="output = lower + f(input fraction) × output span; f = fraction, its square root, or "
    "the sensor's curve c between the range ends",
    source="straight line through the range ends; ISO 5167-1 for the square root; IEC 60751 and "
    "ITS-90 reference functions for sensors",
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
        _refuse_beyond_curve(request, output)
        applied = input_for(request, output)
    percent = HUNDRED * (output - request.output_lower) / request.output_span
    share = percent_of_input_span(request, applied)
    clipped = not all(-ROUNDED <= end <= HUNDRED + ROUNDED for end in (share, percent))
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


def _refuse_beyond_curve(request: ScaleIn, output: Decimal) -> None:
    """Refuse an output that no temperature of the sensor's curve gives."""
    if request.curve is None:
        return
    low, high = request.curve_ends
    share = to_float((output - request.output_lower) / request.output_span)
    if not request.curve.covers(low + share * (high - low)):
        raise InputError(
            "output.beyond_curve",
            "output" if request.output is not None else "percent",
            f"{request.curve.name} ends before this output: no temperature gives it.",
            "Check output, range and type of the sensor.",
        )


def _from_percent(request: ScaleIn) -> Decimal:
    percent = request.percent if request.percent is not None else ZERO
    return request.output_lower + percent * request.output_span / HUNDRED
