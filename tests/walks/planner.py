"""What a planner sets up before a visit, through the forms of the API."""

from __future__ import annotations

from datetime import timedelta

from django.utils import timezone

from tests.server.base import ApiCase
from tests.walks.typist import Typist
from verifyloop.plant.models import Instrument
from verifyloop.work.side_effects import own_now

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

    def rule(self, method, key, value):
        """Set a rule of the site."""
        rule = {"key": key, "value": value, "source": "rule of the site", "version": 0}
        address = f"/api/v1/methods/{method}/rules"
        self.must(self.pia.post(address, rule, content_type=JSON))

    def shelve(self, asset, quantity, **facts):
        """Enter a reference with its certificate in date; what its form does not have is left."""
        form = self.must(self.pia.get("/api/v1/kit/things/new", {"kind": quantity}))
        asked = {e["name"] for part in form["sections"] for e in part["entries"]}
        today = timezone.localdate()
        before, until = str(today - timedelta(days=60)), str(today + timedelta(days=300))
        usual = {
            "asset": asset,
            "description": f"{quantity} {asset}",
            "serial": f"S-{asset}",
            "certificate": f"C-{asset}",
            "calibrated_on": before,
            "due_on": until,
            "filled_on": before,
            "expires_on": until,
        }
        kept = {name: said for name, said in usual.items() if name in asked}
        sent = {"kind": quantity, "record": {**form["record"], **kept, **facts}}
        self.must(self.pia.post("/api/v1/kit/things", sent, content_type=JSON))

    def meter(self, asset, quantity, unit, **spec):
        """Enter a reference that measures, by its accuracy."""
        self.shelve(asset, quantity, unit=unit, spec=spec)

    def bottle(
        self, asset, balance, flow="0.5", pure=False, unit="% vol", humidifier=False, **parts
    ):
        """Enter a cylinder of gas, its parts by name; without a flow its valve can be set."""
        gases = [
            {"gas": name.replace("_", " "), "value": value, "unit": unit}
            for name, value in parts.items()
        ]
        more = {"parts": gases} if gases else {}
        more |= {"flow_l_per_min": flow} if flow else {}
        self.shelve(
            asset, "gas", balance=balance, pure=pure, uncertainty_percent="2", water_l="10",
            pressure_bar="100", minimum_bar="5", humidifier=humidifier, **more,
        )  # fmt: skip

    def learnt(self, tag, channel="a"):
        """Return what the next visit knows of a channel."""
        own = own_now(Instrument.objects.get(tag=tag), timezone.localdate())
        return next(c for c in own["channels"] if c["id"] == channel)

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
