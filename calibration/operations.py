"""The one door: every computation by name, plain values in and out."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import calibration.adjustment
import calibration.chain
import calibration.decision
import calibration.diagnosis
import calibration.reference
import calibration.response
import calibration.run
import calibration.signals
import calibration.slips
import calibration.stability
import calibration.uncertainty  # noqa: F401
from calibration.codec import decode, encode, schema
from calibration.errors import InputError
from calibration.numbers import exact
from calibration.registry import OPERATIONS, Operation


def find(name: str) -> Operation:
    """Return an operation by name.

    Raises
    ------
    InputError
        ``operation.unknown``.
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


def run(name: str, payload: Mapping[str, Any]) -> dict[str, Any]:
    """Decode, compute, encode.

    Parameters
    ----------
    name : str
        Dotted name, e.g. ``run.evaluate``.
    payload : mapping
        Fields as the operation's JSON Schema says.

    Returns
    -------
    dict
        The result as plain JSON values.

    Raises
    ------
    InputError
        From decoding and from the operation itself.
    """
    known = find(name)
    with exact():
        result: dict[str, Any] = encode(known.function(decode(known.input_type, payload)))
    return result


def catalogue() -> list[dict[str, Any]]:
    """Return name, title, formula, source, example and both schemas of every operation."""
    return [
        {
            "name": op.name,
            "title": op.title,
            "formula": op.formula,
            "source": op.source,
            "example": dict(op.example),
            "input": schema(op.input_type),
            "output": schema(op.output_type),
        }
        for op in sorted(OPERATIONS.values(), key=lambda op: op.name)
    ]
