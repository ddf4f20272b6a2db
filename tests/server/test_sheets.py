"""Paper: a blank form of every kind of job, and labels whose codes open what they stand on."""

from __future__ import annotations

import io
import re
from unittest import mock

import segno
from pypdf import PdfReader

from calibration.setup.forms import templates
from tests.server import works
from tests.server.setting_up import SetUp
from verifyloop.records import blank
from verifyloop.records.labels import Label, label_sheet


class Paper(SetUp):
    def test_every_kind_of_job_has_a_form_with_its_points_and_lines(self):
        for number, template in enumerate(templates()):
            with self.subTest(template.id):
                form, tag = self.form(template.id), f"X-{number}"
                self.must(self.add(form, self.typed(form, tag)))
                with mock.patch.object(blank, "table", wraps=blank.table) as drawn:
                    answer = self.ana.get(f"/api/v1/sheets/form/{tag}")
                self.assertEqual((answer.status_code, answer.content[:4]), (200, b"%PDF"))
                self.assertTrue(drawn.called)
                for call in drawn.call_args_list:
                    header, rows = call.args[:2]
                    self.assertTrue(rows)
                    self.assertTrue(all(len(row) == len(header) for row in rows))

    def test_points_are_those_of_the_job_up_and_down(self):
        with mock.patch.object(blank, "table", wraps=blank.table) as drawn:
            self.ana.get("/api/v1/sheets/form/PT-1")
        rows = drawn.call_args_list[0].args[1]
        self.assertEqual(len(rows), 9)
        self.assertEqual(rows[1][:4], ["25 % up", "1000", "8.000", "0.080"])
        self.assertEqual(rows[-1][0], "0 % down")

    def test_a_method_that_does_not_fit_is_refused(self):
        said = self.ana.get("/api/v1/sheets/form/PT-1", {"method": "ph_buffers"})
        self.assertEqual((said.status_code, said.json()["field"]), (422, "method"))
        self.assertEqual(self.ana.get("/api/v1/sheets/form/none").status_code, 404)

    def test_labels_open_the_page_of_what_they_stand_on(self):
        for n in range(30):
            works.instrument(f"Z-{n:02}", serial=str(n))

        def kept(labels):
            made.append(list(labels))
            return label_sheet(made[-1])

        made = []
        with mock.patch("verifyloop.api.sheets.label_sheet", kept):
            answer = self.ana.get("/api/v1/sheets/labels/instruments", {"q": "Z-"})
            kit = self.ana.get("/api/v1/sheets/labels/kit")
        self.assertEqual((answer.content[:4], kit.content[:4]), (b"%PDF", b"%PDF"))
        instruments, things = made
        self.assertEqual(len(instruments), 30)
        self.assertEqual(instruments[3].address, "http://testserver/instruments/Z-03")
        self.assertIn("http://testserver/kit/R-1", [t.address for t in things])
        # Twenty-four on a sheet.
        self.assertEqual(answer.content.count(b"/Type /Page\n"), 2)

    def test_two_thousand_labels_are_all_there(self):
        many = [Label(f"X-{n}", "", "", f"http://here/{n}") for n in range(2000)]
        sheet = PdfReader(io.BytesIO(label_sheet(many)))
        self.assertEqual(len(sheet.pages), 84)
        self.assertIn("X-1999", sheet.pages[-1].extract_text())

    def test_a_code_is_read_as_the_address(self):
        """The rectangles of the page, cell by cell, are the code of the address (segno's own)."""
        address = "http://here/instruments/PT-1"
        page = PdfReader(io.BytesIO(label_sheet([Label("PT-1", "", "", address)]))).pages[0]
        boxes = re.findall(
            rb"([\d.]+) ([\d.]+) ([\d.]+) ([\d.]+) re", page.get_contents().get_data()
        )
        boxes = [tuple(float(n) for n in box) for box in boxes]
        matrix = segno.make_qr(address, error="m").matrix
        side = min(box[3] for box in boxes)
        left, top = min(b[0] for b in boxes), max(b[1] for b in boxes)
        found = [[0] * len(matrix) for _ in matrix]
        for x, y, wide, high in boxes:
            self.assertAlmostEqual(high, side, places=3)
            for n in range(round(wide / side)):
                found[round((top - y) / side)][round((x - left) / side) + n] = 1
        self.assertEqual(found, [[int(cell) for cell in row] for row in matrix])
