"""Two screws that move each other: what a turn of one does to the other end, and where to aim."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from calibration.kernel.codec import about
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import ZERO, from_float, to_float
from calibration.kernel.registry import operation

End = Literal["zero", "span"]
OTHER: dict[str, End] = {"zero": "span", "span": "zero"}
#: A turn smaller than this tells nothing about the other end. [% of span]
TELLS_PERCENT = 0.02


@dataclass(frozen=True, kw_only=True)
class Visit:
    """One end visited: what it read on arrival, and after turning its screw."""

    end: End = about("zero or span", label="end")
    before_percent: Decimal | None = about(
        "error before the screw was turned", label="before", unit="% of span", default=None
    )
    after_percent: Decimal | None = about(
        "error after; leave out where it was only read",
        label="after",
        unit="% of span",
        default=None,
    )
    held: bool = about(
        "the output was held at its end before the turn: it says less than the truth",
        label="held before",
        default=False,
    )


@dataclass(frozen=True, kw_only=True)
class ScrewsIn:
    """Errors found at both ends, and every visit since, in order."""

    zero_error_percent: Decimal = about(
        "as-found error at the low end", label="found at the low end", unit="% of span"
    )
    span_error_percent: Decimal = about(
        "as-found error at the high end", label="found at the high end", unit="% of span"
    )
    limit_percent: Decimal = about(
        "both ends must come this close", label="close enough", unit="% of span"
    )
    aim_lowest_percent: Decimal = about(
        "no screw is aimed lower, for the output may be held there",
        label="aim not below",
        unit="% of span",
        default=Decimal(-50),
    )
    aim_highest_percent: Decimal = about(
        "nor higher", label="aim not above", unit="% of span", default=Decimal(50)
    )
    visits: tuple[Visit, ...] = about("oldest first", label="visits", default=())


@dataclass(frozen=True, kw_only=True)
class ScrewsOut:
    """What to do next, and why."""

    next: Literal["zero", "span", "done"] = about("which end to go to", label="go to")
    turn: bool = about("false when it is only read again", label="turn the screw")
    aim_percent: Decimal | None = about(
        "error to set it to; not 0 where the other screw will bring it back",
        label="set it to",
        unit="% of span",
    )
    zero_moves_span: float | None = about(
        "change at the high end for 1 % at the low one", label="zero moves span by"
    )
    span_moves_zero: float | None = about(
        "change at the low end for 1 % at the high one", label="span moves zero by"
    )
    interaction: float | None = about(
        "share of an error left by a pass to nominal", label="error left by a pass"
    )
    passes_left: int | None = about(
        "expected passes still to go; null while the interaction is not known", label="passes left"
    )
    advice: str = about("the same in words", label="advice")


class _Known:
    """Errors as last read and as expected since, and what turns did to the other end."""

    def __init__(self, zero: float, span: float) -> None:
        #: best estimate of the errors now
        self.error = {"zero": zero, "span": span}
        #: as last read
        self.read = dict(self.error)
        self.fresh = {"zero", "span"}
        #: by the end that is turned: change of the other end for 1 % of its own
        self.moves: dict[str, float | None] = {"zero": None, "span": None}
        #: turned since the other end was last read
        self.turned = {"zero": 0.0, "span": 0.0}
        self.seen = {"zero": 0, "span": 0}
        self.just_turned = ""

    def visit(self, visit: Visit) -> None:
        end, other = visit.end, OTHER[visit.end]
        self.seen[end] += 1
        if visit.before_percent is not None:
            found = to_float(visit.before_percent)
            if abs(self.turned[other]) > TELLS_PERCENT and not visit.held:
                self.moves[other] = (found - self.read[end]) / self.turned[other]
            self.error[end] = self.read[end] = found
        self.turned[other] = 0.0
        self.fresh.add(end)
        self.just_turned = ""
        if visit.after_percent is not None:
            self._turn(end, other, to_float(visit.after_percent))
            self.just_turned = end
            if visit.held:
                self.turned[end] = 0.0

    def _turn(self, end: End, other: End, after: float) -> None:
        by = after - self.error[end]
        self.turned[end] += by
        self.error[end] = self.read[end] = after
        self.error[other] += (self.moves[end] or 0.0) * by
        self.fresh.discard(other)


@operation(
    "adjust.screws",
    title="Zero and span that move each other",
    family="Runs and adjusting",
    words="interacting screws displacer zero span overshoot aim passes pivot",
    formula="aim at the low end = a (e_high − b e_low) / (1 − a b); a: span moves zero, "
    "b: zero moves span",
    source="two linear equations: after the high end is set to nominal, the low end is too",
    worked=lambda i, o: (
        [f"a = {o.span_moves_zero:.3f}, b = {o.zero_moves_span:.3f}"]
        if o.span_moves_zero is not None and o.zero_moves_span is not None
        else []
    ),
    cautions=("Loop in manual before a screw is turned: the output moves with it.",),
    example={
        "zero_error_percent": "1.8",
        "span_error_percent": "-2.4",
        "limit_percent": "0.1",
        "visits": [
            {"end": "zero", "before_percent": "1.8", "after_percent": "0"},
            {"end": "span", "before_percent": "-3.1", "after_percent": "0"},
            {"end": "zero", "before_percent": "1.2"},
        ],
    },
)
def screws(request: ScrewsIn) -> ScrewsOut:
    """Say which end comes next, and to what error its screw should be set.

    The first pass sets both ends to nominal and learns what each turn does to the other end.
    From then on the low end is set off by what the high end will give back. Both ends are steady
    when a second visit to each finds them within the limit.

    Raises
    ------
    InputError
        ``limit.not_positive``.

    References
    ----------
    Linear interaction: a turn that moves the high end by 1 % moves the low end by a, one that
    moves the low end by 1 % moves the high end by b.
    """
    if request.limit_percent <= 0:
        raise InputError(
            "limit.not_positive", "limit_percent", "The limit must be above 0.", "Use e.g. 0.1."
        )
    known = _Known(to_float(request.zero_error_percent), to_float(request.span_error_percent))
    for visit in request.visits:
        known.visit(visit)
    limit = to_float(request.limit_percent) * (1 + 1e-9)
    end, turn = _next(known, limit)
    factor = _factor(known)
    aim = _aim(known) if end == "zero" and turn else 0.0
    wanted = aim
    aim = max(to_float(request.aim_lowest_percent), min(to_float(request.aim_highest_percent), aim))
    left = _left(known, limit, factor) if end != "done" else 0
    if wanted != aim:
        # What would end it cannot be set: the output may be held there. Nobody knows how long.
        left = None
    return ScrewsOut(
        next=end,
        turn=turn,
        aim_percent=(from_float(aim) if aim else ZERO) if turn else None,
        zero_moves_span=known.moves["zero"],
        span_moves_zero=known.moves["span"],
        interaction=factor,
        passes_left=left,
        advice=_advice(end, turn, aim, known),
    )


def _next(known: _Known, limit: float) -> tuple[Literal["zero", "span", "done"], bool]:
    ends: tuple[End, End] = ("zero", "span")
    for end in ends:
        if end not in known.fresh:
            # Span is turned anyway, and what it reads before the turn tells what zero did to it.
            off = abs(known.error[end]) > limit
            return end, end == "span" and off and known.just_turned != "span"
        turned = end == known.just_turned
        if abs(known.error[end]) > limit and not turned and not _meant(known, end, limit):
            return end, True
    if not any(known.seen.values()):
        return "done", False
    for end in ends:
        if known.seen[end] < 2:
            return end, False
    return "done", False


def _meant(known: _Known, end: End, limit: float) -> bool:
    """Tell whether the low end is off on purpose: setting the high end brings it back."""
    moves = known.moves["span"]
    if end != "zero" or moves is None or abs(known.error["span"]) <= limit:
        return False
    return abs(known.error["zero"] - moves * known.error["span"]) <= limit


def _aim(known: _Known) -> float:
    a, b = known.moves["span"], known.moves["zero"]
    if a is None or b is None or abs(1 - a * b) < 0.1:
        return 0.0
    return a * (known.error["span"] - b * known.error["zero"]) / (1 - a * b)


def _factor(known: _Known) -> float | None:
    a, b = known.moves["span"], known.moves["zero"]
    return None if a is None or b is None else abs(a * b)


def _left(known: _Known, limit: float, factor: float | None) -> int | None:
    worst = max(abs(e) for e in known.error.values())
    if worst <= limit:
        return 1
    if factor is None:
        return None
    if factor >= 1:
        return 1
    return max(1, min(2, math.ceil(math.log(limit / worst) / math.log(max(factor, 1e-6)))))


def _advice(end: str, turn: bool, aim: float, known: _Known) -> str:
    if end == "done":
        return "Two passes agree: both ends are steady."
    words: Sequence[str]
    if not turn:
        words = ("Read it again first: the other screw has moved it, or two passes must agree.",)
    elif aim:
        a = known.moves["span"] or 0.0
        words = (
            f"Turning span moves zero by {abs(a):.2f} of it. Aim off by {aim:+.2f} % of span on "
            "purpose: setting span brings zero back.".replace("-", "−"),
        )
    else:
        words = ("Set it to nominal, and note what it read before the screw was turned.",)
    return " ".join(words)
