"""Files that devices write: any delimiter, decimal comma, columns named once, wrong files."""

from decimal import Decimal

from django.test import SimpleTestCase

from calibration.engine.files.device_file import (
    FileColumn,
    FileForm,
    FileRow,
    FromFile,
    Mapped,
    guess,
    not_read_before,
    read,
    sheet,
    typed_over,
)
from calibration.families.chromatograph.device_file import form
from calibration.kernel.errors import InputError
from tests.core.gcs import GcVisit
from tests.core.test_gc_jobs import AS_IN_THE_GAS, Gc, of

FORM = FileForm(
    columns=(
        FileColumn(id="gas", label="Component", known_as=("gas", "name")),
        FileColumn(
            id="shows",
            label="Shows",
            known_as=("conc",),
            units={"ppm": Decimal(1), "% vol": Decimal(10_000)},
        ),
        FileColumn(
            id="at",
            label="Retention time",
            known_as=("rt",),
            units={"s": Decimal(1), "min": Decimal(60)},
            required=False,
        ),
    ),
    rows=(
        FileRow(label="Methane", known_as=("CH4",), fields={"shows": "a", "at": "a_s"}),
        FileRow(label="Ethane", known_as=("C2H6",), fields={"shows": "b", "at": "b_s"}),
    ),
    serial="KF-1",
)
PLACES = {
    "gas": Mapped(header="Gas"),
    "shows": Mapped(header="Conc (ppm)", unit="ppm"),
    "at": Mapped(header="RT [min]", unit="min"),
}
ROWS = "CH4;1,25;95,0\nethane;2,50;48\nO2;0,40;12\n"
TEXT = "Device;KF-1\nStarted;2026-03-01 10:12\n\nGas;RT [min];Conc (ppm)\n" + ROWS


class Read(SimpleTestCase):
    def refused(self, code, field, text, places=None):
        with self.assertRaises(InputError) as caught:
            read(sheet(text, FORM, places or PLACES), FORM, places or PLACES, "run.csv")
        self.assertEqual((caught.exception.code, caught.exception.field), (code, field))
        self.assertTrue(caught.exception.remedy)
        return caught.exception.message

    def test_headings_are_found_below_what_stands_above_and_guessed_with_their_units(self):
        found = sheet(TEXT, FORM)
        self.assertEqual(found.headers, ("Gas", "RT [min]", "Conc (ppm)"))
        self.assertEqual(guess(found, FORM), PLACES)

    def test_names_are_found_by_what_stands_there(self):
        numbered = TEXT.replace("Gas;", "Peak;Name of it;").replace("CH4;", "1;CH4;")
        numbered = numbered.replace("ethane;", "2;ethane;").replace("O2;", "3;O2;")
        self.assertEqual(guess(sheet(numbered, FORM), FORM)["gas"].header, "Name of it")

    def test_minutes_become_seconds_and_a_decimal_comma_is_one(self):
        # By hand: 1.25 min is 75 s, 2.5 min is 150 s.
        found = read(sheet(TEXT, FORM, PLACES), FORM, PLACES, "run.csv")
        self.assertEqual(found.values, {"a": "95,0", "a_s": "75", "b": "48", "b_s": "150"})
        self.assertEqual(
            found.said, ("Of KF-1.", "The device says 2026-03-01 10:12.", "Not read: O2.")
        )

    def test_any_delimiter_and_quoted_cells(self):
        for sign in ("\t", ",", "|"):
            text = TEXT.replace(",", ".").replace(";", sign)
            with self.subTest(sign=sign):
                found = read(sheet(text, FORM, PLACES), FORM, PLACES, "run.csv")
                self.assertEqual(found.values["a_s"], "75")
        quoted = TEXT.replace(";", ",").replace("1,25,95,0", '"1,25","95,0"')
        quoted = quoted.replace("2,50,48", '"2,50",48').replace("0,40,12", '"0,40",12')
        found = read(sheet(quoted, FORM, PLACES), FORM, PLACES, "run.csv")
        self.assertEqual(found.values["a"], "95,0")

    def test_percent_is_ten_thousand_ppm(self):
        places = {**PLACES, "shows": Mapped(header="Conc (ppm)", unit="% vol")}
        found = read(sheet(TEXT, FORM, places), FORM, places, "run.csv")
        self.assertEqual(found.values["a"], "950000")

    def test_what_is_not_in_the_file_is_left_to_be_typed(self):
        text = TEXT.replace("ethane;2,50;48\n", "")
        found = read(sheet(text, FORM, PLACES), FORM, PLACES, "run.csv")
        self.assertNotIn("b", found.values)
        self.assertIn("Not in it, to be typed: Ethane.", found.said)
        without = {id: place for id, place in PLACES.items() if id != "at"}
        self.assertNotIn("a_s", read(sheet(TEXT, FORM, without), FORM, without, "x").values)

    def test_a_column_that_is_not_there_is_named_with_those_that_are(self):
        said = self.refused("file.column", "mapping.shows", TEXT.replace("Conc (ppm)", "Area"))
        self.assertIn("'Conc (ppm)'", said)
        self.assertIn("'Area'", said)
        unset = {**PLACES, "shows": Mapped(header="Conc (ppm)")}
        self.refused("file.unit", "mapping.shows", TEXT, unset)

    def test_a_file_of_another_device(self):
        said = self.refused("file.other_device", "file", TEXT.replace("KF-1", "KF-2"))
        self.assertIn("KF-2", said)
        column = "Serial;Gas;RT [min];Conc (ppm)\nKF-3;CH4;1;2\n"
        self.assertIn("KF-3", self.refused("file.other_device", "file", column))
        of_oil = "Gas;RT [min];Conc (ppm)\nwater;1;2\n"
        self.assertIn("water", self.refused("file.no_rows", "file", of_oil))

    def test_twice_no_number_and_two_signs(self):
        twice = self.refused("file.twice", "file", TEXT + "methane;1,3;94\n")
        self.assertIn("lines 5 and 8", twice)
        wrong = self.refused("number.not_a_number", "file", TEXT.replace("95,0", "n/a"))
        self.assertIn("Line 5, column 'Conc (ppm)': 'n/a'", wrong)
        thousands = TEXT.replace("95,0", "1.095")
        self.refused("file.decimal_sign", "file", thousands)

    def test_what_is_no_table(self):
        for text, code in (
            ("", "file.empty"),
            ("  \n \n", "file.empty"),
            ("no table at all", "file.no_table"),
            ("a;b\n" * 3000, "file.too_long"),
            ("%PDF-1.7 \x00\x01\nstream", "file.no_table"),
        ):
            with self.subTest(text=text[:20]), self.assertRaises(InputError) as caught:
                sheet(text, FORM)
            self.assertEqual(caught.exception.code, code)
        wide = ";".join(["x"] * 100_000) + "\n" + TEXT
        self.assertEqual(len(sheet(wide, FORM).headers), 3)


class InAJob(Gc):
    """A file that fills the fields of an injection is told of for ever."""

    def kept(self, **values):
        return FromFile(name="run.csv", digest="ab" * 32, values={**AS_IN_THE_GAS, **values})

    def taken(self, visit, step, kept, **typed):
        content = {"step": step, **AS_IN_THE_GAS, **typed, "read_from": vars(kept)}
        visit.push("injected", **content)

    def test_only_an_injection_reads_one(self):
        visit = GcVisit()
        self.assertIsNone(form(of(visit)))
        visit.until("inject_1")
        found = form(of(visit))
        self.assertEqual(found.serial, of(visit).ledger.facts.serial)
        self.assertEqual(len(found.rows), len(AS_IN_THE_GAS))
        self.assertTrue(visit.state().task.asks[0].file)

    def test_history_says_the_file_and_what_was_typed_over(self):
        visit = GcVisit()
        visit.until("inject_1")
        self.taken(visit, "inject_1", self.kept(a="999"))
        said = typed_over(visit.events[-1].content.read_from, visit.events[-1].content.own.values)
        self.assertIn(f"a {AS_IN_THE_GAS['a']} for 999", said)
        self.assertIn("read from run.csv, SHA-256 abababababab", said)

    def test_what_the_file_did_not_say_is_said_to_be_typed(self):
        visit = GcVisit()
        visit.until("inject_1")
        values = {k: v for k, v in AS_IN_THE_GAS.items() if k != "g"}
        self.taken(visit, "inject_1", FromFile(name="run.csv", digest="ab" * 32, values=values))
        content = visit.events[-1].content
        said = typed_over(content.read_from, content.own.values)
        self.assertIn(f"; not in it, typed: g {AS_IN_THE_GAS['g']}", said)
        self.assertNotIn("typed over", said)

    def test_one_file_is_no_pair(self):
        visit = GcVisit()
        visit.until("inject_1")
        self.taken(visit, "inject_1", self.kept())
        visit.until("inject_2")
        with self.assertRaises(InputError) as caught:
            self.taken(visit, "inject_2", self.kept())
        self.assertEqual(caught.exception.code, "file.read_before")
        self.assertIsNone(not_read_before(None, ()))


class Words(SimpleTestCase):
    """Files as others write them: what stands for a number is read as what it says."""

    LINES = FileForm(
        columns=(
            FileColumn(id="line", label="Line", known_as=("test",)),
            FileColumn(id="value", label="Measured", known_as=("value",)),
        ),
        rows=(
            FileRow(label="Coil insulation", known_as=("A",), fields={"value": "a"}, unit="kΩ"),
            FileRow(label="Alarm relay", known_as=("B",), fields={"value": "b"}),
            FileRow(label="Drive", known_as=("C",), fields={"value": "c"}, unit="mA"),
        ),
    )
    AT = {"line": Mapped(header="Test"), "value": Mapped(header="Value")}

    def lines(self, *rows):
        text = "Test;Value;Unit\n" + "\n".join(rows) + "\n"
        return read(sheet(text, self.LINES, self.AT), self.LINES, self.AT, "tester.csv")

    def test_not_detected_and_less_than_a_limit_are_none_of_it(self):
        for said, shown in (("n.d.", "0"), ("<0,5", "0"), (">999", "999"), ("ND", "0")):
            text = f"Gas;RT [min];Conc (ppm)\nCH4;1,25;{said}\n"
            found = read(sheet(text, FORM, PLACES), FORM, PLACES, "run.csv")
            self.assertEqual(found.values["a"], shown, said)
            self.assertIn(f"Methane: the file says '{said}'.", found.said)

    def test_open_is_no_number_and_is_said(self):
        found = self.lines("Coil insulation;OL;MOhm", "Drive;12,5;mA")
        self.assertEqual(found.values, {"c": "12,5"})
        self.assertIn("Coil insulation: the file says 'OL'.", found.said)

    def test_passed_and_failed(self):
        for said, value in (("passed", "1"), ("PASS", "1"), ("FAIL", "0"), ("failed", "0")):
            self.assertEqual(self.lines(f"Alarm relay;{said};").values["b"], value, said)

    def test_the_unit_of_each_row_counts(self):
        """2200 Ω are 2.2 kΩ; 0.0125 A are 12.5 mA."""
        found = self.lines("Coil insulation;2200;Ohm", "Drive;0,0125;A")
        self.assertEqual(found.values, {"a": "2.2", "c": "12.5"})

    def test_a_unit_that_does_not_fit_is_refused_by_line(self):
        with self.assertRaises(InputError) as caught:
            self.lines("Coil insulation;2200;kPa")
        self.assertEqual(caught.exception.code, "file.unit")
        self.assertIn("Line 2", caught.exception.message)

    def test_minutes_and_seconds(self):
        places = {**PLACES, "at": Mapped(header="RT [min]", unit="min")}
        text = "Gas;RT [min];Conc (ppm)\nCH4;1:32;95\n"
        self.assertEqual(
            read(sheet(text, FORM, places), FORM, places, "run.csv").values["a_s"], "92"
        )
