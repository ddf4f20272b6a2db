"""A table in plain text, with any delimiter or as records: headings, rows, what stands above."""

from __future__ import annotations

import csv
import json
import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from calibration.kernel.errors import InputError

#: Longer files are of something else. [lines]
MOST_LINES = 2000
#: Headings are looked for in lines of so many cells at most.
MOST_CELLS = 200
DELIMITERS = (";", "\t", ",", "|")


@dataclass(frozen=True)
class Table:
    """A file as a table: lines above it, headings, rows with their line number."""

    above: tuple[tuple[str, str], ...]
    headers: tuple[str, ...]
    rows: tuple[tuple[int, tuple[str, ...]], ...]


def table(text: str, names: Iterable[str]) -> Table:
    r"""Return the table in a text: its headings are the line that says the most of some names.

    Raises
    ------
    InputError
        ``file.empty``, ``file.too_long``, ``file.no_table``.

    >>> found = table("Run of 3 May\nPoint;Error\n1;0.05\n", ["Point", "Error"])
    >>> found.headers, found.rows
    (('Point', 'Error'), ((3, ('1', '0.05')),))
    """
    if text.lstrip()[:1] in ("{", "["):
        return records(text)
    lines = text.splitlines()
    if not any(line.strip() for line in lines):
        raise InputError("file.empty", "file", "The file is empty.", "Export the run once more.")
    if len(lines) > MOST_LINES:
        raise InputError(
            "file.too_long",
            "file",
            f"The file has {len(lines)} lines; one run has a few.",
            "Choose the table of results, not the trace of the run.",
        )
    wanted = {plain(name) for name in names}
    best: tuple[tuple[int, int], str, int] = ((0, 0), "", 0)
    for delimiter in DELIMITERS:
        for number, cells in _cells(lines, delimiter):
            if len(cells) > MOST_CELLS:
                continue
            known = sum(1 for cell in cells if plain(cell) in wanted)
            filled = sum(1 for cell in cells if cell)
            if filled > 1 and (known, filled) > best[0]:
                best = (known, filled), delimiter, number
    if not best[0][1]:
        raise InputError(
            "file.no_table",
            "file",
            "No line of the file has columns.",
            "Choose the table of results: columns parted by semicolon, comma or tab.",
        )
    return _from(lines, best[1], best[2])


def records(text: str) -> Table:
    """Return records in JSON as a table: the longest list of them; what stands beside it is above.

    Raises
    ------
    InputError
        ``file.no_table``.

    >>> records('{"unit": "kPa", "results": [{"point": 1, "error": 0.05}]}').rows
    ((1, ('1', '0.05')),)
    """
    wrong = InputError(
        "file.no_table",
        "file",
        "It begins like JSON, and holds no list of records.",
        "Choose the report with its list of results.",
    )
    try:
        said = json.loads(text)
    except (ValueError, RecursionError):
        raise wrong from None
    beside = said if isinstance(said, dict) else {}
    lists = [v for v in (said, *beside.values()) if isinstance(v, list)]
    found = max(lists, key=len, default=[])
    rows = [r for r in found if isinstance(r, dict)][:MOST_LINES]
    headers = tuple(dict.fromkeys(str(k) for r in rows for k in r))[:MOST_CELLS]
    if len(headers) < 2:
        raise wrong
    above = tuple(
        (str(k), str(v)) for k, v in beside.items() if isinstance(v, str | int | float | bool)
    )
    return Table(
        above,
        headers,
        tuple((n, tuple(_said(r.get(h)) for h in headers)) for n, r in enumerate(rows, 1)),
    )


def _said(value: object) -> str:
    """Return a value of a record as a cell says it: yes and no as 1 and 0."""
    if value is None or isinstance(value, dict | list):
        return ""
    return str(int(value)) if isinstance(value, bool) else str(value).strip()


def _from(lines: Sequence[str], delimiter: str, heading: int) -> Table:
    above: list[tuple[str, str]] = []
    headers: tuple[str, ...] = ()
    rows: list[tuple[int, tuple[str, ...]]] = []
    for number, cells in _cells(lines, delimiter):
        if number == heading:
            headers = cells
        elif number > heading and any(cells):
            rows.append((number, cells))
        elif number < heading and any(cells):
            said = [c for c in cells if c]
            if len(said) == 1 and ":" in said[0]:
                said = [part.strip() for part in said[0].split(":", 1)]
            above.append((said[0], " ".join(said[1:])))
    return Table(tuple(above), headers, tuple(rows))


def _cells(lines: Sequence[str], delimiter: str) -> list[tuple[int, tuple[str, ...]]]:
    reader = csv.reader(lines, delimiter=delimiter, skipinitialspace=True)
    try:
        return [
            (reader.line_num, tuple(cell.strip().lstrip("#").strip() for cell in cells))
            for cells in reader
        ]
    except csv.Error:
        return []


_UNIT = re.compile(r"[(\[]\s*([^)\]]+?)\s*[)\]]")


def unit_in(heading: str) -> str:
    """Return what a heading has in brackets: its unit; empty where it has none.

    >>> unit_in("Error [% of span]")
    '% of span'
    """
    named = _UNIT.search(heading)
    return named[1] if named else ""


def plain(heading: str) -> str:
    """Return a heading without its unit, in small letters and single blanks.

    >>> plain("Error  [% of span]")
    'error'
    """
    return " ".join(re.sub(r"[_\W]+", " ", _UNIT.sub("", heading).lower()).split())
