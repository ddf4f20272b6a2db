"""What an injection asks for: one table of all components, the pair live beside it."""

from __future__ import annotations

from calibration.engine.job.reads import Reads
from calibration.engine.method.method import STAGES, Step
from calibration.engine.view.asks import Ask, Sent, Value
from calibration.engine.view.blocks import Block, Mark, Row
from calibration.families.chromatograph.facts import chromatograph, peaks
from calibration.families.chromatograph.injections import (
    AT,
    accepted,
    compared,
    in_gas,
    taken,
    times,
)
from calibration.families.chromatograph.ledger import part_of
from calibration.families.chromatograph.words import Injection, Storing
from calibration.kernel.rounding import as_typed, show, trimmed

VALID = "Good until it is switched off, or the day ends here."


def task(job: Reads) -> Ask | None:
    """Return what the present step asks for; none where the engine knows."""
    step = job.current
    if isinstance(step, Storing):
        return Ask(
            way="state",
            button="Stored: the mean of the pair",
            blocks=(Block(kind="text", text="Only the pair that agrees is stored."),),
            also=(Sent(kind="stored", data={"step": step.id}),),
            minutes="3",
        )
    if not isinstance(step, Injection):
        return None
    columns = []
    before = taken(job.ledger)
    for n, peak in enumerate(peaks(job.ledger.facts)):
        due = "clean air" if step.group == "blank" else trimmed(in_gas(job.ledger, n))
        row = f"{peak.label}, ppm: {due}"
        if step.group == "found" and before:
            row += f"; before {as_typed(before[max(before)][n].shows)}"
        columns.append(Value(id=peak.id, label="Shows", unit="", required=True, row=row))
        at = f"At, {trimmed(peak.expected_s)} s"
        columns.append(Value(id=peak.id + AT, label=at, unit="", required=False, row=row))
    text = (
        "Every component below its limit; what does not come is 0."
        if step.group == "blank"
        else "What the device shows of each component; what does not come is 0."
    )
    return Ask(
        way="set",
        button="Take the run",
        typed="Taken",
        blocks=(Block(kind="text", text=text),),
        sends=Sent(kind="injected", data={"step": step.id}),
        values=tuple(columns),
        file="the device's file of this run",
        minutes="3",
    )


def heading(job: Reads, step: Step) -> tuple[str, str] | None:
    """Return kicker and title of an injection; none elsewhere."""
    stage = dict(STAGES)[step.stage]
    if isinstance(step, Injection):
        return f"{stage} · {step.title}", "Inject, wait for the run to end, read all of it"
    if isinstance(step, Storing):
        return stage, "Let the device store the mean of the pair"
    return None


def blocks(job: Reads) -> tuple[Block, ...]:
    """Return injections, their agreement, retention, blank, and how long it is good."""
    seen = taken(job.ledger)
    found: list[Block] = []
    if seen:
        found.append(_injections(job))
        found += _retention(job)
    found += _blank(job)
    if part_of(job.ledger).stored:
        found.append(Block(kind="rows", title="Valid", rows=(Row(label="Until", value=VALID),)))
    elif chromatograph(job.ledger.facts).valid_on and not seen:
        last = chromatograph(job.ledger.facts).valid_on
        found.append(Block(kind="rows", rows=(Row(label="Last calibrated", value=last),)))
    return tuple(found)


def _injections(job: Reads) -> Block:
    """Return every component over the injections; of the last two how they agree."""
    seen = taken(job.ledger)
    places = sorted(seen)
    pair = accepted(job.ledger, job.settings)
    last = pair or tuple(places[-2:])
    agree = None
    if len(last) == 2:
        agree = compared(job.ledger, job.settings, seen[last[0]], seen[last[1]])
    cells, marks = [], []
    for n, peak in enumerate(peaks(job.ledger.facts)):
        line = [peak.label, *(as_typed(seen[p][n].shows) for p in places)]
        mark: Mark = "none"
        if agree is not None:
            own = agree.components[n]
            line.append(
                f"{own.difference_percent:.2f} %" if own.difference_percent is not None else ""
            )
            mark = "none" if own.within is None else "within" if own.within else "outside"
        cells.append(tuple(line))
        marks.append(mark)
    heads = [f"{p + 1}{' ✓' if pair and p in pair else ''}" for p in places]
    differs = (f"{last[0] + 1} against {last[1] + 1}",) if agree is not None else ()
    return Block(
        kind="table",
        title="Injections, ppm",
        text=agree.advice if agree is not None else "",
        columns=("Component", *heads, *differs),
        cells=tuple(cells),
        marks=tuple(marks),
    )


def _retention(job: Reads) -> list[Block]:
    seen = taken(job.ledger)
    newest = seen[max(seen)]
    found = times(job.ledger, newest)
    if found is None:
        return []
    rows = [Row(label="Retention", value=found.advice)]
    if found.resolution is not None and found.closest is not None:
        rows.append(Row(label="Closest", value=f"{found.closest}, R {show(found.resolution, 2)}"))
    return [Block(kind="rows", title="Retention", rows=tuple(rows))]


def _blank(job: Reads) -> list[Block]:
    kept = part_of(job.ledger).injections
    names = [n for n in ("blank_1", "blank_2") if n in kept]
    if not names:
        return []
    cells, marks = [], []
    for n, peak in enumerate(peaks(job.ledger.facts)):
        shown = [kept[name][0][n].shows for name in names]
        cells.append((peak.label, *(as_typed(v) for v in shown), f"≤ {trimmed(peak.blank_ppm)}"))
        mark: Mark = "within" if shown[-1] <= peak.blank_ppm else "outside"
        marks.append(mark)
    heads = ("First", "Again")[: len(names)]
    return [
        Block(
            kind="table",
            title="Blank, ppm",
            columns=("Component", *heads, "Limit"),
            cells=tuple(cells),
            marks=tuple(marks),
        )
    ]
