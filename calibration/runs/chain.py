"""Which hop of a smart transmitter's loop holds the error?"""

from __future__ import annotations

import itertools
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from decimal import Decimal
from functools import cached_property
from typing import Literal

from calibration.decisions.tolerance import Tolerance, limit_at
from calibration.kernel import fits
from calibration.kernel.codec import about
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import HUNDRED, exceeds, to_float
from calibration.kernel.registry import operation
from calibration.signals.transfer import (
    Characteristic,
    Transfer,
    ideal_output,
    indicated_span,
    indication,
    percent_of_input_span,
)

HopName = Literal["sensing", "output", "receiver", "transmitter", "output_and_receiver"]
Remedy = Literal[
    "none", "sensor_trim", "output_trim", "receiver_scaling", "range", "read_more", "zero_and_span"
]
#: A span error of the output hop beyond this is a range setting, not a trim. [% of span]
RANGE_LIKE = Decimal(8)


@dataclass(frozen=True, kw_only=True)
class ChainReading:
    """Up to three readings at one point; what was not read stays out."""

    applied: Decimal = about("value applied", label="applied", unit="input unit")
    digital: Decimal | None = about(
        "digital value", label="digital", unit="input unit", default=None
    )
    output: Decimal | None = about(
        "measured output", label="output", unit="output unit", default=None
    )
    indicated: Decimal | None = about(
        "what the control system shows", label="indicated", unit="input unit", default=None
    )


@dataclass(frozen=True, kw_only=True)
class LocateIn(Transfer):
    """Range, limits and the readings along the loop."""

    tolerance: Tolerance = about("what error is allowed", label="tolerance")
    readings: tuple[ChainReading, ...] = about("one per point", label="readings")
    indicated_lower: Decimal | None = about(
        "shown at the lower end of the output; leave out when the input itself is shown",
        label="shown at the lower end",
        default=None,
    )
    indicated_upper: Decimal | None = about(
        "shown at the upper end of the output", label="shown at the upper end", default=None
    )
    indicated_characteristic: Characteristic = about(
        "root where the receiver takes it", label="receiver", default="linear"
    )
    cut_off_percent: Decimal = about(
        "flow below which what is shown is not judged",
        label="low-flow cut-off",
        unit="% of flow",
        default=Decimal(0),
    )

    @cached_property
    def receiver(self) -> Transfer | None:
        """From the output to what is shown; none when the input itself is shown."""
        if self.indicated_lower is None or self.indicated_upper is None:
            return None
        return Transfer(
            characteristic=self.indicated_characteristic,
            input_lower=self.output_lower,
            input_upper=self.output_upper,
            output_lower=self.indicated_lower,
            output_upper=self.indicated_upper,
        )


@dataclass(frozen=True, kw_only=True)
class Hop:
    """The error that one hop adds by itself."""

    name: HopName = about("which hop", label="hop")
    errors_percent: tuple[Decimal | None, ...] = about(
        "one per point", label="errors", unit="% of span"
    )
    max_error_percent: Decimal = about("error of largest size", label="largest", unit="% of span")
    zero_percent: float = about("fitted error at 0 %", label="at 0 %", unit="% of span")
    span_percent: float = about("fitted growth to 100 %", label="growth to 100 %", unit="% of span")
    within: bool = about("true when the hop alone stays within the limit", label="within")


@dataclass(frozen=True, kw_only=True)
class LocateOut:
    """The hops, and which one to work on."""

    hops: tuple[Hop, ...] = about("in the order of the signal", label="hops")
    total_max_percent: Decimal = about(
        "error of the last station read", label="error of the whole loop", unit="% of span"
    )
    fails: HopName | None = about("the hop that holds the error", label="error sits in")
    remedy: Remedy = about("what to adjust", label="adjust")
    advice: str = about("the same in words", label="advice")


@dataclass(frozen=True)
class _Pair:
    name: HopName
    start: str
    end: str


@operation(
    "chain.locate",
    title="Which hop holds the error?",
    family="Runs and adjusting",
    words="loop hop digital output receiver trim smart transmitter locate",
    cautions=("Setting another range is not calibration.",),
    formula="sensing = digital − applied; output = mA − ideal(digital); "
    "receiver = indicated − input for mA; each over its span",
    source="difference of neighbouring stations of the loop",
    example={
        "input_lower": "0",
        "input_upper": "4000",
        "output_lower": "4",
        "output_upper": "20",
        "tolerance": {"percent_of_span": "0.5"},
        "readings": [
            {"applied": "0", "digital": "0.4", "output": "4.001", "indicated": "0"},
            {"applied": "4000", "digital": "4000.8", "output": "20.14", "indicated": "4036"},
        ],
    },
)
def locate(request: LocateIn) -> LocateOut:
    """Split the loop error into what each hop adds and name the one that fails.

    Raises
    ------
    InputError
        ``readings.none``, ``readings.no_station`` when only the applied value is known.

    References
    ----------
    The error of a chain is the sum of what its hops add, each taken between the two stations
    that bound it.
    """
    if not request.readings:
        raise InputError("readings.none", "readings", "There are no readings.", "Read one point.")
    stations = ["applied"] + [
        name
        for name in ("digital", "output", "indicated")
        if any(getattr(r, name) is not None for r in request.readings)
    ]
    if len(stations) == 1:
        raise InputError(
            "readings.no_station",
            "readings",
            "Only the applied value is known.",
            "Read the digital value, the output or the control room as well.",
        )
    hops = tuple(_hop(request, _Pair(_name(a, b), a, b)) for a, b in itertools.pairwise(stations))
    last = _errors(request, _Pair("transmitter", "applied", stations[-1]))
    total = max((e for e in last if e is not None), key=abs, default=Decimal(0))
    fails, remedy, advice = _judge(request, hops)
    return LocateOut(hops=hops, total_max_percent=total, fails=fails, remedy=remedy, advice=advice)


def _name(start: str, end: str) -> HopName:
    names: dict[tuple[str, str], HopName] = {
        ("applied", "digital"): "sensing",
        ("digital", "output"): "output",
        ("output", "indicated"): "receiver",
        ("digital", "indicated"): "output_and_receiver",
    }
    return names.get((start, end), "transmitter")


def _errors(request: LocateIn, pair: _Pair) -> list[Decimal | None]:
    """Return what the hop adds at each point, in percent of the span."""
    found: list[Decimal | None] = []
    for reading in request.readings:
        start, end = getattr(reading, pair.start), getattr(reading, pair.end)
        if start is None or end is None:
            found.append(None)
        elif pair.end == "output":
            span = abs(request.output_span)
            found.append(HUNDRED * (end - ideal_output(request, start)) / span)
        else:
            found.append(_shown_error(request, pair, start, end))
    return found


def _shown_error(request: LocateIn, pair: _Pair, start: Decimal, end: Decimal) -> Decimal:
    """Return the error of a digital value or of an indication, in percent of its span."""
    if pair.end == "digital":
        return HUNDRED * (end - start) / abs(request.input_span)
    output = start if pair.start == "output" else ideal_output(request, start)
    expected = indication(request, request.receiver, output)
    return HUNDRED * (end - expected) / indicated_span(request, request.receiver)


def _counts(request: LocateIn, pair: _Pair, applied: Decimal) -> bool:
    """Tell whether a point counts: below the cut-off of a flow the receiver shows nothing."""
    if pair.end != "indicated" or not request.cut_off_percent:
        return True
    share = (applied - request.input_lower) / request.input_span
    return share > 0 and HUNDRED * share.sqrt() >= request.cut_off_percent


def _hop(request: LocateIn, pair: _Pair) -> Hop:
    every = _errors(request, pair)
    errors = [
        e if _counts(request, pair, r.applied) else None
        for r, e in zip(request.readings, every, strict=True)
    ]
    known = [(r, e) for r, e in zip(request.readings, errors, strict=True) if e is not None]
    if not known and any(e is not None for e in every):
        return Hop(
            name=pair.name,
            errors_percent=tuple(errors),
            max_error_percent=Decimal(0),
            zero_percent=0.0,
            span_percent=0.0,
            within=True,
        )
    if not known:
        raise InputError(
            "readings.no_pair",
            "readings",
            f"No point has both the {pair.start} and the {pair.end} value.",
            "Read both at one point at least.",
        )
    at = [to_float(percent_of_input_span(request, r.applied)) for r, _ in known]
    line = fits.least_squares(at, [to_float(e) for _, e in known])
    within = all(not exceeds(e, _limit(request, r.applied), HUNDRED) for r, e in known)
    return Hop(
        name=pair.name,
        errors_percent=tuple(errors),
        max_error_percent=max((e for _, e in known), key=abs),
        zero_percent=line.at(0.0),
        span_percent=100 * line.slope,
        within=within,
    )


def _limit(request: LocateIn, applied: Decimal) -> Decimal:
    return HUNDRED * limit_at(request, request.tolerance, applied) / abs(request.output_span)


def _judge(request: LocateIn, hops: Sequence[Hop]) -> tuple[HopName | None, Remedy, str]:
    worst = max(hops, key=lambda h: abs(h.max_error_percent))
    if worst.within:
        return None, "none", "Every hop stays within the limit by itself."
    answers: dict[HopName, Callable[[], tuple[Remedy, str]]] = {
        "sensing": lambda: (
            "sensor_trim",
            "The digital value is already off: trim the sensor against the pressure applied. "
            "Leave the output alone.",
        ),
        "output": lambda: _output_remedy(worst),
        "receiver": lambda: (
            "receiver_scaling",
            "The current is right and the control room shows something else: correct the "
            "scaling of the receiver. Leave the transmitter alone.",
        ),
        "transmitter": lambda: (
            "zero_and_span",
            "The error lies between what is applied and the output. Read the digital value "
            "to tell the sensor from the output.",
        ),
        "output_and_receiver": lambda: (
            "read_more",
            "The digital value is right and the control room is not. Measure the loop current "
            "to tell the output from the receiver.",
        ),
    }
    return (worst.name, *answers[worst.name]())


def _output_remedy(hop: Hop) -> tuple[Remedy, str]:
    if abs(Decimal(hop.span_percent)) > RANGE_LIKE:
        return (
            "range",
            "The digital value is right and the current follows another range: compare the range "
            "set in the device with its record. Re-ranging is not calibration.",
        )
    return (
        "output_trim",
        "The digital value is right and the current is off: trim the output against the "
        "milliampere meter. Leave the sensor alone.",
    )
