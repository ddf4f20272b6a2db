"""The one door: every computation by name, plain values in and out."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping
from typing import Any

import calibration.desk.catalogue  # noqa: F401
from calibration.kernel.codec import decode, encode
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import exact
from calibration.kernel.present import entries, given_rows, shown
from calibration.kernel.registry import OPERATIONS, Operation, find
from calibration.kernel.schema import schema

#: A hyphen before a digit is a minus sign, in a sum as people write it.
_HYPHEN = re.compile(r"(?<!\w)-(?=\d)")
HOW_SCHEMA: dict[str, Any] = {
    "type": "object",
    "description": "how this was computed",
    "properties": {
        "formula": {"type": "string"},
        "worked": {"type": "array", "items": {"type": "string"}},
        "put_in": {
            "type": "array",
            "items": {
                "type": "object",
                "properties": {k: {"type": "string"} for k in ("label", "text", "unit")},
                "required": ["label", "text", "unit"],
            },
        },
        "source": {"type": "string"},
    },
    "required": ["formula", "worked", "put_in", "source"],
}


def run(name: str, payload: Mapping[str, Any], *, pictured: bool = False) -> dict[str, Any]:
    """Decode, compute, encode.

    Parameters
    ----------
    name : str
        Dotted name, e.g. ``run.evaluate``.
    payload : mapping
        Fields as the operation's JSON Schema says.
    pictured : bool
        True adds ``shown`` (figures and tables as text for people) and ``picture``.

    Returns
    -------
    dict
        The result as plain JSON values, and ``how``: the formula, the numbers put in, the source.

    Raises
    ------
    InputError
        From decoding and from the operation itself; ``result.too_large``.
    """
    known = find(name)
    with exact():
        request: Any = decode(known.input_type, payload)
        try:
            said = _computed(known, request, pictured)
            _must_be_finite(said)
        except InputError as wrong:
            if wrong.code != "number.not_finite" or wrong.field != "value":
                raise
            # No input is called so: it is a figure on the way that has grown beyond any number.
            raise _too_large() from None
        except OverflowError:
            raise _too_large() from None
    return said


def _too_large() -> InputError:
    return InputError(
        "result.too_large", "input", "The result is beyond any number.", "Check the inputs."
    )


def _computed(known: Operation, request: Any, pictured: bool) -> dict[str, Any]:
    result = known.function(request)
    said: dict[str, Any] = encode(result)
    said["how"] = {
        "formula": known.formula,
        "worked": [_HYPHEN.sub("\u2212", w) for w in known.worked(request, result)],
        "put_in": [{"label": g.label, "text": g.text, "unit": g.unit} for g in given_rows(request)],
        "source": known.source,
    }
    if pictured:
        said["shown"] = encode(shown(result))
        said["picture"] = encode(known.picture(request, result))
    return said


def _must_be_finite(value: Any) -> None:
    if isinstance(value, float) and not math.isfinite(value):
        raise OverflowError("a result that is no number")
    if isinstance(value, (dict, list)):
        for inner in value.values() if isinstance(value, dict) else value:
            _must_be_finite(inner)


def with_text(name: str, payload: Mapping[str, Any]) -> dict[str, Any]:
    """Return a result apart from how it was computed, with its picture and as plain text.

    Raises
    ------
    InputError
        As :func:`run`.
    """
    said = run(name, payload, pictured=True)
    apart = {key: said.pop(key) for key in ("how", "shown", "picture")}
    return {"result": said, **apart, "text": _plain(find(name), apart["how"], apart["shown"])}


def _plain(op: Operation, how: Mapping[str, Any], shown_: Mapping[str, Any]) -> str:
    lines = [op.title, ""]
    lines += [f"{g['label']}: {g['text']} {g['unit']}".rstrip() for g in how["put_in"]]
    lines.append("")
    lines += [f"{f['label']}: {f['text']} {f['unit']}".rstrip() for f in shown_["figures"]]
    for sheet in shown_["sheets"]:
        lines += ["", "\t".join(sheet["columns"])]
        lines += ["\t".join(row) for row in sheet["rows"]]
    lines += ["", *how["worked"], how["formula"], f"Source: {how['source']}"]
    return "\n".join(lines)


def catalogue() -> list[dict[str, Any]]:
    """Return name, title, formula, source, example and both schemas of every operation."""
    return [
        {
            "name": op.name,
            "title": op.title,
            "family": op.family,
            "formula": op.formula,
            "source": op.source,
            "cautions": list(op.cautions),
            "inverse": op.inverse,
            "example": dict(op.example),
            "input": schema(op.input_type, given=True),
            "output": output_schema(op),
        }
        for op in sorted(OPERATIONS.values(), key=lambda op: op.name)
    ]


def output_schema(op: Operation) -> dict[str, Any]:
    """Return the schema of a result, with how it was computed."""
    said = schema(op.output_type)
    said["properties"]["how"] = HOW_SCHEMA
    said["required"].append("how")
    return said


def form(op: Operation) -> list[dict[str, Any]]:
    """Return the fields of an operation's input as a form shows them."""
    encoded: list[dict[str, Any]] = encode(entries(op.input_type))
    return encoded
