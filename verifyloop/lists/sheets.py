"""Files of rows: CSV and XLSX, read with care for what strangers put into them, and written."""

from __future__ import annotations

import csv
import io
import re
import zipfile
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal
from typing import Any

from openpyxl import Workbook, load_workbook
from openpyxl.cell import WriteOnlyCell
from openpyxl.styles import Font
from openpyxl.utils.exceptions import InvalidFileException

from calibration.kernel.errors import InputError
from verifyloop.files import apart
from verifyloop.files.refusing import refused

#: A list of a large plant has less; what a file may become when it is unpacked.
LARGEST, UNPACKED = 20 * 1024 * 1024, 200 * 1024 * 1024
MOST_ROWS, MOST_COLUMNS, LONGEST_CELL, MOST_CELLS = 50_000, 200, 20_000, 4_000_000
#: A plain file of this size is read here; any other in a process of its own. [bytes]
SMALL = 1 << 20
#: What a spreadsheet takes for the beginning of a formula; a blank before it keeps it text.
FORMULA = tuple("=+-@\t\r")


@dataclass(frozen=True)
class Sheet:
    """Headings and rows as text; ``numbers``: where each row stands in the file."""

    headings: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    numbers: tuple[int, ...]


#: A cell that acts in a spreadsheet, or such a one behind apostrophes; a number never does.
_ACTS = re.compile("'*[=+\\-@\t\r]")
_MERGED = re.compile(rb'<(?:\w+:)?mergeCell\s[^>]*?ref="([^"]{1,40})"')
_NUMBER = re.compile(r"[+-]?\d+([.,]\d+)?$")


def read_sheet(name: str, content: bytes) -> Sheet:
    """Return the rows of a file.

    Raises
    ------
    InputError
        ``file.*``, with what to do about it.
    Conflict
        ``file.others_first``.
    """
    if len(content) > LARGEST:
        raise refused(
            "too_large",
            f"The file has {len(content) // 1024 // 1024} MB.",
            f"Use at most {LARGEST // 1024 // 1024} MB: split the list.",
        )
    if not _packed(content) and len(content) <= SMALL:
        return _sheet(name, content)
    plain, _ = apart.opened("list", name, content)
    headings, rows, numbers = plain
    return Sheet(tuple(headings), tuple(tuple(r) for r in rows), tuple(numbers))


def as_plain(name: str, content: bytes) -> tuple[Any, bytes]:
    """Return headings, rows and numbers of a file as plain values."""
    sheet = _sheet(name, content)
    return [sheet.headings, sheet.rows, sheet.numbers], b""


def _packed(content: bytes) -> bool:
    return content[:4] == b"PK\x03\x04"


def _sheet(name: str, content: bytes) -> Sheet:
    found = _xlsx(content) if _packed(content) else _csv(name, content)
    rows: list[tuple[int, tuple[str, ...]]] = []
    headings: tuple[str, ...] = ()
    cells = 0
    for number, row in enumerate(found, 1):
        if not any(row):
            continue
        headings = headings or _headings(row)
        rows.append((number, row))
        cells += len(row)
        if len(rows) > MOST_ROWS + 1 or cells > MOST_CELLS:
            raise refused(
                "too_long",
                f"It has more than {MOST_ROWS} rows, or more than {MOST_CELLS} cells.",
                "Split the list.",
            )
    if not rows:
        raise refused("empty", "There is nothing in the file.", "Its first row has the headings.")
    width = len(headings)
    for number, row in rows[1:]:
        if any(row[width:]):
            raise refused(
                "ragged",
                f"Row {number} has more cells than there are headings.",
                "Give each column a heading; was a comma inside a cell not quoted?",
            )
    padded = [(*row[:width], *[""] * (width - len(row))) for _, row in rows[1:]]
    return Sheet(headings, tuple(padded), tuple(n for n, _ in rows[1:]))


def _headings(row: tuple[str, ...]) -> tuple[str, ...]:
    headings = tuple(cell.strip() for cell in row)
    while headings and not headings[-1]:
        headings = headings[:-1]
    if len(headings) > MOST_COLUMNS:
        raise refused(
            "too_wide", f"It has {len(headings)} columns.", f"Use at most {MOST_COLUMNS}."
        )
    return headings


def _csv(name: str, content: bytes) -> Iterator[tuple[str, ...]]:
    wide = content[:2] in (b"\xff\xfe", b"\xfe\xff")
    encoding = "utf-16" if wide else "utf-8-sig"
    try:
        text = content.decode(encoding)
    except UnicodeDecodeError as wrong:
        raise refused(
            "encoding",
            f"The file is not in UTF-8: byte {wrong.start + 1} cannot be read.",
            "Save it as CSV UTF-8, or as XLSX.",
        ) from None
    if "\x00" in text:
        raise refused("kind", f"'{name[:60]}' is no list.", "Take a CSV or an XLSX file.")
    first = text.split("\n", 1)[0]
    delimiter = max(",;\t", key=first.count)
    try:
        csv.field_size_limit(LONGEST_CELL)
        read = csv.reader(io.StringIO(text), delimiter=delimiter)
        for row in read:
            yield tuple(unguarded(cell) for cell in row)
    except csv.Error as wrong:
        raise refused("csv", f"It cannot be read as CSV: {wrong}.", "Save it anew.") from None


def _xlsx(content: bytes) -> Iterator[tuple[str, ...]]:
    """Yield the rows of the first sheet as they are read: an empty one may stand for many."""
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as packed:
            whole = sum(one.file_size for one in packed.infolist())
            if whole > UNPACKED or len(packed.infolist()) > 2000:
                raise refused(
                    "bomb",
                    f"Unpacked it would be {whole // 1024 // 1024} MB.",
                    "That is no list. Save the sheet alone.",
                )
            if "xl/workbook.xml" not in packed.namelist():
                raise refused("kind", "It is a ZIP, but no XLSX.", "Take a CSV or an XLSX file.")
            book = load_workbook(io.BytesIO(content), read_only=True, keep_links=False)
            sheet = book.worksheets[0]
            _not_merged(packed, sheet._worksheet_path)  # type: ignore[attr-defined]
        # What the file says of its own size is not believed.
        sheet.reset_dimensions()
        for row in sheet.iter_rows(max_col=MOST_COLUMNS + 1):
            yield _row(row)
    except InputError:
        raise
    except (zipfile.BadZipFile, InvalidFileException, KeyError, ValueError, OSError, EOFError):
        raise refused("damaged", "The file cannot be opened.", "Save it anew as XLSX.") from None


def _not_merged(packed: zipfile.ZipFile, path: str) -> None:
    """Refuse a sheet with merged cells; it is read in pieces that overlap."""
    tail = b""
    with packed.open(path) as file:
        while piece := file.read(1 << 16):
            if found := _MERGED.search(tail + piece):
                where = found[1].decode(errors="replace")
                raise refused(
                    "merged", f"Cells {where} are merged.", "Split them: a row is one thing."
                )
            tail = (tail + piece)[-200:]


def _row(row: Sequence[Any]) -> tuple[str, ...]:
    last = max((n for n, cell in enumerate(row, 1) if cell.value is not None), default=0)
    for cell in row[:last]:
        if cell.data_type == "f":
            raise refused(
                "formula",
                f"Cell {cell.coordinate} holds a formula.",
                "Copy the sheet and paste it as values.",
            )
        if cell.data_type == "e":
            raise refused("error", f"Cell {cell.coordinate} holds an error.", "Correct it.")
    return tuple(_as_text(cell.value) for cell in row[:last])


def _as_text(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, datetime):
        return value.date().isoformat()
    if isinstance(value, date):
        return value.isoformat()
    if isinstance(value, float):
        return format(Decimal(repr(value)).normalize(), "f")
    return str(value)[:LONGEST_CELL]


def guarded(text: str) -> str:
    """Return a cell that no spreadsheet takes for a formula: an apostrophe before what would be."""
    return f"'{text}" if _ACTS.match(text) and not _NUMBER.match(text) else text


def unguarded(text: str) -> str:
    """Return a cell as it was before it was guarded."""
    return text[1:] if text[:1] == "'" and _ACTS.match(text) else text


def write_csv(headings: Sequence[str], rows: Iterable[Sequence[str]], comma: bool = False) -> bytes:
    """Return rows as CSV (RFC 4180) in UTF-8; semicolons where numbers have a decimal comma."""
    out = io.StringIO()
    writer = csv.writer(out, delimiter=";" if comma else ",")
    writer.writerow(headings)
    writer.writerows([guarded(text) for text in row] for row in rows)
    return out.getvalue().encode("utf-8-sig")


def write_xlsx(sheets: Sequence[tuple[str, Sequence[str], Iterable[Sequence[str]]]]) -> bytes:
    """Return sheets of text, each with its name, its headings and its rows."""
    book = Workbook(write_only=True)
    for name, headings, rows in sheets:
        sheet = book.create_sheet(name)
        bold = []
        for heading in headings:
            cell = _cell(sheet, heading)
            cell.font = Font(bold=True)
            bold.append(cell)
        sheet.append(bold)
        for row in rows:
            sheet.append([_cell(sheet, value) for value in row])
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _cell(sheet: Any, value: str) -> Any:
    cell = WriteOnlyCell(sheet, value=value or None)
    if isinstance(value, str) and value.startswith(FORMULA):
        # Text that looks like a formula stays text.
        cell.data_type = "s"
    return cell
