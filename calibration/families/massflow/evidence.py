"""What a job says of a live zero, and of runs against a quantity."""

from __future__ import annotations

import math
from decimal import Decimal

from calibration.decisions.uncertainty import Contribution
from calibration.engine.job.events import ReadingTaken
from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures
from calibration.families.massflow.events import LiveZero
from calibration.families.massflow.facts import meter, noted, quantity, usual
from calibration.families.massflow.naming import Proved, Zero
from calibration.families.massflow.words import REFERENCE
from calibration.families.shared.differential import told
from calibration.kernel.codec import read
from calibration.kernel.numbers import to_float
from calibration.kernel.rounding import decimals_of
from calibration.measuring.massflow import ZeroIn, ZeroOut, massflow_zero
from calibration.measuring.proving import ProvedRun, ProveIn, ProveOut, prove

#: Samples of a live zero are independent at about this distance. [s]
APART_S = 1.0


def beside(content: ReadingTaken) -> LiveZero:
    """Return what was seen beside a live zero."""
    return read(LiveZero, content.own, "data")


def worth(job: Reads, zero: Decimal) -> ZeroOut:
    """Return what a live zero is worth at the flows of the process."""
    own, full = meter(job.ledger.facts), job.ledger.facts.input_upper
    before = noted(job.ledger, "settings", "stored_zero")
    after = noted(job.ledger, "zero_stored", "stored_now")
    return massflow_zero(
        ZeroIn(
            measured_zero=zero,
            zero_stability=own.zero_stability,
            minimum_flow=own.minimum_flow,
            normal_flow=own.normal_flow,
            full_flow=full,
            offset_before=before,
            offset_after=after,
            flow_per_offset=own.flow_per_offset,
            school="each_visit" if job.settings.always_adjust else "keep",
        )
    )


def parts_of_zero(content: ReadingTaken, full: float) -> tuple[Contribution, ...]:
    """Return what adds to the uncertainty of a live zero: its scatter, and its last digit.

    A mean over a time t of samples that are independent every second scatters by s/√t. [% of span]
    """
    own = beside(content)
    seconds = max(1.0, to_float(own.mean_s or Decimal(1)) / APART_S)
    step = 10.0 ** -decimals_of(content.reading)
    return (
        Contribution(
            name="Scatter of the live zero",
            value=100 * to_float(own.spread or Decimal(0)) / math.sqrt(seconds) / full,
            kind="type_a",
            dof=max(1, int(seconds) - 1),
        ),
        Contribution(name="Last digit", value=100 * step / full, kind="resolution"),
    )


def zero_of(job: Reads, figures: RunFigures) -> Zero | None:
    """Return what a live zero says; none before it is read."""
    if not figures.order:
        return None
    content = figures.taken[figures.order[0]].content
    own, ledger = beside(content), job.ledger
    facts = meter(ledger.facts)
    full = to_float(ledger.facts.input_upper)
    gain, density = usual(ledger, "drive_gain"), usual(ledger, "density")
    return Zero(
        zero=to_float(content.reading),
        stability=to_float(facts.zero_stability),
        u=figures.budgets[0].expanded_uncertainty * full / 100,
        spread=to_float(facts.scatter if own.spread is None else own.spread),
        usual_spread=to_float(facts.scatter),
        gain=to_float(gain if own.drive_gain is None else own.drive_gain),
        usual_gain=to_float(gain),
        density=to_float(density if own.density is None else own.density),
        usual_density=to_float(density),
        record_density=to_float(facts.density),
        full=full,
        apart=told(ledger),
    )


def proof(job: Reads, figures: RunFigures) -> ProveOut | None:
    """Return what the runs against a quantity come to; none before the third.

    ``figures`` holds them as they were read: what a scale shows is not yet a mass.
    """
    chosen = job.ledger.kit.get(REFERENCE)
    if chosen is None or len(figures.order) < 3:
        return None
    own, of = meter(job.ledger.facts), quantity(chosen.asset)
    contents = [figures.taken[i].content for i in figures.order]
    return prove(
        ProveIn(
            runs=tuple(ProvedRun(counted=c.reading, reference=c.applied) for c in contents),
            reference_is=of.reference_is,
            density=own.density,
            reference_percent=of.uncertainty_percent,
            repeat_percent=job.settings.number("repeat_percent"),
            limit_percent=own.prove_percent,
        )
    )


def proved(job: Reads, found: ProveOut, complete: bool) -> Proved | None:
    """Return what the runs say; none before they are complete."""
    if not complete:
        return None
    return Proved(
        error=to_float(found.error_percent),
        limit=to_float(meter(job.ledger.facts).prove_percent),
        repeatable=found.repeatable,
        width=to_float(found.range_percent),
        apart=told(job.ledger),
    )
