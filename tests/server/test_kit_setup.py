"""The kit by form: every kind, its wrong entries, withdrawn and taken back, changes with why."""

from __future__ import annotations

from datetime import timedelta

from django.utils import timezone

from calibration.setup.kit import kit_kinds
from tests.server.base import ApiCase
from verifyloop.kit.models import Cylinder, KitChange, Reference

JSON = "application/json"
#: What a label or a certificate says, by the name of a field.
OWN = {
    "set": "technical",
    "nominal": "7.00",
    "lot": "L-1",
    "opened_on": "2026-11-05",
    "oxygen_ppm": "8",
    "uncertainty_percent": "3",
    "bar": "95",
    "mounted_on": "C-1",
    "low_bar": "5",
    "diaphragm": "metal",
    "mounted_since": "2026-01-05",
    "parts": [{"gas": "carbon dioxide", "value": "40", "unit": "% vol"}],
    "balance": "nitrogen",
    "days": "90",
    "volume_ml": "5",
    "seal_on": "2026-08-18",
    "reference_is": "weighed",
    "uncertainty_kg": "20",
    "oiml_class": "M1",
    "density": "7850",
    "pieces": [{"nominal_kg": "20", "count": 5}],
}


class Kit(ApiCase):
    def setUp(self):
        super().setUp()
        self.pia = self.client_of("pia")
        today = timezone.localdate()
        self.before, self.until = str(today - timedelta(days=9)), str(today + timedelta(days=356))

    def typed(self, form, asset):
        record = dict(form["record"])
        named = {
            "asset": asset,
            "description": "What it is",
            "serial": f"S-{asset}",
            "certificate": f"C-{asset}",
            "calibrated_on": self.before,
            "due_on": self.until,
            "filled_on": self.before,
            "expires_on": self.until,
            "spec": {"percent_of_reading": "0.05", "full_scale": "7000"},
            "water_l": "10",
            "pressure_bar": "120",
            "flow_l_per_min": "0.5",
            "parts": [{"gas": "methane", "value": "2.2", "unit": "% vol"}],
            "amount": "500",
        }
        names = {e["name"] for e in form["sections"][0]["entries"]}
        record |= {k: v for k, v in named.items() if k in names}
        for section in form["sections"][1:]:
            own = {e["name"] for e in section["entries"]}
            record["own"] = {k: v for k, v in OWN.items() if k in own}
        return record

    def form(self, kind):
        return self.must(self.pia.get("/api/kit/things/new", {"kind": kind}))

    def add(self, kind, record, client=None):
        sent = {"kind": kind, "record": record}
        return (client or self.pia).post("/api/kit/things", sent, content_type=JSON)

    def test_every_kind_is_put_in_by_its_form_and_is_listed(self):
        for number, kind in enumerate(kit_kinds()):
            with self.subTest(kind.id):
                self.assertTrue(kind.title)
                asset = f"K-{number}"
                record = self.typed(self.form(kind.id), asset)
                sent = {"kind": kind.id, "record": record}
                said = self.must(self.pia.post("/api/kit/check", sent, content_type=JSON))
                self.assertEqual(said["wrong"], [])
                self.must(self.add(kind.id, record))
                shown = self.must(self.pia.get(f"/api/kit/things/{asset}"))
                again = {**{k: shown[k] for k in ("record", "version")}, "reason": "as it is"}
                address = f"/api/kit/things/{asset}"
                self.must(self.pia.put(address, again, content_type=JSON))
                self.assertEqual(self.must(self.pia.get(address))["version"], shown["version"])
                self.assertEqual(KitChange.objects.filter(asset=asset).count(), 1)
        self.must(self.pia.get("/api/kit/references"))
        self.must(self.pia.get("/api/kit/cylinders"))

    def test_each_wrong_entry_says_so_beside_its_field(self):
        right = self.typed(self.form("current"), "M-9")
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
                said = self.add("current", {**right, **change})
                self.assertEqual((said.status_code, said.json()["field"]), (422, field))
                self.assertTrue(said.json()["message"])
        self.assertFalse(Reference.objects.filter(asset="M-9").exists())
        right = self.typed(self.form("gas"), "G-9")
        for field, change in (
            ("parts.0.gas", {"parts": [{"gas": "phlogiston", "value": "1", "unit": "ppm"}]}),
            ("water_l", {"water_l": "0"}),
            ("balance", {"balance": "neon"}),
        ):
            with self.subTest(field):
                said = self.add("gas", {**right, **change})
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
        self.must(self.add(form["kind"], {**form["record"], "asset": "R-9", "serial": "9"}))

    def test_only_a_planner_sets_up_the_kit(self):
        record = self.typed(self.form("current"), "M-9")
        for name in ("ana", "rea"):
            client = self.client_of(name)
            self.assertEqual(self.add("current", record, client=client).status_code, 403)
            sent = {"withdrawn": True, "reason": "x", "version": ""}
            refused = client.post("/api/kit/things/R-1/withdraw", sent, content_type=JSON)
            self.assertEqual(refused.status_code, 403)
