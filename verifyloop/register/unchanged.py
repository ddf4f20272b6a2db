"""What was worked out from plan, rules, kit and signed jobs, kept until any of that changes.

Every such change writes a line into the register, in whatever process; a line is known by its
number and its seal. So what was worked out at one line holds until there is another.
"""

from __future__ import annotations

from collections.abc import Callable, Hashable
from typing import Any, TypeVar

from verifyloop.register import book
from verifyloop.register.who import request_now

T = TypeVar("T")

_kept: dict[str, tuple[tuple[int, str], dict[Hashable, Any]]] = {}


def place_of(name: str) -> dict[Hashable, Any]:
    """Return where something may be kept for as long as nothing changes; empty after a change.

    Only for what rests on nothing but what the register writes down.
    """
    line = line_now()
    found = _kept.get(name)
    if found is None or found[0] != line:
        found = _kept[name] = (line, {})
    return found[1]


def line_now() -> tuple[int, str]:
    """Return the last line; a request that only reads looks it up once."""
    request = request_now()
    if request is None or request.method != "GET":
        return book.head()
    found: tuple[int, str] | None = getattr(request, "register_line", None)
    if found is None:
        found = book.head()
        request.register_line = found  # type: ignore[attr-defined]
    return found


def unchanged(name: str, key: Hashable, make: Callable[[], T]) -> T:
    """Return what was made of a key since the last line, or make it."""
    place = place_of(name)
    if key not in place:
        place[key] = make()
    found: T = place[key]
    return found
