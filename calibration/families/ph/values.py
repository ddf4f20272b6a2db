"""Which buffers a run has, what they are worth at their temperature, and where the electrode is."""

from __future__ import annotations

from decimal import Decimal

from calibration.analyzers.ph.buffers import SHIPPED, BufferTable, find_table, value_at
from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.job.ledger import Ledger
from calibration.engine.job.parameters import Settings
from calibration.engine.job.reads import Reads
from calibration.engine.method.method import RunSpec, Step
from calibration.families.ph.facts import analyzer, bottle
from calibration.families.ph.ledger import buffers_of
from calibration.families.ph.words import NEAR, SIDE, THIRD, BufferRun
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import from_float, parse_decimal
from calibration.kernel.rounding import fixed

#: A buffer counts as one near 7 within this. [pH]
NEAR_SEVEN = 0.6
#: What is poured of a buffer for one reading: one portion rinses, one is measured. [mL]
POURED_ML = 60.0
USUAL_C = 25.0


def table_for(ledger: Ledger, role: str) -> BufferTable:
    """Return the table of the bottle chosen for a role; before one is, of a usual one."""
    chosen = ledger.kit.get(role)
    if chosen is not None:
        own = bottle(chosen.asset)
        return find_table(own.set, own.nominal, (), "asset")
    return usual(ledger.facts, role)


def usual(facts: InstrumentFacts, role: str) -> BufferTable:
    """Return the buffer of the set on record that a role usually takes."""
    own = analyzer(facts)
    known = [t for t in SHIPPED if t.set == own.buffer_set] or [
        t for t in SHIPPED if t.set == "technical"
    ]
    alkaline = (role == SIDE) == (own.side == "alkaline")
    wanted = 7.0 if role == NEAR else 9.2 if alkaline else 4.0
    return min(known, key=lambda t: abs(float(t.nominal) - wanted))


def temperature_c(ledger: Ledger, spec: RunSpec) -> float:
    """Return the temperature of the portions of a run by the thermometer. [°C]"""
    step = spec.poured if isinstance(spec, BufferRun) else ""
    noted = ledger.recorded.get((step, "buffer_c"))
    return float(parse_decimal(noted[0], "buffer_c")) if noted is not None else USUAL_C


def value_of(ledger: Ledger, spec: RunSpec, role: str) -> Decimal:
    """Return the pH of a buffer at the temperature of its portion, to 0.001."""
    table, warm = table_for(ledger, role), temperature_c(ledger, spec)
    try:
        found = value_at(table, warm, "data.value")
    except InputError:
        found = value_at(table, USUAL_C, "data.value")
    return fixed(from_float(found), 3)


def roles_of(ledger: Ledger, settings: Settings, spec: RunSpec) -> tuple[str, ...]:
    """Return the buffers of a run, in their order."""
    if not isinstance(spec, BufferRun):
        return ()
    third = settings.says_yes("third_buffer")
    if spec.role == "found" and settings.choice("found_buffers") == "nearest":
        return (nearest(ledger.facts),)
    if spec.proof:
        return (THIRD, NEAR) if third else (NEAR, SIDE)
    return tuple(r for r in spec.buffers if r != THIRD or third)


def nearest(facts: InstrumentFacts) -> str:
    """Return which of both buffers is nearest to the process."""
    process = float(analyzer(facts).process_ph)
    return min((NEAR, SIDE), key=lambda r: abs(float(usual(facts, r).nominal) - process))


def run_of(job: Reads, step: Step | None) -> BufferRun | None:
    """Return the run in buffers that a step takes; none for any other step."""
    if step is None or step.kind != "capture":
        return None
    spec = job.ledger.method.run(step.run)
    return spec if isinstance(spec, BufferRun) else None


def next_role(job: Reads, spec: BufferRun) -> str:
    """Return the buffer that is due in a run; empty where all are read and taken."""
    part = buffers_of(job.ledger)
    for place, role in enumerate(roles_of(job.ledger, job.settings, spec)):
        read = place in job.ledger.readings[spec.id]
        if not read or (spec.accepts and role not in part.accepted):
            return role
    return ""


def in_it(job: Reads, spec: BufferRun, role: str) -> bool:
    """Tell whether the electrode stands in a fresh portion of a buffer for a run."""
    immersions = buffers_of(job.ledger).immersions
    if not immersions:
        return False
    content, _ = immersions[-1]
    if (content.step, content.role) != (spec.id, role):
        return False
    left = job.ledger.method.step("lift")
    back = next((s.id for s in job.ledger.method.steps if left and s.ends == left.id), "")
    return back not in job.ledger.taken_off
