"""Small files that ask for hours and gigabytes, and PDFs that hide what they do."""

from __future__ import annotations

import io
import os
import re
import resource
import tempfile
import zipfile
import zlib
from pathlib import Path
from unittest import mock, skipUnless

from django.test import SimpleTestCase
from openpyxl import Workbook
from PIL import Image
from pypdf import PdfReader, PdfWriter
from pypdf.generic import DictionaryObject, NameObject, TextStringObject

from calibration.kernel.errors import InputError
from tests.server.test_files import PDF
from verifyloop.errors import Conflict
from verifyloop.files import apart
from verifyloop.files.checking import checked
from verifyloop.lists.sheets import read_sheet

LONG = bool(os.environ.get("VERIFYLOOP_LONG"))


def spent():
    """Processor time of the processes that opened files so far. [s]"""
    used = resource.getrusage(resource.RUSAGE_CHILDREN)
    return used.ru_utime + used.ru_stime


def sheet_of(rows):
    """An XLSX whose only sheet is these lines of XML."""
    book = io.BytesIO()
    Workbook().save(book)
    out = io.BytesIO()
    with zipfile.ZipFile(book) as plain, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as made:
        for one in plain.namelist():
            content = plain.read(one)
            if one == "xl/worksheets/sheet1.xml":
                content = (
                    b'<worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main">'
                    b"<sheetData>" + rows + b"</sheetData></worksheet>"
                )
            made.writestr(one, content)
    return out.getvalue()


class Opened(SimpleTestCase):
    def setUp(self):
        place = tempfile.TemporaryDirectory()
        self.addCleanup(place.cleanup)
        beside = self.settings(DATA_DIR=Path(place.name))
        beside.enable()
        self.addCleanup(beside.disable)
        self.before = spent()

    def refused(self, code, work, *what):
        with self.assertRaises(InputError) as caught:
            work(*what)
        self.assertEqual(caught.exception.code, code)
        self.assertTrue(caught.exception.remedy)


class Heavy(Opened):
    def cost(self, seconds):
        """What was opened took less than this; its memory is limited by the system."""
        self.assertLess(spent() - self.before, seconds)

    def test_rows_of_one_cell_far_to_the_right(self):
        """The attack: 20,000 rows, each with one cell in the last column there may be."""
        rows = b"".join(
            b'<row r="%d"><c r="GS%d"><v>1</v></c></row>' % (n, n) for n in range(1, 20_001)
        )
        content = sheet_of(rows)
        self.assertLess(len(content), 120_000)
        self.refused("file.too_wide", read_sheet, "list.xlsx", content)
        self.cost(15)

    def test_a_million_empty_rows_and_a_size_that_is_not_true(self):
        rows = b'<row r="1"><c r="A1"><v>1</v></c></row>'
        rows += b'<row r="1048576"><c r="A1048576"><v>2</v></c></row>'
        sheet = read_sheet("list.xlsx", sheet_of(rows))
        self.assertEqual((sheet.rows, sheet.numbers), ((("2",),), (1048576,)))
        self.cost(30)

    def test_more_cells_than_a_list_has(self):
        with mock.patch("verifyloop.lists.sheets.MOST_CELLS", 100):
            self.refused("file.too_long", read_sheet, "a.csv", b"a,b\n" + b"1,2\n" * 60)

    def test_a_picture_counts_as_it_is_decoded(self):
        """The attack: seven kilobytes that are 7,700 pixels wide and high."""
        out = io.BytesIO()
        Image.new("1", (7700, 7700)).save(out, "PNG")
        self.refused("file.too_large", checked, "a.png", out.getvalue())
        self.cost(6)

    def test_a_large_photo_is_decoded_small(self):
        out = io.BytesIO()
        Image.new("RGB", (9000, 7000), (90, 120, 160)).save(out, "JPEG", quality=60)
        kept = checked("plate.jpg", out.getvalue())
        with Image.open(io.BytesIO(kept.content)) as shown:
            self.assertEqual(shown.size, (3000, 2333))
        self.cost(10)

    def test_what_takes_too_long_is_killed_and_said(self):
        with mock.patch.object(apart, "LONGEST", 0.01):
            self.refused("file.too_heavy", checked, "a.pdf", PDF)

    def test_what_needs_too_much_memory_ends_there(self):
        done = apart.subprocess.run(
            [
                apart.sys.executable,
                "-c",
                "from verifyloop.files import child\n"
                "child.OPENS['pdf'] = ('builtins:bytes', 5, 90)\n"
                "import types, sys; m = types.ModuleType('eats')\n"
                "m.eat = lambda name, content: (len(bytearray(1 << 30)), b'')\n"
                "sys.modules['eats'] = m; child.OPENS['pdf'] = ('eats:eat', 5, 200)\n"
                "child.main('pdf', 'a')",
            ],
            cwd=apart.ROOT,
            input=b"",
            capture_output=True,
        )
        self.assertNotEqual(done.returncode, 0)
        self.assertIn(b"MemoryError", done.stderr)

    def test_one_at_a_time(self):
        with (
            mock.patch.object(apart, "PATIENCE", 0.1),
            apart._turn(),
            self.assertRaises(Conflict) as caught,
        ):
            checked("a.pdf", PDF)
        self.assertEqual(caught.exception.code, "file.others_first")

    @skipUnless(LONG, "the full counts")
    def test_an_honest_list_of_fifty_thousand_rows_passes(self):
        book = Workbook(write_only=True)
        sheet = book.create_sheet("Plant")
        sheet.append([f"column {n}" for n in range(40)])
        for row in range(50_000):
            sheet.append([f"{row}-{n}" for n in range(40)])
        out = io.BytesIO()
        book.save(out)
        self.assertEqual(len(read_sheet("plant.xlsx", out.getvalue()).rows), 50_000)


def acting(packed=False, locked=False):
    """A page whose opening runs a script; its objects packed or locked on demand."""
    writer = PdfWriter(clone_from=PdfReader(io.BytesIO(PDF)))
    if not locked:
        writer._root_object[NameObject("/OpenAction")] = DictionaryObject(
            {
                NameObject("/S"): NameObject("/JavaScript"),
                NameObject("/JS"): TextStringObject("app.alert(1)"),
            }
        )
    if locked:
        writer.encrypt("secret")
    out = io.BytesIO()
    writer.write(out)
    return out.getvalue()


class Hiding(Opened):
    def test_a_plain_page_is_kept_as_it_is(self):
        self.assertEqual(checked("a.pdf", PDF).content, PDF)

    def test_names_written_with_escapes(self):
        content = acting()
        self.refused("file.active", checked, "a.pdf", content)
        hidden = content.replace(b"/JavaScript", b"/J#61v#61Script").replace(b"/JS", b"/#4A#53")
        self.assertNotIn(b"/JavaScript", hidden)
        self.refused("file.active", checked, "a.pdf", hidden)

    def test_objects_packed_into_a_stream(self):
        """A second part of the file, whose catalogue lies packed in an object stream."""
        hidden = packed(acting())
        self.assertNotIn(b"JavaScript", hidden)
        self.refused("file.active", checked, "a.pdf", hidden)

    def test_locked_with_a_password(self):
        self.refused("file.encrypted", checked, "a.pdf", acting(locked=True))


def packed(content):
    """The same PDF as PDF 1.5: every object without a stream lies in one object stream."""
    found = {int(m[1]): m[2] for m in re.finditer(rb"(\d+) 0 obj\s(.*?)\sendobj", content, re.S)}
    root = int(re.search(rb"/Root (\d+) 0 R", content)[1])
    plain = {n: body for n, body in found.items() if b"stream" not in body}
    out, places = bytearray(b"%PDF-1.5\n"), {}
    for n, body in found.items():
        if n not in plain:
            places[n] = len(out)
            out += b"%d 0 obj\n%s\nendobj\n" % (n, body)
    head, inner = [], b""
    for n, body in plain.items():
        head.append(b"%d %d" % (n, len(inner)))
        inner += body + b" "
    first = b" ".join(head) + b" "
    squeezed = zlib.compress(first + inner)
    box, cross = max(found) + 1, max(found) + 2
    places[box] = len(out)
    said = b"/Type /ObjStm /N %d /First %d" % (len(plain), len(first))
    out += _stream(box, said, squeezed)
    places[cross] = len(out)
    rows = bytearray(b"\x00\x00\x00\x00\x00\xff\xff")
    order = list(plain)
    for n in range(1, cross + 1):
        if n in plain:
            rows += b"\x02" + box.to_bytes(4, "big") + order.index(n).to_bytes(2, "big")
        else:
            rows += b"\x01" + places.get(n, 0).to_bytes(4, "big") + b"\x00\x00"
    said = b"/Type /XRef /Size %d /W [1 4 2] /Root %d 0 R" % (cross + 1, root)
    out += _stream(cross, said, zlib.compress(bytes(rows)))
    out += b"startxref\n%d\n%%%%EOF\n" % places[cross]
    return bytes(out)


def _stream(number, said, squeezed):
    head = b"%d 0 obj\n<< %s /Length %d /Filter /FlateDecode >>\nstream\n"
    return head % (number, said, len(squeezed)) + squeezed + b"\nendstream\nendobj\n"
