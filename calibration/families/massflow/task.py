"""What a step of a mass flow meter asks for: a live zero, a run, a new zero."""

from __future__ import annotations

from typing import Any

from calibration.engine.job.reads import Reads
from calibration.engine.method.method import STAGES, Step
from calibration.engine.view.asks import Ask, Sent, Value
from calibration.engine.view.blocks import Block, Row
from calibration.families.massflow.evidence import beside, proof, worth
from calibration.families.massflow.facts import meter, quantity
from calibration.families.massflow.kinds import LIVE_ZERO, PROVED_RUNS
from calibration.families.massflow.words import ATTEMPTS, REFERENCE, ZEROING
from calibration.families.shared.display import as_tables, reading, table
from calibration.families.shared.setting import tries_left
from calibration.kernel.rounding import as_typed, show, trimmed

KINDS = {LIVE_ZERO.id: LIVE_ZERO, PROVED_RUNS.id: PROVED_RUNS}
READ = {
    LIVE_ZERO.id: "Take the live zero",
    PROVED_RUNS.id: "Take this run",
}
HOW = {
    LIVE_ZERO.id: "Watch the live zero for a minute or more: mean and scatter of it, drive gain "
    "and density at the same time.",
    PROVED_RUNS.id: "From standstill to standstill: what the reference says, and what the meter "
    "counted of it.",
}


def task(job: Reads) -> Ask | None:
    """Return what the present step asks for; none where the engine knows."""
    step = job.current
    if step is None:
        return None
    if step.id == ZEROING:
        return _zero(job, step)
    if step.kind != "capture":
        return None
    spec = job.ledger.method.run(step.run)
    kind = KINDS[spec.kind]
    return reading(job, kind, spec, READ[kind.id], (Block(kind="text", text=HOW[kind.id]),))


def _zero(job: Reads, step: Step) -> Ask:
    left = tries_left(job, ZEROING, ATTEMPTS)
    most = trimmed(job.settings.number(ATTEMPTS))
    said = (
        f"Attempt {int(most) - left + 1} of {most}."
        if left > 0
        else "Tried as often as the site says: verify the zero as it is."
    )
    return Ask(
        way="set",
        button="Set the zero now",
        typed="It is zeroed",
        sends=Sent(kind="zeroed", data={"step": step.id}),
        blocks=(
            Block(kind="rows", rows=(Row(label="Set to", value="0 kg/h", strong=True),)),
            Block(kind="text", text=f"{said} Nothing is touched until it says that it is done."),
        ),
        values=(
            Value(id="before", label="Live zero before, if read", unit="kg/h", required=False),
            Value(id="after", label="Live zero afterwards", unit="kg/h", required=True),
        ),
        end="zero",
        target="0",
    )


def heading(job: Reads, step: Step) -> tuple[str, str] | None:
    """Return kicker and title where something is read; none elsewhere."""
    if step.kind != "capture":
        return None
    figures, spec = job.figures(step.run), job.ledger.method.run(step.run)
    kicker = f"{dict(STAGES)[step.stage]} · {step.title}"
    if spec.kind == LIVE_ZERO.id:
        return kicker, "Nothing flows: read the live zero over a minute"
    at = max(0, figures.current) + 1
    return f"{kicker} · {at} of {len(figures.plan)}", f"Run {at} against the reference"


def blocks(job: Reads) -> tuple[Block, ...]:
    """Return what was read and what it is worth, run by run; none before the first."""
    found = []
    for spec in job.ledger.method.runs:
        figures = job.figures(spec.id)
        if figures.order:
            of = _of_zero if spec.kind == LIVE_ZERO.id else _of_runs
            block = of(job, spec.id)
            found += [block] if block is not None else []
    return tuple(found)


def _of_zero(job: Reads, run: str) -> Block | None:
    """Return what a live zero is worth at the flows of the process."""
    figures, own = job.figures(run), meter(job.ledger.facts)
    content = figures.taken[figures.order[0]].content
    out = worth(job, content.reading)
    cells = [
        ("Smallest", f"{trimmed(own.minimum_flow)} kg/h", f"{show(out.at_minimum_percent, 3)} %"),
        ("Normal", f"{trimmed(own.normal_flow)} kg/h", _percent(out.at_normal_percent)),
        (
            "Full",
            f"{trimmed(job.ledger.facts.input_upper)} kg/h",
            _percent(out.at_full_percent),
        ),
    ]
    spread = beside(content).spread
    said = f" ± {as_typed(spread)}" if spread is not None else ""
    title = job.ledger.method.run(run).title
    return table(
        f"{title}: {as_typed(content.reading)}{said} kg/h is worth",
        ("Flow", "that is", "Error"),
        cells,
    )


def _percent(value: Any) -> str:
    return f"{show(value, 3)} %" if value is not None else ""


def _of_runs(job: Reads, run: str) -> Block | None:
    """Return each run with the mass that was there, and mean, factor and scatter."""
    figures = job.figures(run)
    out, chosen = proof(job, figures), job.ledger.kit.get(REFERENCE)
    if out is None or chosen is None or figures.result is None:
        return None
    cells = []
    for place, i in enumerate(figures.order):
        content = figures.taken[i].content
        cells.append(
            (
                f"Run {i + 1}",
                as_typed(content.applied),
                show(figures.result.points[place].ideal, 2),
                as_typed(content.reading),
                f"{show(out.errors_percent[place], 3, sign=True)} %",
            )
        )
    mean = f"{show(out.error_percent, 3, sign=True)} % ±{show(out.uncertainty_percent, 3)} %"
    cells.append(("Mean", "", "", f"factor {show(out.factor, 5)}", mean))
    weighed = quantity(chosen.asset).reference_is == "weighed"
    there = f"Mass, air {show(out.buoyancy_percent, 3, sign=True)} %" if weighed else "Mass"
    return table(
        f"{job.ledger.method.run(run).title}: runs, kg",
        ("Run", "Reference says", there, "Counted", "Error"),
        cells,
    )


def sections(job: Reads) -> dict[str, Any]:
    """Return what the certificate says besides: worth, runs, zeroing; or that nothing was set."""
    return {"tables": as_tables(job, blocks(job), "kg/h")}
