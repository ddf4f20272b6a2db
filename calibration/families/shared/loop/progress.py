"""How far the adjusting has come, and what comes next."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal

from calibration.decisions.tolerance import limit_at
from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.job.ledger import Ledger
from calibration.engine.job.parameters import Settings
from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures
from calibration.engine.method.method import Step
from calibration.families.shared.loop import trims
from calibration.families.shared.loop.trims import Adjusted, hop_error
from calibration.kernel.numbers import HUNDRED, from_float
from calibration.runs import adjustment, chain, screws
from calibration.runs.diagnosis import HELD_HIGH, HELD_LOW
from calibration.signals.transfer import at_percent, ideal_output

_HOPS: dict[chain.HopName, trims.Hop] = {
    "sensing": "sensor",
    "output": "output",
    "receiver": "receiver",
    "transmitter": "transmitter",
    "output_and_receiver": "output",
}


#: A screw is never aimed to where the output may be held at its end. [% of span]
AIM_LOWEST, AIM_HIGHEST = Decimal("-0.9"), Decimal("2.5")


@dataclass(frozen=True)
class AdjustProgress:
    """What is adjusted now. ``hop`` is none when there is nothing to adjust."""

    done: bool
    hop: trims.Hop | None
    end: trims.End
    check_only: bool
    plan: adjustment.AdjustOut | None
    to_percent: Decimal
    #: output to set, where it is not the ideal one
    aim: Decimal | None = None
    advice: str = ""
    passes_left: int | None = None
    #: the device gives the current itself; nothing is applied
    fixed: bool = False


@dataclass
class _Ends:
    zero: Decimal
    span: Decimal
    fresh: set[str]


def adjust_to_percent(facts: InstrumentFacts, settings: Settings) -> Decimal:
    """Return how close both ends must come. [% of span]"""
    transfer = facts.transfer
    ends = (facts.input_lower, facts.input_upper)
    tightest = min(limit_at(transfer, facts.tolerance, end) for end in ends)
    return HUNDRED * tightest / abs(transfer.output_span) * settings.share("adjust_to_share")


def progress(ledger: Ledger, settings: Settings, base: RunFigures) -> AdjustProgress:
    """Return what to adjust next, after the run that is adjusted from.

    Hops past the adjust limit are adjusted in the order of the signal; when only their sum is,
    the worst one. Within a hop zero comes before span.
    """
    facts = base.facts
    to = adjust_to_percent(facts, settings)
    if base.located is None or base.result is None:
        return AdjustProgress(False, None, "zero", False, None, to)
    limit = min(p.limit_percent for p in base.result.points) * settings.share("adjust_share")
    recent, way = trims.trims_of(ledger).now, trims.way(ledger.method)
    if way.screws:
        return _by_screws(facts, base, recent, to, way.by_ends)
    for hop in _to_work_on(base.located.hops, limit):
        name = _HOPS[hop.name]
        ends = _follow(facts, hop, name, recent, to)
        plan = adjustment.plan(
            adjustment.AdjustIn(
                characteristic=facts.characteristic,
                input_lower=facts.input_lower,
                input_upper=facts.input_upper,
                output_lower=facts.output_lower,
                output_upper=facts.output_upper,
                zero_error_percent=ends.zero,
                span_error_percent=ends.span,
                limit_percent=to,
                adjustments=("zero", "span"),
            )
        )
        if plan.next in ("zero", "span"):
            end: trims.End = "zero" if plan.next == "zero" else "span"
            return AdjustProgress(False, name, end, False, plan, to, fixed=_fixes(ledger, name))
        for stale in ("zero", "span"):
            if stale not in ends.fresh:
                end = "zero" if stale == "zero" else "span"
                return AdjustProgress(False, name, end, True, plan, to, fixed=_fixes(ledger, name))
    last = _HOPS[_to_work_on(base.located.hops, limit)[-1].name]
    return AdjustProgress(True, last, "zero", False, None, to)


def _fixes(ledger: Ledger, hop: trims.Hop) -> bool:
    """Tell whether a hop is adjusted at currents that the device gives itself."""
    return trims.way(ledger.method).fixes_output and hop == "output"


def now(job: Reads) -> AdjustProgress:
    """Return how far the adjusting of a job has come."""
    return job.once("adjusting", lambda: progress(job.ledger, job.settings, job.base))


def done(job: Reads, step: Step) -> bool:
    """Tell whether nothing is left to adjust, or it was ended early."""
    return step.id in job.ledger.decided or job.put_right or now(job).done


def trims_output(job: Reads) -> bool:
    """Tell whether the output is among what is adjusted, after the run that is adjusted from."""
    base, settings = job.base, job.settings
    if base.located is None or base.result is None:
        return False
    limit = min(p.limit_percent for p in base.result.points) * settings.share("adjust_share")
    return any(_HOPS[hop.name] == "output" for hop in _to_work_on(base.located.hops, limit))


def _by_screws(
    facts: InstrumentFacts,
    base: RunFigures,
    recent: Sequence[Adjusted],
    to: Decimal,
    by_ends: bool,
) -> AdjustProgress:
    """Return the next turn where zero and span move each other."""
    assert base.result is not None
    low, high = _ends_of(base) if by_ends else _fitted(base)
    advised = screws.screws(
        screws.ScrewsIn(
            zero_error_percent=low,
            span_error_percent=high,
            limit_percent=to,
            aim_lowest_percent=AIM_LOWEST,
            aim_highest_percent=AIM_HIGHEST,
            visits=tuple(_visit(facts, content) for content in recent),
        )
    )
    if advised.next == "done":
        return AdjustProgress(True, "transmitter", "zero", False, None, to)
    ideal = ideal_output(facts.transfer, point_to_apply(facts, advised.next))
    offset = (advised.aim_percent or Decimal(0)) * abs(facts.transfer.output_span) / HUNDRED
    return AdjustProgress(
        False,
        "transmitter",
        advised.next,
        not advised.turn,
        None,
        to,
        aim=ideal + offset,
        advice=advised.advice,
        passes_left=advised.passes_left,
    )


def _fitted(base: RunFigures) -> tuple[Decimal, Decimal]:
    """Return the errors at both ends of the line of best fit. [% of span]"""
    assert base.result is not None
    summary = base.result.summary
    return from_float(summary.fit_lower_percent), from_float(summary.fit_upper_percent)


def _ends_of(base: RunFigures) -> tuple[Decimal, Decimal]:
    """Return the errors read at both ends: a bend in between is no matter of the screws. [%]"""
    assert base.result is not None
    at = [base.plan[i].nominal_percent for i in base.order]
    errors = [p.error_percent_of_span for p in base.result.points]
    low = [e for e, p in zip(errors, at, strict=True) if p == min(at)]
    high = [e for e, p in zip(errors, at, strict=True) if p == max(at)]
    return sum(low, Decimal(0)) / len(low), sum(high, Decimal(0)) / len(high)


def _visit(facts: InstrumentFacts, content: Adjusted) -> screws.Visit:
    """Return one turn or check as errors in percent of span."""

    def error(output: Decimal | None) -> Decimal | None:
        if output is None:
            return None
        away = output - ideal_output(facts.transfer, content.applied)
        return HUNDRED * away / abs(facts.transfer.output_span)

    before = content.reading if content.action == "check" else content.before
    return screws.Visit(
        end=content.end,
        before_percent=error(before),
        after_percent=error(content.reading) if content.action == "trim" else None,
        held=_held(facts, before),
    )


def _held(facts: InstrumentFacts, output: Decimal | None) -> bool:
    """Tell whether an output stands at the end of what a measuring signal may be."""
    if output is None:
        return False
    percent = float(HUNDRED * (output - facts.output_lower) / facts.transfer.output_span)
    return not HELD_LOW < percent < HELD_HIGH


def _to_work_on(hops: Sequence[chain.Hop], limit: Decimal) -> list[chain.Hop]:
    past = [h for h in hops if abs(h.max_error_percent) > limit]
    return past or [max(hops, key=lambda h: abs(h.max_error_percent))]


def _follow(
    facts: InstrumentFacts,
    hop: chain.Hop,
    name: trims.Hop,
    recent: Sequence[Adjusted],
    to: Decimal,
) -> _Ends:
    """Carry the as-found errors of both ends through the adjustments made since."""
    zero = from_float(hop.zero_percent)
    span = from_float(hop.zero_percent + hop.span_percent)
    ends = _Ends(zero, span, {e for e, v in (("zero", zero), ("span", span)) if abs(v) <= to})
    for content in recent:
        error = hop_error(facts, content)
        if content.hop != name or error is None:
            continue
        if content.end == "zero":
            if content.action == "trim":
                ends.span += error - ends.zero
                ends.fresh.discard("span")
            ends.zero = error
        else:
            ends.span = error
        ends.fresh.add(content.end)
    return ends


def point_to_apply(facts: InstrumentFacts, end: trims.End) -> Decimal:
    """Return the input at which an end is adjusted. [input unit]"""
    return at_percent(facts.transfer, HUNDRED if end == "span" else Decimal(0))
