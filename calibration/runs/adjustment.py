"""What to adjust next, to which reading, and how many passes are still expected."""

from __future__ import annotations

import math
from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from calibration.kernel.codec import about
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import HUNDRED, to_float
from calibration.kernel.registry import operation
from calibration.signals.transfer import Transfer, at_percent, ideal_output

Which = Literal["zero", "span", "linearity"]


@dataclass(frozen=True, kw_only=True)
class Pass:
    """Errors seen after one pass of adjustments."""

    zero_error_percent: Decimal = about(
        "error at the low point", label="low point", unit="% of span"
    )
    span_error_percent: Decimal = about(
        "error at the high point", label="high point", unit="% of span"
    )


@dataclass(frozen=True, kw_only=True)
class AdjustIn(Transfer):
    """As-found errors at the two adjusting points, and the passes so far."""

    zero_error_percent: Decimal = about(
        "as-found error at the low point", label="error found at the low point", unit="% of span"
    )
    span_error_percent: Decimal = about(
        "as-found error at the high point", label="error found at the high point", unit="% of span"
    )
    limit_percent: Decimal = about(
        "adjust until both errors are within this", label="close enough", unit="% of span"
    )
    adjustments: tuple[Which, ...] = about("which exist", label="adjustments there are")
    interacting: bool = about(
        "true when span also moves zero", label="span also moves zero", default=False
    )
    zero_at_percent: Decimal = about("where zero is set", unit="% of span", default=Decimal(0))
    span_at_percent: Decimal = about("where span is set", unit="% of span", default=HUNDRED)
    passes: tuple[Pass, ...] = about(
        "after each pass, oldest first", label="passes so far", default=()
    )


@dataclass(frozen=True, kw_only=True)
class AdjustOut:
    """The next adjustment."""

    next: Which | None = about(
        "what to adjust; null when both ends are within the limit", label="next"
    )
    at_percent: Decimal | None = about("where", label="at", unit="% of span")
    apply: Decimal | None = about("value to apply", label="apply", unit="input unit")
    target_reading: Decimal | None = about(
        "output to set", label="set the output to", unit="output unit"
    )
    direction: Literal["raise", "lower"] | None = about(
        "which way the output must go", label="so the output must"
    )
    interaction: float | None = about(
        "share of the error left by a pass, from the passes so far", label="error left by a pass"
    )
    passes_left: int | None = about(
        "expected passes still to go; null when they do not close in", label="passes left"
    )
    advice: str = about("the same in words", label="advice")


@operation(
    "adjust.plan",
    title="Adjust next",
    family="Runs and adjusting",
    words="zero span trim passes interaction next screw converge",
    formula="r = |error after| / |error before| of the last passes; "
    "passes left = ceil(ln(limit / error) / ln r)",
    source="geometric convergence of alternating adjustments",
    example={
        "input_lower": "0",
        "input_upper": "4000",
        "output_lower": "4",
        "output_upper": "20",
        "zero_error_percent": "0.60",
        "span_error_percent": "1.40",
        "limit_percent": "0.10",
        "adjustments": ["zero", "span"],
    },
)
def plan(request: AdjustIn) -> AdjustOut:
    """Say which adjustment comes next, its target and how many passes to expect.

    Zero comes before span. The errors that count are those after the last pass.

    Raises
    ------
    InputError
        ``adjustments.none``, ``limit.not_positive``.

    References
    ----------
    Alternating adjustment of two linear, interacting parameters converges geometrically; the
    factor is estimated from the last two passes.
    """
    if request.limit_percent <= 0:
        raise InputError(
            "limit.not_positive", "limit_percent", "The limit must be above 0.", "Use e.g. 0.1."
        )
    if not request.adjustments:
        raise InputError(
            "adjustments.none",
            "adjustments",
            "Nothing on this instrument can be adjusted.",
            "An instrument that cannot be adjusted is replaced when it is out of limits.",
        )
    zero, span = request.zero_error_percent, request.span_error_percent
    if request.passes:
        zero = request.passes[-1].zero_error_percent
        span = request.passes[-1].span_error_percent
    factor = _interaction(request)
    if abs(zero) <= request.limit_percent and abs(span) <= request.limit_percent:
        return AdjustOut(
            next=None,
            at_percent=None,
            apply=None,
            target_reading=None,
            direction=None,
            interaction=factor,
            passes_left=0,
            advice="Both ends are steady within the limit: take the as-left run.",
        )
    which: Which = "zero" if abs(zero) > request.limit_percent else "span"
    if which not in request.adjustments:
        which = request.adjustments[0]
    at = request.zero_at_percent if which == "zero" else request.span_at_percent
    error = zero if which == "zero" else span
    apply = at_percent(request, at)
    target = ideal_output(request, apply)
    rising = (error < 0) == (request.output_span > 0)
    return AdjustOut(
        next=which,
        at_percent=at,
        apply=apply,
        target_reading=target,
        direction="raise" if rising else "lower",
        interaction=factor,
        passes_left=_left(request, max(abs(zero), abs(span)), factor),
        advice=_advice(which, request),
    )


def _interaction(request: AdjustIn) -> float | None:
    worst = [max(abs(p.zero_error_percent), abs(p.span_error_percent)) for p in request.passes]
    if len(worst) < 2 or not worst[-2]:
        return None
    return to_float(worst[-1] / worst[-2])


def _left(request: AdjustIn, error: Decimal, factor: float | None) -> int | None:
    if not request.interacting:
        return 1
    if factor is None:
        return 2
    if factor >= 1:
        return None
    if factor == 0:
        return 1
    return max(1, math.ceil(math.log(to_float(request.limit_percent / error)) / math.log(factor)))


def _advice(which: Which, request: AdjustIn) -> str:
    if which == "zero":
        end = "Set zero first: span is set from it."
    elif which == "span":
        end = "Zero holds; set span."
    else:
        end = "Set linearity last."
    if request.interacting:
        end += " Each moves the other: check zero again afterwards."
    return end
