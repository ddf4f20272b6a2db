"""Every family from plan to certificate through the API by rig, a fault in each.

By typing they are in tests/server/test_every_end.py, ended in each way.
"""

from __future__ import annotations

from tests.core.detectors import ANSWERS
from tests.long import in_long
from tests.server import detectors, electrodes, families, gcs, mixtures, plant, traces
from tests.server.base import ApiCase
from tests.server.walker import RigWalk
from verifyloop.kit.models import Use

TOLD = {
    "operator": "Jo, shift B",
    "serial": "S-77",
    "temperature": "23",
    "supply_v": "24.1",
    "loop_ohm": "62",
    "resistor_ohm": "250",
}
TOLD_OF_PH = {k: v for k, v in TOLD.items() if k in ("operator", "serial")}
TOLD_OF_GAS = {**TOLD, **ANSWERS, **dict.fromkeys(("air_a", "air_b", "air_c"), "0")}
SPANS = ("span_gas", "span_gas_b", "span_gas_c", "span_gas_d")


#: One method of each family that is a machine of the plant.
FIRST = ("massflow_zero", "loadcell_weights", "indicator_adjust", "belt_routine", "magmeter_verify")


class Walks(ApiCase):
    """Shared: a whole job ends signed, and its papers say what was found."""

    def ended(self, walk, cause):
        state = walk.walk()
        self.assertEqual(state["status"], "signed")
        handed = {(o["kind"], o["by"]) for o in state["on"]}
        self.assertLessEqual(handed, {("bypass", "workshop")}, "handed over by name, or off")
        files = f"/api/v1/records/{walk.job}/certificate"
        said = self.must(self.ana.get(f"{files}.json"))
        self.assertIn(cause, said["judgement"]["causes"])
        self.assertTrue(said["judgement"]["adjusting"])
        self.assertEqual(self.ana.get(f"{files}.pdf").content[:4], b"%PDF")
        return said


class Transmitters(Walks):
    def setUp(self):
        super().setUp()
        families.shelf()

    def test_an_output_is_trimmed_by_rig_at_fixed_currents(self):
        of = families.instrument("X-1", "smart_transmitter")
        families.rig(of, "smart_transmitter", output_zero_percent=1.2)
        walk = RigWalk(self, "X-1", TOLD)
        walk.walk("adjust")
        self.assertEqual(walk.seen["tasks"][0]["asks"][0]["go"]["kind"], "fix")
        state = walk.walk()
        self.assertEqual(state["outcome"]["id"], "adjusted")
        lines = self.must(self.ana.get(f"/api/v1/jobs/{walk.job}/history"))
        self.assertIn("Fixed-current mode off", [line["text"] for line in lines])

    def by_rig(self, family):
        faults, cause = families.PLANTED[family]
        families.rig(families.instrument("X-1", family), family, **faults)
        self.ended(RigWalk(self, "X-1", TOLD), cause)


class Detectors(Walks):
    def setUp(self):
        super().setUp()
        detectors.shelf()

    def by_rig(self, method):
        detectors.rig(detectors.detector("X-1", method), method, pace=1.0)
        said = self.ended(RigWalk(self, "X-1", TOLD_OF_GAS), detectors.PLANTED[method][2])
        self.assertTrue(said["gas"]["answers"])


class Electrodes(Walks):
    def setUp(self):
        super().setUp()
        electrodes.shelf()

    def by_rig(self, method):
        electrodes.rig(electrodes.loop("X-1", method), method)
        self.poured(self.ended(RigWalk(self, "X-1", TOLD_OF_PH), electrodes.PLANTED[method][1]))

    def poured(self, said):
        """What stands on the certificate of bottles was booked on the shelf."""
        rows = said["tables"][-1]["rows"]
        self.assertTrue(rows)
        drawn = Use.objects.filter(job=said["number"])
        self.assertEqual(sum(u.amount for u in drawn), 60.0 * len(rows))
        kept = self.must(self.ana.get("/api/v1/kit/references"))["references"]
        used = next(r for r in kept if r["asset"] == "B-6.865")
        self.assertEqual(used["lines"][0]["value"], "primary 6.865")
        self.assertLess(used["left_share"], 1.0)


class Traces(Walks):
    def setUp(self):
        super().setUp()
        traces.shelf()

    def test_a_weaker_sensor_is_set_by_rig(self):
        traces.rig(traces.analyzer("X-1"), response=0.85)
        walk = RigWalk(self, "X-1", traces.TOLD)
        said = self.ended(walk, "Sensor weaker")
        tables = {t["title"]: t["rows"] for t in said["tables"]}
        self.assertEqual([row[2] for row in tables["Regulator, filled and vented"]], ["4", "9"])
        self.assertEqual(len(tables["Span set"]), 1)
        self.assertGreater(Use.objects.get(job=walk.job).amount, 1.0)

    def test_a_leak_is_tightened_and_the_test_repeated(self):
        traces.rig(traces.analyzer("X-1"), leak_ul_min=6.0)
        walk = RigWalk(self, "X-1", traces.TOLD)
        state = walk.walk("judge")
        self.assertEqual(state["judgement"]["causes"][0]["label"], "Air leaks in")
        state = walk.walk()
        self.assertTrue(state["outcome"]["good"])
        repeated = [r["title"] for r in state["extra_runs"]]
        self.assertEqual(repeated, ["As found, before it was repeated"])

    def test_a_new_sensor_comes_down_and_is_set(self):
        traces.rig(traces.analyzer("X-1", "trace_new_sensor"))
        state = RigWalk(self, "X-1", traces.TOLD).walk()
        self.assertEqual(state["outcome"]["id"], "adjusted")
        page = self.must(self.ana.get("/api/v1/instruments/X-1"))
        self.assertIn("100 % of a new one", str(page))


class Mixtures(Walks):
    def setUp(self):
        super().setUp()
        mixtures.shelf()

    def test_a_drifted_cell_is_set_by_rig_and_nothing_else(self):
        mixtures.rig(mixtures.analyzer("X-1"), gain=0.96)
        said = self.ended(RigWalk(self, "X-1", mixtures.TOLD), "Span moved")
        rows = {tuple(r[:2]): r[3:5] for r in said["tables"][0]["rows"]}
        self.assertEqual(rows["Carbon monoxide", "mixture"][1][:3], "4.0")
        self.assertEqual(rows["Carbon dioxide", "mixture"][1], "")


class Chromatographs(Walks):
    def setUp(self):
        super().setUp()
        gcs.shelf()

    def test_a_weaker_detector_is_stored_by_rig(self):
        # It is good until it is switched off or until midnight: begun late it would end that day.
        with self.in_the_morning():
            gcs.rig(gcs.device("X-1"), aged_percent=8.0)
            walk = RigWalk(self, "X-1", gcs.TOLD)
        said = self.ended(walk, "Detector weaker")
        tables = {t["title"]: t["rows"] for t in said["tables"]}
        self.assertEqual(len(tables["Every injection, ppm at s"]), 4)
        with walk.at():
            page = self.must(self.ana.get("/api/v1/instruments/X-1"))
        self.assertIn("good until it is switched off", str(page["standing"]))

    def test_moisture_is_put_right_and_the_test_repeated(self):
        gcs.rig(gcs.device("X-1"), moisture_percent=9.0)
        walk = RigWalk(self, "X-1", gcs.TOLD)
        state = walk.walk("judge")
        self.assertEqual(state["judgement"]["causes"][0]["label"], "Moisture on the column")
        self.assertEqual(walk.walk()["outcome"]["id"], "within")


class Plant(Walks):
    def setUp(self):
        super().setUp()
        plant.shelf()

    def by_rig(self, method):
        faults, cause = plant.PLANTED[method]
        plant.rig(plant.instrument("X-1", method), method, **faults)
        self.ended(RigWalk(self, "X-1", plant.told(method)), cause)


def _add(case, way, name, mostly=True):
    def test(self):
        getattr(self, way)(name)

    setattr(case, f"test_{name}_{way}", test if mostly else in_long(test))


for _family in families.PLANTED:
    _add(Transmitters, "by_rig", _family)
for _method in detectors.PLANTED:
    _add(Detectors, "by_rig", _method)
for _method in electrodes.PLANTED:
    _add(Electrodes, "by_rig", _method)
for _method in plant.PLANTED:
    # One of each family; the ends of all of them are walked elsewhere.
    _add(Plant, "by_rig", _method, mostly=_method in FIRST)
