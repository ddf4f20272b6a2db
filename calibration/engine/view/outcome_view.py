"""What a job came to, as screens and papers show it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal


@dataclass(frozen=True, kw_only=True)
class Outcome:
    """What a job came to, from when it is to be signed on."""

    id: Literal["", "within", "adjusted", "limited", "failed", "stopped"]
    words: str
    why: str
    #: the instrument was left as it should be
    good: bool
