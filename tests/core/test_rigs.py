"""The virtual rigs against physics worked out another way: by an integrator, by hand, by tables."""

import math
from dataclasses import replace
from itertools import pairwise

import numpy as np
from django.test import SimpleTestCase
from scipy import integrate, stats

import calibration.families  # noqa: F401  # registers their rigs
from calibration.families.ph.electrode import ElectrodeModel
from calibration.families.ph.rig import mean_mv
from calibration.simulate import rigs
from calibration.simulate.block import Block, BlockModel, Course, block_at, settling_s
from calibration.simulate.commands import NOISE_STEP_S, Command, Share
from calibration.simulate.detector import DetectorModel, Head
from calibration.simulate.loop import LoopModel
from calibration.simulate.noise import gaussian, uniform

QUIET = {"noise_percent": 0.0, "source_offset_percent": 0.0}
LOOP = LoopModel(lower=0.0, upper=100.0, input_decimals=6, output_decimals=6, **QUIET)
OVEN = Block(start_c=20.0, offset_c=0.0)
SENSOR = BlockModel(sensor="Pt100", block=OVEN, noise_c=0.0, lag_s=0.0)
HEAD = Head(id="1", gas="methane", unit="%LEL", range=100.0, noise=0.0, tau_s=10.0, decimals=4)
DETECTOR = DetectorModel(heads=(HEAD,))
#: 2.2 % vol methane, half its lower explosive limit by IEC 60079-20-1 (4.4 % vol)
HALF = (Share(gas="methane", percent=2.2),)
MODELS = {
    "loop": (LoopModel(lower=0.0, upper=100.0), "apply"),
    "block": (BlockModel(sensor="Pt100", lower=0.0, upper=150.0, block=OVEN), "apply"),
    "detector": (replace(DETECTOR, heads=(replace(HEAD, noise=0.08),)), "adapter"),
    "electrode": (ElectrodeModel(), "tell"),
}


def order(kind, t, n):
    """Return the n-th order of a long life of a rig."""
    if kind == "apply":
        if n % 10 == 8:
            return Command(t=t, kind="write", setting="upper", text=str(100 + n % 3))
        if n % 10 == 9 and n > 20:
            return Command(t=t, kind="trim", hop="output", end="zero")
        return Command(t=t, kind="apply", value=float((0, 50, 100)[n % 3]))
    if kind == "adapter":
        gas = Command(t=t, kind="gas", value=0.5, mix=HALF)
        on, off = (Command(t=t, kind="adapter", value=v) for v in (1.0, 0.0))
        return (on, gas, Command(t=t, kind="shut"), off)[n % 4]
    if n % 2:
        return Command(t=t, kind="tell", setting="process")
    buffer = ("primary:6.865", "primary:4.006")[n // 2 % 2]
    return Command(t=t, kind="tell", setting="buffer", text=buffer)


def life(kind, count, every=40.0):
    """Return so many orders, one after the other."""
    return [order(kind, every * (n + 1), n) for n in range(count)]


class Noise(SimpleTestCase):
    def test_is_normal(self):
        """Kolmogorov and Smirnov's test of scipy, and the moments of a standard normal."""
        drawn = np.array([gaussian(7, "output", n) for n in range(20_000)])
        self.assertGreater(stats.kstest(drawn, "norm").pvalue, 0.01)
        self.assertAlmostEqual(drawn.mean(), 0.0, delta=0.02)
        self.assertAlmostEqual(drawn.std(), 1.0, delta=0.02)
        self.assertAlmostEqual(stats.kurtosis(drawn), 0.0, delta=0.15)

    def test_is_uniform_and_never_an_end(self):
        drawn = [uniform(7, "settle", n) for n in range(20_000)]
        self.assertGreater(stats.kstest(drawn, "uniform").pvalue, 0.01)
        self.assertTrue(min(drawn) > 0 and max(drawn) < 1)

    def test_one_sample_tells_nothing_of_the_next_nor_one_channel_of_another(self):
        one, other = ([gaussian(7, c, n) for n in range(5_000)] for c in ("a", "b"))
        limit = 4 / math.sqrt(5_000)
        self.assertLess(abs(np.corrcoef(one[1:], one[:-1])[0, 1]), limit)
        self.assertLess(abs(np.corrcoef(one, other)[0, 1]), limit)

    def test_the_same_is_always_the_same(self):
        self.assertEqual(gaussian(1, "x", 5), gaussian(1, "x", 5))
        self.assertNotEqual(gaussian(1, "x", 5), gaussian(2, "x", 5))


class EveryRig(SimpleTestCase):
    def test_a_window_is_what_was_seen_at_each_moment(self):
        for name, (model, kind) in MODELS.items():
            orders = life(kind, 12)
            with self.subTest(rig=name):
                seen = rigs.window(model, orders, 500.0, 3, 5.0)
                self.assertGreater(len(seen), 10)
                for one in seen:
                    self.assertEqual(one, rigs.live(model, orders, one.t, 3))

    def test_what_is_done_later_changes_nothing_before(self):
        for name, (model, kind) in MODELS.items():
            orders = life(kind, 14)
            for t in (39.0, 41.0, 200.5, 333.0):
                with self.subTest(rig=name, t=t):
                    so_far = [c for c in orders if c.t <= t]
                    known = rigs.live(model, so_far, t, 3)
                    self.assertEqual(known, rigs.live(model, orders, t, 3))
                    self.assertEqual(
                        rigs.settings_at(model, so_far, t), rigs.settings_at(model, orders, t)
                    )

    def test_an_old_rig_costs_in_step_with_what_was_done_to_it(self):
        """Ten times the orders are looked at, not a hundred times: counted, not timed."""
        for name, (model, kind) in MODELS.items():
            with self.subTest(rig=name):
                few, many = (self.looks(model, life(kind, n), name) for n in (100, 1000))
                self.assertLess(many, 20 * few)

    def looks(self, model, orders, name):
        """Return how often the list of orders is gone through or reached into."""

        class Counting(list):
            count = 0

            def __iter__(self):
                for item in super().__iter__():
                    Counting.count += 1
                    yield item

            def __getitem__(self, place):
                Counting.count += 1
                return super().__getitem__(place)

        Counting.count = 0
        rigs.window(model, Counting(orders), orders[-1].t + 100, 3, 5.0)
        self.assertGreater(Counting.count, 0, name)
        return Counting.count


class Loops(SimpleTestCase):
    def test_a_step_through_two_lags(self):
        """A Runge-Kutta integrator of scipy on the same two differential equations."""
        ts, tx = LOOP.source_tau_s, LOOP.transmitter_tau_s

        def slope(_, y):
            return [(100 - y[0]) / ts, (y[0] - y[1]) / tx]

        moments = np.array([0.2, 0.7, 1.5, 3.0, 6.0, 12.0])
        found = integrate.solve_ivp(slope, (0, 12), [0, 0], t_eval=moments, rtol=1e-10, atol=1e-12)
        for t, source, lagged in zip(moments, *found.y, strict=True):
            live = rigs.live(LOOP, [Command(t=0, kind="apply", value=100)], float(t), 1)
            self.assertAlmostEqual(float(live.applied), source, places=4)
            self.assertAlmostEqual(float(live.output), 4 + 0.16 * lagged, places=4)

    def test_damping_slows_it_from_a_second_after_it_was_written(self):
        orders = [
            Command(t=0, kind="write", setting="damping", text="5"),
            Command(t=10, kind="apply", value=100),
        ]
        damped = rigs.live(LOOP, orders, 15.0, 1)
        free = rigs.live(LOOP, orders[1:], 15.0, 1)
        self.assertLess(damped.output, free.output)
        self.assertEqual(rigs.settings_at(LOOP, orders, 0.5)["damping"], "0")
        self.assertEqual(rigs.settings_at(LOOP, orders, 1.5)["damping"], "5")

    def settled(self, model, percent, orders=()):
        applied = Command(t=1000, kind="apply", value=percent)
        return float(rigs.live(model, [*orders, applied], 1200.0, 1).output)

    def test_errors_are_what_they_are_said_to_be(self):
        """Offset moves every point by the same, gain by its share, a bow most in the middle."""
        for fault, at, by in (
            ({"output_zero_percent": 0.5}, (0, 50, 100), (0.08, 0.08, 0.08)),
            ({"output_span_percent": 1.0}, (0, 50, 100), (0.0, 0.08, 0.16)),
            ({"bow_percent": 0.5}, (0, 50, 100), (0.0, 0.08, 0.0)),
            ({"set_upper": 200.0}, (0, 50, 100), (0.0, -4.0, -8.0)),
        ):
            for percent, off in zip(at, by, strict=True):
                with self.subTest(fault=fault, percent=percent):
                    found = self.settled(replace(LOOP, **fault), percent)
                    self.assertAlmostEqual(found, 4 + 0.16 * percent + off, places=4)

    def test_hysteresis_is_the_gap_between_up_and_down(self):
        sticks = replace(LOOP, hysteresis_percent=1.0)
        up = self.settled(sticks, 50)
        down = self.settled(sticks, 50, [Command(t=1, kind="apply", value=100)])
        self.assertAlmostEqual(down - up, 0.16, places=3)

    def test_a_root_in_the_device(self):
        """25 % of the pressure is half of the flow (ISO 5167-1)."""
        self.assertAlmostEqual(
            self.settled(replace(LOOP, characteristic="square_root"), 25), 12.0, places=4
        )

    def test_the_output_ends_where_it_ends(self):
        self.assertEqual(self.settled(LOOP, 120), 20.5)
        self.assertEqual(self.settled(LOOP, -10), 3.8)
        self.assertEqual(self.settled(replace(LOOP, fault="stuck", fixed_output=7.2), 50), 7.2)


class Blocks(SimpleTestCase):
    def test_it_ramps_then_settles(self):
        """8 °C/min up: after 3 min 24 °C more; the last 6 °C (8/60 · 45 s) by an exponential."""
        orders = [Command(t=0, kind="apply", value=100)]
        self.assertAlmostEqual(block_at(OVEN, orders, 180, 1), 44.0)
        bend = (80 - 6) / (8 / 60)
        self.assertAlmostEqual(block_at(OVEN, orders, bend, 1), 94.0)
        self.assertAlmostEqual(block_at(OVEN, orders, bend + 45, 1), 100 - 6 / math.e)
        self.assertAlmostEqual(block_at(OVEN, orders, 1e5, 1), 100.0)

    def test_neither_value_nor_slope_jumps(self):
        orders = [Command(t=0, kind="apply", value=100), Command(t=300, kind="apply", value=30)]
        course = Course(OVEN, orders, 1)
        path = [course.at(t) for t in np.arange(0, 3000, 0.5)]
        self.assertLessEqual(max(abs(np.diff(path))), 8 / 60 * 0.5 + 1e-9)

    def test_the_time_it_takes_is_the_time_it_takes(self):
        for start, target, within in ((20, 100, 0.1), (100, 20, 0.05), (20, 22, 0.1)):
            oven = replace(OVEN, start_c=float(start))
            takes = settling_s(oven, start, target, within)
            there = block_at(oven, [Command(t=0, kind="apply", value=target)], takes, 1)
            self.assertAlmostEqual(abs(there - target), within, places=9)

    def test_a_platinum_sensor_by_the_table(self):
        """IEC 60751, table of a Pt100: 138.51 Ω at 100 °C, 157.33 at 150 and 119.40 at 50."""
        for t, ohm in ((50, 119.40), (100, 138.51), (150, 157.33)):
            settled = rigs.live(SENSOR, [Command(t=0, kind="apply", value=t)], 1e5, 1)
            self.assertAlmostEqual(float(settled.output), ohm, delta=0.006)

    def test_leads_add_and_moisture_takes_away(self):
        """0.8 Ω of lead; 100 kΩ across 138.506 Ω leave 138.314 Ω (parallel resistors)."""
        hot = [Command(t=0, kind="apply", value=100)]
        longer = rigs.live(replace(SENSOR, lead_ohm=0.8), hot, 1e5, 1)
        self.assertAlmostEqual(float(longer.output), 139.306, delta=0.002)
        wet = rigs.live(replace(SENSOR, shunt_ohm=100_000.0), hot, 1e5, 1)
        self.assertAlmostEqual(float(wet.output), 138.314, delta=0.002)


class Detectors(SimpleTestCase):
    def on(self, t=10.0, **gas):
        given = {"value": 0.5, "mix": HALF, **gas}
        return [Command(t=0, kind="adapter", value=1.0), Command(t=t, kind="gas", **given)]

    def shows(self, orders, t, model=DETECTOR):
        return float(rigs.live(model, orders, t, 1).digital)

    def test_it_rises_as_a_first_order_lag(self):
        """63.2 % after one time constant, 90 % after 2.303 of them."""
        end = self.shows(self.on(), 1000)
        self.assertAlmostEqual(end, 50.0, delta=0.2)
        for seconds, share in ((10.0, 1 - 1 / math.e), (23.026, 0.9)):
            self.assertAlmostEqual(self.shows(self.on(), 10 + seconds) / end, share, delta=0.002)

    def test_without_adapter_or_flow_nothing_comes(self):
        self.assertEqual(self.shows(self.on()[1:], 500), 0.0)
        self.assertEqual(self.shows(self.on(value=0.0), 500), 0.0)
        self.assertEqual(self.shows(self.on(), 500, replace(DETECTOR, blocked=True)), 0.0)

    def test_an_empty_cylinder_ends_it(self):
        """One litre at 0.5 L/min lasts two minutes."""
        orders = self.on(t=0.0, litres=1.0)
        self.assertAlmostEqual(self.shows(orders, 119), 50.0, delta=0.3)
        self.assertLess(self.shows(orders, 300), 5.0)

    def test_a_plugged_filter_is_slow_and_weak(self):
        """Its lag is longer: 23 s, 90 % of a clean one's way, are less of its own way."""
        plugged = replace(DETECTOR, heads=(replace(HEAD, plugged=0.5),))
        end = self.shows(self.on(), 2000, plugged)
        self.assertLess(end, 45.0)
        self.assertLess(self.shows(self.on(), 33, plugged), 0.7 * end)


class Electrodes(SimpleTestCase):
    def test_a_shunt_divides_what_the_glass_gives(self):
        """100 MΩ of glass at 25 °C behind 100 MΩ of moisture: half of the millivolts are left."""
        sound = ElectrodeModel(
            process_ph=4.0, offset_mv=0.0, slope=1.0, noise_mv=0.0, junction_mv=0.0
        )
        whole = self.millivolts(sound)
        self.assertAlmostEqual(whole, 3 * 59.16, delta=0.05)
        half = self.millivolts(replace(sound, shunt_mohm=100.0))
        self.assertAlmostEqual(half, whole / 2, delta=0.1)

    def millivolts(self, model):
        return mean_mv(model, [], 60.0, 1)

    def test_samples_come_at_their_distance(self):
        seen = rigs.window(ElectrodeModel(), [], 100.0, 1, 5.0)
        steps = {round(b.t - a.t, 6) for a, b in pairwise(seen)}
        self.assertEqual(steps, {NOISE_STEP_S})
