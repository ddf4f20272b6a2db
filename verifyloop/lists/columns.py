"""From the entries of a form to the columns of a list, and back."""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from calibration.kernel.errors import InputError
from calibration.kernel.numbers import parse_decimal
from calibration.kernel.present import Entry


@dataclass(frozen=True)
class Column:
    """A column: its name, what is said of it, and how a cell is read."""

    name: str
    label: str
    entry: Entry

    @property
    def help(self) -> str:
        """Return what stands in a cell, in words."""
        e = self.entry
        said = {
            "number": "a number",
            "choice": "one of: " + ", ".join(e.choices),
            "choices": "some of: " + "; ".join(e.choices),
            "yes_no": "yes or no",
            "numbers": "numbers, with ; between",
            "rows": "a list, as JSON",
        }.get(e.kind, "text")
        unit = f" [{e.unit}]" if e.unit else ""
        must = "" if e.required else "; may stay empty"
        return f"{said}{unit}{must}"


def columns_of(entries: Iterable[Entry], prefix: str = "") -> list[Column]:
    """Return the columns of a form; what is inside a group gets its name before it."""
    found = []
    for entry in entries:
        name = f"{prefix}{entry.name}"
        if entry.kind == "group":
            found += columns_of(entry.entries, f"{name}.")
        else:
            found.append(Column(name, entry.label, entry))
    return found


def at(record: Mapping[str, Any], name: str) -> Any:
    """Return what stands under a dotted name; none where nothing does."""
    found: Any = record
    for part in name.split("."):
        if not isinstance(found, Mapping) or part not in found:
            return None
        found = found[part]
    return found


def put(record: dict[str, Any], name: str, value: Any) -> None:
    """Put a value under a dotted name; none takes it away."""
    *inside, last = name.split(".")
    place = record
    for part in inside:
        place = place.setdefault(part, {})
    if value is None:
        place.pop(last, None)
    else:
        place[last] = value


def as_cell(value: Any, entry: Entry, comma: bool = False) -> str:
    """Return a value as it stands in a cell."""
    if value is None or value == "":
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if entry.kind == "rows":
        return json.dumps(value, ensure_ascii=False, sort_keys=True) if value else ""
    if isinstance(value, list | tuple):
        return "; ".join(str(v) for v in value)
    said = str(value)
    return said.replace(".", ",") if comma and entry.kind == "number" else said


def from_cell(text: str, column: Column) -> Any:
    """Return the value of a cell; none where it is empty.

    Raises
    ------
    InputError
        naming the column.
    """
    said, entry = text.strip(), column.entry
    if not said:
        return None
    if entry.kind == "number":
        return format(parse_decimal(said, column.name), "f")
    if entry.kind == "yes_no":
        known = {"yes": True, "true": True, "1": True, "no": False, "false": False, "0": False}
        if said.lower() not in known:
            raise InputError(
                "field.not_a_choice", column.name, f"'{said[:40]}' is not yes or no.", "Write one."
            )
        return known[said.lower()]
    if entry.kind == "rows":
        try:
            found = json.loads(said)
        except ValueError:
            found = None
        if not isinstance(found, list):
            raise InputError(
                "field.wrong_type",
                column.name,
                "This is no list in JSON.",
                "Take the form of one out, change it, and put it in again.",
            )
        return found
    if entry.kind in ("choices", "numbers"):
        return [part.strip() for part in said.split(";") if part.strip()]
    return said


def plain(heading: str) -> str:
    """Return a heading by which it is compared: small, without signs and blanks at its ends."""
    return " ".join(heading.casefold().replace("_", " ").split())


def matched(
    headings: Sequence[str], columns: Sequence[Column], synonyms: Mapping[str, str]
) -> tuple[dict[int, Column], list[str]]:
    """Return which column stands at which place, and the headings that nobody knows."""
    by_word = {plain(c.label): c for c in columns if c.label}
    by_word |= {plain(c.name): c for c in columns}
    names = {c.name: c for c in columns}
    found: dict[int, Column] = {}
    unknown = []
    for place, heading in enumerate(headings):
        word = plain(heading)
        if word in synonyms:
            if synonyms[word] in names:
                found[place] = names[synonyms[word]]
            continue
        if word in by_word:
            found[place] = by_word[word]
        else:
            unknown.append(heading)
    doubled = [c.name for c in set(found.values()) if list(found.values()).count(c) > 1]
    if doubled:
        raise InputError(
            "file.column_twice",
            "file",
            f"The column {doubled[0]} is there twice.",
            "Leave one of the two out.",
        )
    return found, unknown
