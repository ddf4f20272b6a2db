"""What a run in span gas says: evidence from the job, and the causes that it points to."""

from __future__ import annotations

from calibration.decisions.tolerance import limit_at
from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures
from calibration.families.trace.bleeding import told
from calibration.families.trace.facts import analyzer
from calibration.families.trace.life import months_since_set, of_new
from calibration.families.trace.naming import Evidence, causes_of
from calibration.families.trace.tells import NAMES
from calibration.families.trace.values import shown, slope
from calibration.kernel.numbers import to_float
from calibration.runs.causes import Cause
from calibration.signals.transfer import input_for

#: Two readings of a sound sensor differ by no more than this share of what they show. [k = 2]
SCATTER = 0.015
#: ... and by this much near zero. [ppm]
LEAST_SCATTER = 0.04


def evidence_of(job: Reads, run: str, figures: RunFigures) -> Evidence | None:
    """Return what a run says; none before its reading."""
    if not figures.order:
        return None
    ledger, facts = job.ledger, figures.facts
    content = figures.taken[figures.order[0]].content
    showed = to_float(shown(facts, content))
    span = to_float(abs(facts.transfer.input_span))
    limit = to_float(limit_at(facts.transfer, facts.tolerance, content.applied))
    limit *= span / to_float(abs(facts.transfer.output_span))
    found = ledger.method.run(run).role == "found"
    apart = {}
    for name in NAMES:
        value = told(ledger, name) if found else None
        if value is not None:
            apart[name] = to_float(value)
    off = 0.0
    if content.digital is not None and facts.output_unit == "mA":
        off = to_float(input_for(facts.transfer, content.reading) - content.digital)
    response = of_new(job, run)
    return Evidence(
        value=to_float(content.applied),
        shows=showed,
        limit=limit,
        u=figures.budgets[0].expanded_uncertainty * span / 100,
        scatter=max(LEAST_SCATTER, SCATTER * showed),
        range=span,
        slope=slope(content, showed),
        of_new=to_float(response) if response is not None else None,
        months=months_since_set(job) if found else None,
        plastic=analyzer(ledger.facts).tubing == "plastic",
        output_off=off,
        apart=apart,
    )


def named(job: Reads, run: str, figures: RunFigures) -> tuple[Cause, ...]:
    """Return the causes of a run, the likeliest first; none while nothing is read."""
    seen = evidence_of(job, run, figures)
    return causes_of(seen) if seen is not None else ()
