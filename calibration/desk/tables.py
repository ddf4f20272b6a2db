"""Tables that people carry: one input of a calculation, stepped from a start to an end."""

from __future__ import annotations

import copy
from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from calibration.kernel.checks import positive, some
from calibration.kernel.codec import about, decode
from calibration.kernel.errors import InputError
from calibration.kernel.present import figure_at, given_rows
from calibration.kernel.registry import OPERATIONS, operation

MOST_ROWS = 2001
MOST_COLUMNS = 6


@dataclass(frozen=True, kw_only=True)
class TableIn:
    """Which calculation, which input is stepped, and how."""

    operation: str = about("calculation")
    fixed: Mapping[str, Any] = about("its other inputs")
    vary: str = about("input that is stepped, dotted inside lists")
    start: Decimal = about("from")
    stop: Decimal = about("to")
    step: Decimal = about("step")
    columns: tuple[str, ...] = about("results to list, dotted inside lists")


@dataclass(frozen=True, kw_only=True)
class TableOut:
    """The table as text, ready to be printed."""

    title: str = about("title")
    conditions: tuple[str, ...] = about("other inputs")
    columns: tuple[str, ...] = about("columns")
    rows: tuple[tuple[str, ...], ...] = about("rows")
    source: str = about("source")


@operation(
    "table.make",
    title="Make a table",
    family="Signals and loops",
    formula="the calculation, once for every step",
    source="as the calculation it lists",
    example={
        "operation": "thermocouple.emf",
        "fixed": {"type": "K"},
        "vary": "temperature_c",
        "start": "0",
        "stop": "100",
        "step": "10",
        "columns": ["emf_mv"],
    },
)
def make(request: TableIn) -> TableOut:
    """Run one calculation for each step of one input.

    Raises
    ------
    InputError
        ``operation.unknown``, ``vary.unknown``, ``step.not_positive``, ``rows.too_many``,
        ``columns.too_few``, ``columns.too_many``, ``columns.unknown``, and what the calculation
        itself refuses.

    References
    ----------
    As the calculation it lists.
    """
    op = OPERATIONS.get(request.operation)
    if op is None or op.name == "table.make":
        raise InputError(
            "operation.unknown",
            "operation",
            f"There is no table of '{request.operation[:60]}'.",
            "Choose a calculation of the list.",
        )
    some(request.columns, "columns", "results")
    if len(request.columns) > MOST_COLUMNS:
        raise InputError(
            "columns.too_many",
            "columns",
            "That is too wide to print.",
            f"Choose up to {MOST_COLUMNS} results.",
        )
    rows: list[tuple[str, ...]] = []
    heads: tuple[str, ...] = ()
    conditions: tuple[str, ...] = ()
    for place in _places(request):
        try:
            given: Any = decode(op.input_type, _with(request.fixed, request.vary, str(place)))
            result = op.function(given)
        except InputError as wrong:
            if wrong.field in ("vary", "input", ""):
                raise
            raise wrong.within("fixed") from None
        figures = [figure_at(result, c) for c in request.columns]
        if not rows:
            stepped = figure_at(given, request.vary, field="vary")
            heads = tuple(f.label + (f" [{f.unit}]" if f.unit else "") for f in (stepped, *figures))
            conditions = tuple(
                f"{g.label}: {g.text} {g.unit}".rstrip()
                for g in given_rows(given)
                if g.field != request.vary
            )
        rows.append((format(place, "f"), *(f.text for f in figures)))
    return TableOut(
        title=op.title,
        conditions=conditions,
        columns=heads,
        rows=tuple(rows),
        source=op.source,
    )


def _places(request: TableIn) -> list[Decimal]:
    positive(request.step, "step", "step")
    if request.stop < request.start:
        raise InputError(
            "stop.order", "stop", "The table ends before it starts.", "Swap from and to."
        )
    count = int((request.stop - request.start) / request.step) + 1
    if count > MOST_ROWS:
        raise InputError(
            "rows.too_many",
            "step",
            f"That would be {count} rows.",
            f"Use a larger step: at most {MOST_ROWS} rows.",
        )
    return [request.start + n * request.step for n in range(count)]


def _with(fixed: Mapping[str, Any], path: str, value: str) -> dict[str, Any]:
    """Return the inputs with one value set, e.g. ``percents.0``."""
    payload: Any = copy.deepcopy(dict(fixed))
    *outer, last = path.split(".")
    inner = payload
    try:
        if not last:
            raise KeyError(path)
        for part in outer:
            inner = inner[int(part)] if isinstance(inner, list) else inner[part]
        if isinstance(inner, list):
            inner[int(last)] = value
        else:
            inner[last] = value
    except (KeyError, IndexError, ValueError, TypeError):
        raise InputError(
            "vary.unknown",
            "vary",
            f"There is no input '{path[:60]}' to step.",
            "Name a number of the calculation.",
        ) from None
    return payload  # type: ignore[no-any-return]
