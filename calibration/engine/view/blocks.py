"""The small vocabulary in which a family says what a screen shows and what a person can do."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

#: What is thought of a reading, a run or a row.
Mark = Literal["within", "near", "outside", "none"]


@dataclass(frozen=True, kw_only=True)
class Column:
    """One value that is typed: what it is called, its unit, and whether it must be there.

    Columns with a ``row`` make a table: one line for each row, its columns side by side.
    """

    id: str
    label: str
    unit: str
    required: bool
    row: str = ""
    #: a time from tap to tap
    tap: bool = False


@dataclass(frozen=True, kw_only=True)
class Sent:
    """One event as a client sends it."""

    kind: str
    data: Mapping[str, str]


@dataclass(frozen=True, kw_only=True)
class Together:
    """Steps in a row that one tap confirms: what is stated, and the events that say so."""

    heading: str
    title: str
    lines: tuple[str, ...]
    events: tuple[Sent, ...]
    orders: tuple[str, ...]


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
class Push:
    """A button beside the main one: what it says and the events that it sends.

    ``live``: the events take what a rig shows at that moment.
    """

    label: str
    events: tuple[Sent, ...]
    live: bool = False


@dataclass(frozen=True, kw_only=True)
class Refusal:
    """A value that may not be set: why, whether it may be forced, and who has agreed."""

    step: str
    #: kind of the event that says who or what agrees
    kind: str
    refused: str
    may_force: bool
    agreed: str
    #: what to do instead; what else could confirm it, in a word
    advice: str
    other: str


@dataclass(frozen=True, kw_only=True)
class Task:
    """What the present step asks for in the way of its family.

    ``send``: the main button sends ``events``. ``read``: values are taken, live as soon as they
    are steady or typed, and ``events`` are sent with them. ``set``: the same for what a device is
    set to; it is pressed by hand.
    """

    way: Literal["send", "read", "set"]
    #: what the main button says; ``typed`` where values are typed, ``in_round`` where this is the
    #: last look of a round and what is left of the job is stated with it
    label: str
    typed: str
    in_round: str
    blocks: tuple[Block, ...]
    #: kind of the event with the values, and the run and point that they are for
    kind: str
    run: str
    point: int
    columns: tuple[Column, ...]
    events: tuple[Sent, ...]
    others: tuple[Push, ...]
    refusal: Refusal | None
    #: reasons that are offered for taking a value before it is steady
    early: tuple[str, ...]
    #: channel that it is about, from 0; how long what is sent takes to tell [min]
    channel: int
    minutes: str
    #: for ``set``: zero or span, and what the device is to show afterwards
    end: str
    target: str
    #: typed also where there is a rig: something of it is read elsewhere
    by_hand: bool = False
    #: what a file of the device is called, where one can be read into the columns
    file: str = ""


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
