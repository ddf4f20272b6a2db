"""What does not fit."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Finding:
    """One thing that is not as it was written: where, and what."""

    #: chain, tail, register, column, use, row, head, unreadable
    kind: str
    where: str
    what: str
