"""What goes on after a signature: how long a result holds, and how something wears."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal
from typing import Any

#: What was learnt at signed jobs, oldest first: with the day, or with the moment of the signature.
History = Sequence[tuple[date, Sequence[Mapping[str, Any]]]]
Signed = Sequence[tuple[datetime, Sequence[Mapping[str, Any]]]]


@dataclass(frozen=True, kw_only=True)
class Happening:
    """Something that anybody may see happen to an instrument: its button, and how it is said."""

    id: str
    label: str
    said: str


@dataclass(frozen=True, kw_only=True)
class Happened:
    """That it happened, and when, in local time."""

    what: str
    at: datetime


@dataclass(frozen=True, kw_only=True)
class ByItself:
    """Something that a device does by itself every so often, while nobody is there."""

    id: str
    label: str
    every_minutes: Decimal


@dataclass(frozen=True, kw_only=True)
class Acted:
    """What one such time comes to: whether it was as it should be, and in words."""

    good: bool
    text: str


@dataclass(frozen=True, kw_only=True)
class Standing:
    """Whether the last result still holds, in a few words and in a sentence."""

    good: bool
    short: str
    text: str


@dataclass(frozen=True, kw_only=True)
class Answer:
    """One past response. [%]"""

    day: date
    response: float
    replaced: bool = False


@dataclass(frozen=True, kw_only=True)
class OnDay:
    """What a trend expects on a day, with its 80 % limits. [%]"""

    day: date
    expected: float
    low: float
    high: float


@dataclass(frozen=True, kw_only=True)
class Course:
    """How something of an instrument answered over the years, and when it will be spent.

    ``weak`` and ``replace`` are limits of its manual [%]; 0 where it has none.
    """

    channel: str
    #: what answers, in words
    gas: str
    weak: float = 0.0
    replace: float = 0.0
    history: tuple[Answer, ...] = ()
    status: str = "none"
    last: str = ""
    last_on: str = ""
    slope: str = ""
    replace_about: str = ""
    replace_from: str = ""
    replace_to: str = ""
    advice: str = "No response is known yet: the first calibration gives one."
    points: int = 0
    #: day to order a new one, so that it is there before the early limit
    order_by: str = ""
    course: tuple[OnDay, ...] = ()
