"""What a step with a gas asks for: one table of all components, and one thing to press."""

from __future__ import annotations

from calibration.engine.job.reads import Reads
from calibration.engine.method.method import STAGES, Step
from calibration.engine.view.asks import Ask, Push, Sent, Value
from calibration.engine.view.blocks import Block, Mark, Row
from calibration.families.mixture.causes import limit_of
from calibration.families.mixture.facts import components
from calibration.families.mixture.gases import (
    AFTER,
    chosen,
    end_of,
    made,
    may_set,
    named,
    value_of,
    why_not,
)
from calibration.families.mixture.words import SUFFIX, Together
from calibration.kernel.numbers import HUNDRED
from calibration.kernel.rounding import as_typed, show, trimmed

GAS = {"zero": "zero gas", "span": "the mixture"}
HEADS = ("Component", "Gas", "In it", "Found", "Left", "Limit")


def task(job: Reads) -> Ask | None:
    """Return what the present step asks for; none where the engine knows."""
    step = job.current
    if not isinstance(step, Together) or made(job, step):
        return None
    columns = table(job, step)
    sets = any(column.id.endswith(AFTER) for column in columns)
    as_they_are = Push(
        label="Take all as they are",
        events=(Sent(kind="mixed", data={"step": step.id, "set": "none"}),),
        live=True,
    )
    return Ask(
        way="set",
        button="Take all, set what is off" if sets else "Take all",
        typed="Taken",
        blocks=_blocks(job, step),
        sends=Sent(kind="mixed", data={"step": step.id}),
        values=columns,
        others=(as_they_are,) if sets else (),
        minutes="5",
    )


def table(job: Reads, step: Together) -> tuple[Value, ...]:
    """Return what is typed, component by component, in the order of setting."""
    found: list[Value] = []
    for n, c in enumerate(components(job.ledger.facts)):
        value = trimmed(value_of(job.ledger, step.gas, n))
        row = f"{named(c)}: {value}"
        found.append(Value(id=c.id, label="Shows", unit="", required=True, row=row))
        if may_set(job.ledger, step, n):
            label = f"Set to {value}"
            found.append(Value(id=c.id + AFTER, label=label, unit="", required=False, row=row))
    return tuple(found)


def _blocks(job: Reads, step: Together) -> tuple[Block, ...]:
    """Return the gas, and what is not set in it, each with why."""
    asset = chosen(job.ledger, step.gas)
    rows = [Row(label="Gas", value=asset.asset if asset is not None else "")]
    for n, c in enumerate(components(job.ledger.facts)):
        why = why_not(job.ledger, step, n)
        if why and not step.again:
            rows.append(Row(label=c.label, value=f"not set: {why}"))
    school = (
        "Every component is set at each visit, in the order of the rows."
        if job.settings.always_adjust
        else "Set what does not read as it should, in the order of the rows; the rest stays empty."
    )
    text = "Nothing is set here." if step.again else school
    return (Block(kind="rows", rows=tuple(rows)), Block(kind="text", text=text))


def heading(job: Reads, step: Step) -> tuple[str, str] | None:
    """Return kicker and title where a gas is read; none elsewhere."""
    if not isinstance(step, Together):
        return None
    kicker = f"{dict(STAGES)[step.stage]} · {step.title}"
    rest = "look at all of it again" if step.again else "read every component, set what is off"
    return kicker, f"Steady in {GAS[step.gas]}: {rest}"


def blocks(job: Reads) -> tuple[Block, ...]:
    """Return every component in both gases, and what one does to another; none before the first."""
    cells, marks = [], []
    for n, _c in enumerate(components(job.ledger.facts)):
        for at, gas in enumerate(("zero", "span")):
            line, mark = _line(job, n, at, gas)
            if line:
                cells.append(line)
                marks.append(mark)
    if not cells:
        return ()
    found = [
        Block(
            kind="table",
            title="Every component",
            columns=HEADS,
            cells=tuple(cells),
            marks=tuple(marks),
        )
    ]
    matrix = disturbance(job)
    if matrix is not None:
        found.append(matrix)
    return tuple(found)


def _line(job: Reads, n: int, at: int, gas: str) -> tuple[tuple[str, ...], Mark]:
    """Return one component in one gas: what is in it, found, left, limit; nothing before."""
    c = components(job.ledger.facts)[n]
    found, left = f"as_found{SUFFIX[n]}", f"as_left{SUFFIX[n]}"
    readings = job.ledger.readings
    if at not in readings[found]:
        return (), "none"
    taken = readings[found][at].content
    after = readings[left].get(at)
    figures = job.figures(left if after is not None else found)
    mark: Mark = figures.marks[figures.order.index(at)]
    name = {"zero": "zero", "span": "mixture"}[gas]
    return (
        c.label,
        name if end_of(job.ledger, gas, n) != "none" else f"{name}, none in it",  # type: ignore[arg-type]
        trimmed(taken.applied),
        as_typed(taken.reading),
        as_typed(after.content.reading) if after is not None else "",
        f"±{show(limit_of(c), 2)} {c.unit}",
    ), mark


def disturbance(job: Reads) -> Block | None:
    """Return what one component does to another in this mixture, by the record; none without."""
    own = components(job.ledger.facts)
    ids = {c.id: n for n, c in enumerate(own)}
    cells = []
    for c in own:
        for term in c.cross:
            if term.of in ids:
                n = ids[term.of]
                size = term.percent * value_of(job.ledger, "span", n) / HUNDRED
                cells.append((own[n].label, c.label, f"{show(size, 3, sign=True)} {c.unit}"))
    if not cells:
        return None
    return Block(
        kind="table",
        title="What one does to another",
        columns=("Component", "adds to", "in this mixture"),
        cells=tuple(cells),
        marks=tuple("none" for _ in cells),
    )
