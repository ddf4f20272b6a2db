"""Limits by method and by instrument: versions, sources, and what running jobs keep."""

from datetime import timedelta

from django.utils import timezone

from tests.server import families, works
from tests.server.base import ApiCase
from verifyloop.plant.models import Change, SiteRule
from verifyloop.register.kept import version_of


class Rules(ApiCase):
    def change(self, client=None, method="pressure_transmitter", **body):
        data = {"key": "adjust_share", "value": "60", "source": "procedure 7", **body}
        data.setdefault("version", SiteRule.objects.filter(key=data["key"]).count())
        return (client or self.client_of("pia")).post(
            f"/api/v1/methods/{method}/rules", data, content_type="application/json"
        )

    def limit(self, state, name):
        return next(x for x in state["limits"] if x["id"] == name)

    def test_a_rule_counts_for_new_jobs_and_running_ones_keep_theirs(self):
        before = self.open()
        self.must(self.change())
        works.instrument("PT-2")
        after = self.open("PT-2")
        self.assertEqual(self.limit(self.state(before), "adjust_share")["value"], "70")
        new = self.limit(self.state(after), "adjust_share")
        self.assertEqual((new["value"], new["source"]), ("60", "procedure 7, version 1"))
        since = self.client_of("ana").get(f"/api/v1/jobs/{before}/changed").json()
        self.assertEqual(
            since, [{"id": "adjust_share", "now": "60 %", "source": "procedure 7, version 1"}]
        )
        self.assertEqual(self.client_of("ana").get(f"/api/v1/jobs/{after}/changed").json(), [])

    def test_every_change_is_a_version_and_an_empty_one_goes_back(self):
        self.must(self.change())
        self.must(self.change(value="80", source="meeting"))
        said = self.must(self.change(value="", source="withdrawn"))
        found = next(p for p in said["parameters"] if p["id"] == "adjust_share")
        self.assertEqual((found["value"], found["source"]), ("70", "product default"))
        self.assertEqual([h["version"] for h in found["history"]], [3, 2, 1])
        self.assertEqual([h["value"] for h in found["history"]], ["70", "80", "60"])
        self.assertEqual({h["by"] for h in found["history"]}, {"Pia Test"})

    def test_bad_values_name_field_and_remedy_and_change_nothing(self):
        for body, code, field in (
            ({"value": "abc"}, "number.not_a_number", "value"),
            ({"value": "170"}, "parameter.range", "value"),
            ({"key": "school", "value": "sometimes"}, "parameter.choice", "value"),
            ({"key": "points", "value": "7"}, "points.count", "value"),
            ({"key": "points", "value": "0 50 25"}, "points.order", "value"),
            ({"source": " "}, "source.missing", "source"),
            ({"key": "nothing"}, "parameter.unknown", "key"),
        ):
            with self.subTest(body=body):
                said = self.must(self.change(**body), 422)
                self.assertEqual((said["code"], said["field"]), (code, field))
                self.assertTrue(said["remedy"])
        self.assertFalse(SiteRule.objects.exists())

    def test_a_rule_that_another_set_meanwhile_is_not_gone_over_unnoticed(self):
        self.must(self.change())
        said = self.must(self.change(value="65", version=0), 409)
        self.assertEqual(said["code"], "version.old")
        self.assertEqual(SiteRule.objects.count(), 1)

    def test_only_planners_change_methods(self):
        for name in ("ana", "rea"):
            said = self.must(self.change(client=self.client_of(name)), 403)
            self.assertIn("Ask a planner", said["remedy"])

    def test_points_of_ones_own_are_taken_in_their_order(self):
        self.must(self.change(key="points", value="10 50 90"))
        points = self.state(self.open())["as_found"]["points"]
        self.assertEqual([p["label"] for p in points], ["▲ 10", "▲ 50", "▲ 90", "▼ 50", "▼ 10"])


class OneInstrument(ApiCase):
    def version(self, method=""):
        plans = self.instrument.plans.order_by("pk")
        return version_of(plans.get(method=method) if method else plans[0])

    def post(self, path, **body):
        if path != "plans":
            body.setdefault("version", self.version(body.get("method")))
        return self.client_of("pia").post(
            f"/api/v1/instruments/PT-1/{path}", body, content_type="application/json"
        )

    def test_the_manual_counts_before_the_site_and_the_change_is_on_record(self):
        SiteRule.objects.create(
            method="pressure_transmitter", key="cycles", value="2", source="site"
        )
        said = self.must(
            self.post("parameters", key="cycles", value="3", source="manual, 4.2", reason="new")
        )
        found = next(x for x in said["limits"] if x["id"] == "cycles")
        self.assertEqual((found["value"], found["source"]), ("3", "manual, 4.2"))
        self.assertIn("cycles: none to 3, because: new", said["changes"][0]["text"])
        said = self.must(self.post("parameters", key="cycles", value="", reason="manual is old"))
        found = next(x for x in said["limits"] if x["id"] == "cycles")
        self.assertEqual((found["value"], found["source"]), ("2", "site, version 1"))

    def test_what_is_planned_are_methods_that_fit_each_with_its_date_and_limits(self):
        due = str(timezone.localdate() + timedelta(days=30))
        said = self.must(
            self.post("plans", method="smart_transmitter", due=due, reason="digital value")
        )
        self.assertEqual(
            [(p["method"]["id"], p["next_due"]) for p in said["plans"]][1:],
            [("smart_transmitter", due)],
        )
        self.assertIn("loop_check", [x["id"] for x in said["plans"][1]["limits"]])
        self.must(
            self.post(
                "parameters",
                method="smart_transmitter",
                key="interval_days",
                value="90",
                source="manual",
                reason="trip",
            )
        )
        days = [
            next(x["value"] for x in p["limits"] if x["id"] == "interval_days")
            for p in self.must(self.client_of("ana").get("/api/v1/instruments/PT-1"))["plans"]
        ]
        self.assertEqual(days, ["180", "90"])
        for body, field in (
            ({"method": "dp_flow", "due": due, "reason": "x"}, "method"),
            ({"method": "smart_transmitter", "due": due, "reason": "x"}, "method"),
            ({"method": "smart_transmitter", "due": "2020-01-01", "reason": "x"}, "method"),
        ):
            self.assertEqual(self.must(self.post("plans", **body), 422)["field"], field)
        said = self.must(
            self.post("plans/drop", method="smart_transmitter", reason="not for this one")
        )
        self.assertEqual(len(said["plans"]), 1)
        last = said["plans"][0]["method"]["id"]
        refused = self.must(self.post("plans/drop", method=last, reason="x"), 422)
        self.assertEqual(refused["code"], "plan.last")
        self.assertEqual(Change.objects.count(), 3)

    def test_nobody_goes_over_what_another_did_meanwhile_unnoticed(self):
        due = str(timezone.localdate() + timedelta(days=30))
        read = self.version()
        self.must(self.post("due", due=due, reason="campaign"))
        changes = (
            ("due", {"due": due, "reason": "x"}),
            ("parameters", {"key": "cycles", "value": "3", "source": "m", "reason": "x"}),
            ("plans/drop", {"method": "pressure_transmitter", "reason": "x"}),
        )
        for path, body in changes:
            said = self.must(self.post(path, **body, version=read), 409)
            self.assertEqual(said["code"], "version.old")
        self.assertEqual(Change.objects.count(), 1)
        one = self.must(self.client_of("pia").get("/api/v1/instruments/PT-1"))["plans"][0]
        self.must(self.post("due", due=due, reason="again", version=one["version"]))

    def test_a_technician_does_any_method_that_fits_and_it_moves_no_other_plan(self):
        before = self.instrument.plan.next_due
        job = self.must(
            self.ana.post(
                "/api/v1/jobs",
                {"tag": "PT-1", "method": "smart_transmitter"},
                content_type="application/json",
            )
        )["job"]
        self.assertEqual(self.state(job)["method"][:5], "Smart")
        self.assertEqual(self.instrument.plans.get().next_due, before)
        works.instrument("PT-2")
        said = self.ana.post(
            "/api/v1/jobs", {"tag": "PT-2", "method": "dp_flow"}, content_type="application/json"
        )
        self.assertEqual(self.must(said, 422)["field"], "method")

    def test_every_family_is_offered_its_own_method_first(self):
        for family, method in families.METHOD_OF.items():
            families.instrument(f"X-{family}", family)
            said = self.client_of("ana").get(f"/api/v1/instruments/X-{family}").json()
            offered = [m["id"] for m in said["methods"]]
            self.assertIn(method, offered, family)
            if family != "temperature_loop":
                self.assertEqual(offered[0], method, family)
