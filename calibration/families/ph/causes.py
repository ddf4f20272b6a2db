"""What a run in buffers says: evidence from the job, and the causes that it points to."""

from __future__ import annotations

from decimal import Decimal

from calibration.analyzers.ph import MISTAKEN_WITHIN
from calibration.analyzers.ph.buffers import SHIPPED, value_at
from calibration.engine.job.ledger import Ledger
from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures
from calibration.families.ph.events import InBuffer
from calibration.families.ph.naming import Evidence, InOne, causes_of
from calibration.families.ph.tells import APART
from calibration.families.ph.values import roles_of, table_for, temperature_c
from calibration.families.ph.words import BufferRun
from calibration.kernel.codec import read
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import parse_decimal, to_float
from calibration.runs.causes import Cause

#: What a grab sample may be off by itself: it cools, loses and takes up gas. [pH]
GRAB_U = 0.08


def in_buffer(own: object) -> InBuffer:
    """Return what was read in a buffer beside what the analyzer shows."""
    return read(InBuffer, own, "data")  # type: ignore[arg-type]


def noted(ledger: Ledger, step: str, field: str) -> float | None:
    """Return a number written down in a step; none where it was not."""
    entry = ledger.recorded.get((step, field))
    return None if entry is None else to_float(parse_decimal(entry[0], field))


def evidence_of(job: Reads, run: str, figures: RunFigures) -> Evidence | None:
    """Return what a run says; none before its first reading."""
    spec = job.ledger.method.run(run)
    if not figures.order or not isinstance(spec, BufferRun):
        return None
    ledger, settings = job.ledger, job.settings
    roles = roles_of(ledger, settings, spec)
    span = to_float(abs(figures.facts.transfer.input_span))
    found = spec.role == "found"
    seen = []
    for place, i in enumerate(figures.order):
        content = figures.taken[i].content
        beside = in_buffer(content.own)
        shown = content.digital if content.digital is not None else _by_output(figures, i)
        seen.append(
            InOne(
                ph=to_float(content.applied),
                mv=to_float(beside.mv),
                shown=to_float(shown),
                u=figures.budgets[place].expanded_uncertainty * span / 100,
                t90_s=to_float(beside.t90_s) if beside.t90_s is not None else None,
                other_sets=_others(ledger, spec, roles[i]),
            )
        )
    last = seen[-1].ph
    seen.sort(key=lambda b: abs(b.ph - 7))
    fields = (name for name, _, _ in APART.values())
    apart = {n: v for n in fields if (v := noted(ledger, "apart", n)) is not None} if found else {}
    return Evidence(
        buffers=tuple(seen),
        warm_c=temperature_c(ledger, spec),
        warm_shown_c=noted(ledger, spec.poured, "shown_c"),
        t90_limit_s=float(settings.number("t90_limit_s")),
        slope_low=float(settings.number("slope_low_percent")),
        slope_high=float(settings.number("slope_high_percent")),
        offset_limit_mv=float(settings.number("offset_limit_mv")),
        reported_slope=None if found or not spec.proof else noted(ledger, "reported", "slope"),
        process_shown=noted(ledger, "process_before", "process_shown") if found else None,
        grab=noted(ledger, "process_before", "grab") if found else None,
        process_u=max(GRAB_U, 2 * max(b.u for b in seen)),
        last_ph=last,
        apart=apart,
        span_ph=span,
    )


def named(job: Reads, run: str, figures: RunFigures) -> tuple[Cause, ...]:
    """Return the causes of a run, the likeliest first; none while it is not complete."""
    if not figures.complete:
        return ()
    seen = evidence_of(job, run, figures)
    return causes_of(seen) if seen is not None else ()


def _by_output(figures: RunFigures, i: int) -> Decimal:
    facts = figures.facts
    share = (figures.taken[i].content.reading - facts.output_lower) / facts.transfer.output_span
    return facts.input_lower + share * facts.transfer.input_span


def _others(ledger: Ledger, spec: BufferRun, role: str) -> dict[str, float]:
    """Return what a bottle would be taken for by other sets, at the temperature of its portion."""
    poured, warm = table_for(ledger, role), temperature_c(ledger, spec)
    found: dict[str, float] = {}
    try:
        own = value_at(poured, warm, "data.value")
        for table in SHIPPED:
            value = value_at(table, warm, "data.value")
            near = abs(value - own) <= MISTAKEN_WITHIN
            if table.set != poured.set and near:
                found[table.set] = value
    except InputError:
        return {}
    return found
