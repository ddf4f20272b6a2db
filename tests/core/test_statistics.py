"""Fits, distributions, uncertainty, decision, adequacy."""

import math
from decimal import Decimal

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from calibration.kernel.distributions import coverage_factor, incomplete_beta, normal_cdf
from calibration.kernel.errors import InputError
from calibration.kernel.fits import least_squares, minimax_half_band
from calibration.kernel.units import pressure_factor
from calibration.operations import run

# Anscombe, "Graphs in Statistical Analysis", The American Statistician 27 (1973), table: each
# of the four sets has the regression y = 3.00 + 0.500 x, printed to those digits.
ANSCOMBE_X = [10, 8, 13, 9, 11, 14, 6, 4, 12, 7, 5]
ANSCOMBE_Y = [
    [8.04, 6.95, 7.58, 8.81, 8.33, 9.96, 7.24, 4.26, 10.84, 4.82, 5.68],
    [9.14, 8.14, 8.74, 8.77, 9.26, 8.10, 6.13, 3.10, 9.13, 7.26, 4.74],
    [7.46, 6.77, 12.74, 7.11, 7.81, 8.84, 6.08, 5.39, 8.15, 6.42, 5.73],
]
# JCGM 100:2008, table G.2, column 95.45 %; printed to two decimals.
TABLE_G2 = {1: 13.97, 2: 4.53, 3: 3.31, 4: 2.87, 5: 2.65, 10: 2.28, 20: 2.13, 50: 2.05}
# Abramowitz and Stegun, table 26.1: P(x) to nine decimals.
TABLE_26_1 = {0.0: 0.5, 1.0: 0.841344746, 2.0: 0.977249868, 3.0: 0.998650102}


class Fits(SimpleTestCase):
    def test_least_squares_on_anscombes_sets(self):
        for y in ANSCOMBE_Y:
            line = least_squares(ANSCOMBE_X, y)
            self.assertAlmostEqual(line.at_zero, 3.00, delta=0.005)
            self.assertAlmostEqual(line.slope, 0.500, delta=0.0005)

    def test_minimax_line_of_the_parabola(self):
        # Powell, Approximation Theory and Methods (1981), ch. 7: the best straight line to x**2
        # on [0, 1] misses by 1/8; the extreme points are 0, 1/2 and 1.
        x = [i / 8 for i in range(9)]
        self.assertAlmostEqual(minimax_half_band(x, [v * v for v in x]), 0.125, places=12)

    @given(st.lists(st.floats(-10, 10), min_size=3, max_size=9), st.floats(-3, 3))
    def test_minimax_never_beats_the_points_and_ignores_a_tilt(self, y, slope):
        x = [float(i) for i in range(len(y))]
        band = minimax_half_band(x, y)
        line = least_squares(x, y)
        rest = [b - line.at(a) for a, b in zip(x, y, strict=True)]
        self.assertLessEqual(band, (max(rest) - min(rest)) / 2 + 1e-9)
        tilted = [b + slope * a for a, b in zip(x, y, strict=True)]
        self.assertAlmostEqual(minimax_half_band(x, tilted), band, places=7)


class Distributions(SimpleTestCase):
    def test_normal_by_table(self):
        for z, p in TABLE_26_1.items():
            self.assertAlmostEqual(normal_cdf(z), p, delta=5e-10)

    def test_coverage_factors_by_table_g2(self):
        for dof, k in TABLE_G2.items():
            self.assertAlmostEqual(coverage_factor(dof), k, delta=0.005, msg=str(dof))
        self.assertAlmostEqual(coverage_factor(100), 2.025, delta=0.0005)
        self.assertAlmostEqual(coverage_factor(math.inf), 2.000, delta=0.0005)

    @given(st.floats(0.01, 0.99), st.floats(0.5, 20), st.floats(0.5, 20))
    def test_incomplete_beta_is_symmetric(self, x, a, b):
        # DLMF 8.17.4: I_x(a, b) = 1 - I_{1-x}(b, a).
        self.assertAlmostEqual(incomplete_beta(a, b, x), 1 - incomplete_beta(b, a, 1 - x), 10)


class Uncertainty(SimpleTestCase):
    def test_gum_example_h1(self):
        # JCGM 100:2008, H.1, table H.1 and H.1.6: end gauge; u_c = 32 nm, nu_eff = 16.7.
        parts = [("ls", 25, 18), ("d", 9.7, 25.6), ("expansion", 2.9, 50), ("theta", 16.6, 2)]
        said = run(
            "uncertainty.combine",
            {"contributions": [{"name": n, "value": v, "dof": d} for n, v, d in parts]},
        )
        self.assertAlmostEqual(said["standard_uncertainty"], 32, delta=0.5)
        self.assertAlmostEqual(said["effective_dof"], 16.7, delta=0.3)

    def test_divisors(self):
        # JCGM 100:2008, 4.3.7 and 4.3.9, F.2.2.1: a/sqrt 3, a/sqrt 6, step/sqrt 12; U/k.
        for part, wanted in (
            ({"kind": "limit", "value": 1}, 0.57735),
            ({"kind": "limit", "distribution": "triangular", "value": 1}, 0.40825),
            ({"kind": "limit", "distribution": "u_shaped", "value": 1}, 0.70711),
            ({"kind": "resolution", "value": 1}, 0.28868),
            ({"kind": "expanded", "value": 3, "k": 3}, 1.0),
            ({"kind": "type_a", "value": 0.5, "sensitivity": -2}, 1.0),
            ({"kind": "limit", "value": 8, "divisor": 4}, 2.0),
        ):
            said = run("uncertainty.combine", {"contributions": [{"name": "x", **part}]})
            self.assertAlmostEqual(said["standard_uncertainty"], wanted, places=5)
            self.assertIsNone(said["effective_dof"])

    def test_refusals(self):
        for bad, code in (
            ([], "contributions.none"),
            ([{"name": "x", "value": -1}], "contribution.negative"),
            ([{"name": "x", "value": 1, "divisor": 0}], "divisor.not_positive"),
            ([{"name": "x", "value": 1, "dof": 0.5}], "dof.too_small"),
        ):
            with self.assertRaises(InputError) as caught:
                run("uncertainty.combine", {"contributions": bad})
            self.assertEqual(caught.exception.code, code)


class Decision(SimpleTestCase):
    def assess(self, error, rule="simple", u=0.1):
        return run(
            "decision.assess",
            {"error": error, "limit": 0.5, "expanded_uncertainty": u, "k": 2, "rule": rule},
        )

    def test_outcomes_at_under_and_over_each_limit(self):
        # ILAC-G8:09/2019, 4.2.3: guard band w = U, zones at T - U, T and T + U.
        for error, outcome in (
            (0.39, "pass"),
            (0.40, "pass"),
            (0.401, "conditional_pass"),
            (-0.5, "conditional_pass"),
            (0.501, "conditional_fail"),
            (0.6, "conditional_fail"),
            (-0.601, "fail"),
        ):
            self.assertEqual(self.assess(error, "guarded")["outcome"], outcome, error)
        self.assertEqual(self.assess(0.5)["outcome"], "pass")
        self.assertEqual(self.assess(0.5001)["outcome"], "fail")

    def test_root_sum_square_guard_band(self):
        # Pythagoras: T = 0.5, U = 0.3 leaves A = 0.4.
        said = self.assess(0.4, "guarded_rss", u=0.3)
        self.assertAlmostEqual(said["acceptance_limit"], 0.4, places=12)
        self.assertEqual(said["outcome"], "pass")

    def test_probability_on_the_limit_is_one_half(self):
        # JCGM 106:2012, 7: half of the distribution lies beyond a limit it is centred on.
        self.assertAlmostEqual(self.assess(0.5)["probability_outside"], 0.5, places=9)
        # One standard uncertainty inside: 1 - P(1) of Abramowitz and Stegun, table 26.1.
        inside = self.assess(0.45)["probability_outside"]
        self.assertAlmostEqual(inside, 1 - 0.841344746, delta=1e-8)

    @given(st.floats(-2, 2), st.floats(0.001, 1))
    def test_probability_is_one_and_symmetric(self, error, u):
        here = self.assess(error, u=u)["probability_outside"]
        self.assertTrue(0 <= here <= 1 + 1e-12)
        self.assertAlmostEqual(here, self.assess(-error, u=u)["probability_outside"], places=9)

    def test_a_reference_too_poor_to_accept_anything(self):
        said = self.assess(0.0, "guarded", u=0.6)
        self.assertEqual((said["acceptance_limit"], said["outcome"]), (None, "conditional_pass"))


class References(SimpleTestCase):
    def test_ratio_by_hand(self):
        # Hand calculation: 0.025 % of 7000 kPa = 1.75 kPa; 20 / 1.75 = 11.43.
        spec = {"percent_of_full_scale": "0.025", "full_scale": "7000"}
        poor = {"percent_of_full_scale": "0.25", "absolute": "1", "full_scale": "6000"}
        short = {"percent_of_reading": "0.01", "full_scale": "1000"}
        said = run(
            "reference.adequacy",
            {
                "candidates": [
                    {"name": "good", "spec": spec},
                    {"name": "poor", "spec": poor},
                    {"name": "short", "spec": short},
                ],
                "at": "4000",
                "device_tolerance": "20",
            },
        )
        good, bad, out = said["candidates"]
        self.assertAlmostEqual(float(good["ratio"]), 11.43, delta=0.005)
        self.assertEqual((good["ok"], bad["ok"], out["ok"]), (True, False, False))
        self.assertIn("below 4 to 1", bad["why_not"])
        self.assertIn("it ends at", out["why_not"])
        self.assertEqual(said["best"], "good")

    def test_pressure_factors(self):
        # NIST SP 811 (2008), appendix B.8: 1 psi = 6.894757 kPa; 1 bar = 100 kPa.
        self.assertEqual(pressure_factor("psi", "kPa"), Decimal("6.894757"))
        self.assertEqual(pressure_factor("bar", "kPa"), 100)
        with self.assertRaises(InputError):
            pressure_factor("furlong", "kPa")
