"""Steadiness, first-order response, slips at the keyboard."""

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from calibration.kernel.errors import InputError
from calibration.operations import run


def samples(values, step=1.0):
    return [{"t": i * step, "value": v} for i, v in enumerate(values)]


class Steady(SimpleTestCase):
    def assess(self, values, **more):
        payload = {"samples": samples(values), "band": 0.1, "dwell_s": 5, **more}
        return run("stability.assess", payload)

    def test_in_band_for_the_whole_dwell(self):
        said = self.assess([9, 9.5, 10, 10.02, 9.98, 10.01, 10, 9.99, 10])
        self.assertTrue(said["stable"])
        self.assertEqual(said["remaining_s"], 0)
        self.assertEqual(said["samples_used"], 6)

    def test_in_band_but_not_long_enough(self):
        said = self.assess([5, 6, 7, 8, 9, 10, 10.01, 10])
        self.assertFalse(said["stable"])
        self.assertAlmostEqual(said["since_s"], 2)
        self.assertAlmostEqual(said["remaining_s"], 3)

    def test_a_young_signal_is_never_steady(self):
        self.assertFalse(self.assess([10, 10, 10])["stable"])

    def test_a_slow_ramp_within_the_band_fails_the_slope(self):
        ramp = [10 + 0.02 * i for i in range(9)]
        self.assertTrue(self.assess(ramp)["stable"])
        self.assertFalse(self.assess(ramp, slope_limit=0.01)["stable"])
        self.assertAlmostEqual(self.assess(ramp)["slope"], 0.02, places=9)

    def test_refusals(self):
        for bad in (
            {"samples": [], "band": 1, "dwell_s": 1},
            {"samples": samples([1, 2]), "band": 0, "dwell_s": 1},
            {"samples": samples([1, 2]), "band": 1, "dwell_s": 0},
            {"samples": samples([1, 2], step=-1), "band": 1, "dwell_s": 1},
        ):
            with self.assertRaises(InputError):
                run("stability.assess", bad)

    @given(st.lists(st.floats(-0.04, 0.04), min_size=7, max_size=30))
    def test_scatter_below_half_the_band_is_steady(self, noise):
        self.assertTrue(self.assess([10 + n for n in noise])["stable"])


class Response(SimpleTestCase):
    def test_t63_and_t90(self):
        # First order: 63.2 % after one time constant; t90 = tau ln 10 (Abramowitz and Stegun,
        # table 4.2: ln 10 = 2.302585093).
        said = run("response.step", {"tau_s": 10, "start": 0, "end": 100, "t_s": 10})
        self.assertAlmostEqual(said["value"], 63.212, delta=0.0005)
        said = run("response.step", {"t90_s": 23.02585093, "start": 0, "end": 1, "t_s": 0})
        self.assertAlmostEqual(said["tau_s"], 10, places=8)
        self.assertAlmostEqual(said["time_to_within_s"], 46.0517, delta=0.0001)

    def test_refusals(self):
        base = {"start": 0, "end": 1, "t_s": 1}
        for bad in ({}, {"tau_s": 1, "t63_s": 1}, {"tau_s": 0}, {"tau_s": 1, "t_s": -1}):
            with self.assertRaises(InputError):
                run("response.step", {**base, **bad})


class Slips(SimpleTestCase):
    def detect(self, reading, expected="12", span="16", unit="mA", **more):
        payload = {"reading": reading, "expected": expected, "span": span, "unit": unit, **more}
        return run("slip.detect", payload)

    def test_kinds_and_suggestions(self):
        for typed, kind, suggestion in (
            ({"reading": "1.204"}, "tenfold", "12.04"),
            ({"reading": "120.4"}, "tenfold", "12.04"),
            ({"reading": "21.04"}, "transposed", "12.04"),
            ({"reading": "2.04"}, "dropped_digit", "12.04"),
            ({"reading": "50.1", "lower": "4"}, "percent_for_signal", "12.02"),
            ({"reading": "4.01", "neighbours": ["4.01"]}, "copied", None),
            ({"reading": "17.3"}, "far_off", None),
        ):
            said = self.detect(**typed)
            self.assertEqual((said["kind"], said["suggestion"]), (kind, suggestion), typed)
            self.assertTrue(said["question"].endswith("?"))

    def test_psi_typed_for_kpa(self):
        # NIST SP 811, B.8: 1 psi = 6.894757 kPa, so 290.1 psi is 2000.2 kPa.
        said = self.detect("290.1", expected="2000", span="4000", unit="kPa")
        self.assertEqual((said["kind"], said["suggestion"]), ("unit", "2000.2"))

    def test_swapped_columns(self):
        said = self.detect(
            "12.04",
            expected="2000",
            span="4000",
            unit="kPa",
            other="2000.2",
            other_expected="12",
            other_span="16",
        )
        self.assertEqual((said["kind"], said["suggestion"]), ("swapped_columns", "2000.2"))

    @given(st.decimals(min_value="11.3", max_value="12.7", places=3))
    def test_a_plausible_value_is_never_asked_about(self, reading):
        self.assertIsNone(self.detect(str(reading))["kind"])
