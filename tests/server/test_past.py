"""Results from before: what their papers say, what follows of it, and what is refused."""

from __future__ import annotations

from datetime import date, timedelta
from decimal import Decimal

from django.utils import timezone

from calibration.setup.past import PastForm, marks, wrong_past
from tests.server.test_lists import Lists
from verifyloop.plant.models import Change, Instrument, PastResult
from verifyloop.records.verify import check_all

TODAY = date(2026, 6, 1)
HEAD = "tag,day,report,found_error,left_error,limit,found,left\n"


class Papers(Lists):
    def bring_along(self, *lines):
        return self.stored(HEAD + "\n".join(lines) + "\n", kind="results")

    def refused(self, line):
        said = self.looked(HEAD + line + "\n", kind="results")
        return said["rows"][0]["wrong"][0]

    def past(self, tag="PT-1"):
        return self.pia.get(f"/api/v1/instruments/{tag}").json()["past"]

    def test_a_history_is_there_on_the_first_day(self):
        said = self.bring_along(
            "PT-1,2024-03-01,C-1,0.21,,0.5,,",
            "PT-1,2025-03-02,C-2,-0.62,0.05,0.5,,",
            "PT-1,2026-03-01,C-3,0.30,,0.5,within,",
        )
        self.assertEqual(said["sums"]["new"], 3)
        found = self.past()
        self.assertEqual([p["paper"] for p in found], ["C-3", "C-2", "C-1"])
        self.assertEqual([p["mark_found"] for p in found], ["within", "outside", "within"])
        self.assertEqual((found[1]["found_error"], found[1]["left_error"]), (-0.62, 0.05))
        self.assertEqual((found[1]["adjusted"], found[1]["max_found"]), (True, "−0.62 %"))
        self.assertIn("brought in by Pia Test", found[0]["brought"])
        self.assertTrue(all(p["in_picture"] and not p["job"] for p in found))
        one = Instrument.objects.get(tag="PT-1")
        self.assertEqual((str(one.last_on), one.last_mark_left), ("2026-03-01", "within"))
        self.assertFalse(list(check_all()))

    def test_no_paper_of_ours_is_made_of_it(self):
        self.bring_along("PT-1,2026-03-01,C-3,0.30,,0.5,,")
        self.assertEqual(self.pia.get("/api/v1/records").json()["total"], 0)

    def test_a_plan_without_a_day_gets_one_and_a_plan_with_one_keeps_it(self):
        with_day = self.line(tag="X-2")
        self.stored(
            self.file(
                self.line(tag="X-1", next_due=""), with_day, self.line(tag="X-3", next_due="")
            )
        )
        self.assertIsNone(Instrument.objects.get(tag="X-1").plan.next_due)
        self.bring_along(
            "X-1,2026-03-01,C-1,0.1,,0.5,,",
            "X-2,2026-03-01,C-2,0.1,,0.5,,",
            "X-3,2026-03-01,C-3,0.9,,0.5,,",
        )
        plans = {i.tag: i.plan for i in Instrument.objects.filter(tag__startswith="X-")}
        days = plans["X-1"].next_due - date(2026, 3, 1)
        self.assertIn(f"{days.days} days after 2026-03-01", plans["X-1"].due_reason)
        self.assertIn("paper C-1", plans["X-1"].due_reason)
        self.assertEqual(str(plans["X-2"].next_due), self.due)
        self.assertEqual(plans["X-3"].next_due, timezone.localdate())
        self.assertIn("left outside", plans["X-3"].due_reason)

    def test_an_older_paper_does_not_count_over_a_newer_one(self):
        self.bring_along("PT-1,2026-03-01,C-3,0.9,,0.5,,")
        self.bring_along("PT-1,2025-03-01,C-2,0.1,,0.5,,")
        one = Instrument.objects.get(tag="PT-1")
        self.assertEqual((str(one.last_on), one.last_mark_left), ("2026-03-01", "outside"))

    def test_a_result_that_is_put_right_says_what_it_was(self):
        self.bring_along("PT-1,2026-03-01,C-3,0.9,,0.5,,")
        said = self.bring_along("PT-1,2026-03-01,C-3,0.09,,0.5,,")
        self.assertEqual(said["sums"]["changed"], 1)
        change = Change.objects.get(field__startswith="result of 2026-03-01")
        self.assertEqual((change.before, change.after), ("0.9", "0.09"))
        self.assertEqual(Instrument.objects.get(tag="PT-1").last_mark_left, "within")

    def test_what_cannot_be_is_refused_beside_its_column(self):
        later = timezone.localdate() + timedelta(days=1)
        for line, field in (
            ("PT-9,2026-03-01,C-1,0.1,,0.5,,", "tag"),
            ("PT-1,20260301,C-1,0.1,,0.5,,", "day"),
            (f"PT-1,{later},C-1,0.1,,0.5,,", "day"),
            ("PT-1,,C-1,0.1,,0.5,,", "day"),
            ("PT-1,2026-03-01,C-1,,,,,", "found_error"),
            ("PT-1,2026-03-01,C-1,0.1,,-0.5,,", "limit"),
            ("PT-1,2026-03-01,C-1,a lot,,0.5,,", "found_error"),
            ("PT-1,2026-03-01,C-1,0.7,,0.5,within,", "found"),
            ("PT-1,2026-03-01,C-1,0.7,0.6,0.5,,within", "left"),
            ("PT-1,2026-03-01,C-1,0.7,,0.5,perhaps,", "found"),
        ):
            with self.subTest(line=line):
                self.assertEqual(self.refused(line)["field"], field)
        self.assertEqual(PastResult.objects.count(), 0)

    def test_the_same_paper_twice_is_one_too_many(self):
        line = "PT-1,2026-03-01,C-1,0.1,,0.5,,"
        said = self.looked(HEAD + line + "\n" + line + "\n", kind="results")
        self.assertEqual(said["sums"]["refused"], 1)
        other = line.replace("C-1", "C-2")
        said = self.looked(HEAD + line + "\n" + other + "\n", kind="results")
        self.assertEqual(said["sums"]["new"], 2)

    def test_out_and_in_changes_nothing_and_into_an_empty_list_is_the_same(self):
        self.bring_along(
            "PT-1,2024-03-01,C-1,0.210,,0.5,,",
            "PT-1,2025-03-02,,-0.62,0.05,0.5,,within",
        )
        for form in ("csv", "xlsx"):
            file = self.out("results", form)
            said = self.looked(file, kind="results", name=f"list.{form}")
            self.assertEqual(said["sums"]["unchanged"], 2)
        file = self.out("results")
        PastResult.objects.all().delete()
        self.stored(file, kind="results")
        self.assertEqual(self.out("results"), file)


class Marks(Lists):
    def marks(self, **said):
        decimals = ("found_error", "left_error", "limit")
        given = {k: Decimal(v) if k in decimals else v for k, v in said.items()}
        return marks(PastForm(tag="X", day="2025-01-01", **given))

    def test_nothing_is_better_than_its_paper(self):
        self.assertEqual(self.marks(found_error="0.5", limit="0.5"), ("within", "within"))
        self.assertEqual(self.marks(found_error="0.6", limit="0.5"), ("outside", "outside"))
        # Without a limit nobody knows, adjusted or not.
        self.assertEqual(self.marks(found_error="0.6"), ("", ""))
        self.assertEqual(
            self.marks(found_error="0.6", left_error="0", found="outside"), ("outside", "")
        )
        # A paper may say worse than its figure, for what else was wrong.
        self.assertEqual(self.marks(found_error="0.1", limit="0.5", found="outside")[0], "outside")
        record = {"tag": "X", "day": "2025-01-01", "found_error": "0.1", "limit": "0.5"}
        self.assertEqual(wrong_past({**record, "found": "outside"}, TODAY), [])
