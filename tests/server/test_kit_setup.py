"""The kit by form: every kind, its wrong entries, withdrawn and taken back, changes with why."""

from __future__ import annotations

from calibration.setup.kit import kit_kinds
from tests.server.setting_up import JSON, KitForms
from verifyloop.kit.models import Cylinder, KitChange, Reference


class Kit(KitForms):
    def test_every_kind_is_put_in_by_its_form_and_is_listed(self):
        for number, kind in enumerate(kit_kinds()):
            with self.subTest(kind.id):
                self.assertTrue(kind.title)
                asset = f"K-{number}"
                record = self.typed_kit(self.form_of_kit(kind.id), asset)
                sent = {"kind": kind.id, "record": record}
                said = self.must(self.pia.post("/api/v1/kit/check", sent, content_type=JSON))
                self.assertEqual(said["wrong"], [])
                self.must(self.add_kit(kind.id, record))
                shown = self.must(self.pia.get(f"/api/v1/kit/things/{asset}"))
                again = {**{k: shown[k] for k in ("record", "version")}, "reason": "as it is"}
                address = f"/api/v1/kit/things/{asset}"
                self.must(self.pia.put(address, again, content_type=JSON))
                self.assertEqual(self.must(self.pia.get(address))["version"], shown["version"])
                self.assertEqual(KitChange.objects.filter(asset=asset).count(), 1)
        self.must(self.pia.get("/api/v1/kit/references"))
        self.must(self.pia.get("/api/v1/kit/cylinders"))

    def test_each_wrong_entry_says_so_beside_its_field(self):
        right = self.typed_kit(self.form_of_kit("current"), "M-9")
        for field, change in (
            ("asset", {"asset": ""}),
            ("asset", {"asset": "R-1"}),
            ("serial", {"serial": "x" * 61}),
            ("calibrated_on", {"calibrated_on": "last week"}),
            ("due_on", {"due_on": self.before}),
            ("spec.full_scale", {"spec": {"percent_of_reading": "0.1"}}),
            ("spec.percent_of_reading", {"spec": {"full_scale": "24"}}),
            ("spec.absolute", {"spec": {"absolute": "some", "full_scale": "24"}}),
            ("colour", {"colour": "red"}),
            ("own", {"own": {"lot": "1"}}),
        ):
            with self.subTest(field=field, change=change):
                said = self.add_kit("current", {**right, **change})
                self.assertEqual((said.status_code, said.json()["field"]), (422, field))
                self.assertTrue(said.json()["message"])
        self.assertFalse(Reference.objects.filter(asset="M-9").exists())
        right = self.typed_kit(self.form_of_kit("gas"), "G-9")
        for field, change in (
            ("parts.0.gas", {"parts": [{"gas": "phlogiston", "value": "1", "unit": "ppm"}]}),
            ("water_l", {"water_l": "0"}),
            ("balance", {"balance": "neon"}),
        ):
            with self.subTest(field):
                said = self.add_kit("gas", {**right, **change})
                self.assertEqual((said.status_code, said.json()["field"]), (422, field))
        self.assertFalse(Cylinder.objects.filter(asset="G-9").exists())

    def test_a_new_certificate_is_a_change_with_why(self):
        address = "/api/v1/kit/things/R-1"
        form = self.must(self.pia.get(address))
        sent = {
            "record": {**form["record"], "certificate": "C-2", "due_on": self.until},
            "version": form["version"],
            "reason": "calibrated",
        }
        self.must(self.pia.put(address, sent, content_type=JSON))
        noted = {(c.field, c.after, c.by, c.reason) for c in KitChange.objects.all()}
        self.assertEqual(
            noted,
            {
                ("certificate", "C-2", "Pia Test", "calibrated"),
                ("due on", self.until, "Pia Test", "calibrated"),
            },
        )
        old = self.pia.put(address, sent, content_type=JSON)
        self.assertEqual((old.status_code, old.json()["code"]), (409, "version.old"))
        fresh = self.must(self.pia.get(address))
        renamed = {**sent, "version": fresh["version"], "record": {**sent["record"], "asset": "Z"}}
        said = self.pia.put(address, renamed, content_type=JSON)
        self.assertEqual(said.json()["code"], "asset.fixed")

    def test_what_is_withdrawn_is_offered_no_more_until_it_is_back(self):
        address = "/api/v1/kit/things/R-1"
        version = self.must(self.pia.get(address))["version"]
        sent = {"withdrawn": True, "reason": "dropped", "version": version}
        said = self.must(self.pia.post(f"{address}/withdraw", sent, content_type=JSON))
        self.assertEqual(said["withdrawn"], "dropped")
        job = self.open()
        offered = self.ana.get(f"/api/v1/jobs/{job}/kit", {"quantity": "pressure"}).json()
        self.assertFalse(next(o for o in offered if o["asset"] == "R-1")["usable"])
        sent = {"withdrawn": False, "reason": "checked", "version": said["version"]}
        said = self.must(self.pia.post(f"{address}/withdraw", sent, content_type=JSON))
        self.assertEqual(said["withdrawn"], "")
        offered = self.ana.get(f"/api/v1/jobs/{job}/kit", {"quantity": "pressure"}).json()
        self.assertTrue(next(o for o in offered if o["asset"] == "R-1")["usable"])

    def test_a_replacement_begins_as_a_copy(self):
        form = self.must(self.pia.get("/api/v1/kit/things/new", {"like": "R-1"}))
        self.assertEqual((form["record"]["asset"], form["kind"]), ("", "pressure"))
        self.must(self.add_kit(form["kind"], {**form["record"], "asset": "R-9", "serial": "9"}))

    def test_only_a_planner_sets_up_the_kit(self):
        record = self.typed_kit(self.form_of_kit("current"), "M-9")
        for name in ("ana", "rea"):
            client = self.client_of(name)
            self.assertEqual(self.add_kit("current", record, client=client).status_code, 403)
            sent = {"withdrawn": True, "reason": "x", "version": ""}
            refused = client.post("/api/v1/kit/things/R-1/withdraw", sent, content_type=JSON)
            self.assertEqual(refused.status_code, 403)


class Certificates(KitForms):
    def values(self, **more):
        return {"at": "1000", "shown": "1000.2", "uncertainty": "0.1", "k": "2", **more}

    def added(self, *certified, status=200):
        record = self.typed_kit(self.form_of_kit("pressure"), "R-77")
        record["certified"] = list(certified)
        return self.must(self.add_kit("pressure", record), status)

    def test_values_of_a_certificate_are_kept_as_they_stand_there(self):
        self.added(self.values(), self.values(at="7000", shown="6999.40"))
        kept = Reference.objects.get(asset="R-77")
        self.assertEqual([c["shown"] for c in kept.certified], ["1000.2", "6999.40"])
        self.assertEqual(kept.drift_per_year, "0.004")
        shown = self.must(self.pia.get("/api/v1/kit/things/R-77"))["record"]
        self.assertEqual(shown["certified"][1]["at"], "7000")

    def test_an_accuracy_never_says_better_than_the_certificate(self):
        # 0.05 % of 1000 is 0.5: 0.4 off and 0.1 uncertain is just covered, 0.41 is not.
        self.added(self.values(shown="1000.41"), status=422)
        said = self.must(self.add_kit("pressure", self.record("1000.41")), 422)
        self.assertEqual(
            (said["field"], said["code"]), ("certified.0.shown", "accuracy.contradicted")
        )
        self.added(self.values(shown="999.60"))

    def record(self, shown):
        found = self.typed_kit(self.form_of_kit("pressure"), "R-78")
        return {**found, "certified": [self.values(shown=shown)]}

    def test_an_uncertainty_is_above_zero(self):
        for name in ("uncertainty", "k"):
            record = self.typed_kit(self.form_of_kit("pressure"), "R-79")
            record["certified"] = [self.values(**{name: "0"})]
            said = self.must(self.add_kit("pressure", record), 422)
            self.assertEqual(said["field"], f"certified.0.{name}")
