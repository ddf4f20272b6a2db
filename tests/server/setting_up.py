"""Filling in the forms of instruments and of the kit as somebody with the plate in hand does."""

from __future__ import annotations

import copy
from datetime import timedelta

from django.utils import timezone

from tests.server.base import ApiCase

JSON = "application/json"
#: What a plate or a data sheet says where a template leaves it open.
PLATE = {
    "minimum_flow": "900",
    "normal_flow": "5400",
    "density": "1320",
    "drive_gain": "6",
    "scatter": "0.3",
    "rated_kg": "2200",
    "dead_load_kg": "1450",
    "cell_kg": "500",
    "belt_length_m": "72",
    "belt_speed_m_s": "1.6",
    "weigh_length_m": "2.4",
    "test_weight_kg": "120",
    "zero_count": "20150",
    "span_count": "41200",
    "size_mm": "200",
    "conductivity_us_cm": "1800",
    "mounting": "flow-through",
    "fitted_on": "2026-03-02",
}
SETTINGS = {
    "zero_mvv": "0.33",
    "span_mvv": "1.14",
    "cell_factor": "2.04",
    "density": "943",
    "level_upper_m": "3.2",
    "leg_height_m": "4.1",
    "displacer_kg": "1.362",
    "diameter_m": "38.4",
    "length_m": "813",
}


class SetUp(ApiCase):
    def setUp(self):
        super().setUp()
        self.pia = self.client_of("pia")
        self.due = str(timezone.localdate() + timedelta(days=3))

    def form(self, template):
        return self.must(self.pia.get("/api/v1/setup/new", {"template": template}))

    def typed(self, form, tag="X-1"):
        """Fill in what a template leaves open, as somebody at the plate does."""
        record = copy.deepcopy(form["record"])
        record |= {
            "tag": tag,
            "serial": f"S-{tag}",
            "description": "What it measures",
            "area": "Boiler house",
            "next_due": self.due,
        }
        if record.get("indicated_upper") == "":
            record["indicated_upper"] = "250"
        own = next((s["entries"] for s in form["sections"] if s["id"] == "own"), [])
        said = record.get("own", {})
        for entry in own:
            if not said.get(entry["name"]) and entry["name"] in PLATE:
                said[entry["name"]] = PLATE[entry["name"]]
        for line in said.get("lines", []):
            line["reference"] = line["reference"] or "12"
        for setting in record.get("settings", []):
            setting["value"] = setting["value"] or SETTINGS[setting["name"]]
        return {**record, "own": said} if own else record

    def check(self, form, record, tag=""):
        sent = {"base": form["base"], "record": record, "tag": tag}
        return self.must(self.pia.post("/api/v1/setup/check", sent, content_type=JSON))

    def add(self, form, record, client=None):
        sent = {"base": form["base"], "record": record}
        return (client or self.pia).post("/api/v1/setup/instruments", sent, content_type=JSON)


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


class KitForms(ApiCase):
    def setUp(self):
        super().setUp()
        self.pia = self.client_of("pia")
        today = timezone.localdate()
        self.before, self.until = str(today - timedelta(days=9)), str(today + timedelta(days=356))

    def typed_kit(self, form, asset):
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
            "certified": [{"at": "100", "shown": "100.01", "uncertainty": "0.02", "k": "2"}],
            "drift_per_year": "0.004",
            "water_l": "10",
            "pressure_bar": "120",
            "flow_l_per_min": "0.5",
            "balance": "air",
            "uncertainty_percent": "2",
            "parts": [{"gas": "methane", "value": "2.2", "unit": "% vol"}],
            "amount": "500",
        }
        names = {e["name"] for e in form["sections"][0]["entries"]}
        record |= {k: v for k, v in named.items() if k in names}
        for section in form["sections"][1:]:
            own = {e["name"] for e in section["entries"]}
            record["own"] = {k: v for k, v in OWN.items() if k in own}
        return record

    def form_of_kit(self, kind):
        return self.must(self.pia.get("/api/v1/kit/things/new", {"kind": kind}))

    def add_kit(self, kind, record, client=None):
        sent = {"kind": kind, "record": record}
        return (client or self.pia).post("/api/v1/kit/things", sent, content_type=JSON)
