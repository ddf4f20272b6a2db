"""What a job says of a belt scale: means of whole revolutions, loads against a truck scale."""

from __future__ import annotations

import math
from decimal import Decimal
from statistics import fmean, stdev

from calibration.engine.job.events import ReadingTaken
from calibration.engine.job.ledger import Ledger
from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures
from calibration.families.belt.events import Truck
from calibration.families.belt.facts import LEAST, belt, noted, turns
from calibration.families.belt.naming import Carried, Turned
from calibration.families.belt.words import FOUND, SPAN_RUNS, TAKE_OVER, ZERO_RUNS, TurnsRun
from calibration.families.shared.differential import told
from calibration.kernel.codec import read
from calibration.kernel.distributions import coverage_factor
from calibration.kernel.numbers import HUNDRED, to_float
from calibration.measuring.belt import DeviationIn, DeviationOut, deviation


def _counts(ledger: Ledger, run: str) -> list[Decimal]:
    readings = ledger.readings[run]
    return [readings[i].content.reading for i in sorted(readings)]


def counts_of(job: Reads, run: str) -> list[Decimal]:
    """Return the counts of the revolutions of a run."""
    return _counts(job.ledger, run)


def _mean(counts: list[Decimal]) -> Decimal | None:
    return sum(counts, Decimal(0)) / len(counts) if counts else None


def mean_of(job: Reads, run: str) -> Decimal | None:
    """Return the mean of a run; none while fewer revolutions were read than show a scatter."""
    counts = counts_of(job, run)
    return _mean(counts) if len(counts) >= LEAST else None


def _kept(ledger: Ledger, name: str) -> Decimal | None:
    written = ledger.written.get((TAKE_OVER, name))
    before = ledger.adjusted_to(TAKE_OVER, name)
    if written is not None or before:
        return Decimal(written[0].value if written is not None else before)
    return noted(ledger, FOUND, name)


def kept(job: Reads, name: str) -> Decimal | None:
    """Return a count that the integrator keeps: as written in this job, else as found."""
    return _kept(job.ledger, name)


def held_against(ledger: Ledger, spec: TurnsRun) -> Decimal:
    """Return the counts that a revolution is held against.

    The zero that is kept; with weights the zero of the visit and the span that is kept. A first
    run is held against its own mean.
    """
    own, left = belt(ledger.facts), spec.role == "left"
    if spec.baseline:
        return _mean(_counts(ledger, spec.id)) or Decimal(0)
    found = noted(ledger, FOUND, "zero_count"), noted(ledger, FOUND, "span_count")
    now = (_kept(ledger, "zero_count"), _kept(ledger, "span_count")) if left else found
    zero = now[0] if now[0] is not None else own.zero_count or Decimal(0)
    if spec.of == "zero":
        return zero
    mean = _mean(_counts(ledger, ZERO_RUNS[left])) or _mean(_counts(ledger, ZERO_RUNS[0]))
    span = now[1] if now[1] is not None else own.span_count or Decimal(0)
    return (mean if mean is not None else zero) + span


def old(job: Reads, run: str, name: str) -> Decimal | None:
    """Return the count that a run is held against; a first one is held against none."""
    if job.ledger.method.run(run).role == "found":
        baseline = getattr(job.ledger.method.run(run), "baseline", False)
        return None if baseline else noted(job.ledger, FOUND, name)
    return kept(job, name)


def span_mean(job: Reads, run: str) -> Decimal | None:
    """Return what the weights count above zero, by the zero of the same visit."""
    left = job.ledger.method.run(run).role == "left"
    gross, zero = mean_of(job, run), mean_of(job, ZERO_RUNS[left])
    zero = zero if zero is not None else mean_of(job, ZERO_RUNS[0])
    return gross - zero if gross is not None and zero is not None else None


def moved(job: Reads, zero_run: str, span_run: str) -> DeviationOut | None:
    """Return how far zero and span are from what they are held against; none before a zero."""
    own, zero = belt(job.ledger.facts), mean_of(job, zero_run)
    span, was = span_mean(job, span_run), old(job, span_run, "span_count")
    if zero is None:
        return None
    size = was or span or own.span_count
    if not size or size <= 0:
        return None
    both = span is not None and was is not None
    return deviation(
        DeviationIn(
            old_zero=old(job, zero_run, "zero_count"),
            new_zero=zero,
            span_count=size,
            old_span=was if both else None,
            new_span=span if both else None,
            zero_limit_percent=own.zero_limit_percent,
            span_limit_percent=own.span_limit_percent,
        )
    )


def mean_u(counts: list[Decimal]) -> float:
    """Return how well the mean of some revolutions is known at 95 %. [counts]

    References
    ----------
    JCGM 100:2008, 4.2 and G.3: t₉₅ · s / √n.
    """
    if len(counts) < LEAST:
        return 0.0
    s = stdev(to_float(c) for c in counts)
    return coverage_factor(len(counts) - 1, 0.95) * s / math.sqrt(len(counts))


def turned(job: Reads) -> Turned | None:
    """Return what the revolutions as found say; none before weights hung on them."""
    found = moved(job, ZERO_RUNS[0], SPAN_RUNS[0])
    zero, span = counts_of(job, ZERO_RUNS[0]), counts_of(job, SPAN_RUNS[0])
    whole = turns(job.ledger.facts).revolutions
    if found is None or len(span) < whole or len(zero) < LEAST:
        return None
    own = belt(job.ledger.facts)
    size = to_float(own.span_count or span_mean(job, SPAN_RUNS[0]) or Decimal(1))
    return Turned(
        zero_percent=to_float(found.zero_percent) if found.zero_percent is not None else None,
        span_percent=to_float(found.span_percent) if found.span_percent is not None else None,
        zero_limit=to_float(own.zero_limit_percent),
        span_limit=to_float(own.span_limit_percent),
        zero_u=100 * mean_u(zero) / size,
        span_u=100 * math.hypot(mean_u(zero), mean_u(span)) / size,
        spread=max(to_float(max(c) - min(c)) for c in (zero, span) if c),
        # Where nobody knows what is usual nothing is unusual.
        usual_spread=to_float(own.usual_spread) if own.usual_spread is not None else math.inf,
        speed=to_float(own.belt_speed_m_s),
        zero_share=fmean(map(to_float, zero)) / size,
        apart=told(job.ledger),
    )


def net_kg(content: ReadingTaken) -> Decimal:
    """Return what went over the belt: full less empty, put right for water lost or gained. [kg]"""
    own = read(Truck, content.own, "data")
    net = content.applied - (own.empty or Decimal(0))
    if own.moist_belt is None or own.moist_truck is None:
        return net
    return net * (HUNDRED - own.moist_truck) / (HUNDRED - own.moist_belt)


def carried(job: Reads, figures: RunFigures, u: float) -> Carried:
    """Return what the loads of material say."""
    errors = errors_of(figures)
    return Carried(
        error=fmean(errors),
        limit=to_float(belt(job.ledger.facts).material_limit_percent),
        u=u,
        apart=told(job.ledger),
    )


def errors_of(figures: RunFigures) -> list[float]:
    """Return the error of each load. [%]"""
    contents = [figures.taken[i].content for i in figures.order]
    return [to_float(HUNDRED * (c.reading / net_kg(c) - 1)) for c in contents]
