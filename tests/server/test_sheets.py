"""Paper: a blank form of every kind of job, and labels whose codes open what they stand on."""

from __future__ import annotations

from unittest import mock

from calibration.setup.forms import templates
from tests.server import works
from tests.server.setting_up import SetUp
from verifyloop.records import blank
from verifyloop.records.labels import MOST, Label, label_sheet


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
        with mock.patch("verifyloop.api.sheets.label_sheet", wraps=label_sheet) as made:
            answer = self.ana.get("/api/v1/sheets/labels/instruments", {"q": "Z-"})
            kit = self.ana.get("/api/v1/sheets/labels/kit")
        self.assertEqual((answer.content[:4], kit.content[:4]), (b"%PDF", b"%PDF"))
        instruments, things = (call.args[0] for call in made.call_args_list)
        self.assertEqual(len(instruments), 30)
        self.assertEqual(instruments[3].address, "http://testserver/instruments/Z-03")
        self.assertIn("http://testserver/kit/R-1", [t.address for t in things])
        # Twenty-four on a sheet.
        self.assertEqual(answer.content.count(b"/Type /Page\n"), 2)

    def test_labels_that_are_left_out_are_said_first(self):
        many = [Label(f"X-{n}", "", "", f"http://here/{n}") for n in range(MOST)]
        with mock.patch("verifyloop.records.labels._label") as drawn:
            label_sheet(many, 2000)
        first, *others = (call.args[1] for call in drawn.call_args_list)
        self.assertIn("first 479 of 2000", first.text)
        self.assertEqual(len(others), MOST - 1)
        self.assertEqual(label_sheet(many[:3], 3)[:4], b"%PDF")
