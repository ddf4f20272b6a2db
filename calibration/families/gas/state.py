"""What a screen shows of the gas of a job."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Todo = Literal["open", "read", "set", "shut"]


@dataclass(frozen=True, kw_only=True)
class ForceState:
    """What a refused zero or span would take."""

    refused: str
    may_force: bool
    agreed: str


@dataclass(frozen=True, kw_only=True)
class GasState:
    """The gas that is wanted now, and what the detector makes of it."""

    step: str
    #: what comes next: open the cylinder, read, set, or shut it
    todo: Todo
    channel: str
    channel_label: str
    purpose: str
    role: str
    cylinder: str
    contents: str
    value: str
    unit: str
    flow: str
    flow_value: str
    advice: str
    minutes: str
    since: str
    ready_at: str
    drawn: str
    needed: str
    left: str
    #: seconds to 90 % by the last visit, for the curve that is expected
    usual_t90_s: float
    #: shut the gas together with the reading: the next point wants another one
    shut_after: bool
    #: what it is set to, for a zero or a span
    target: str
    end: str
    force: ForceState | None


@dataclass(frozen=True, kw_only=True)
class GasLine:
    """One gas of a visit: what it read and what that means."""

    run: str
    channel: str
    gas: str
    reading: str
    outcome: str
    label: str
    text: str
    response: str
    last: str
    of_new: str
    t90: str


@dataclass(frozen=True, kw_only=True)
class Together:
    """Steps in a row that one tap confirms: what is stated, and the events that say so."""

    heading: str
    title: str
    lines: tuple[str, ...]
    events: tuple[Sent, ...]
    orders: tuple[str, ...]


@dataclass(frozen=True, kw_only=True)
class Sent:
    """One event as a client sends it."""

    kind: str
    step: str
    item: str
    field: str
    value: str
    role: str
    flow: str
