"""How far the adjusting has come, and what comes next."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal

from calibration import adjustment, chain
from calibration.numbers import HUNDRED, from_float
from calibration.procedure import events as ev
from calibration.procedure.evaluation import RunFigures
from calibration.procedure.ledger import Ledger
from calibration.procedure.parameters import Settings
from calibration.signals import at_percent, ideal_output, input_for
from calibration.tolerance import limit_at

_HOPS: dict[chain.HopName, ev.AdjustHop] = {
    "sensing": "sensor",
    "output": "output",
    "receiver": "receiver",
    "transmitter": "transmitter",
    "output_and_receiver": "output",
}


@dataclass(frozen=True)
class AdjustProgress:
    """What is adjusted now. ``hop`` is none when there is nothing to adjust."""

    done: bool
    hop: ev.AdjustHop | None
    end: ev.AdjustEnd
    check_only: bool
    plan: adjustment.AdjustOut | None
    to_percent: Decimal


@dataclass
class _Ends:
    zero: Decimal
    span: Decimal
    fresh: set[str]


def hop_error(facts: ev.InstrumentFacts, content: ev.Adjusted) -> Decimal | None:
    """Return the error of the adjusted hop after the event; none when a value is missing.

    In percent of span, between the two stations that bound the hop.
    """
    transfer = facts.transfer
    if content.hop == "sensor":
        if content.digital is None:
            return None
        return HUNDRED * (content.digital - content.applied) / abs(transfer.input_span)
    if content.reading is None:
        return None
    if content.hop == "receiver":
        if content.indicated is None:
            return None
        seen = input_for(transfer, content.reading)
        return HUNDRED * (content.indicated - seen) / abs(transfer.input_span)
    start = content.applied
    if content.hop == "output" and content.digital is not None:
        start = content.digital
    return HUNDRED * (content.reading - ideal_output(transfer, start)) / abs(transfer.output_span)


def adjust_to_percent(ledger: Ledger, settings: Settings) -> Decimal:
    """Return how close both ends must come. [% of span]"""
    facts = ledger.facts
    transfer = facts.transfer
    ends = (facts.input_lower, facts.input_upper)
    tightest = min(limit_at(transfer, facts.tolerance, end) for end in ends)
    return HUNDRED * tightest / abs(transfer.output_span) * settings.share("adjust_to_share")


def progress(ledger: Ledger, settings: Settings, base: RunFigures) -> AdjustProgress:
    """Return what to adjust next, after the run that is adjusted from.

    Hops past the adjust limit are adjusted in the order of the signal; when only their sum is,
    the worst one. Within a hop zero comes before span.
    """
    to = adjust_to_percent(ledger, settings)
    if base.located is None or base.result is None:
        return AdjustProgress(False, None, "zero", False, None, to)
    limit = min(p.limit_percent for p in base.result.points) * settings.share("adjust_share")
    recent = [a for a, _ in ledger.adjusted[ledger.round_start :]]
    for hop in _to_work_on(base.located.hops, limit):
        name = _HOPS[hop.name]
        ends = _follow(ledger.facts, hop, name, recent, to)
        plan = adjustment.plan(
            adjustment.AdjustIn(
                characteristic=ledger.facts.characteristic,
                input_lower=ledger.facts.input_lower,
                input_upper=ledger.facts.input_upper,
                output_lower=ledger.facts.output_lower,
                output_upper=ledger.facts.output_upper,
                zero_error_percent=ends.zero,
                span_error_percent=ends.span,
                limit_percent=to,
                adjustments=("zero", "span"),
            )
        )
        if plan.next in ("zero", "span"):
            end: ev.AdjustEnd = "zero" if plan.next == "zero" else "span"
            return AdjustProgress(False, name, end, False, plan, to)
        for stale in ("zero", "span"):
            if stale not in ends.fresh:
                end = "zero" if stale == "zero" else "span"
                return AdjustProgress(False, name, end, True, plan, to)
    trimmed = any(a.action == "trim" for a in recent)
    last = _HOPS[_to_work_on(base.located.hops, limit)[-1].name]
    return AdjustProgress(trimmed, last, "zero", False, None, to)


def _to_work_on(hops: Sequence[chain.Hop], limit: Decimal) -> list[chain.Hop]:
    past = [h for h in hops if abs(h.max_error_percent) > limit]
    return past or [max(hops, key=lambda h: abs(h.max_error_percent))]


def _follow(
    facts: ev.InstrumentFacts,
    hop: chain.Hop,
    name: ev.AdjustHop,
    recent: Sequence[ev.Adjusted],
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


def point_to_apply(facts: ev.InstrumentFacts, end: ev.AdjustEnd) -> Decimal:
    """Return the input at which an end is adjusted. [input unit]"""
    return at_percent(facts.transfer, HUNDRED if end == "span" else Decimal(0))
