"""Where every operation is registered under its dotted name."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable, Mapping, Sequence
from typing import Any, Literal, TypeVar, get_type_hints

from calibration.kernel.errors import InputError
from calibration.kernel.pictures import Picture

In = TypeVar("In")
Out = TypeVar("Out")

Family = Literal[
    "Signals and loops",
    "Temperature",
    "Runs and adjusting",
    "Limits and decisions",
    "pH",
    "Gas",
    "Gas detectors",
    "Analyzers",
    "Level",
    "Weighing",
    "Flow",
]


@dataclasses.dataclass(frozen=True)
class Operation:
    """One computation: its function, its types, and what is shown about it."""

    name: str
    title: str
    family: Family
    function: Callable[[Any], Any]
    input_type: type
    output_type: type
    formula: str
    source: str
    example: Mapping[str, Any]
    words: str
    cautions: tuple[str, ...]
    inverse: str
    worked: Callable[[Any, Any], Sequence[str]]
    picture: Callable[[Any, Any], Picture | None]
    table: Mapping[str, Any] | None
    one_of: tuple[str, ...]


OPERATIONS: dict[str, Operation] = {}


def nothing_worked(given: object, result: object) -> Sequence[str]:
    """Stand in for an operation whose formula has no single line of numbers.

    >>> nothing_worked(None, None)
    ()
    """
    return ()


def no_picture(given: object, result: object) -> Picture | None:
    """Stand in for an operation that has no picture.

    >>> no_picture(None, None) is None
    True
    """
    return None


def operation(
    name: str,
    *,
    title: str,
    family: Family,
    formula: str,
    source: str,
    example: Mapping[str, Any],
    words: str = "",
    cautions: tuple[str, ...] = (),
    inverse: str = "",
    worked: Callable[[Any, Any], Sequence[str]] = nothing_worked,
    picture: Callable[[Any, Any], Picture | None] = no_picture,
    table: Mapping[str, Any] | None = None,
    one_of: tuple[str, ...] = (),
) -> Callable[[Callable[[In], Out]], Callable[[In], Out]]:
    """Register a function of one frozen dataclass that returns another.

    Parameters
    ----------
    words : str
        What people type when they look for it, besides its title.
    inverse : str
        Name of the operation that goes the other way, with the same field names.
    worked : callable of input and output
        The formula with the numbers put in, a line each.
    picture : callable of input and output
        A picture drawn from the numbers.
    table : mapping, optional
        First suggestion for a printed table: ``vary``, ``start``, ``stop``, ``step``,
        ``columns``, and ``set`` with inputs that the table needs otherwise than the form.
    one_of : tuple of str
        Inputs of which exactly one is given; the others come out.
    """

    def register(function: Callable[[In], Out]) -> Callable[[In], Out]:
        hints = get_type_hints(function)
        output = hints.pop("return")
        (given,) = hints.values()
        if name in OPERATIONS:
            raise ValueError(f"operation {name} is registered twice")
        OPERATIONS[name] = Operation(
            name=name,
            title=title,
            family=family,
            function=function,
            input_type=given,
            output_type=output,
            formula=formula,
            source=source,
            example=example,
            words=words,
            cautions=cautions,
            inverse=inverse,
            worked=worked,
            picture=picture,
            table=table,
            one_of=one_of,
        )
        return function

    return register


def picture_of(
    name: str,
) -> Callable[[Callable[[Any, Any], Picture | None]], Callable[[Any, Any], Picture | None]]:
    """Give an operation its picture, where that is drawn in another module than its own."""

    def register(
        draw: Callable[[Any, Any], Picture | None],
    ) -> Callable[[Any, Any], Picture | None]:
        OPERATIONS[name] = dataclasses.replace(OPERATIONS[name], picture=draw)
        return draw

    return register


def find(name: str) -> Operation:
    """Return an operation by name.

    Raises
    ------
    InputError
        ``operation.unknown``.

    >>> find("no.such")
    Traceback (most recent call last):
        ...
    calibration.kernel.errors.InputError: There is no computation called 'no.such'.
    """
    try:
        return OPERATIONS[name]
    except KeyError:
        raise InputError(
            "operation.unknown",
            "name",
            f"There is no computation called '{name[:60]}'.",
            "List them with: python -m calibration --list",
        ) from None
