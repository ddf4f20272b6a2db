"""The run in span gas as the analyzer sees it, and how a reading moves."""

from __future__ import annotations

from dataclasses import dataclass, replace
from decimal import Decimal

from calibration.engine.job.events import ReadingTaken
from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.job.ledger import Ledger
from calibration.engine.job.reads import Reads
from calibration.engine.method.method import Step
from calibration.families.shared.parts import METER
from calibration.families.trace.bleeding import noted, span_ppm
from calibration.families.trace.events import InSpan
from calibration.families.trace.facts import analyzer
from calibration.families.trace.words import BEFORE, SpanRun
from calibration.kernel.codec import read
from calibration.kernel.fits import least_squares
from calibration.kernel.numbers import to_float
from calibration.signals.transfer import input_for

#: The end of a curve from which its slope is taken; less says nothing. [s]
TAIL_S, LEAST_S = 60.0, 20.0


def in_span(own: object) -> InSpan:
    """Return what was seen in span gas beside the reading."""
    return read(InSpan, own, "data")  # type: ignore[arg-type]


def as_read(ledger: Ledger) -> InstrumentFacts:
    """Return the analyzer as it is read: at its output, or where there is no meter, its display."""
    facts = ledger.facts
    if METER.id not in ledger.without:
        return facts
    return replace(
        facts,
        output_unit=facts.input_unit,
        output_lower=facts.input_lower,
        output_upper=facts.input_upper,
    )


def shown(facts: InstrumentFacts, content: ReadingTaken) -> Decimal:
    """Return what it shows: its display where that was read, else what its output says. [ppm]"""
    if content.digital is not None:
        return content.digital
    return input_for(facts.transfer, content.reading)


def slope(content: ReadingTaken, showed: float) -> float | None:
    """Return how the reading moves; none where that was not seen. [ppm/min]"""
    seen = in_span(content.own)
    tail = [s for s in seen.curve if s.t >= seen.curve[-1].t - TAIL_S]
    if len(tail) > 5 and tail[-1].t - tail[0].t >= LEAST_S:
        return least_squares([s.t / 60 for s in tail], [s.value for s in tail]).slope
    if seen.minute_before is None:
        return None
    return showed - to_float(seen.minute_before)


def nominal(ledger: Ledger) -> Decimal:
    """Return what it is to show in span gas; half of the range while no cylinder is chosen."""
    return span_ppm(ledger) or ledger.facts.transfer.input_span / 2


def run_of(job: Reads, step: Step | None) -> SpanRun | None:
    """Return the run in span gas that a step reads; none for other steps."""
    if step is None or step.kind != "capture":
        return None
    spec = job.ledger.method.run(step.run)
    return spec if isinstance(spec, SpanRun) else None


@dataclass(frozen=True)
class Process:
    """What it showed in the process before it was touched, and its flow. [ppm, L/min]"""

    shown: Decimal
    flow: Decimal


def process(ledger: Ledger) -> Process:
    """Return what it showed in the process before; what is on record where nobody wrote it down."""
    own = analyzer(ledger.facts)
    seen, flow = noted(ledger, BEFORE, "process_shown"), noted(ledger, BEFORE, "flow")
    return Process(
        own.sample_ppm if seen is None else seen, own.flow_l_per_min if flow is None else flow
    )
