"""What a new instrument begins with: a record that is usual for its kind, to be corrected."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True, kw_only=True)
class Template:
    """A record to begin with, and the method that it is made for."""

    id: str
    title: str
    method: str
    #: names of the facts of an instrument; what its family adds under ``own``
    record: Mapping[str, Any]
    #: by the name of a unit in the record the quantity that a site may prefer another one of
    prefers: Mapping[str, str]


def template(id: str, title: str, method: str, prefers: str = "", **record: Any) -> Template:
    """Return a template; ``prefers``: the quantity of its input."""
    return Template(
        id=id,
        title=title,
        method=method,
        record={"loop_role": "control", "tolerance_source": "data sheet", **record},
        prefers={"input_unit": prefers} if prefers else {},
    )


def at_display(unit: str, upper: str, prefers: str = "") -> dict[str, Any]:
    """Return the range of an instrument that is read at its own display."""
    return {
        "input_unit": unit,
        "input_lower": "0",
        "input_upper": upper,
        "output_unit": unit,
        "output_lower": "0",
        "output_upper": upper,
    }


def current_loop(unit: str, lower: str, upper: str, **more: Any) -> dict[str, Any]:
    """Return the range of a transmitter of 4 to 20 mA."""
    return {
        "input_unit": unit,
        "input_lower": lower,
        "input_upper": upper,
        "output_unit": "mA",
        "output_lower": "4",
        "output_upper": "20",
        "indicated": True,
        **more,
    }
