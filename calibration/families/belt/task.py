"""What a step at a belt scale asks for: whole revolutions, loads of material."""

from __future__ import annotations

from typing import Any

from calibration.engine.job.reads import Reads
from calibration.engine.method.method import STAGES, Step
from calibration.engine.view.asks import Ask
from calibration.engine.view.blocks import Block, Row
from calibration.families.belt.evidence import counts_of, errors_of, mean_of, moved, net_kg
from calibration.families.belt.facts import load_t_h, turns
from calibration.families.belt.kinds import MATERIAL, TURNS
from calibration.families.belt.words import SPAN_RUNS, ZERO_RUNS, TurnsRun
from calibration.families.shared.display import as_tables, reading, table
from calibration.kernel.rounding import as_typed, show


def task(job: Reads) -> Ask | None:
    """Return what the present step asks for; none where the engine knows."""
    step = job.current
    if step is None or step.kind != "capture":
        return None
    spec = job.ledger.method.run(step.run)
    if not isinstance(spec, TurnsRun):
        text = "The same load over belt and truck: full, then empty, on one truck scale."
        return reading(job, MATERIAL, spec, "Take this load", (Block(kind="text", text=text),))
    out = turns(job.ledger.facts)
    rows = [
        Row(label="Revolutions", value=f"{out.revolutions} whole ones", strong=True),
        Row(label="One takes", value=f"{show(out.one_revolution_s, 1)} s"),
    ]
    if spec.of == "span":
        load = show(load_t_h(job.ledger.facts), 0)
        rows.append(Row(label="Weights stand for", value=f"{load} t/h"))
    text = "From the mark on the belt to the mark again: part of a revolution counts nothing."
    blocks = (Block(kind="rows", rows=tuple(rows)), Block(kind="text", text=text))
    return reading(job, TURNS, spec, "Take this revolution", blocks)


def heading(job: Reads, step: Step) -> tuple[str, str] | None:
    """Return kicker and title where a revolution or load is due; none elsewhere."""
    if step.kind != "capture":
        return None
    figures, spec = job.figures(step.run), job.ledger.method.run(step.run)
    at, count = max(0, figures.current) + 1, len(figures.plan)
    kicker = f"{dict(STAGES)[step.stage]} · {step.title}"
    if isinstance(spec, TurnsRun):
        return kicker, f"Revolution {at} of {count}, mark to mark"
    return kicker, f"Load {at} of {count} over belt and truck"


def blocks(job: Reads) -> tuple[Block, ...]:
    """Return zero and span, last, now and left; each load of material; the locks."""
    found = []
    counts = _counts(job)
    if counts is not None:
        found.append(counts)
    for spec in job.ledger.method.runs:
        figures = job.figures(spec.id)
        if figures.order and not isinstance(spec, TurnsRun):
            found.append(_loads(job, spec.id))
    locks = _locks(job)
    return (*found, locks) if locks is not None else tuple(found)


def _counts(job: Reads) -> Block | None:
    cells: list[tuple[str, ...]] = []
    marks = []
    for place, stage in enumerate(("as found", "as left")):
        for of, run in (("Zero", ZERO_RUNS[place]), ("Span", SPAN_RUNS[place])):
            figures = job.figures(run)
            if not isinstance(job.ledger.method.run(run), TurnsRun) or not figures.order:
                continue
            counts = counts_of(job, run)
            mean = mean_of(job, run)
            out = moved(job, ZERO_RUNS[place if of == "Zero" else 0], SPAN_RUNS[place])
            percent = (
                None if out is None else out.zero_percent if of == "Zero" else out.span_percent
            )
            first = out is not None and percent is None and mean is not None
            cells.append(
                (
                    f"{of} {stage}",
                    str(len(counts)),
                    show(mean, 0) if mean is not None else "",
                    show(max(counts) - min(counts), 0) if len(counts) > 1 else "",
                    f"{show(percent, 2, sign=True)} %"
                    if percent is not None
                    else "baseline"
                    if first
                    else "",
                )
            )
            marks.append(figures.mark)
    if not cells:
        return None
    heads = ("", "Revolutions", "Mean, counts", "Apart", "Deviates")
    return table("Zero and span", heads, cells, marks)


def _loads(job: Reads, run: str) -> Block:
    figures = job.figures(run)
    errors = errors_of(figures)
    cells = [
        (
            f"Load {i + 1}",
            show(net_kg(figures.taken[i].content), 0),
            as_typed(figures.taken[i].content.reading),
            f"{show(error, 2, sign=True)} %",
        )
        for i, error in zip(figures.order, errors, strict=True)
    ]
    title = f"{job.ledger.method.run(run).title}: material, kg"
    return table(title, ("Load", "Truck, net", "Counted", "Error"), cells, figures.marks)


def _locks(job: Reads) -> Block | None:
    """Return every lock that hung, whose, and how it came off; none before the first."""
    cells = []
    for past in job.ledger.locks.past:
        ended = past.off.kind == "lock_ended"
        how = f"ended by {past.off.by}" if ended else "own hand"
        cells.append((_title(job, past.step), past.hung.by, past.hung.content.proven, how))
    for (step, _), event in job.ledger.locks.on.items():
        cells.append((_title(job, step), event.by, event.content.proven, "is on"))
    if not cells:
        return None
    return table("Locks", ("For", "Whose", "Proven", "Came off"), cells)


def _title(job: Reads, id: str) -> str:
    step = job.ledger.method.step(id)
    return step.title if step is not None else id


def sections(job: Reads) -> dict[str, Any]:
    """Return what the certificate says besides."""
    return {"tables": as_tables(job, blocks(job), "counts")}
