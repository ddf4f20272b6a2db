"""Finding instruments by how they stand, and changing many at once: all of them or none."""

from __future__ import annotations

import io
from datetime import date, timedelta

from django.utils import timezone
from openpyxl import load_workbook

from tests.server import detectors, works
from tests.server.base import ApiCase
from verifyloop.accounts.models import View
from verifyloop.plant.bulk_plans import days_between
from verifyloop.plant.models import Area, Change, Instrument, Plan
from verifyloop.work.due import DueRow, paged

JSON = "application/json"


class Many(ApiCase):
    def setUp(self):
        super().setUp()
        self.pia = self.client_of("pia")
        self.today = timezone.localdate()
        for n in range(2, 6):
            works.instrument(f"PT-{n}", next_due=self.today + timedelta(days=60 * n))
        self.tags = [f"PT-{n}" for n in range(1, 6)]

    def found(self, **asked):
        said = self.must(self.ana.get("/api/v1/instruments", asked))
        return [f["tag"] for f in said["found"]]

    def post(self, path, those, client=None, **body):
        sent = {"those": those, "first": str(self.today), "reason": "campaign", **body}
        return (client or self.pia).post(f"/api/v1/together/{path}", sent, content_type=JSON)

    def named(self, *tags, count=None):
        return {"tags": list(tags), "count": len(tags) if count is None else count}

    def test_how_they_stand(self):
        Instrument.objects.filter(tag="PT-2").update(last_mark_left="outside", last_on=self.today)
        Instrument.objects.filter(tag="PT-3").update(out_of_service={"since": "x"})
        Plan.objects.filter(instrument__tag="PT-4").update(next_due=None)
        late = self.today - timedelta(days=1)
        Plan.objects.filter(instrument__tag="PT-5").update(next_due=late)
        for state, tags in (
            ("outside", ["PT-2"]),
            ("out", ["PT-3"]),
            ("undated", ["PT-4"]),
            ("overdue", ["PT-5"]),
            ("due", ["PT-1", "PT-5"]),
            ("unchecked", ["PT-1", "PT-3", "PT-4", "PT-5"]),
        ):
            self.assertEqual(self.found(state=state), tags, state)
        said = self.must(self.ana.get("/api/v1/instruments?state=perhaps"), 422)
        self.assertEqual((said["code"], said["field"]), ("state.unknown", "state"))
        self.assertEqual(self.must(self.ana.get("/api/v1/today"))["undated"], 1)

    def test_by_kind_and_area(self):
        detectors.detector("GD-1", "gas_zero_span")
        said = self.must(self.ana.get("/api/v1/instruments"))
        kind = next(k for k in said["kinds"] if "gas" in k.lower())
        self.assertEqual(self.found(kind=kind), ["GD-1"])
        area = Area.objects.get(instruments__tag="PT-1").name
        self.assertIn("PT-1", self.found(area=area))
        self.assertEqual(self.found(area="nowhere"), [])

    def test_days_are_spread_in_the_order_of_the_round(self):
        last = self.today + timedelta(days=40)
        said = self.must(self.post("due", self.named(*self.tags), last=str(last)))
        self.assertEqual(said["count"], 5)
        plans = Plan.objects.filter(instrument__tag__in=self.tags).order_by("instrument__tag")
        days = [(p.next_due - self.today).days for p in plans]
        self.assertEqual(days, [0, 10, 20, 30, 40])
        self.assertEqual(Change.objects.filter(reason="campaign").count(), 5)
        self.assertIn("moved by Pia Test", plans[0].due_reason)

    def test_spread_evenly(self):
        first = date(2026, 1, 1)
        self.assertEqual(days_between(1, first, date(2026, 3, 1)), [first])
        found = days_between(300, first, date(2026, 12, 31))
        self.assertEqual((found[0], found[-1]), (first, date(2026, 12, 31)))
        self.assertEqual(found, sorted(found))
        self.assertLessEqual(max(found.count(d) for d in set(found)), 2)

    def test_all_that_fit_and_not_one_more(self):
        find = {"q": "pt-"}
        said = self.must(self.post("due", {"find": find, "count": 4}), 409)
        self.assertEqual(said["code"], "those.changed")
        self.assertFalse(Change.objects.exists())
        self.assertEqual(self.must(self.post("due", {"find": find, "count": 5}))["count"], 5)

    def test_all_or_none(self):
        for those, field in (
            (self.named("PT-1", "NO-1"), "tags"),
            (self.named(count=0), "tags"),
        ):
            self.assertEqual(self.must(self.post("due", those), 422)["field"], field)
        both = self.named("PT-1", "PT-2")
        for body, field in (
            ({"reason": " "}, "reason"),
            ({"first": str(self.today - timedelta(days=1))}, "due"),
            ({"last": "9999-12-31"}, "due"),
            ({"first": str(self.today + timedelta(days=9)), "last": str(self.today)}, "last"),
        ):
            self.assertEqual(self.must(self.post("due", both, **body), 422)["field"], field, body)
        self.assertFalse(Change.objects.exists())

    def test_a_method_for_many_beside_or_instead(self):
        said = self.must(
            self.pia.post("/api/v1/together/methods", self.named(*self.tags), content_type=JSON)
        )
        offered = {m["id"]: (m["fits"], m["planned"]) for m in said}
        self.assertEqual(offered["pressure_transmitter"], (5, 5))
        self.assertEqual(offered["smart_transmitter"], (5, 0))
        body = {"method": "smart_transmitter", "instead": "pressure_transmitter"}
        self.assertEqual(self.must(self.post("plans", self.named("PT-1"), **body))["count"], 1)
        plans = Instrument.objects.get(tag="PT-1").plans.values_list("method", flat=True)
        self.assertEqual(list(plans), ["smart_transmitter"])
        body = {"method": "smart_transmitter"}
        self.assertEqual(self.must(self.post("plans", self.named(*self.tags), **body))["count"], 4)
        self.assertEqual(Instrument.objects.get(tag="PT-2").plans.count(), 2)
        said = self.must(self.post("plans", self.named(*self.tags), **body), 422)
        self.assertEqual(said["code"], "plan.there")

    def test_one_that_does_not_fit_stops_all_and_is_named(self):
        detectors.detector("GD-1", "gas_zero_span")
        body = {"method": "smart_transmitter"}
        said = self.must(self.post("plans", self.named("PT-1", "GD-1"), **body), 422)
        self.assertIn("GD-1", said["message"])
        self.assertEqual(Instrument.objects.get(tag="PT-1").plans.count(), 1)

    def test_files_of_those_that_are_chosen(self):
        book = self.pia.get("/api/v1/lists/instruments/list.xlsx?tags=PT-2&tags=PT-4").content
        sheet = load_workbook(io.BytesIO(book)).active
        self.assertEqual([row[0].value for row in sheet.iter_rows(min_row=2)], ["PT-2", "PT-4"])
        book = self.pia.get("/api/v1/lists/instruments/list.csv?q=pt-3").content.decode()
        self.assertIn("PT-3", book)
        self.assertNotIn("PT-2", book)
        self.assertEqual(
            self.pia.get("/api/v1/sheets/labels/instruments?tags=PT-2").status_code, 200
        )


class Views(ApiCase):
    def keep(self, client=None, **more):
        body = {"place": "instruments", "name": "Late", "query": "state=overdue", **more}
        return (client or self.ana).post("/api/v1/views", body, content_type=JSON)

    def test_a_view_is_its_persons(self):
        kept = self.must(self.keep())
        self.must(self.keep(query="state=due"))
        self.assertEqual(View.objects.get().query, "state=due")
        ben = self.client_of("ben")
        self.assertEqual(self.must(ben.get("/api/v1/views")), [])
        self.assertEqual(ben.delete(f"/api/v1/views/{kept['id']}").status_code, 404)
        self.must(self.ana.delete(f"/api/v1/views/{kept['id']}"))
        self.assertFalse(View.objects.exists())

    def test_what_cannot_be_kept(self):
        self.assertEqual(self.must(self.keep(name=" "), 422)["field"], "name")
        self.must(self.keep(query="x" * 401), 422)
        for n in range(40):
            self.must(self.keep(name=f"V{n}"))
        self.assertEqual(self.must(self.keep(name="one more"), 422)["code"], "view.too_many")


class Pages(ApiCase):
    def rows(self, *areas):
        return [
            DueRow(n, f"X-{n}", "", area, 0, None, False, "", "")
            for n, area in enumerate(a for area, count in areas for a in [area] * count)
        ]

    def test_an_area_is_walked_whole_where_it_fits_a_page(self):
        pages = paged(self.rows(("a", 30), ("b", 15), ("c", 20), ("d", 120), ("e", 5)), 50)
        self.assertEqual([len(p) for p in pages], [45, 20, 50, 50, 25])
        self.assertEqual([{r.area for r in p} for p in pages][:2], [{"a", "b"}, {"c"}])
        self.assertEqual(paged([], 50), [[]])

    def test_today_goes_page_by_page(self):
        today = timezone.localdate()
        for n in range(2, 62):
            works.instrument(f"PT-{n}", next_due=today)
        said = self.must(self.ana.get("/api/v1/today"))
        self.assertEqual((said["total"], said["pages"], said["due_today"]), (61, 2, 61))
        first = {d["tag"] for a in said["areas"] for d in a["due"]}
        said = self.must(self.ana.get("/api/v1/today?page=2"))
        second = {d["tag"] for a in said["areas"] for d in a["due"]}
        self.assertEqual((len(first), len(second), len(first | second)), (40, 21, 61))
        said = self.must(self.ana.get("/api/v1/today?q=pt-61&page=9"))
        self.assertEqual((said["total"], said["page"], said["due_today"]), (1, 1, 61))
        self.assertEqual(self.must(self.ana.get("/api/v1/today?only=failed"))["total"], 0)
        self.assertEqual(self.ana.get("/api/v1/today?only=perhaps").status_code, 422)
