"""The pictures say what the numbers say."""

import math

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from calibration.desk.finding import listed
from calibration.kernel.pictures import sampled, staircase
from calibration.operations import run


def pictured(name, payload):
    return run(name, payload, pictured=True)


class EveryPicture(SimpleTestCase):
    def all_of(self, kind):
        for op in listed():
            said = pictured(op.name, op.example)
            if said["picture"]["kind"] == kind:
                yield op.name, said["picture"]

    def test_charts_have_lines_in_order_and_points_on_the_sheet(self):
        seen = 0
        for name, chart in self.all_of("chart"):
            seen += 1
            xs = [p[0] for s in chart["series"] for p in s["points"]]
            self.assertTrue(xs, name)
            for series in chart["series"]:
                places = [p[0] for p in series["points"]]
                if series["style"] != "dots" and name not in ("run.evaluate", "run.diagnose"):
                    self.assertEqual(places, sorted(places), name)
                self.assertTrue(all(math.isfinite(v) for p in series["points"] for v in p), name)
            for spot in chart["spots"]:
                self.assertGreaterEqual(spot["x"], min(xs) - 1e-9, name)
                self.assertLessEqual(spot["x"], max(xs) + 1e-9, name)
                self.assertTrue(spot["label"], name)
            for band in chart["bands"]:
                self.assertLess(band["start"], band["end"], name)
        self.assertGreater(seen, 15)

    def test_bars_have_lengths_and_sketches_shares(self):
        for name, bars in self.all_of("bars"):
            self.assertTrue(all(b["value"] >= 0 and b["text"] for b in bars["bars"]), name)
        for name, sketch in self.all_of("sketch"):
            self.assertTrue(all(0 <= v <= 1 for v in sketch["shares"].values()), name)


class SinglePictures(SimpleTestCase):
    def test_the_voltage_drops_add_up_to_the_supply(self):
        # Kirchhoff: the drops around the loop are the supply.
        picture = pictured("loop.supply", {"supply_v": 24, "loop_ohm": 60})["picture"]
        self.assertAlmostEqual(sum(b["value"] for b in picture["bars"]), 24)
        self.assertEqual(picture["bars"][0]["tone"], "within")
        low = pictured("loop.supply", {"supply_v": 12, "loop_ohm": 60})["picture"]
        self.assertEqual(low["bars"][0]["tone"], "outside")

    def test_the_working_point_lies_on_the_curve(self):
        for name, payload in (
            ("rtd.resistance", {"temperature_c": -77}),
            ("thermocouple.emf", {"type": "S", "temperature_c": 1234}),
            ("response.step", {"tau_s": 3, "start": 1, "end": 9, "t_s": 4}),
        ):
            chart = pictured(name, payload)["picture"]
            spot, line = chart["spots"][0], chart["series"][0]["points"]
            after = next(i for i, p in enumerate(line) if p[0] >= spot["x"])
            (x0, y0), (x1, y1) = line[after - 1], line[after]
            between = y0 + (y1 - y0) * (spot["x"] - x0) / (x1 - x0)
            self.assertAlmostEqual(spot["y"], between, delta=0.02 * abs(y1 - y0) + 1e-9)

    def test_the_staircase_has_a_step_for_each_cycle(self):
        picture = pictured("gas.bleed_cycles", {"fill_bar_abs": 5, "cycles": 4})["picture"]
        self.assertEqual(len(picture["series"][0]["points"]), 5)
        self.assertTrue(picture["log_y"])

    def test_the_part_outside_is_marked_beyond_the_limits(self):
        picture = pictured(
            "decision.assess", {"error": 0.45, "limit": 0.5, "expanded_uncertainty": 0.1}
        )["picture"]
        self.assertEqual([b["tone"] for b in picture["bands"]], ["outside", "outside"])
        self.assertEqual((picture["bands"][0]["end"], picture["bands"][1]["start"]), (-0.5, 0.5))

    def test_the_electrode_lines_cross_the_offset_and_zero_at_ph_7(self):
        buffers = [
            {"set": "technical", "nominal": n, "temperature_c": 25, "reading_mv": mv}
            for n, mv in (("7.00", 12), ("4.01", 180))
        ]
        said = pictured("ph.evaluate", {"buffers": buffers})
        theory, own = said["picture"]["series"]

        def at_seven(series):
            (x0, y0), *_, (x1, y1) = series["points"]
            return y0 + (y1 - y0) * (7 - x0) / (x1 - x0)

        self.assertAlmostEqual(at_seven(theory), 0, places=9)
        self.assertAlmostEqual(at_seven(own), said["offset_mv"], places=9)

    @given(st.floats(-1000, 1000), st.floats(0.001, 1000), st.integers(1, 90))
    def test_samples_start_and_end_where_asked(self, start, width, steps):
        points = sampled(lambda x: x, start, start + width, steps)
        self.assertEqual((points[0][0], points[-1][0]), (start, start + width))
        self.assertEqual(len(points), steps + 1)

    def test_a_staircase_counts_from_zero(self):
        self.assertEqual(staircase((8.0, 4.0)), ((0.0, 8.0), (1.0, 4.0)))
