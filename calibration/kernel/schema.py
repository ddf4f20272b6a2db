"""JSON Schema (2020-12) of the types of the core."""

from __future__ import annotations

import dataclasses
import types
from collections.abc import Mapping
from decimal import Decimal
from typing import Any, Literal, Union, get_args, get_origin, get_type_hints

from calibration.kernel.codec import is_required

TYPED = {"type": ["string", "number"]}
_PLAIN: dict[Any, dict[str, Any]] = {
    Decimal: {**TYPED, "description": "a decimal number, as typed"},
    float: {"type": "number"},
    int: {"type": "integer"},
    bool: {"type": "boolean"},
    str: {"type": "string"},
}


def schema(hint: Any, *, given: bool = False) -> dict[str, Any]:
    """Return the JSON Schema of a type.

    Parameters
    ----------
    hint : type
    given : bool
        True for input, which may also come as typed text and with a unit of its own.

    >>> schema(bool)
    {'type': 'boolean'}
    """
    if given and hint in (float, int):
        return dict(TYPED)
    if hint is Any:
        return {}
    if hint in _PLAIN:
        return dict(_PLAIN[hint])
    if dataclasses.is_dataclass(hint):
        return _record(hint, given)  # type: ignore[arg-type]
    origin, args = get_origin(hint), get_args(hint)
    if origin is Literal:
        return {"enum": [*args, *(str(a) for a in args if given and isinstance(a, int))]}
    if origin in (Union, types.UnionType):
        inner = [schema(a, given=given) for a in args if a is not type(None)]
        return {"anyOf": [*inner, *([{"type": "null"}] if type(None) in args else [])]}
    if origin is tuple:
        return {"type": "array", "items": schema(args[0], given=given)}
    if origin in (dict, Mapping):
        return {"type": "object", "additionalProperties": schema(args[1], given=given)}
    raise TypeError(f"no schema for {hint!r}")


def _record(cls: type, given: bool) -> dict[str, Any]:
    hints = get_type_hints(cls)
    properties: dict[str, Any] = {}
    specs = [s for s in dataclasses.fields(cls) if not s.metadata.get("sweeps")]
    for spec in specs:
        entry = schema(hints[spec.name], given=given)
        units = spec.metadata.get("units", ())
        if given and units:
            entry = {"anyOf": [*entry.get("anyOf", [entry]), _quantity(units)]}
        if spec.metadata.get("about"):
            entry["description"] = spec.metadata["about"]
        if spec.metadata.get("unit"):
            entry["x-unit"] = spec.metadata["unit"]
        properties[spec.name] = entry
    return {
        "type": "object",
        "properties": properties,
        "required": [s.name for s in specs if is_required(s)],
        "additionalProperties": False,
    }


def _quantity(units: tuple[str, ...]) -> dict[str, Any]:
    return {
        "type": "object",
        "properties": {"value": dict(TYPED), "unit": {"enum": list(units)}},
        "required": ["value", "unit"],
        "additionalProperties": False,
    }
