"""Where every operation is registered under its dotted name."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable, Mapping
from typing import Any, TypeVar, get_type_hints

In = TypeVar("In")
Out = TypeVar("Out")


@dataclasses.dataclass(frozen=True)
class Operation:
    """One computation: its function, its types, and what is shown about it."""

    name: str
    title: str
    function: Callable[[Any], Any]
    input_type: type
    output_type: type
    formula: str
    source: str
    example: Mapping[str, Any]


OPERATIONS: dict[str, Operation] = {}


def operation(
    name: str, *, title: str, formula: str, source: str, example: Mapping[str, Any]
) -> Callable[[Callable[[In], Out]], Callable[[In], Out]]:
    """Register a function of one frozen dataclass that returns another."""

    def register(function: Callable[[In], Out]) -> Callable[[In], Out]:
        hints = get_type_hints(function)
        output = hints.pop("return")
        (given,) = hints.values()
        if name in OPERATIONS:
            raise ValueError(f"operation {name} is registered twice")
        OPERATIONS[name] = Operation(name, title, function, given, output, formula, source, example)
        return function

    return register
