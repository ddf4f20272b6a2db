"""Runs and asks of an instrument that is read at its own display."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from decimal import Decimal
from typing import Any

from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.job.ledger import Ledger
from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import WORST, RunFigures
from calibration.engine.method.method import RunSpec
from calibration.engine.method.run_kind import RunKind, stands_for
from calibration.engine.view.asks import Ask, Sent, Value
from calibration.engine.view.blocks import Block, Mark
from calibration.engine.view.columns import columns_of
from calibration.engine.view.state import Station
from calibration.families.shared.setting import set_of
from calibration.kernel.numbers import HUNDRED
from calibration.kernel.rounding import as_typed, decimals_of, fixed, show, show_as_read, trimmed
from calibration.runs.causes import Cause
from calibration.runs.points import PlannedPoint

UNMARKED: tuple[Mark, ...] = ("none",)
EARLY = ("It will not get steadier",)


def point(nominal: Decimal, facts: InstrumentFacts, direction: str = "up") -> PlannedPoint:
    """Return a point of a run at a value."""
    percent = HUNDRED * (nominal - facts.input_lower) / facts.transfer.input_span
    return PlannedPoint(
        nominal_percent=percent,
        nominal=nominal,
        direction=direction,  # type: ignore[arg-type]
        cycle=1,
        approach=None,
    )


def no_better(figures: RunFigures, mark: Mark, causes: tuple[Cause, ...] = ()) -> RunFigures:
    """Return a run that is marked as a whole: never better than the worst of its points."""
    worst = max((mark, figures.mark), key=lambda m: WORST[m])
    return replace(figures, mark=worst, causes=causes)


class AtDisplay(RunKind):
    """What is read at the display, in its own unit."""

    pictured = False
    in_unit = True
    characterised = False
    #: what is applied is called so on the strip
    source = "Applied"

    def in_input(self, facts: InstrumentFacts) -> bool:
        """Tell that errors are said in the unit of the display."""
        return True

    def stations(
        self, job: Reads, spec: RunSpec, figures: RunFigures, index: int, figure: str
    ) -> tuple[Station, ...]:
        """Return what is applied, the display, and the error between what is known and shown."""
        content, place = figures.taken[index].content, figures.order.index(index)
        assert figures.result is not None
        point, unit = figures.result.points[place], figures.facts.input_unit
        percent = HUNDRED * (content.applied - figures.facts.input_lower)
        percent /= figures.facts.transfer.input_span
        error = show_as_read(point.error, point.limit, point.reading)
        fine = max(decimals_of(content.reading), min(2, decimals_of(point.applied)))
        return (
            station(
                f"{figure}.applied",
                label=self.source,
                value=as_typed(content.applied),
                unit=unit,
                remark=f"{show(percent, 2)} % of range",
            ),
            station(
                f"{figure}.output",
                label="Display",
                value=as_typed(content.reading),
                unit=unit,
                expected=show(point.ideal, fine),
                bad=figures.marks[place] == "outside",
            ),
            station(
                f"{figure}.whole",
                label="Error",
                value=error,
                unit=unit,
                remark=f"limit ±{trimmed(fixed(point.limit, 4))} {unit}",
            ),
        )


def station(figure: str, **more: Any) -> Station:
    """Return a station, named as the last part of its figure; a bare name has no figure."""
    plain = {"expected": "", "error": "", "bad": False, "remark": ""}
    run, _, name = figure.rpartition(".")
    return Station(id=name, figure=figure if run else "", **{**plain, **more})


def reading(
    job: Reads, kind: RunKind, spec: RunSpec, label: str, blocks: tuple[Block, ...]
) -> Ask | None:
    """Return the ask for reading the next point of a run; none once all are read."""
    figures = job.figures(spec.id)
    if figures.current < 0:
        return None
    stands = stands_for(kind, figures.plan[figures.current])
    values = columns(job, kind, spec, figures)
    return read(spec, figures, values, stands, button=label, blocks=blocks)


def columns(job: Reads, kind: RunKind, spec: RunSpec, figures: RunFigures) -> tuple[Value, ...]:
    """Return the values that are read at the next point of a run."""
    names = kind.columns(job, spec, figures)
    return columns_of(names, figures.facts, kind.own_columns)


def read(
    spec: RunSpec,
    figures: RunFigures,
    values: tuple[Value, ...],
    stands_for: str = "",
    early: tuple[str, ...] = EARLY,
    **more: Any,
) -> Ask:
    """Return the ask for the next point of a run; it is taken as soon as it is steady."""
    data: dict[str, str | int] = {"run": spec.id, "point": figures.current}
    if stands_for:
        data["applied"] = stands_for
    return Ask(
        way="read",
        sends=Sent(kind="reading_taken", data=data),
        values=values,
        at_once=True,
        early=early,
        **more,
    )


def table(
    title: str,
    columns: Sequence[str],
    cells: Sequence[tuple[str, ...]],
    marks: Sequence[Mark] = (),
) -> Block:
    """Return a table."""
    return Block(
        kind="table",
        title=title,
        columns=tuple(columns),
        cells=tuple(cells),
        marks=tuple(marks) or UNMARKED * len(cells),
    )


def as_tables(job: Reads, blocks: Sequence[Block], unit: str) -> list[dict[str, Any]]:
    """Return blocks as tables of a certificate, with what was set; or that nothing was."""
    found = [
        {
            "title": b.title,
            "columns": list(b.columns),
            "rows": [list(row) for row in b.cells],
            "lines": [],
        }
        for b in blocks
        if b.kind == "table"
    ]
    moves = set_of(job.ledger).all
    if moves:
        found.append(
            {
                "title": f"Set, {unit}",
                "columns": ["What", "Before", "Afterwards"],
                "rows": [
                    [
                        _title(job.ledger, c.step),
                        as_typed(c.before) if c.before is not None else "",
                        as_typed(c.after),
                    ]
                    for c, _ in moves
                ],
                "lines": [],
            }
        )
    if found and not job.ledger.changes:
        found[0]["lines"] = ["Verified only: nothing in the instrument was changed."]
    return found


def _title(ledger: Ledger, id: str) -> str:
    step = ledger.method.step(id)
    return step.title if step is not None else id
