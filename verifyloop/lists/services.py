"""A file is looked at row by row; what it would do is shown before it is stored."""

from __future__ import annotations

import hashlib
from collections import Counter
from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from calibration.engine.job.sealing import canonical
from calibration.kernel.errors import InputError
from calibration.kernel.present import Entry
from verifyloop.accounts.models import User
from verifyloop.accounts.permissions import require
from verifyloop.errors import NotFound
from verifyloop.lists.columns import Column, as_cell, at, from_cell, matched, plain, put
from verifyloop.lists.instruments import Instruments
from verifyloop.lists.kinds import Fate, ListKind, Row
from verifyloop.lists.kit import Cylinders, References
from verifyloop.lists.models import Synonym
from verifyloop.lists.past import Past
from verifyloop.lists.people import People
from verifyloop.lists.sheets import read_sheet, write_csv, write_xlsx
from verifyloop.plant.selectors import site_now
from verifyloop.register import book

EVERY: tuple[ListKind, ...] = (Instruments(), Past(), References(), Cylinders(), People())
KINDS = {k.id: k for k in EVERY}
#: So many rows of each fate are shown; the sums are of all.
SHOWN = 200


@dataclass(frozen=True)
class Step:
    """How far the work is."""

    doing: str
    done: int
    total: int


@dataclass(frozen=True)
class Preview:
    """What a file would do, and the mark by which just that is accepted."""

    mark: str
    sums: Mapping[str, int]
    rows: tuple[Row, ...]
    unknown: tuple[str, ...]
    stored: bool


def kind_of_list(id: str) -> ListKind:
    """Return one kind of list.

    Raises
    ------
    NotFound
        ``list.unknown``.
    """
    if id not in KINDS:
        raise NotFound("list.unknown", f"There is no list '{id[:40]}'.", "Choose one of the page.")
    return KINDS[id]


def keep_synonym(*, actor: User, kind: str, heading: str, column: str) -> None:
    """Keep what a heading stands for; it is asked once."""
    spec = kind_of_list(kind)
    require(actor, spec.code)
    if column and column not in {c.name for c in spec.columns()}:
        raise InputError("column.unknown", "column", "There is no such column.", "Choose one.")
    Synonym.objects.update_or_create(
        kind=kind,
        heading=plain(heading)[:80],
        defaults={"column": column, "by": actor.display_name},
    )


@dataclass(frozen=True)
class Looked:
    """A file as it was looked at: its rows, and what there was of each."""

    rows: list[Row]
    before: Mapping[str, dict[str, Any]]
    #: the last line of the register then
    at: int

    @property
    def work(self) -> list[Row]:
        """Return the rows that change something."""
        return [r for r in self.rows if r.fate in ("new", "changed")]


def look_at(
    *, actor: User, kind: str, name: str, content: bytes
) -> Iterator[Step | Preview | Looked]:
    """Look at a file: yields how far it is, then its rows; a preview alone where headings fail.

    Raises
    ------
    InputError
        ``file.*``: what is wrong with the file as a whole.
    """
    spec = kind_of_list(kind)
    require(actor, spec.code)
    sheet = read_sheet(name, content)
    synonyms = dict(Synonym.objects.filter(kind=kind).values_list("heading", "column"))
    columns, unknown = matched(sheet.headings, spec.columns(), synonyms)
    total = len(sheet.rows)
    if unknown or spec.keys[0] not in {c.name for c in columns.values()}:
        yield Preview("", {}, (), tuple(unknown) or (f"no column {spec.keys[0]}",), False)
        return
    yield Step("reading what there is", 0, total)
    at = book.head()[0]
    before = dict(spec.records())
    entries = {c.name: c.entry for c in spec.columns()}
    rows = [
        _row(spec.keys, columns, number, cells, before, entries)
        for number, cells in zip(sheet.numbers, sheet.rows, strict=True)
    ]
    _twice(rows, spec.keys[0])
    for done in spec.judge([r for r in rows if not r.wrong], before):
        yield Step("looking at each row", done, total)
    for row in rows:
        if row.wrong:
            row.fate = "refused"
    yield Looked(rows, before, at)


def previewed(steps: Iterator[Step | Preview | Looked]) -> Iterator[Step | Preview]:
    """Yield the same, with what was looked at as a preview."""
    for one in steps:
        yield _preview(mark_of(one.rows), one.rows) if isinstance(one, Looked) else one


def _row(
    keys: Sequence[str],
    columns: Mapping[int, Column],
    number: int,
    cells: Sequence[str],
    before: Mapping[str, dict[str, Any]],
    entries: Mapping[str, Entry],
) -> Row:
    values: dict[str, Any] = {}
    wrong: list[InputError] = []
    for place, column in columns.items():
        try:
            values[column.name] = from_cell(cells[place], column)
        except InputError as refused:
            wrong.append(refused)
    first, *others = (str(values.get(name) or "") for name in keys)
    key = " ".join([first, *others]).strip() if first else ""
    row = Row(number, key, wrong=wrong)
    if not key:
        row.wrong.append(InputError("field.missing", keys[0], "This is missing.", "Fill it in."))
        return row
    was = before.get(key)
    # A column that the file does not have leaves what is there.
    row.record = _copy(was) if was is not None else {}
    for name, value in values.items():
        put(row.record, name, value)
    row.record = {k: v for k, v in row.record.items() if v != {}}
    row.fate = "new" if was is None else "unchanged"
    for name, entry in entries.items():
        if was is None or was == row.record:
            break
        said = as_cell(at(was, name), entry), as_cell(at(row.record, name), entry)
        if said[0] != said[1]:
            row.differs[name], row.fate = said, "changed"
    return row


def _copy(record: Any) -> Any:
    return {k: _copy(v) for k, v in record.items()} if isinstance(record, dict) else record


def _twice(rows: Sequence[Row], key: str) -> None:
    """Refuse every row whose key another row has as well."""
    first: dict[str, Row] = {}
    for row in rows:
        other = first.setdefault(row.key, row)
        if row.key and other is not row:
            said = f"'{row.key[:40]}' stands in row {other.number} too."
            row.wrong.append(InputError("row.twice", key, said, "Keep one of the two."))


def mark_of(rows: Sequence[Row]) -> str:
    """Return the mark by which just this is accepted."""
    said = [[r.number, r.key, r.fate, r.record] for r in rows]
    return hashlib.sha256(canonical(said).encode()).hexdigest()[:24]


def _preview(mark: str, rows: Sequence[Row]) -> Preview:
    sums = Counter(r.fate for r in rows)
    fates: tuple[Fate, ...] = ("refused", "changed", "new", "unchanged")
    shown = [r for fate in fates for r in [x for x in rows if x.fate == fate][:SHOWN]]
    return Preview(mark, {f: sums[f] for f in fates}, tuple(shown), (), False)


def as_list(kind: str, form: str, only: Collection[str] | None = None) -> bytes:
    """Return everything there is as a list, by key: the same data give the same file.

    ``only``: what stands in the first column of the rows that are wanted.
    """
    spec = kind_of_list(kind)
    site = site_now()
    comma = site is not None and site.decimal_sign == ","
    first = spec.keys[0]
    records = [r for _, r in spec.records() if only is None or r[first] in only]
    columns = [
        c
        for c in spec.columns()
        if c.entry.required or any(at(r, c.name) not in (None, "") for r in records)
    ]
    names = [c.name for c in columns]
    rows = [[as_cell(at(r, c.name), c.entry, comma) for c in columns] for r in records]
    if form == "csv":
        return write_csv(names, rows, comma)
    return write_xlsx([(spec.title, names, rows)])


def template_of(kind: str) -> bytes:
    """Return an empty list with every column, and a sheet that explains each."""
    spec = kind_of_list(kind)
    columns = spec.columns()
    explained = [[c.name, c.label, c.help] for c in columns]
    return write_xlsx(
        [
            (spec.title, [c.name for c in columns], []),
            ("Columns", ["column", "what it is", "what stands in it"], explained),
        ]
    )
