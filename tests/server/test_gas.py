"""Gas of jobs on the server: cylinders that empty, gas set aside, forcing, sensor life, rounds."""

from __future__ import annotations

from datetime import timedelta

from django.utils import timezone

from calibration.families.gas.learnt import past_of, sensors_now
from calibration.simulate.technician import Technician
from tests.core.detectors import ANSWERS, BOTTLES, DETECTORS
from tests.server import detectors
from tests.server.base import ApiCase
from tests.server.works import PASSWORD, event
from verifyloop.demo.visits import Visit
from verifyloop.kit.gas import cylinder_by_asset, holds
from verifyloop.kit.models import Cylinder, GasHold, GasUse
from verifyloop.plant.models import Instrument, SiteRule
from verifyloop.work.models import Job
from verifyloop.work.side_effects import learnt_of

KIT = {"zero_gas": "G-1", "span_gas": "G-2", "span_gas_b": "G-3", "current": "M-1"}


class GasCase(ApiCase):
    def setUp(self):
        super().setUp()
        detectors.shelf()

    def visit(self, tag, method="gas_zero_span", ago=0, **head):
        """A whole job by the virtual technician, some days ago."""
        if not Instrument.objects.filter(tag=tag).exists():
            detectors.detector(tag, method)
        _, model = DETECTORS[method]
        first, *others = model.heads
        model = type(model)(
            **{**vars(model), "heads": (type(first)(**{**vars(first), **head}), *others)}
        )
        person = Technician(model, 5, KIT, ANSWERS, "S-77", bottles=BOTTLES)
        start = timezone.now() - timedelta(days=ago, hours=3)
        return Visit(tag, self.people["ana"], person, start)

    def left(self, asset):
        return float(holds(cylinder_by_asset(asset)).left_l)


class Shelf(GasCase):
    def test_gas_is_set_aside_and_then_taken_off_by_flow_and_time(self):
        before = self.left("G-2")
        visit = self.visit("GD-1")
        visit.until("operator")
        # Three times one minute at half a litre a minute: as found, set, as left.
        self.assertAlmostEqual(before - self.left("G-2"), 1.5, delta=0.01)
        visit.until("")
        uses = GasUse.objects.filter(cylinder__asset="G-2")
        self.assertFalse(GasHold.objects.exists())
        drawn = sum(u.litres for u in uses)
        openings = [e for e in Job.objects.get().events.filter(kind__startswith="gas_o")]
        on = {e.seq: e.at for e in openings if e.kind == "gas_on"}
        off = [e for e in openings if e.kind == "gas_off"]
        minutes = [(e.at - on[max(s for s in on if s < e.seq)]).total_seconds() / 60 for e in off]
        both = sum(u.litres for u in GasUse.objects.all())
        self.assertAlmostEqual(both, 0.5 * sum(minutes), delta=0.01 * both)
        self.assertAlmostEqual(before - self.left("G-2"), drawn, delta=0.02)

    def test_a_second_job_sees_what_the_first_has_set_aside(self):
        Cylinder.objects.filter(asset="G-2").update(water_l="1", pressure_bar="7.3")
        self.visit("GD-1").until("operator")
        detectors.detector("GD-2", "gas_zero_span")
        job = self.open("GD-2")
        options = self.ana.get(f"/api/v1/jobs/{job}/kit?quantity=gas&role=span_gas").json()
        short = next(o for o in options if o["asset"] == "G-2")
        self.assertFalse(short["usable"])
        self.assertIn("not set aside", short["remark"])
        answer = self.send(job, event("kit_chosen", role="span_gas", asset="G-2"))
        self.assertEqual(self.must(answer, 422)["code"], "cylinder.unusable")

    def test_a_round_is_warned_before_its_cylinder_runs_out(self):
        Cylinder.objects.filter(asset="G-2").update(water_l="1", pressure_bar="10")
        detectors.detector("GB-1", "gas_bump")
        job = self.open("GB-1")
        url = f"/api/v1/jobs/{job}/kit?quantity=gas&role=span_gas"
        one = next(o for o in self.ana.get(url).json() if o["asset"] == "G-2")
        self.assertTrue(one["adequate"])
        # A bump takes half a litre; 1 L of water from 10 to 5 bar holds 4.9 L.
        many = next(o for o in self.ana.get(f"{url}&count=12").json() if o["asset"] == "G-2")
        self.assertTrue(many["usable"])
        self.assertFalse(many["adequate"])
        self.assertIn("12 detectors take up to 6.0 L, 4.9 L are left", many["remark"])

    def test_expired_and_foreign_cylinders_are_said_with_why(self):
        detectors.detector("GD-1", "gas_zero_span")
        job = self.open("GD-1")
        options = self.ana.get(f"/api/v1/jobs/{job}/kit?quantity=gas&role=span_gas").json()
        by = {o["asset"]: o for o in options}
        self.assertIn("was due", by["G-8"]["remark"])
        self.assertIn("NFPA 325", by["G-9"]["remark"])
        self.assertNotIn("G-3", by)
        self.assertEqual(options[0]["asset"], "G-2")
        doubted = self.send(job, event("kit_chosen", role="span_gas", asset="G-9"))
        self.assertEqual(self.must(doubted, 422)["code"], "cylinder.doubt")

    def test_a_recalled_lot_shows_everything_it_was_used_with(self):
        self.visit("GD-1").until("")
        said = self.ana.get("/api/v1/kit/cylinders/G-2").json()
        self.assertEqual([u["tag"] for u in said["uses"]], ["GD-1"])
        self.assertEqual(said["lot"], "L-G-2")
        self.assertEqual(self.ana.get("/api/v1/kit/cylinders/none").status_code, 404)

    def test_the_shelf_says_what_each_cylinder_serves(self):
        detectors.detector("GD-1", "gas_zero_span")
        shelf = {c["asset"]: c for c in self.ana.get("/api/v1/kit/cylinders").json()["cylinders"]}
        self.assertEqual(shelf["G-2"]["serves"], ["GD-1"])
        self.assertEqual(shelf["G-3"]["serves"], [])
        self.assertEqual(shelf["G-8"]["remark"], "Past its date")

    def test_of_many_that_a_cylinder_serves_some_are_named(self):
        for number in range(15):
            detectors.detector(f"GD-{number:02}", "gas_zero_span")
        found = self.must(self.ana.get("/api/v1/kit/cylinders", {"q": "methane g-2"}))
        (one,) = found["cylinders"]
        self.assertEqual((found["total"], one["asset"]), (1, "G-2"))
        self.assertEqual((one["serves"][0], len(one["serves"])), ("GD-00", 12))
        self.assertEqual(one["serves_more"], 3)


class Table(GasCase):
    def test_the_site_chooses_its_table_once_for_every_method(self):
        pia = self.client_of("pia")
        body = {"key": "lel_set", "value": "NFPA", "source": "site standard 4", "version": 0}
        self.must(pia.post("/api/v1/methods/gas_bump/rules", body, content_type="application/json"))
        self.assertEqual(SiteRule.objects.get(key="lel_set").method, "site")
        detectors.detector("GD-1", "gas_zero_span")
        state = self.state(self.open("GD-1"))
        self.assertIn("%LEL by NFPA 325", state["instrument"]["range"])
        self.assertEqual(self.ana.get("/api/v1/kit/cylinders").json()["lel_table"], "NFPA 325")


class Forced(GasCase):
    def refused(self):
        visit = self.visit("GD-1", response=0.4)
        visit.until("judge")
        visit.send(
            [visit.event("decided", step="judge", choice="adjust", reason="no spare on site")]
        )
        visit.until("span")
        return visit.job.number

    def test_forcing_takes_another_persons_own_password_and_is_printed(self):
        job = self.refused()
        agreed = {"step": "span", "reason": "spare ordered", "way": "second_person"}
        wrong = self.send(job, event("agreed", **agreed, username="ben", password="no"))
        self.assertEqual(self.must(wrong, 403)["code"], "password.wrong")
        own = self.send(job, event("agreed", **agreed, username="ana", password=PASSWORD))
        self.assertEqual(self.must(own, 422)["code"], "force.second_person")
        state = self.must(
            self.send(job, event("agreed", **agreed, username="ben", password=PASSWORD))
        )
        self.assertEqual(state["tasks"][0]["asks"][0]["refusal"]["agreed"], "Ben Test")
        stored = Job.objects.get(number=job).events.get(kind="agreed").payload
        self.assertNotIn(PASSWORD, stored)

    def test_or_a_check_with_another_cylinder(self):
        job = self.refused()
        agreed = {"step": "span", "reason": "spare ordered", "way": "other_cylinder"}
        Cylinder.objects.filter(asset="G-7").update(pressure_bar="40")
        bad = self.send(job, event("agreed", **agreed, asset="G-7", reading="24"))
        self.assertEqual(self.must(bad, 422)["code"], "force.disagrees")
        state = self.must(self.send(job, event("agreed", **agreed, asset="G-7", reading="10")))
        self.assertEqual(state["tasks"][0]["asks"][0]["refusal"]["agreed"], "G-7 agrees")


class Life(GasCase):
    def test_responses_add_up_over_visits_and_a_replacement_begins_anew(self):
        for ago, response in ((300, 0.9), (200, 0.89), (100, 0.9)):
            self.visit("GD-1", ago=ago, response=response).until("")
        instrument = Instrument.objects.get(tag="GD-1")
        raw = [p.response for p in past_of(learnt_of(instrument), "a")]
        # Each time a tenth is lost of what was left: 90, 80 and 72 % of new.
        for seen, expected in zip(raw, (90, 80.1, 72.1), strict=True):
            self.assertAlmostEqual(seen, expected, delta=1.0)
        known = sensors_now(instrument.own, learnt_of(instrument), timezone.localdate())["a"]
        self.assertLess(float(known["expected_percent"]), 95)
        sensor = self.ana.get("/api/v1/instruments/GD-1").json()["sensors"][0]
        self.assertEqual((sensor["points"], sensor["status"]), (3, "good"))
        self.assertTrue(sensor["replace_about"])
        visit = self.visit("GD-1", response=0.35)
        visit.until("judge")
        visit.send([visit.event("decided", step="judge", choice="replace", reason="spent")])
        visit.person.model = type(visit.person.model)(
            **{
                **vars(visit.person.model),
                "heads": DETECTORS["gas_zero_span"][1].heads,
            }
        )
        visit.until("")
        last = past_of(learnt_of(instrument), "a")[-1]
        self.assertEqual((last.response, last.replaced), (100.0, True))
        sensor = self.ana.get("/api/v1/instruments/GD-1").json()["sensors"][0]
        self.assertIn("too few to predict", sensor["advice"])

    def test_the_list_of_the_plant_holds_who_needs_a_sensor_soon(self):
        for ago, response in ((300, 0.75), (200, 0.75), (100, 0.9)):
            self.visit("GD-1", ago=ago, response=response).until("")
        self.visit("GD-2").until("")
        listed = self.ana.get("/api/v1/kit/sensors").json()["sensors"]
        self.assertEqual([s["tag"] for s in listed], ["GD-1"])


class Round(GasCase):
    def test_kit_and_operator_hold_for_the_next_of_a_round(self):
        detectors.detector("GB-1", "gas_bump")
        detectors.detector("GB-2", "gas_bump")
        first = self.open("GB-1")
        kit = (("span_gas", "G-2"), ("meter", "M-1"))
        self.must(
            self.send(
                first,
                *(event("kit_chosen", role=role, asset=asset) for role, asset in kit),
                event("recorded", step="operator", field="operator", value="Jo"),
            )
        )
        body = {"tag": "GB-2", "like": first}
        second = self.ana.post("/api/v1/jobs", body, content_type="application/json").json()["job"]
        state = self.state(second)
        self.assertEqual(state["current_step"], "identity")
        self.must(
            self.send(second, event("recorded", step="identity", field="serial", value="S-77"))
        )
        self.assertEqual(self.state(second)["tasks"][0]["together"]["also"][0]["kind"], "put_on")
        by = [e.by for e in Job.objects.get(number=second).events.all()]
        self.assertEqual(set(by), {"Ana Test"})

    def test_an_overdue_bypass_is_urgent_on_the_strip(self):
        visit = self.visit("GD-1", ago=0)
        visit.until("ambient")
        items = self.ana.get("/api/v1/safety").json()["items"]
        # Put on three hours ago; the site allows sixty minutes.
        self.assertEqual([i["urgent"] for i in items if i["kind"] == "bypass"], [True])


class Certificate(GasCase):
    def test_it_says_gas_answers_and_table(self):
        visit = self.visit("GD-1", response=0.8)
        visit.until("")
        base = f"/api/v1/records/{visit.job.number}/certificate"
        said = self.ana.get(f"{base}.json").json()
        gas = said["gas"]
        self.assertEqual(gas["lel_table"], "ISO/IEC 80079-20-1")
        self.assertEqual({d["cylinder"] for d in gas["drawn"]}, {"G-1", "G-2"})
        self.assertTrue(any("Set span" in line for line in gas["set"]))
        self.assertEqual(gas["forced"], [])
        self.assertIn("Sensor aged", said["judgement"]["causes"])
        self.assertEqual(self.ana.get(f"{base}.pdf").content[:4], b"%PDF")
        self.assertIn("Zero gas", self.ana.get(f"{base}.csv").content.decode())
