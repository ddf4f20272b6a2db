"""What goes wrong on the way: a line that is not so, a device that refuses, a repair, an early end.

The contents of these events. How they are added up and when they are admitted is in
``setbacks_kept`` and ``setbacks_admitted``.
"""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from calibration.kernel.codec import about


@dataclass(frozen=True, kw_only=True)
class LineFailed:
    """A line of a checklist is not so: missing, failed, or otherwise than it should be."""

    step: str = about("step")
    item: str = about("line")
    what: str = about("what is missing or failed")
    said: str = about("the line as it was shown", default="")


@dataclass(frozen=True, kw_only=True)
class Ended:
    """The job ends before it was judged, for the instrument failed or the job cannot be done."""

    state: Literal["failed", "not_done"] = about("the instrument failed, or it was not done")
    reason: str = about("why")


@dataclass(frozen=True, kw_only=True)
class Refused:
    """The device refused to be set; nothing counts as set and the old value stays."""

    step: str = about("step")
    word: str = about("what the device says, in its own word")
    end: str = about("what was to be set", default="")
    shows: Decimal | None = about("what it shows now", default=None)


@dataclass(frozen=True, kw_only=True)
class Repaired:
    """Something was put right in the visit; what was read before stays, a new run counts."""

    step: str = about("decision that it comes from")
    what: Literal["cleaned", "filter", "connection", "sensor", "other"] = about("what was done")
    said: str = about("in words")
    serial: str = about("serial number of the new sensor", default="")


@dataclass(frozen=True, kw_only=True)
class WentWithout:
    """A reference is not at hand, and the method has another way: it is taken."""

    role: str = about("what it would have been used for")


@dataclass(frozen=True, kw_only=True)
class NotTold:
    """A value that a step asks for could not be had, and nobody made one up."""

    step: str = about("step")
    field: str = about("field")
    reason: str = about("why")
    said: str = about("the field as it was called", default="")


@dataclass(frozen=True, kw_only=True)
class BegunAgain:
    """A run that was begun is dropped as a whole and begun again; its readings stay in history."""

    run: str = about("which run")
    reason: str = about("why")
