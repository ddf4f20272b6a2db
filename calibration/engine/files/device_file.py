"""A file that a device wrote, read into the fields of a task: its columns are mapped once.

A family says which columns it needs and which rows (:class:`FileForm`); a file is a table in plain
text with any delimiter, a decimal point or comma, and lines above its headings that say of which
device it is. Nothing here is sent: a person sees the fields filled, and takes them.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from decimal import Decimal
from typing import Any

from calibration.engine.files.file_cells import (
    UNIT_HEADINGS,
    clock_seconds,
    in_unit,
    refused,
    said,
    unit_named,
)
from calibration.engine.job.reads import Reads
from calibration.kernel.codec import about
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import exact, parse_decimal
from calibration.kernel.sheets import Table, plain, table, unit_in

#: Where the unit of each row is found among the places of columns.
UNIT = "unit of the row"
SERIALS = ("serial", "serial number", "serial no", "device", "instrument", "analyzer")
MOMENTS = ("started", "start", "date", "time", "run at", "measured", "acquired")


@dataclass(frozen=True, kw_only=True)
class FileColumn:
    """One column that is read: how it may be headed, and what one of each unit is in ours."""

    id: str
    label: str
    known_as: tuple[str, ...]
    units: Mapping[str, Decimal] = field(default_factory=dict)
    required: bool = True


@dataclass(frozen=True, kw_only=True)
class FileRow:
    """One row that is read: how it may be called, and by column the field that it fills."""

    label: str
    known_as: tuple[str, ...]
    fields: Mapping[str, str]
    #: unit in which its values are wanted, where each row has one of its own
    unit: str = ""


@dataclass(frozen=True, kw_only=True)
class FileForm:
    """What is read of a file; the first column names the row."""

    columns: tuple[FileColumn, ...]
    rows: tuple[FileRow, ...]
    serial: str = ""


@dataclass(frozen=True, kw_only=True)
class Mapped:
    """Where a column is found in the files of one device, and in which unit."""

    header: str = about("heading in the file")
    unit: str = about("unit in the file", default="")


#: By the id of a column.
Columns = Mapping[str, Mapped]


@dataclass(frozen=True, kw_only=True)
class FromFile:
    """The file that values were read from: its name, its SHA-256, and what it said."""

    name: str = about("name of the file")
    digest: str = about("SHA-256 of the file")
    values: Mapping[str, str] = about("what it said, by field")


@dataclass(frozen=True)
class Read:
    """The values of a file by field, and what there is to say of it."""

    values: Mapping[str, str]
    said: tuple[str, ...]


def _unit(heading: str, column: FileColumn) -> str:
    """Return the unit that a heading names; none where it names none that is known."""
    told = [unit_in(heading)] if unit_in(heading) else [heading, *heading.split()]
    return next((u for u in column.units for t in told if t.lower() == u.lower()), "")


def _some(names: Sequence[str], most: int = 6) -> str:
    """Return the first names of a list, none longer than a line holds."""
    return ", ".join(name[:40] for name in names[:most])


def sheet(text: str, form: FileForm, mapping: Columns | None = None) -> Table:
    """Return the table in a file, found by the headings that are known or were said once.

    Raises
    ------
    InputError
        those of :func:`calibration.kernel.sheets.table`.
    """
    if mapping is not None:
        return table(text, [place.header for place in mapping.values()])
    return table(text, [n for column in form.columns for n in (column.label, *column.known_as)])


def _naming(found: Table, form: FileForm) -> dict[str, Mapped]:
    """Return the column that names the most of the rows that are read; none where none does."""
    known = _known(form)
    counts = [
        (sum(1 for _, cells in found.rows if plain(_cell(cells, n)) in known), heading)
        for n, heading in enumerate(found.headers)
    ]
    most, heading = max(counts, key=lambda c: c[0], default=(0, ""))
    return {form.columns[0].id: Mapped(header=heading)} if most else {}


def _known(form: FileForm) -> dict[str, FileRow]:
    """Return the rows by all their names."""
    return {plain(name): row for row in form.rows for name in (row.label, *row.known_as)}


def guess(found: Table, form: FileForm) -> dict[str, Mapped]:
    """Return where each column seems to be: names by what stands there, all others by heading."""
    guessed = _naming(found, form)
    for column in form.columns:
        if column.id in guessed:
            continue
        known = {plain(name) for name in (column.label, *column.known_as)}
        used = {place.header for place in guessed.values()}
        for heading in found.headers:
            if heading and heading not in used and plain(heading) in known:
                guessed[column.id] = Mapped(header=heading, unit=_unit(heading, column))
                break
    return guessed


def read(found: Table, form: FileForm, mapping: Columns, name: str) -> Read:
    """Return the values of a file.

    Parameters
    ----------
    mapping : Mapping
        By id of a column its heading and unit; a column that is not required may be left out.
    name : str
        Name of the file, for what is said.

    Raises
    ------
    InputError
        ``file.other_device``, ``file.column``, ``file.unit``, ``file.twice``, ``file.no_rows``,
        ``file.decimal_sign``, and those of a number, naming line and column.
    """
    _of_this_device(found, form, name)
    places = _places(found, form, mapping, name)
    _one_decimal_sign(found, places, form, name)
    first = form.columns[0]
    values: dict[str, str] = {}
    seen: dict[str, int] = {}
    other, words = [], []
    known = _known(form)
    heading = next((n for n, h in enumerate(found.headers) if plain(h) in UNIT_HEADINGS), -1)
    places |= {UNIT: heading} if heading >= 0 else {}
    for number, cells in found.rows:
        called = _cell(cells, places[first.id])
        row = known.get(plain(called))
        if row is None:
            other += [called] if called else []
            continue
        if row.label in seen:
            raise InputError(
                "file.twice",
                "file",
                f"{row.label} stands twice in {name}: lines {seen[row.label]} and {number}.",
                "Export one run only.",
            )
        seen[row.label] = number
        found_here, in_words = _values_of(row, number, cells, places, form, mapping)
        values |= found_here
        words += in_words
    if not seen:
        raise InputError(
            "file.no_rows",
            "file",
            f"{name} holds none of what is read here; column '{mapping[first.id].header}' says: "
            f"{_some(other) or 'nothing'}.",
            "It is of another device, or the wrong column: choose another file or column.",
        )
    return Read(values, (*_remarks(found, form, seen, other), *(f"{w}." for w in words)))


def _values_of(
    row: FileRow,
    number: int,
    cells: Sequence[str],
    places: Mapping[str, int],
    form: FileForm,
    mapping: Columns,
) -> tuple[dict[str, str], list[str]]:
    """Return the values of a row by field, and what stood there in words."""
    values, words = {}, []
    unit = unit_named(_cell(cells, places[UNIT])) if UNIT in places else ""
    for column in form.columns[1:]:
        if column.id not in places or column.id not in row.fields:
            continue
        text = _cell(cells, places[column.id])
        if not text:
            continue
        header = mapping[column.id].header
        try:
            found = said(text)
        except InputError as wrong:
            raise refused(number, header, text, wrong) from wrong
        if found.words:
            words.append(f"{row.label}: the file says '{found.words[:20]}'")
        if found.value:
            own = unit if unit in column.units else mapping[column.id].unit
            own = "s" if clock_seconds(found) and "s" in column.units else own
            try:
                values[row.fields[column.id]] = _scaled(found.value, column, own, unit, row.unit)
            except InputError as wrong:
                raise refused(number, header, unit, wrong) from wrong
    return values, words


def _scaled(value: str, column: FileColumn, own: str, unit: str, wanted: str) -> str:
    """Return a value in our unit: by the column's units, or by the one that its row names."""
    if not column.units:
        return in_unit(value, unit, wanted)
    with exact():
        factor = column.units.get(own, Decimal(1))
        if factor == 1:
            return value
        return f"{(parse_decimal(value, 'file') * factor).normalize():f}"


def _one_decimal_sign(found: Table, places: Mapping[str, int], form: FileForm, name: str) -> None:
    """Refuse a file in which a point may be a decimal point or part thousands."""
    texts = [
        _cell(cells, places[column.id])
        for _, cells in found.rows
        for column in form.columns[1:]
        if column.id in places
    ]
    texts = [text for text in texts if any(c.isdigit() for c in text)]
    if any("," in text for text in texts) and any("." in text for text in texts):
        raise InputError(
            "file.decimal_sign",
            "file",
            f"{name} has numbers with a point and numbers with a comma.",
            "Export without a sign for thousands, or type this run.",
        )


def _cell(cells: Sequence[str], place: int) -> str:
    return cells[place] if place < len(cells) else ""


def _places(found: Table, form: FileForm, mapping: Columns, name: str) -> dict[str, int]:
    """Return by column its place; say which is not there."""
    places: dict[str, int] = {}
    for column in form.columns:
        place = mapping.get(column.id)
        if place is None and not column.required:
            continue
        if place is None or place.header not in found.headers:
            headings = _some([f"'{h}'" for h in found.headers if h], 12)
            looked = f"'{place.header}' " if place else ""
            raise InputError(
                "file.column",
                f"mapping.{column.id}",
                f"{column.label}: no column {looked}in {name}; it has {headings}.",
                "Choose the column of this file, or another file.",
            )
        if column.units and place.unit not in column.units:
            raise InputError(
                "file.unit",
                f"mapping.{column.id}",
                f"{column.label}: the unit of '{place.header}' is not known.",
                "Choose one of " + ", ".join(column.units) + ".",
            )
        places[column.id] = found.headers.index(place.header)
    return places


def _said_above(found: Table, names: tuple[str, ...]) -> str:
    return next((value for key, value in found.above if plain(key) in names and value), "")


def _serial(found: Table) -> str:
    above = _said_above(found, SERIALS)
    heading = next((n for n, h in enumerate(found.headers) if plain(h) in SERIALS), -1)
    if above or heading < 0:
        return above
    return next((c for _, cells in found.rows if (c := _cell(cells, heading))), "")


def _of_this_device(found: Table, form: FileForm, name: str) -> None:
    serial = _serial(found)
    if serial and form.serial and serial.casefold() != form.serial.casefold():
        raise InputError(
            "file.other_device",
            "file",
            f"{name} is of {serial[:40]}, and this job is on {form.serial}.",
            "Choose the file of this device.",
        )


def _remarks(
    found: Table, form: FileForm, seen: Mapping[str, int], other: Sequence[str]
) -> tuple[str, ...]:
    missing = [row.label for row in form.rows if row.label not in seen]
    serial, moment = _serial(found), _said_above(found, MOMENTS)
    said = [f"Of {serial}." if serial else "It does not say of which device it is."]
    if moment:
        said.append(f"The device says {moment[:40]}.")
    if missing:
        said.append(f"Not in it, to be typed: {', '.join(missing)}.")
    if other:
        said.append(f"Not read: {_some(other)}.")
    return tuple(said)


def typed_over(kept: FromFile | None, typed: Mapping[str, object]) -> str:
    """Return in words from which file values were read, and which were typed over."""
    if kept is None:
        return ""
    changed = [
        f"{name} {typed.get(name, 'nothing')} for {value}"
        for name, value in kept.values.items()
        if str(typed.get(name, "")) != value
    ]
    over = f"; typed over: {', '.join(changed)}" if changed else ""
    beside = [f"{name} {value}" for name, value in typed.items() if name not in kept.values]
    over += f"; not in it, typed: {', '.join(beside)}" if beside else ""
    return f"read from {kept.name}, SHA-256 {kept.digest[:12]}{over}"


def serial_of(job: Reads) -> str:
    """Return the serial number as it was read in this job, else as it is on record."""
    ledger = job.ledger
    for step in ledger.method.steps:
        for entry in job.fields(step):
            if entry.must_match == "serial" and (step.id, entry.id) in ledger.recorded:
                return ledger.recorded[step.id, entry.id][0]
    return ledger.facts.serial


def not_read_before(kept: FromFile | None, entered: Iterable[tuple[str, Any]]) -> None:
    """Refuse a file that was read for another entry; ``entered``: title and content of each.

    Raises
    ------
    InputError
        ``file.read_before``.
    """
    for title, content in entered:
        before = content.read_from
        if kept is not None and before is not None and before.digest == kept.digest:
            raise InputError(
                "file.read_before",
                "file",
                f"This very file was read for {title} already.",
                "Choose the file of this run.",
            )
