"""What is shown of a job in lines: what is on, waits, entries, limits."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal


@dataclass(frozen=True, kw_only=True)
class StageState:
    """One of the seven stages."""

    id: str
    title: str
    status: Literal["done", "now", "open"]
    done_share: float


@dataclass(frozen=True, kw_only=True)
class OnState:
    """Something that is still on."""

    step: str
    label: str
    since: str
    by: str
    limit_minutes: str
    ends_with: str
    kind: str
    #: whose it is by the name they sign in with, where that matters
    account: str = ""


@dataclass(frozen=True, kw_only=True)
class TimerState:
    """A wait that runs."""

    step: str
    label: str
    ends_at: str


@dataclass(frozen=True, kw_only=True)
class LogLine:
    """One event in words."""

    id: str
    seq: int
    at: str
    by: str
    source: str
    #: what is to be said about its time: late, or by a clock that shows another one
    clock: str
    text: str
    retracted: str
    can_retract: bool


@dataclass(frozen=True, kw_only=True)
class Limit:
    """A parameter with its source."""

    id: str
    label: str
    value: str
    #: its value as people say it
    said: str
    unit: str
    source: str
