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
                said = self.must(self.pia.post("/api/kit/check", sent, content_type=JSON))
                self.assertEqual(said["wrong"], [])
                self.must(self.add_kit(kind.id, record))
                shown = self.must(self.pia.get(f"/api/kit/things/{asset}"))
                again = {**{k: shown[k] for k in ("record", "version")}, "reason": "as it is"}
                address = f"/api/kit/things/{asset}"
                self.must(self.pia.put(address, again, content_type=JSON))
                self.assertEqual(self.must(self.pia.get(address))["version"], shown["version"])
                self.assertEqual(KitChange.objects.filter(asset=asset).count(), 1)
        self.must(self.pia.get("/api/kit/references"))
        self.must(self.pia.get("/api/kit/cylinders"))

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
        address = "/api/kit/things/R-1"
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
        address = "/api/kit/things/R-1"
        version = self.must(self.pia.get(address))["version"]
        sent = {"withdrawn": True, "reason": "dropped", "version": version}
        said = self.must(self.pia.post(f"{address}/withdraw", sent, content_type=JSON))
        self.assertEqual(said["withdrawn"], "dropped")
        job = self.open()
        offered = self.ana.get(f"/api/jobs/{job}/kit", {"quantity": "pressure"}).json()
        self.assertFalse(next(o for o in offered if o["asset"] == "R-1")["usable"])
        sent = {"withdrawn": False, "reason": "checked", "version": said["version"]}
        said = self.must(self.pia.post(f"{address}/withdraw", sent, content_type=JSON))
        self.assertEqual(said["withdrawn"], "")
        offered = self.ana.get(f"/api/jobs/{job}/kit", {"quantity": "pressure"}).json()
        self.assertTrue(next(o for o in offered if o["asset"] == "R-1")["usable"])

    def test_a_replacement_begins_as_a_copy(self):
        form = self.must(self.pia.get("/api/kit/things/new", {"like": "R-1"}))
        self.assertEqual((form["record"]["asset"], form["kind"]), ("", "pressure"))
        self.must(self.add_kit(form["kind"], {**form["record"], "asset": "R-9", "serial": "9"}))

    def test_only_a_planner_sets_up_the_kit(self):
        record = self.typed_kit(self.form_of_kit("current"), "M-9")
        for name in ("ana", "rea"):
            client = self.client_of(name)
            self.assertEqual(self.add_kit("current", record, client=client).status_code, 403)
            sent = {"withdrawn": True, "reason": "x", "version": ""}
            refused = client.post("/api/kit/things/R-1/withdraw", sent, content_type=JSON)
            self.assertEqual(refused.status_code, 403)
