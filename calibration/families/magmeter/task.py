"""What a step of a verification asks for: a plug, the lines of the tester, a current."""

from __future__ import annotations

from typing import Any

from calibration.engine.job.reads import Reads
from calibration.engine.method.method import STAGES, Step
from calibration.engine.view.asks import Ask, Push, Sent, Value
from calibration.engine.view.blocks import Block, Mark, Row
from calibration.families.magmeter.facts import TestLine, meter
from calibration.families.magmeter.kinds import OUTPUT
from calibration.families.magmeter.ledger import judged, order_of, part_of, values_of
from calibration.families.magmeter.words import Plugging, Testing, limit_of, plugs
from calibration.families.shared.display import as_tables, reading, table
from calibration.kernel.rounding import as_typed, show, trimmed

FILE = "the tester's file, CSV or JSON"


def task(job: Reads) -> Ask | None:
    """Return what the present step asks for; none where the engine knows."""
    step = job.current
    if isinstance(step, Plugging):
        return _plug(job, step)
    if isinstance(step, Testing):
        return _lines(job, step)
    if step is not None and step.kind == "capture":
        spec = job.ledger.method.run(step.run)
        text = "The meter gives a fixed current; read what the control room shows."
        return reading(job, OUTPUT, spec, "Take it", (Block(kind="text", text=text),))
    return None


def _plug(job: Reads, step: Plugging) -> Ask | None:
    done = part_of(job.ledger).plugged.get(step.id, [])
    order = order_of(job.ledger, step)
    left = [p for p in order if p not in done]
    if not left:
        return None
    known = {p.id: p for p in plugs(meter(job.ledger.facts))}
    now = known[left[0]]
    rest = Sent(kind="plugged", data={"step": step.id, "plug": "all"})
    cells, marks = [], []
    for name in order:
        plug = known[name]
        cells.append((plug.label, plug.goes, "done" if name in done else ""))
        mark: Mark = "within" if name in done else "near" if name == left[0] else "none"
        marks.append(mark)
    is_in = step.way == "in"
    return Ask(
        way="state",
        button=f"{now.label} is {'in' if is_in else 'out'}",
        blocks=(
            Block(
                kind="wiring",
                title="Where each plug goes" if is_in else "Out, the other way round",
                columns=("Plug", "Socket", ""),
                cells=tuple(cells),
                marks=tuple(marks),
            ),
        ),
        also=(Sent(kind="plugged", data={"step": step.id, "plug": now.id}),),
        others=(Push(label=f"All {len(left)} are {'in' if is_in else 'out'}", events=(rest,)),)
        if len(left) > 1
        else (),
    )


def _lines(job: Reads, step: Step) -> Ask:
    columns = tuple(
        Value(id=line.id, label="Tester says", unit="", required=True, row=_row(line))
        for line in meter(job.ledger.facts).lines
    )
    return Ask(
        way="set",
        button="Take all lines",
        sends=Sent(kind="lines_read", data={"step": step.id}),
        blocks=(
            Block(
                kind="rows",
                rows=(Row(label="Lines", value=str(len(columns)), strong=True),),
            ),
            Block(
                kind="text",
                text="Start the tester's program; keep power and plugs as they are until it ends.",
            ),
        ),
        values=columns,
        file=FILE,
    )


def _row(line: TestLine) -> str:
    stored, limit = f"{trimmed(line.reference)} {line.unit}".strip(), limit_of(line)
    if line.kind == "yes_no":
        return f"{line.label}: 1 is yes"
    return (
        f"{line.label}: {limit} {stored}"
        if line.kind == "at_least"
        else (f"{line.label}: {stored} {limit}".rstrip())
    )


def heading(job: Reads, step: Step) -> tuple[str, str] | None:
    """Return kicker and title where plugs move or lines are read; none elsewhere."""
    kicker = f"{dict(STAGES)[step.stage]} · {step.title}"
    if isinstance(step, Plugging):
        done = len(part_of(job.ledger).plugged.get(step.id, []))
        order = order_of(job.ledger, step)
        if done >= len(order):
            return None
        plug = next(p for p in plugs(meter(job.ledger.facts)) if p.id == order[done])
        where = f"into: {plug.goes.lower()}" if step.way == "in" else "out"
        return f"{kicker} · {done + 1} of {len(order)}", f"{plug.label} {where}"
    if isinstance(step, Testing):
        return kicker, "Let the tester go through its lines"
    if step.kind == "capture":
        figures = job.figures(step.run)
        at = figures.plan[max(0, figures.current)]
        return kicker, f"The meter gives {trimmed(at.nominal)} mA: what does the room show?"
    return None


def blocks(job: Reads) -> tuple[Block, ...]:
    """Return every line with its stored value; none before they are read."""
    every = part_of(job.ledger).every
    if not every:
        return ()
    values = values_of(job.ledger, every[-1][1])
    cells, marks = [], []
    for line, out in zip(meter(job.ledger.facts).lines, judged(job.ledger, values), strict=True):
        yes_no = line.kind == "yes_no"
        said = f"{as_typed(values[line.id])} {line.unit}".strip()
        if yes_no:
            said = "yes" if out.passed else "no"
        if out.at_20_c is not None:
            said += f" ({show(out.at_20_c, 2)} at 20 °C)"
        share = out.share_of_limit_percent
        cells.append(
            (
                line.label,
                "yes" if yes_no else _row(line).partition(": ")[2],
                said,
                f"{show(share, 0)} %" if share is not None else "",
            )
        )
        marks.append("within" if out.passed else "outside")
    heads = ("Line", "Stored, limit", "Tester", "Of its limit")
    return (table("Lines of the tester", heads, cells, marks),)  # type: ignore[arg-type]


def sections(job: Reads) -> dict[str, Any]:
    """Return what the certificate says besides: every line."""
    return {"tables": as_tables(job, blocks(job), "")}
