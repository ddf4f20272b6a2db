"""Lists in and out: each row's fate, all or nothing, bad files, and a round trip to the letter."""

from __future__ import annotations

import copy
import csv
import io
import json
import zipfile
from datetime import timedelta
from unittest import mock

from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import OperationalError
from django.utils import timezone
from openpyxl import Workbook, load_workbook

from calibration.setup.forms import templates
from calibration.setup.kit import kit_kinds
from tests.server import works
from tests.server.setting_up import JSON, KitForms, SetUp
from verifyloop.accounts.models import User
from verifyloop.kit.models import Cylinder, Reference
from verifyloop.lists.instruments import Instruments
from verifyloop.lists.models import Brought, Synonym
from verifyloop.lists.sheets import read_sheet, write_csv, write_xlsx
from verifyloop.plant.models import Area, Change, Instrument, Site
from verifyloop.records.verify import check_all
from verifyloop.register.models import Entry


class Lists(SetUp):
    def bring(self, content, kind="instruments", accept="", name="list.csv", client=None):
        """Send a file; return the lines of the answer, or the refusal of the whole."""
        if isinstance(content, str):
            content = content.encode()
        file = SimpleUploadedFile(name, content)
        sent = {"file": file, "accept": accept}
        answer = (client or self.pia).post(f"/api/v1/lists/{kind}", sent)
        if answer["Content-Type"] == "application/json":
            return [{"refused": answer.json()}]
        return [json.loads(x) for x in b"".join(answer.streaming_content).splitlines()]

    def looked(self, content, **more):
        return self.bring(content, **more)[-1]

    def stored(self, content, **more):
        mark = self.looked(content, **more)["mark"]
        return self.looked(content, accept=mark, **more)

    def out(self, kind, form="csv", client=None):
        answer = (client or self.pia).get(f"/api/v1/lists/{kind}/list.{form}")
        self.assertEqual(answer.status_code, 200, answer.content[:200])
        return answer.content

    def line(self, **more):
        given = {
            "tag": "X-1",
            "serial": "S-1",
            "description": "Feed",
            "area": "Boiler house",
            "loop_role": "control",
            "input_unit": "kPa",
            "input_lower": "0",
            "input_upper": "400",
            "output_unit": "mA",
            "output_lower": "4",
            "output_upper": "20",
            "tolerance.percent_of_span": "0.5",
            "tolerance_source": "data sheet",
            "method": "pressure_transmitter",
            "next_due": self.due,
            **more,
        }
        return {k: v for k, v in given.items() if v is not None}

    def file(self, *lines):
        names = list(dict.fromkeys(n for line in lines for n in line))
        return write_csv(names, [[line.get(n, "") for n in names] for line in lines])


class Fates(Lists):
    def test_each_row_says_what_becomes_of_it_and_nothing_is_written_before(self):
        known = self.line(tag="PT-1", serial="S-77", description="Drum pressure", smart="yes")
        file = self.file(
            self.line(),
            {**known, "input_upper": "4500", "indicated": "yes"},
            self.line(tag="X-2", input_upper="ten"),
            self.line(tag="X-1"),
            self.line(tag=""),
        )
        said = self.looked(file)
        fates = {(r["row"], r["key"]): r for r in said["rows"]}
        self.assertEqual(fates[2, "X-1"]["fate"], "new")
        self.assertEqual(fates[3, "PT-1"]["fate"], "changed")
        differs = {d["column"]: (d["before"], d["after"]) for d in fates[3, "PT-1"]["differs"]}
        self.assertEqual(differs["input_upper"], ("4000", "4500"))
        self.assertEqual(fates[4, "X-2"]["wrong"][0]["field"], "input_upper")
        self.assertIn("row 2", fates[5, "X-1"]["wrong"][0]["message"])
        self.assertEqual(fates[6, ""]["wrong"][0]["field"], "tag")
        self.assertEqual(said["sums"], {"refused": 3, "changed": 1, "new": 1, "unchanged": 0})
        self.assertEqual(Instrument.objects.count(), 1)
        # Not even with its mark, while a row is refused.
        refused = self.looked(file, accept=said["mark"])["refused"]
        self.assertEqual(refused["code"], "list.changed")
        self.assertEqual(Instrument.objects.count(), 1)

    def test_what_was_looked_at_is_stored_as_a_whole(self):
        file = self.file(self.line(), self.line(tag="X-2", area="New hall"))
        said = self.stored(file)
        self.assertTrue(said["kept"])
        self.assertEqual(said["sums"]["new"], 2)
        two = Instrument.objects.get(tag="X-2")
        self.assertEqual((two.area.name, str(two.plan.next_due)), ("New hall", self.due))
        self.assertEqual(two.changes.get().by, "Pia Test")
        self.assertEqual(self.looked(file)["sums"]["unchanged"], 2)
        self.open("X-2")

    def test_the_register_knows_who_brought_a_list_in(self):
        before = Entry.objects.count()
        self.stored(self.file(self.line(), self.line(tag="X-2", area="New hall")))
        written = Entry.objects.order_by("pk")[before:]
        self.assertGreater(len(written), 4)
        self.assertEqual({entry.account for entry in written}, {"pia"})

    def test_an_area_that_is_only_spelled_otherwise_is_no_new_one(self):
        long = self.line(tag="X-2", area="H" * 81)
        said = self.looked(self.file(self.line(area="boiler House"), long))
        fields = [row["wrong"][0]["field"] for row in said["rows"]]
        self.assertEqual(fields, ["area", "area"])

    def test_a_plant_that_changed_meanwhile_stops_it(self):
        file = self.file(self.line())
        mark = self.looked(file)["mark"]
        self.stored(file)
        self.assertEqual(self.looked(file, accept=mark)["refused"]["code"], "list.changed")

    def meanwhile(self, tag):
        """Somebody changes an instrument while a list of PT-1 is being stored; return what came."""
        file = "tag,maker\nPT-1,Elsewhere\n"
        mark = self.looked(file)["mark"]
        judge = Instruments.judge

        def slowly(*given):
            yield from judge(*given)
            Instrument.objects.filter(tag=tag).update(maker="Theirs")

        with mock.patch.object(Instruments, "judge", slowly):
            return self.looked(file, accept=mark)

    def test_what_somebody_changes_while_it_is_stored_is_not_written_over(self):
        said = self.meanwhile("PT-1")
        self.assertEqual((said["kept"], said["sums"]["skipped"]), (True, 1))
        self.assertEqual(Instrument.objects.get(tag="PT-1").maker, "Theirs")
        one = self.must(self.pia.get("/api/v1/lists/brought"))[0]
        self.assertEqual((one["state"], one["skipped"]), ("done", ["PT-1"]))

    def test_another_instrument_may_be_changed_while_a_list_is_stored(self):
        works.instrument("PT-9")
        self.assertTrue(self.meanwhile("PT-9")["kept"])
        self.assertEqual(Instrument.objects.get(tag="PT-1").maker, "Elsewhere")

    def test_what_somebody_changes_while_it_stands_still_is_theirs_when_it_goes_on(self):
        works.instrument("PT-2")
        file = "tag,maker\nPT-1,Elsewhere\nPT-2,Elsewhere\n"
        mark = self.looked(file)["mark"]
        store = Instruments.store

        def first_alone(kind, rows, *more):
            yield from store(kind, rows[:1], *more)
            Brought.objects.update(stop=True)

        with (
            mock.patch("verifyloop.lists.storing.LOT", 1),
            mock.patch.object(Instruments, "store", first_alone),
        ):
            self.assertEqual(self.looked(file, accept=mark)["refused"]["code"], "list.stopped")
        Instrument.objects.filter(tag="PT-2").update(maker="Theirs")
        number = self.must(self.pia.get("/api/v1/lists/brought"))[0]["number"]
        self.must(self.pia.post(f"/api/v1/lists/brought/{number}/go-on"))
        one = self.must(self.pia.get("/api/v1/lists/brought"))[0]
        self.assertEqual((one["state"], one["done"], one["skipped"]), ("done", 1, ["PT-2"]))
        self.assertEqual(Instrument.objects.get(tag="PT-2").maker, "Theirs")

    def test_a_fault_of_the_server_leaves_a_list_that_may_go_on(self):
        file = "tag,maker\nPT-1,Elsewhere\n"
        mark = self.looked(file)["mark"]
        fault = mock.patch.object(Instruments, "store", side_effect=OperationalError("locked"))
        with fault, self.assertLogs("verifyloop.lists", "ERROR"):
            self.assertEqual(self.looked(file, accept=mark)["refused"]["code"], "list.stopped")
        one = self.must(self.pia.get("/api/v1/lists/brought"))[0]
        self.assertIn("fault of the server", one["why"])
        self.must(self.pia.post(f"/api/v1/lists/brought/{one['number']}/go-on"))
        self.assertEqual(Instrument.objects.get(tag="PT-1").maker, "Elsewhere")

    def test_what_a_list_entered_and_nobody_used_is_taken_back(self):
        lines = [self.line(tag=f"X-{n}", serial=str(n)) for n in range(5)]
        self.stored(self.file(self.line(tag="PT-1", maker="Elsewhere"), *lines))
        self.open("X-3")
        number = self.must(self.pia.get("/api/v1/lists/brought"))[0]["number"]
        path = f"/api/v1/lists/brought/{number}/take-back"
        self.must(self.ana.post(path, {"reason": "wrong file"}, JSON), 403)
        self.assertEqual(
            self.must(self.pia.post(path, {"reason": " "}, JSON), 422)["field"], "reason"
        )
        said = self.must(self.pia.post(path, {"reason": "wrong file"}, JSON))
        self.assertEqual((said["taken_back"], said["kept"]), (4, ["X-3"]))
        self.assertFalse(said["may_take_back"] or said["may_go_on"])
        self.assertEqual(
            list(Instrument.objects.order_by("tag").values_list("tag", flat=True)), ["PT-1", "X-3"]
        )
        # What it changed stays changed, and the register knows of all of it.
        self.assertEqual(Instrument.objects.get(tag="PT-1").maker, "Elsewhere")
        self.assertEqual([f.what for f in check_all()], [])
        self.must(self.pia.post(path, {"reason": "again"}, JSON), 409)

    def test_a_column_that_is_not_there_leaves_what_there_is(self):
        said = self.stored("tag,maker\nPT-1,Elsewhere\n")
        self.assertEqual(said["sums"]["changed"], 1)
        one = Instrument.objects.get(tag="PT-1")
        self.assertEqual((one.maker, one.input_upper, one.smart), ("Elsewhere", "4000", True))
        noted = Change.objects.get(instrument=one)
        self.assertEqual(
            (noted.field, noted.reason), ("maker", f"list {Brought.objects.get().pk}, list.csv")
        )

    def test_a_moved_due_date_is_a_change_of_the_plan(self):
        day = str(timezone.localdate() + timedelta(days=30))
        self.stored(f"tag,next_due\nPT-1,{day}\n")
        self.assertEqual(str(Instrument.objects.get(tag="PT-1").plan.next_due), day)

    def test_a_heading_of_the_plants_own_is_asked_once(self):
        file = "tag,Producer\nPT-1,Elsewhere\n"
        said = self.looked(file)
        self.assertEqual(said["unknown"], ["Producer"])
        sent = {"heading": "Producer", "column": "maker"}
        address = "/api/v1/lists/instruments/synonyms"
        self.must(self.pia.post(address, sent, content_type=JSON))
        self.assertEqual(self.looked(file)["sums"]["changed"], 1)
        self.assertEqual(Synonym.objects.get().column, "maker")
        sent = {"heading": "Colour", "column": ""}
        self.must(self.pia.post(address, sent, content_type=JSON))
        file = "tag,Producer,Colour\nPT-1,Elsewhere,red\n"
        self.assertEqual(self.looked(file)["sums"]["changed"], 1)
        sent = {"heading": "X", "column": "nonsense"}
        self.assertEqual(self.pia.post(address, sent, content_type=JSON).status_code, 422)

    def test_labels_of_the_form_are_known_as_headings(self):
        said = self.looked("Tag,Who made it\nPT-1,Elsewhere\n")
        self.assertEqual(said["sums"]["changed"], 1)

    def test_who_may_not_set_up_brings_nothing_in(self):
        for name in ("ana", "rea"):
            said = self.bring(self.file(self.line()), client=self.client_of(name))
            self.assertEqual(said[0]["refused"]["code"], "role.not_allowed")
        self.assertEqual(self.ana.get("/api/v1/lists/people/list.csv").status_code, 403)
        self.assertFalse(Instrument.objects.filter(tag="X-1").exists())

    def test_how_far_it_is_comes_line_by_line(self):
        lines = [self.line(tag=f"X-{n}", serial=str(n)) for n in range(450)]
        said = self.bring(self.file(*lines))
        done = [x["done"] for x in said if "done" in x]
        self.assertEqual(done, [0, 200, 400])
        said = self.bring(self.file(*lines), accept=said[-1]["mark"])
        self.assertIn({"doing": "writing", "done": 450, "total": 450}, said)
        self.assertEqual(Instrument.objects.filter(tag__startswith="X-").count(), 450)


class BadFiles(Lists):
    def workbook(self, change):
        book = Workbook()
        sheet = book.active
        sheet.append(list(self.line()))
        sheet.append(list(self.line().values()))
        change(sheet)
        out = io.BytesIO()
        book.save(out)
        return out.getvalue()

    def nested(self):
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
            packed.writestr("xl/workbook.xml", "<x/>")
            packed.writestr("xl/bomb.xml", b"\0" * 210_000_000)
        return out.getvalue()

    def test_each_says_what_is_wrong_and_nothing_is_written(self):
        before = Instrument.objects.count()
        latin = "tag,description\nX-1,Kühlwasser\n".encode("latin-1")
        other_zip = io.BytesIO()
        with zipfile.ZipFile(other_zip, "w") as packed:
            packed.writestr("inner.zip", self.nested())
        for code, content, name in (
            ("file.encoding", latin, "list.csv"),
            ("file.merged", self.workbook(lambda s: s.merge_cells("A2:B2")), "list.xlsx"),
            ("file.formula", self.workbook(lambda s: s.__setitem__("C2", "=1+1")), "list.xlsx"),
            ("file.error", self.workbook(lambda s: s.__setitem__("C2", "#DIV/0!")), "list.xlsx"),
            ("file.too_large", b"tag\n" + b"x" * 21 * 1024 * 1024, "list.csv"),
            ("file.bomb", self.nested(), "list.xlsx"),
            ("file.kind", other_zip.getvalue(), "list.xlsx"),
            ("file.damaged", b"PK\x03\x04 and then nothing", "list.xlsx"),
            ("file.kind", b"tag\n\x00\x01", "list.csv"),
            ("file.empty", b"", "list.csv"),
            ("file.empty", b"\n\n,,\n", "list.csv"),
            ("file.ragged", b"tag,maker\nX-1,One, two\n", "list.csv"),
            ("file.column_twice", b"tag,maker,who made it\nX-1,a,b\n", "list.csv"),
            ("file.too_long", b"tag\n" + b"x\n" * 50_002, "list.csv"),
        ):
            with self.subTest(code=code):
                said = self.bring(content, name=name)[-1]["refused"]
                self.assertEqual((said["code"], said["field"]), (code, "file"))
                self.assertTrue(said["remedy"])
        self.assertEqual(Instrument.objects.count(), before)

    def test_each_wrong_row_names_its_field_and_a_remedy(self):
        for field, change in (
            ("input_upper", {"input_upper": "-5"}),
            ("input_unit", {"input_unit": "KPA"}),
            ("input_upper", {"input_upper": "1.234,5"}),
            ("loop_role", {"loop_role": "maybe"}),
            ("smart", {"smart": "perhaps"}),
            ("method", {"method": "no such"}),
            ("method", {"method": "temperature_sensor"}),
            ("next_due", {"next_due": "soon"}),
            ("own.channels", {"own.channels": "not JSON"}),
            ("own", {"own.cells": "4"}),
            ("serial", {"serial": None}),
        ):
            with self.subTest(field=field, change=change):
                said = self.looked(self.file(self.line(**change)))
                row = said["rows"][0]
                self.assertEqual(row["fate"], "refused", row)
                self.assertEqual(row["wrong"][0]["field"], field)
                self.assertTrue(row["wrong"][0]["message"])

    def test_a_decimal_comma_is_a_decimal_comma(self):
        file = self.file(self.line(**{"tolerance.percent_of_span": "0,5", "input_upper": "12,50"}))
        self.stored(file)
        one = Instrument.objects.get(tag="X-1")
        self.assertEqual((one.input_upper, one.tolerance["percent_of_span"]), ("12.50", "0.5"))

    def test_numbers_and_days_of_a_spreadsheet(self):
        def numbers(sheet):
            names = [c.value for c in sheet[1]]
            sheet.cell(2, names.index("input_upper") + 1, 400)
            sheet.cell(2, names.index("tolerance.percent_of_span") + 1, 0.1)
            due = timezone.localdate() + timedelta(days=3)
            sheet.cell(2, names.index("next_due") + 1, due)

        self.stored(self.workbook(numbers), name="list.xlsx")
        one = Instrument.objects.get(tag="X-1")
        self.assertEqual((one.input_upper, one.tolerance["percent_of_span"]), ("400", "0.1"))
        self.assertEqual(str(one.plan.next_due), self.due)

    def test_text_that_looks_like_a_formula_stays_text(self):
        self.stored(self.file(self.line(description="=1+1")))
        sheet = load_workbook(io.BytesIO(self.out("instruments", "xlsx"))).active
        cells = [c for row in sheet.iter_rows() for c in row if c.value == "=1+1"]
        self.assertEqual([c.data_type for c in cells], ["s"])
        self.assertEqual(self.looked(write_xlsx([("a", ["tag"], [["PT-1"]])]))["sums"]["new"], 0)

    def test_no_cell_of_a_csv_acts_in_a_spreadsheet_and_all_are_read_back_as_they_were(self):
        acts = "=HYPERLINK(0)", "@cmd", "+x", "-y", "\t=1", "'=quoted", "''@twice"
        still = "-12.5", "+3", "'s own", "plain"
        made = write_csv(["a"], [[text] for text in (*acts, *still)]).decode("utf-8-sig")
        cells = [row[0] for row in csv.reader(io.StringIO(made))][1:]
        for cell in cells[: len(acts)]:
            self.assertEqual(cell[0], "'")
        self.assertEqual(cells[len(acts) :], list(still))
        back = read_sheet("list.csv", made.encode())
        self.assertEqual([row[0] for row in back.rows], [*acts, *still])


class RoundTrip(Lists):
    def every_kind(self):
        for number, template in enumerate(templates()):
            form = self.form(template.id)
            self.must(self.add(form, copy.deepcopy(self.typed(form, f"X-{number:02}"))))

    def test_out_and_in_changes_nothing(self):
        self.every_kind()
        for kind in ("instruments", "results", "references", "cylinders", "people"):
            for form in ("csv", "xlsx"):
                with self.subTest(kind=kind, form=form):
                    file = self.out(kind, form)
                    said = self.looked(file, kind=kind, name=f"list.{form}")
                    if said.get("sums"):
                        self.assertEqual(said["sums"]["changed"], 0, said["rows"][:2])
                        self.assertEqual(said["sums"]["new"], 0)
                        self.assertEqual(said["sums"]["refused"], 0)

    def test_into_an_empty_plant_and_out_again_is_the_same_file(self):
        self.every_kind()
        for comma in (".", ","):
            Site.objects.update_or_create(pk=1, defaults={"name": "W", "decimal_sign": comma})
            for form in ("csv", "xlsx"):
                with self.subTest(form=form, comma=comma):
                    file = self.out("instruments", form)
                    Change.objects.all().delete()
                    Instrument.objects.all().delete()
                    Area.objects.all().delete()
                    said = self.stored(file, name=f"list.{form}")
                    self.assertTrue(said["kept"], said)
                    again = self.out("instruments", form)
                    self.assertEqual(rows_of(again), rows_of(file))

    def test_people_come_without_passwords(self):
        file = "username,first_name,last_name,role\nnoor,Noor,New,reviewer\n"
        said = self.stored(file, kind="people")
        self.assertTrue(said["kept"])
        noor = User.objects.get(username="noor")
        self.assertFalse(noor.has_usable_password())
        self.assertEqual([g.name for g in noor.groups.all()], ["reviewer"])
        self.assertNotIn(b"password", self.out("people"))
        said = self.looked("username,first_name\nana,Bea\n", kind="people")
        self.assertEqual(said["rows"][0]["wrong"][0]["field"], "first_name")

    def test_a_template_explains_every_column(self):
        for kind in ("instruments", "results", "references", "cylinders", "people"):
            answer = self.pia.get(f"/api/v1/lists/{kind}/template.xlsx")
            book = load_workbook(io.BytesIO(answer.content))
            names = [c.value for c in book.worksheets[0][1]]
            explained = [row[0].value for row in book["Columns"].iter_rows(min_row=2)]
            self.assertEqual(names, explained)
        self.assertEqual(self.pia.get("/api/v1/lists/instruments/list.exe").status_code, 404)
        self.assertEqual(self.pia.get("/api/v1/lists/nothing/list.csv").status_code, 404)


def rows_of(content):
    """Return the cells of a file; what a workbook says of itself has a time in it."""
    if content[:2] != b"PK":
        return content
    sheet = load_workbook(io.BytesIO(content)).active
    return [[c.value for c in row] for row in sheet.iter_rows()]


class KitLists(Lists, KitForms):
    def test_every_kind_out_into_an_empty_kit_and_out_again(self):
        for number, kind in enumerate(kit_kinds()):
            form = self.form_of_kit(kind.id)
            self.must(self.add_kit(kind.id, self.typed_kit(form, f"K-{number:02}")))
        for kind in ("references", "cylinders"):
            for form in ("csv", "xlsx"):
                with self.subTest(kind=kind, form=form):
                    file = self.out(kind, form)
                    said = self.looked(file, kind=kind, name=f"list.{form}")
                    self.assertEqual(said["sums"]["unchanged"], sum(said["sums"].values()))
                    Reference.objects.all().delete()
                    held = list(Cylinder.objects.values_list("asset", flat=True))
                    Cylinder.objects.all().delete()
                    self.assertTrue(self.stored(file, kind=kind, name=f"list.{form}")["kept"])
                    self.assertEqual(rows_of(self.out(kind, form)), rows_of(file))
                    if kind == "cylinders":
                        again = list(Cylinder.objects.values_list("asset", flat=True))
                        self.assertEqual(again, held)
