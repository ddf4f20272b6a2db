"""What a planner sets up before a visit, through the forms of the API."""

from __future__ import annotations

from datetime import timedelta

from django.utils import timezone

from tests.server.base import ApiCase
from tests.walks.typist import Typist

JSON = "application/json"


class WalkCase(ApiCase):
    """One walk: the planner's set-up, then the visit act by act."""

    def setUp(self):
        super().setUp()
        self.pia = self.client_of("pia")

    def area(self, name):
        self.must(self.pia.post("/api/v1/setup/areas", {"name": name}, content_type=JSON))

    def enter(self, template, tag, settings=None, **facts):
        """Enter an instrument by its form; ``settings`` are those of its method, by name."""
        form = self.must(self.pia.get("/api/v1/setup/new", {"template": template}))
        record = {
            **form["record"],
            "tag": tag,
            "serial": f"S-{tag}",
            "description": tag,
            "area": "Boiler house",
            "next_due": str(timezone.localdate() + timedelta(days=3)),
            **facts,
        }
        for name, value in (settings or {}).items():
            line = next(s for s in record["settings"] if s["name"] == name)
            line["value"] = value
        sent = {"base": form["base"], "record": record}
        self.must(self.pia.post("/api/v1/setup/instruments", sent, content_type=JSON))

    def shelve(self, asset, quantity, unit, **spec):
        """Enter a reference with its certificate in date."""
        form = self.must(self.pia.get("/api/v1/kit/things/new", {"kind": quantity}))
        today = timezone.localdate()
        record = {
            **form["record"],
            "asset": asset,
            "description": f"{quantity} {asset}",
            "serial": f"S-{asset}",
            "certificate": f"C-{asset}",
            "calibrated_on": str(today - timedelta(days=60)),
            "due_on": str(today + timedelta(days=300)),
            "spec": spec,
        }
        if "unit" in {e["name"] for e in form["sections"][0]["entries"]}:
            record["unit"] = unit
        sent = {"kind": quantity, "record": record}
        self.must(self.pia.post("/api/v1/kit/things", sent, content_type=JSON))

    def typist(self, tag, **more):
        told = {"operator told": "Jo, shift B", "serial": f"S-{tag}", "temperature": "21.5"}
        return Typist(self, tag, usual={**told, **more.pop("usual", {})}, **more)

    def errors(self, run, *shown):
        """Compare the errors of a run, to the decimals that the walk writes."""
        said = [p["error_percent"] for p in run["points"] if p["reading"]]
        plain = [float(str(e).replace("\N{MINUS SIGN}", "-")) for e in said]
        self.assertEqual([f"{e:+.2f}" for e in plain], list(shown))

    def clean(self, visit):
        """Nothing had to be answered that the walk does not have, and nothing was refused."""
        self.assertEqual((visit.forced, visit.refusals), ([], []))
