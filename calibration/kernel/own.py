"""What a family adds to facts that all share: kept as plain values, read as the family's own type.

A dataclass with a field ``own: Own`` takes every name that it does not know into it, and gives it
back when it is encoded, so that stored events keep their shape.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any


class Own:
    """Plain values of a family, compared and remembered by their text."""

    __slots__ = ("text", "values")

    def __init__(self, values: Mapping[str, Any] | None = None) -> None:
        self.values: dict[str, Any] = dict(values or {})
        self.text = json.dumps(self.values, sort_keys=True) if self.values else ""

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Own) and self.text == other.text

    def __hash__(self) -> int:
        return hash(self.text)

    def __repr__(self) -> str:
        return f"Own({self.text})"

    def __bool__(self) -> bool:
        return bool(self.values)


EMPTY = Own()
