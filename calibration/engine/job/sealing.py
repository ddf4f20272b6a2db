"""The one text form of an entry, and the seal that chains it to the one before."""

from __future__ import annotations

import hashlib
import json
from typing import Any


def canonical(value: Any) -> str:
    """Return the one text form that is stored and sealed: sorted keys, no blanks."""
    return json.dumps(value, sort_keys=True, separators=(",", ":"), ensure_ascii=False)


def seal(previous: str, payload: str) -> str:
    """Return the SHA-256 of an event chained to the one before (FIPS 180-4), as hex.

    Parameters
    ----------
    previous : str
        Seal of the event before; empty for the first.
    payload : str
        Canonical text of the event.
    """
    return hashlib.sha256(f"{previous}\n{payload}".encode()).hexdigest()
