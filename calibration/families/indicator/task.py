"""What a step at an indicator asks for: a load, a zero, a value to key in."""

from __future__ import annotations

from typing import Any

from calibration.engine.job.reads import Reads
from calibration.engine.method.method import STAGES, Step
from calibration.engine.view.asks import Ask, Sent, Value
from calibration.engine.view.blocks import Block, Row
from calibration.families.indicator.facts import factor_on_record, noted
from calibration.families.indicator.kinds import ON_PLATFORM, top_load, words
from calibration.families.indicator.words import FACTOR, SET_SPAN, SET_ZERO
from calibration.families.shared.display import as_tables, reading, table
from calibration.kernel.rounding import as_typed, show, trimmed


def task(job: Reads) -> Ask | None:
    """Return what the present step asks for; none where the engine knows."""
    step = job.current
    if step is None:
        return None
    if step.id in (SET_ZERO, SET_SPAN):
        return _set(job, step)
    if step.kind != "capture":
        return None
    spec, figures = job.ledger.method.run(step.run), job.figures(step.run)
    if figures.current < 0:
        return None
    load = figures.plan[figures.current].nominal
    rows = (
        Row(label="On it", value=words(job, load), strong=True),
        Row(label="Counts as", value=f"{trimmed(load)} kg"),
    )
    return reading(job, ON_PLATFORM, spec, "Take it", (Block(kind="rows", rows=rows),))


def _set(job: Reads, step: Step) -> Ask:
    span = step.id == SET_SPAN
    load = top_load(job.ledger)
    target = trimmed(load) if span else "0"
    rows = (
        Row(label="On it", value=words(job, load) if span else "nothing"),
        Row(label="Key in", value=f"{target} kg", strong=True),
    )
    return Ask(
        way="set",
        button=f"Set it to {target} kg",
        typed="It is set",
        sends=Sent(kind="indicator_set", data={"step": step.id}),
        blocks=(Block(kind="rows", rows=rows),),
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
    figures = job.figures(step.run)
    at = max(0, figures.current)
    kicker = f"{dict(STAGES)[step.stage]} · {step.title} · {at + 1} of {len(figures.plan)}"
    return kicker, f"On it: {words(job, figures.plan[at].nominal)}"


def blocks(job: Reads) -> tuple[Block, ...]:
    """Return the factor on record, found and now; none before it is read."""
    found = noted(job.ledger, "settings", "cell_factor")
    if found is None:
        return ()
    was, now = factor_on_record(job.ledger.facts), noted(job.ledger, FACTOR, "factor_now")
    cells = [
        ("On record", as_typed(was) if was is not None else "none", ""),
        ("Found", as_typed(found), _moved(found, was)),
    ]
    if now is not None:
        cells.append(("Now", as_typed(now), _moved(now, was)))
    return (table("Factor", ("", "Factor", "From the record"), cells),)


def _moved(value: Any, was: Any) -> str:
    return f"{show(100 * (value / was - 1), 3, sign=True)} %" if was else ""


def sections(job: Reads) -> dict[str, Any]:
    """Return what the certificate says besides."""
    return {"tables": as_tables(job, blocks(job), "kg")}
