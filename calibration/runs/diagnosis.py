"""Which error is it? Naming the cause of an error picture, with the evidence for it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from calibration.kernel import fits
from calibration.kernel.rounding import show
from calibration.runs.causes import Cause, cause

#: A component is named when it reaches this share of the limit.
NAMED_SHARE = 0.35
#: A span error beyond this is rather a range that was set to other values. [% of span]
RANGE_LIKE = 8.0
#: Readings that differ by less than this while the input moves stand still. [% of span]
STILL = 0.3
#: A fixed current this far from 2 mA on 4-20 mA still counts as the inhibit level. [% of span]
INHIBIT_AT, INHIBIT_BAND = -12.5, 3.5
FAULT_LOW, FAULT_HIGH = -2.5, 103.0
#: At or beyond these a measuring output is held: 3.8 and 20.5 mA, less the scatter. [% of span]
HELD_LOW, HELD_HIGH = -1.0, 102.9


@dataclass(frozen=True)
class Evaluated:
    """The error picture as floats; all in percent, one entry per reading.

    ``position`` is what the error is fitted against: percent of input span, for a square root
    percent of output.
    """

    nominal: tuple[float, ...]
    input_percent: tuple[float, ...]
    ideal_percent: tuple[float, ...]
    read_percent: tuple[float, ...]
    error: tuple[float, ...]
    limit: tuple[float, ...]
    direction: tuple[str, ...]
    noise: tuple[float, ...]
    characteristic: str

    @cached_property
    def position(self) -> tuple[float, ...]:
        """Return what the error is fitted against. [%]"""
        return self.ideal_percent if self.characteristic == "square_root" else self.input_percent

    @cached_property
    def tightest(self) -> float:
        """Return the smallest limit of the run. [% of span]"""
        return min(self.limit)

    def without(self, index: int) -> Evaluated:
        """Return the picture without one reading."""

        def cut(values: tuple[float, ...]) -> tuple[float, ...]:
            return values[:index] + values[index + 1 :]

        return replace(
            self,
            nominal=cut(self.nominal),
            input_percent=cut(self.input_percent),
            ideal_percent=cut(self.ideal_percent),
            read_percent=cut(self.read_percent),
            error=cut(self.error),
            limit=cut(self.limit),
            direction=self.direction[:index] + self.direction[index + 1 :],
        )

    @cached_property
    def mean_curve(self) -> tuple[list[float], list[float]]:
        """Return positions and mean errors, one per nominal point, rising."""
        groups: dict[float, list[int]] = {}
        for i, nominal in enumerate(self.nominal):
            groups.setdefault(nominal, []).append(i)
        at: list[float] = []
        mean: list[float] = []
        for nominal in sorted(groups):
            members = groups[nominal]
            at.append(sum(self.position[i] for i in members) / len(members))
            mean.append(sum(self.error[i] for i in members) / len(members))
        return at, mean

    @cached_property
    def half_band(self) -> float:
        """Return half the narrowest straight band around the mean curve. [% of span]"""
        return fits.minimax_half_band(*self.mean_curve)

    def gaps(self) -> list[float]:
        """Return down-minus-up mean errors of the nominal points that have both. [% of span]"""
        found = []
        for nominal in sorted(set(self.nominal)):
            ways = {"up": [0.0, 0], "down": [0.0, 0]}
            for n, way, e in zip(self.nominal, self.direction, self.error, strict=True):
                if n == nominal:
                    ways[way][0] += e
                    ways[way][1] += 1
            if ways["up"][1] and ways["down"][1]:
                found.append(ways["down"][0] / ways["down"][1] - ways["up"][0] / ways["up"][1])
        return found


def diagnose(run: Evaluated, verdict: str) -> tuple[Cause, ...]:
    """Return the causes of an error picture, most weighty first.

    Parameters
    ----------
    run : Evaluated
        All figures in percent of span.
    verdict : str
        ``within`` gives no causes: nothing is wrong that would need a name.

    References
    ----------
    Signatures of zero, span, linearity and hysteresis errors: IEC 61298-2 terms; thresholds
    are shares of the limit, see ``NAMED_SHARE``.

    >>> at = (0.0, 25.0, 50.0, 75.0, 100.0)
    >>> high = Evaluated(nominal=at, input_percent=at, ideal_percent=at,
    ...                  read_percent=tuple(x + 0.8 for x in at), error=(0.8,) * 5,
    ...                  limit=(0.5,) * 5, direction=("up",) * 5, noise=(0.0,) * 5,
    ...                  characteristic="linear")
    >>> [one.cause for one in diagnose(high, "fail")]
    ['zero_shift']
    """
    if verdict == "within":
        return ()
    for test in (_standing_still, _plateau, _held_at_an_end, _reversed, _characteristic):
        found = test(run)
        if found:
            return (found,)
    causes: list[Cause] = []
    outlier = _outlier(run)
    rest = run
    if outlier is not None:
        index, named = outlier
        causes.append(named)
        rest = run.without(index)
    causes.extend(_shape(rest))
    noise = _noise(run)
    if noise:
        causes.append(noise)
    return tuple(sorted(causes, key=lambda c: -abs(c.percent)))


def _spread(values: Sequence[float]) -> float:
    return max(values) - min(values)


def _standing_still(run: Evaluated) -> Cause | None:
    if _spread(run.ideal_percent) < 20 or _spread(run.read_percent) > STILL:
        return None
    level = sum(run.read_percent) / len(run.read_percent)
    where = f"{show(level, 1)} % of the output span"
    moved = f"The output stays at {where} while the input moves over the range."
    if abs(level - INHIBIT_AT) <= INHIBIT_BAND:
        return cause(
            "inhibited",
            level,
            f"{moved} That is a fixed inhibit current, not a measurement.",
        )
    if level <= FAULT_LOW:
        return cause(
            "inhibited",
            level,
            f"{moved} That is below the measuring range: a fault or fixed current.",
            "Read the device's own diagnosis; end a fixed-current mode; then run again.",
        )
    if level >= FAULT_HIGH:
        return cause(
            "saturated",
            level,
            f"{moved} That is above the measuring range: saturated or in high alarm.",
            "Check the connection of the input, the sensor and the device's own diagnosis.",
        )
    return cause(
        "stuck",
        level,
        f"{moved} The reading is stuck.",
    )


def _plateau(run: Evaluated) -> Cause | None:
    """Two or more neighbouring points at one end of the range share one reading."""
    order = sorted(range(len(run.error)), key=lambda i: run.ideal_percent[i])
    for members, end in ((order[::-1], "top"), (order, "bottom")):
        extreme = run.read_percent[members[0]]
        flat = [i for i in members if abs(run.read_percent[i] - extreme) <= STILL / 2]
        ideals = [run.ideal_percent[i] for i in flat]
        if len(flat) < 2 or _spread(ideals) < 5 or len(flat) == len(members):
            continue
        outer = [run.error[i] for i in flat if abs(run.error[i]) > run.limit[i]]
        ranged = _range_beneath(run, [i for i in members if i not in flat])
        if outer and ranged:
            return ranged
        if outer:
            return cause(
                "saturated",
                max(outer, key=abs),
                f"From {show(min(ideals) if end == 'top' else max(ideals), 0)} % on, at the {end} "
                f"of the range, the output stays at {show(extreme, 1)} %.",
            )
    return None


def _held_at_an_end(run: Evaluated) -> Cause | None:
    """A single point held at the end of the signal, on the line of another range."""
    rest = [i for i, p in enumerate(run.read_percent) if HELD_LOW < p < HELD_HIGH]
    return _range_beneath(run, rest) if len(rest) < len(run.read_percent) else None


def _range_beneath(run: Evaluated, rest: Sequence[int]) -> Cause | None:
    """A plateau whose other points lie on the straight line of another range."""
    if len({run.nominal[i] for i in rest}) < 3:
        return None
    at, error = [run.position[i] for i in rest], [run.error[i] for i in rest]
    line = fits.least_squares(at, error)
    off = fits.root_mean_square([e - line.at(x) for x, e in zip(at, error, strict=True)])
    ends = max(line.at(0.0), line.at(100.0), key=abs)
    large = max(abs(ends), abs(100 * line.slope)) > max(RANGE_LIKE, 6 * run.tightest)
    return _wrong_range(ends) if large and off < run.tightest else None


def _wrong_range(percent: float) -> Cause:
    return cause(
        "wrong_range",
        percent,
        f"The error lies on a straight line that reaches {show(percent, 1, sign=True)} % of span: "
        "more than drift explains.",
    )


def _reversed(run: Evaluated) -> Cause | None:
    line = fits.least_squares(run.ideal_percent, run.read_percent)
    if _spread(run.ideal_percent) < 20 or line.slope > -0.5:
        return None
    return cause(
        "reversed",
        max(run.error, key=abs),
        "The output falls while the input rises.",
    )


def _characteristic(run: Evaluated) -> Cause | None:
    if max(map(abs, run.error)) < max(2.0, 2 * run.tightest) or len(set(run.nominal)) < 4:
        return None
    shares = [max(0.0, p / 100) for p in run.input_percent]
    rooted = run.characteristic == "square_root"
    other = [100 * (s if rooted else s**0.5) for s in shares]
    as_other = [r - o for r, o in zip(run.read_percent, other, strict=True)]
    here = _rest_after_line(run.ideal_percent, run.error)
    there = _rest_after_line(other, as_other)
    if here < 1.0 or there > 0.2 * here:
        return None
    seen, wanted = ("linear", "square-root") if rooted else ("square-root", "linear")
    return cause(
        "wrong_characteristic",
        max(run.error, key=abs),
        f"The readings follow a {seen} output; a {wanted} one is expected.",
    )


def _rest_after_line(x: Sequence[float], y: Sequence[float]) -> float:
    line = fits.least_squares(x, y)
    return fits.root_mean_square([b - line.at(a) for a, b in zip(x, y, strict=True)])


def _outlier(run: Evaluated) -> tuple[int, Cause] | None:
    """One reading far off the line, or off the mean curve, that all others agree on."""
    if len(run.error) < 5:
        return None
    best: tuple[float, int] | None = None
    for i, one in enumerate(fits.deleted(run.position, run.error)):
        off, others = one.off, one.rest_rms
        agree = others <= NAMED_SHARE * run.limit[i]
        far = off > max(0.6 * run.limit[i], 5 * others)
        if agree and far and (best is None or off > best[0]):
            best = (off, i)
    if best is None:
        return None
    off, i = best
    return i, cause(
        "outlier",
        off,
        f"One reading, at {show(run.nominal[i], 0)} % going {run.direction[i]}, lies "
        f"{show(off, 2)} % of span off the line through all others.",
    )


def _shape(run: Evaluated) -> list[Cause]:
    named = NAMED_SHARE * run.tightest
    total = sum(e * e for e in run.error) or 1.0
    noise = max(run.noise, default=0.0)
    causes: list[Cause] = []
    gaps = run.gaps()
    gap = max(gaps, key=abs) if gaps else 0.0
    if abs(gap) > max(0.5 * run.tightest, 4 * noise):
        share = sum((g / 2) ** 2 for g in gaps) * 2 / total
        causes.append(
            cause(
                "hysteresis",
                gap,
                f"Coming down reads up to {show(gap, 2, sign=True)} % of span against going up.",
                "",
                min(1.0, share),
            )
        )
    at, mean = run.mean_curve
    bend = run.half_band
    bent = bend > max(named, 0.6 * abs(gap), 4 * noise) and len(at) >= 4
    zero, span, left = _ends(at, mean) if bent else _line(run)
    if bent:
        causes.append(
            cause(
                "nonlinearity",
                bend,
                f"The mean error curve bends: it fits no straight band narrower than "
                f"±{show(bend, 2)} % of span.",
                "",
                min(1.0, sum(b * b for b in left) / total),
            )
        )
    causes.extend(_zero_and_span(run, zero, span, named, total))
    return causes


def _line(run: Evaluated) -> tuple[float, float, list[float]]:
    line = fits.least_squares(run.position, run.error)
    rest = [e - line.at(x) for x, e in zip(run.position, run.error, strict=True)]
    return line.at(0.0), 100 * line.slope, rest


def _ends(at: Sequence[float], mean: Sequence[float]) -> tuple[float, float, list[float]]:
    run = at[-1] - at[0]
    slope = (mean[-1] - mean[0]) / run if run else 0.0
    zero = mean[0] - slope * at[0]
    rest = [e - zero - slope * x for x, e in zip(at, mean, strict=True)]
    return zero, 100 * slope, rest


def _zero_and_span(
    run: Evaluated, zero: float, span: float, named: float, total: float
) -> list[Cause]:
    causes: list[Cause] = []
    large = max(RANGE_LIKE, 6 * run.tightest)
    several = len(set(run.nominal)) > 1
    ends = max(zero, zero + span, span, key=abs)
    if several and max(abs(zero), abs(span)) > large:
        return [_wrong_range(ends)]
    if abs(zero) >= named:
        causes.append(
            cause(
                "zero_shift",
                zero,
                f"All readings are shifted: the fitted error at 0 % is "
                f"{show(zero, 2, sign=True)} % of span.",
                "",
                min(1.0, len(run.error) * zero * zero / total),
            )
        )
    if abs(span) >= named and several:
        grown = sum((span * x / 100) ** 2 for x in run.position)
        causes.append(
            cause(
                "span_error",
                span,
                f"The error grows with the signal by {show(span, 2, sign=True)} % of span from "
                "0 to 100 %.",
                "",
                min(1.0, grown / total),
            )
        )
    return causes


def _noise(run: Evaluated) -> Cause | None:
    if not run.noise:
        return None
    typical = sorted(run.noise)[len(run.noise) // 2]
    if typical < 0.25 * run.tightest:
        return None
    return cause(
        "noise",
        typical,
        f"While reading, the output scatters by {show(typical, 2)} % of span (1 standard "
        "deviation).",
    )
