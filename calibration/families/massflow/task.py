"""What a step of a mass flow meter asks for: a live zero, a run, a new zero."""

from __future__ import annotations

from typing import Any

from calibration.engine.method import STAGES, Step
from calibration.engine.reads import Reads
from calibration.engine.view.blocks import Block, Column, Mark, Row, Task
from calibration.engine.view.columns import columns_of
from calibration.families.massflow.events import tries_left, zeroing
from calibration.families.massflow.evidence import beside, proof, worth
from calibration.families.massflow.facts import meter, quantity
from calibration.families.massflow.kinds import LIVE_ZERO, PROVING
from calibration.families.massflow.words import REFERENCE, ZEROING
from calibration.kernel.rounding import as_typed, show, trimmed

UNMARKED: tuple[Mark, ...] = ("none",)
KINDS = {LIVE_ZERO.id: LIVE_ZERO, PROVING.id: PROVING}
EARLY = ("It will not get steadier",)
READ = {
    LIVE_ZERO.id: "Take the live zero",
    PROVING.id: "Take this run",
}
HOW = {
    LIVE_ZERO.id: "Watch the live zero for a minute or more: mean and scatter of it, drive gain "
    "and density at the same time.",
    PROVING.id: "From standstill to standstill: what the reference says, and what the meter "
    "counted of it.",
}


def made(**more: Any) -> Task:
    """Return a task with what it does not need left out."""
    given: dict[str, Any] = {
        "typed": "",
        "in_round": "",
        "blocks": (),
        "kind": "",
        "run": "",
        "point": -1,
        "columns": (),
        "events": (),
        "others": (),
        "refusal": None,
        "early": (),
        "channel": 0,
        "minutes": "1",
        "end": "",
        "target": "",
        **more,
    }
    return Task(**{**given, "typed": given["typed"] or given["label"]})


def task(job: Reads) -> Task | None:
    """Return what the present step asks for; none where the engine knows."""
    step = job.current
    if step is None:
        return None
    if step.id == ZEROING:
        return _zero(job)
    if step.kind != "capture":
        return None
    spec = job.ledger.method.run(step.run)
    kind, figures = KINDS[spec.kind], job.figures(step.run)
    if figures.current < 0:
        return None
    names = kind.columns(job, spec, figures)
    return made(
        way="read",
        label=READ[kind.id],
        blocks=(Block(kind="text", text=HOW[kind.id]),),
        kind="reading_taken",
        run=spec.id,
        point=figures.current,
        columns=columns_of(names, figures.facts, kind.own_columns, kind.needed),
        early=EARLY,
    )


def _zero(job: Reads) -> Task:
    left, most = tries_left(job), trimmed(job.settings.number("zero_attempts"))
    said = (
        f"Attempt {int(most) - left + 1} of {most}."
        if left > 0
        else "Tried as often as the site says: verify the zero as it is."
    )
    return made(
        way="set",
        label="Zero it now",
        typed="It is zeroed",
        kind="zeroed",
        blocks=(
            Block(kind="rows", rows=(Row(label="Set to", value="0 kg/h", strong=True),)),
            Block(kind="text", text=f"{said} Nothing is touched until it says that it is done."),
        ),
        columns=(
            Column(id="before", label="Live zero before, if read", unit="kg/h", required=False),
            Column(id="after", label="Live zero afterwards", unit="kg/h", required=True),
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
    return Block(
        kind="table",
        title=f"{title}: {as_typed(content.reading)}{said} kg/h is worth",
        columns=("Flow", "that is", "Error"),
        cells=tuple(cells),
        marks=UNMARKED * len(cells),
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
    return Block(
        kind="table",
        title=f"{job.ledger.method.run(run).title}: runs, kg",
        columns=("Run", "Reference says", there, "Counted", "Error"),
        cells=tuple(cells),
        marks=UNMARKED * len(cells),
    )


def sections(job: Reads) -> dict[str, Any]:
    """Return what the certificate says besides: worth, runs, zeroing; and that nothing was set."""
    tables = [
        {
            "title": b.title,
            "columns": list(b.columns),
            "rows": [list(row) for row in b.cells],
            "lines": [],
        }
        for b in blocks(job)
    ]
    moves = zeroing(job.ledger).all
    if moves:
        rows = [
            [str(job.day_of(e)), as_typed(c.before) if c.before is not None else "", as_typed(c.after)]
            for c, e in moves
        ]
        columns = ["Day", "Live zero before", "Live zero afterwards"]
        tables.append({"title": "Zeroed, kg/h", "columns": columns, "rows": rows, "lines": []})
    if tables and not job.ledger.changes:
        tables[0]["lines"] = ["Verified only: nothing in the meter was changed."]
    return {"tables": tables}
