"""What a step at a vessel on load cells asks for: a load, a zero, a span."""

from __future__ import annotations

from decimal import Decimal
from typing import Any

from calibration.engine.job.reads import Reads
from calibration.engine.method.method import STAGES, Step
from calibration.engine.view.asks import Ask, Sent, Value
from calibration.engine.view.blocks import Block, Row
from calibration.families.loadcells.evidence import CORNERS, enough, net_corners, top_load
from calibration.families.loadcells.facts import noted, vessel, weights
from calibration.families.loadcells.kinds import HELD, LOADS, words
from calibration.families.loadcells.words import COUNTS, FOUND, SEND_SPAN, SEND_ZERO, LoadRun
from calibration.families.shared.display import as_tables, reading, table
from calibration.kernel.rounding import as_typed, fixed, show, trimmed

STAND_CLEAR = "Nobody under the load. Lower it gently; wait until it hangs still."


def task(job: Reads) -> Ask | None:
    """Return what the present step asks for; none where the engine knows."""
    step = job.current
    if step is None:
        return None
    if step.id in (SEND_ZERO, SEND_SPAN):
        return _set(job, step)
    if step.kind != "capture":
        return None
    spec, figures = job.ledger.method.run(step.run), job.figures(step.run)
    if figures.current < 0:
        return None
    load = figures.plan[figures.current].nominal
    blocks = (
        Block(
            kind="rows",
            rows=(
                Row(label="On it", value=words(job, load), strong=True),
                Row(label="Counts as", value=f"{trimmed(load)} kg"),
            ),
        ),
        Block(kind="text", text=_how(job, spec, figures.current)),
    )
    return reading(job, LOADS, spec, "Take it", blocks)


def _how(job: Reads, spec: object, place: int) -> str:
    assert isinstance(spec, LoadRun)
    if spec.points == "substitution" and place > 1:
        return (
            "Take the weights off, fill material until the display shows as much as with them, "
            "then hang the weights again."
        )
    if spec.points == "up_down" and place == HELD:
        minutes = trimmed(job.settings.number("creep_minutes"))
        return f"Leave the load for {minutes} min, then read it again: that is creep."
    return STAND_CLEAR


def _set(job: Reads, step: Step) -> Ask:
    span = step.id == SEND_SPAN
    target = trimmed(top_load(job.ledger)) if span else "0"
    what = words(job, top_load(job.ledger)) if span else "nothing: empty"
    return Ask(
        way="set",
        button=f"Set it to {target} kg",
        typed="It is set",
        sends=Sent(kind="cells_set", data={"step": step.id}),
        blocks=(
            Block(
                kind="rows",
                rows=(
                    Row(label="On it", value=what),
                    Row(label="Key in", value=f"{target} kg", strong=True),
                ),
            ),
            Block(kind="text", text=STAND_CLEAR if span else "Empty, nothing leans on it."),
        ),
        values=(
            Value(id="before", label="Shown before, if read", unit="kg", required=False),
            Value(id="after", label="Shown afterwards", unit="kg", required=True),
        ),
        end="span" if span else "zero",
        target=target.replace("\u202f", ""),
    )


def heading(job: Reads, step: Step) -> tuple[str, str] | None:
    """Return kicker and title where a load is due; none elsewhere."""
    if step.kind != "capture":
        return None
    figures, spec = job.figures(step.run), job.ledger.method.run(step.run)
    at = max(0, figures.current)
    kicker = f"{dict(STAGES)[step.stage]} · {step.title} · {at + 1} of {len(figures.plan)}"
    load = figures.plan[at].nominal
    label = LOADS.label(job, spec, at)
    if not load:
        return kicker, "Empty: read what it shows"
    return kicker, f"{label}: {words(job, load)}"


def blocks(job: Reads) -> tuple[Block, ...]:
    """Return whether the weights are enough, and each corner; none before weights are chosen."""
    if weights(job.ledger) is None:
        return ()
    found = [_enough(job)]
    for run in CORNERS:
        figures = job.figures(run)
        if not figures.order or job.ledger.method.run(run).id != run:
            continue
        shown = net_corners(job, figures)
        cells = tuple(
            (LOADS.label(job, job.ledger.method.run(run), i), f"{show(100 * c, 2)} %")
            for i, c in zip(figures.order, shown, strict=True)
        )
        title = job.ledger.method.run(run).title
        found.append(table(title, ("Corner", "Shows of the load"), cells, figures.marks))
    return (*found, *_creep(job), *_counts(job))


def _enough(job: Reads) -> Block:
    of, facts = enough(job), vessel(job.ledger.facts)
    capacity = show(job.ledger.facts.input_upper, 0)
    cells = (
        ("Weights at hand", f"{trimmed(of.load_kg)} kg", ""),
        (
            "Least for the electronics",
            f"{trimmed(fixed(of.least.minimum_kg, 2))} kg",
            f"{trimmed(facts.least_percent)} % of the cells",
        ),
        (
            f"U at {capacity} kg",
            f"±{show(of.u_at_capacity, 2)} kg",
            f"accepted ±{show(of.accepted, 2)} kg",
        ),
        ("Each cell, full", f"{show(of.used_percent, 0)} %", "of its rated load"),
    )
    marks = (
        "none",
        "within" if of.least.enough else "outside",
        "within" if of.u_at_capacity <= of.accepted else "outside",
        "within" if of.used_percent <= Decimal(100) else "outside",
    )
    return table("Is the weight heavy enough?", ("What", "Here", "Against"), cells, marks)  # type: ignore[arg-type]


def _creep(job: Reads) -> tuple[Block, ...]:
    """Return for how long the load really stood, and how far it moved; none before it is read."""
    cells = []
    for spec in job.ledger.method.runs:
        taken = job.ledger.readings[spec.id]
        whole = HELD in taken and HELD - 1 in taken
        if not isinstance(spec, LoadRun) or spec.points != "up_down" or not whole:
            continue
        first, last = taken[HELD - 1], taken[HELD]
        stood = (last.event.when - first.event.when).total_seconds() / 60
        said = f"{stood:.0f} of {trimmed(job.settings.number('creep_minutes'))} min"
        if last.event.source == "simulated":
            said = "as long as the rig says"
        moved = last.content.reading - first.content.reading
        cells.append((spec.title, said, f"{as_typed(moved, sign=True)} kg"))
    return (table("Creep", ("", "The load stood", "Moved"), cells),) if cells else ()


def _counts(job: Reads) -> tuple[Block, ...]:
    """Return zero and span of the electronics, found and now; none before they are read again."""
    rows = []
    for name, label in (("zero", "Zero"), ("span", "Span")):
        was = noted(job.ledger, FOUND, f"{name}_mvv")
        now = noted(job.ledger, COUNTS, f"{name}_now")
        if was is not None and now is not None:
            moved = 100 * (now / was - 1) if was else Decimal(0)
            rows.append((label, as_typed(was), as_typed(now), f"{show(moved, 3, sign=True)} %"))
    heads = ("", "Found", "Now", "Moved")
    return (table("Electronics, mV/V", heads, rows),) if rows else ()


def sections(job: Reads) -> dict[str, Any]:
    """Return what the certificate says besides."""
    return {"tables": as_tables(job, blocks(job), "kg")}


def covers(job: Reads) -> tuple[str, ...]:
    """Return up to which load the weights show it, where that is not its capacity."""
    if weights(job.ledger) is None:
        return ()
    of, capacity = enough(job), job.ledger.facts.input_upper
    if of.u_at_capacity <= of.accepted:
        return ()
    return (
        f"Shown up to {trimmed(of.load_kg)} kg. At {show(capacity, 0)} kg U is "
        f"±{show(of.u_at_capacity, 2)} kg, more than the ±{show(of.accepted, 2)} kg accepted: "
        "above the weights it is not shown.",
    )
