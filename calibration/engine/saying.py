"""Words for the history about events that families add."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from calibration.engine.ledger import Ledger

#: by type of content; families join theirs
WORDS: dict[type, Callable[[Ledger, Any], str]] = {}
