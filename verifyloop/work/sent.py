"""An event as a client sends it."""

from __future__ import annotations

import uuid
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any


@dataclass(frozen=True)
class NewEvent:
    """Not yet placed in a job: no number, no name, no seal."""

    id: uuid.UUID
    kind: str
    data: dict[str, Any] = field(default_factory=dict)
    source: str = "typed"
    #: what the clock of the device showed when the entry was made
    at: datetime | None = None
    #: how long ago that was by the device's own steady clock [s]; none after a restart of it
    age_s: float | None = None
