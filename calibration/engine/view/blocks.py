"""The small vocabulary in which a family says what a screen shows and what a person can do."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

#: What is thought of a reading, a run or a row.
Mark = Literal["within", "near", "outside", "none"]


@dataclass(frozen=True, kw_only=True)
class Row:
    """One line of a block: a name and what is said of it; ``strong`` is read from afar."""

    label: str
    value: str
    strong: bool = False


@dataclass(frozen=True, kw_only=True)
class Block:
    """Something that a family shows; a screen draws each kind in one way."""

    kind: Literal["rows", "table", "text", "timer", "wiring"]
    title: str = ""
    text: str = ""
    rows: tuple[Row, ...] = ()
    columns: tuple[str, ...] = ()
    #: cells of a table, row by row; of a wiring: what, where it goes, whether it is there
    cells: tuple[tuple[str, ...], ...] = ()
    #: what is thought of each row
    marks: tuple[Mark, ...] = ()
    #: for a timer: when it ends
    ends_at: str = ""


@dataclass(frozen=True, kw_only=True)
class BenchLink:
    """One calculator: its operation, what it is for here, and what is filled in."""

    operation: str
    label: str
    #: plain values as they are, all others as JSON
    given: Mapping[str, str]


@dataclass(frozen=True, kw_only=True)
class Characteristic:
    """One figure of a run's summary."""

    id: str
    label: str
    value: str
    unit: str
    figure: str
