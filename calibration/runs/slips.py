"""Slips at the keyboard that have an arithmetic signature. Ask, never refuse."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from calibration.kernel.codec import about
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import HUNDRED
from calibration.kernel.registry import operation
from calibration.kernel.rounding import decimals_of, fixed
from calibration.kernel.units import KPA_PER

SlipKind = Literal[
    "tenfold",
    "transposed",
    "dropped_digit",
    "unit",
    "percent_for_signal",
    "swapped_columns",
    "copied",
    "far_off",
]
#: Units that are typed for each other: both ways are tried.
TAKEN_FOR = (("psi", "kPa"), ("bar", "kPa"), ("psi", "bar"), ("MPa", "kPa"))
TEMPERATURE_UNITS = ("°C", "°F")


@dataclass(frozen=True, kw_only=True)
class DetectIn:
    """A value just typed, and what was to be expected."""

    reading: Decimal = about("value typed", label="value typed", unit="own unit")
    expected: Decimal = about("value expected", unit="same")
    span: Decimal = about("span of the range", unit="same")
    unit: str = about("unit of the value", default="")
    lower: Decimal | None = about("low end of the range", unit="same", default=None)
    other: Decimal | None = about("value typed in the other column", default=None)
    other_expected: Decimal | None = about("what was expected there", default=None)
    other_span: Decimal | None = about("span of the other column", default=None)
    neighbours: tuple[Decimal, ...] = about("readings just before", unit="same", default=())
    suspect_percent: Decimal = about(
        "a deviation beyond this is asked about",
        label="asked about beyond",
        unit="% of span",
        default=Decimal(5),
    )


@dataclass(frozen=True, kw_only=True)
class DetectOut:
    """A question, or none."""

    kind: SlipKind | None = about("null when nothing looks wrong", label="slip")
    suggestion: Decimal | None = about("what may have been meant", label="meant", unit="own unit")
    question: str = about("to put to the person; empty when nothing looks wrong", label="question")


NOTHING = DetectOut(kind=None, suggestion=None, question="")


@operation(
    "slip.detect",
    title="Was that a slip?",
    family="Signals and loops",
    words="typo mistake transposed digits tenfold wrong unit typed",
    formula="a simple slip of the value typed lands within a fifth of the suspicion limit",
    source="rule of this product; unit factors NIST SP 811, appendix B.8",
    example={"reading": "1.204", "expected": "12", "span": "16", "unit": "mA"},
)
def detect(request: DetectIn) -> DetectOut:
    """Tell whether a value looks like a slip, and which value may have been meant.

    Raises
    ------
    InputError
        ``range.zero_width``.

    References
    ----------
    Rule of this product. The caller asks; the person decides.
    """
    span = abs(request.span)
    if not span:
        raise InputError("range.zero_width", "span", "The span is 0.", "Give the span.")
    suspect = span * request.suspect_percent / HUNDRED
    away = abs(request.reading - request.expected)
    if away <= suspect:
        return NOTHING
    if _swapped(request):
        return DetectOut(
            kind="swapped_columns",
            suggestion=request.other,
            question="This looks like the value of the other column, and that one like this.",
        )
    if request.neighbours and request.reading == request.neighbours[-1]:
        return DetectOut(
            kind="copied",
            suggestion=None,
            question=f"{plain(request.reading)} is the same as the reading before. Read it again?",
        )
    for kind, value, words in _candidates(request):
        if abs(value - request.expected) <= suspect / 5:
            return DetectOut(
                kind=kind, suggestion=value, question=f"{words} Did you mean {plain(value)}?"
            )
    percent = fixed(HUNDRED * away / span, 0)
    return DetectOut(
        kind="far_off",
        suggestion=None,
        question=f"{plain(request.reading)} is {percent} % of span from what is expected. Keep it?",
    )


def plain(value: Decimal) -> str:
    """Return a typed value as a person writes it, without exponent.

    >>> plain(Decimal("1.50E+2"))
    '150'
    """
    return format(value, "f")


def _swapped(request: DetectIn) -> bool:
    if request.other is None or request.other_expected is None or request.other_span is None:
        return False
    near = abs(request.span) * request.suspect_percent / HUNDRED
    other_near = abs(request.other_span) * request.suspect_percent / HUNDRED
    return (
        abs(request.other - request.expected) <= near
        and abs(request.reading - request.other_expected) <= other_near
    )


def _candidates(request: DetectIn) -> Iterator[tuple[SlipKind, Decimal, str]]:
    typed = request.reading
    for power in (1, -1, 2, -2, 3, -3):
        yield "tenfold", typed.scaleb(power), "The decimal sign looks misplaced."
    for value in _transposed(typed):
        yield "transposed", value, "Two digits look swapped."
    if request.lower is not None:
        signal = request.lower + request.span * typed / HUNDRED
        shown = fixed(signal, max(2, decimals_of(typed)))
        yield "percent_for_signal", shown, f"{plain(typed)} looks like percent, not {request.unit}."
    yield from _units(request)
    for value in _with_a_digit_more(typed, request.expected):
        yield "dropped_digit", value, "A digit looks missing."


def _units(request: DetectIn) -> Iterator[tuple[SlipKind, Decimal, str]]:
    typed = request.reading
    if request.unit in KPA_PER:
        for one, other in TAKEN_FOR:
            factor, words = KPA_PER[one] / KPA_PER[other], f"{one} for {other}"
            for value in (typed * factor, typed / factor):
                shown = fixed(value, max(1, decimals_of(typed)))
                yield "unit", shown, f"This looks like another pressure unit ({words})."
    if request.unit in TEMPERATURE_UNITS:
        celsius = (typed - 32) * 5 / 9 if request.unit == "°C" else typed * 9 / 5 + 32
        yield "unit", fixed(celsius, max(1, decimals_of(typed))), "This looks like °F for °C."


def _parts(value: Decimal) -> tuple[int, tuple[int, ...], int]:
    return int(value < 0), value.as_tuple().digits, -decimals_of(value)


def _transposed(value: Decimal) -> Iterator[Decimal]:
    sign, digits, exponent = _parts(value)
    for i in range(len(digits) - 1):
        if digits[i] != digits[i + 1]:
            swapped = list(digits)
            swapped[i], swapped[i + 1] = swapped[i + 1], swapped[i]
            yield Decimal((sign, tuple(swapped), exponent))


def _with_a_digit_more(value: Decimal, expected: Decimal) -> Iterator[Decimal]:
    """Try the digit of the expected value at each place where one may have been dropped."""
    sign, digits, exponent = _parts(value)
    missing = set(expected.as_tuple().digits)
    for place in range(len(digits) + 1):
        for digit in sorted(missing):
            longer = (*digits[:place], digit, *digits[place:])
            yield Decimal((sign, longer, exponent))
