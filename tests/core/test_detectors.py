"""Gas detectors: bump, zero, span, return to service, sensor life."""

import math
from datetime import date, timedelta

import numpy
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from calibration.kernel.errors import InputError
from calibration.operations import run


def rise(end, tau=10.0, seconds=120, step=2, start=0.0):
    """Samples of a first-order response."""
    return [
        {"t": t, "value": end + (start - end) * math.exp(-t / tau)} for t in range(0, seconds, step)
    ]


class Bump(SimpleTestCase):
    def test_t90_of_a_first_order_rise(self):
        # t90 = τ ln 10 (IEC 60079-29-1 defines t90; first-order lag gives 2.302585 τ).
        said = run("detector.bump", {"samples": rise(50, tau=8), "gas_value": 50})
        self.assertEqual(said["outcome"], "accepted")
        self.assertAlmostEqual(said["t90_s"], 8 * 2.302585, delta=0.2)

    def test_outcomes(self):
        for value, outcome in (
            (50, "accepted"),
            (40, "accepted"),
            (60, "accepted"),
            (39.9, "low_response"),
            (60.1, "high_response"),
            (2, "no_response"),
        ):
            said = run("detector.bump", {"value": value, "gas_value": 50})
            self.assertEqual(said["outcome"], outcome, value)

    def test_unsteady_and_slow(self):
        rising = run("detector.bump", {"samples": rise(50, tau=60), "gas_value": 50})
        self.assertEqual(rising["outcome"], "unstable")
        slow = run(
            "detector.bump",
            {"samples": rise(50, tau=20, seconds=240), "gas_value": 50, "t90_limit_s": 30},
        )
        self.assertEqual((slow["outcome"], slow["fast_enough"]), ("accepted", False))
        self.assertIn("Slow", slow["advice"])

    def test_refusals(self):
        for payload, code in (
            ({"gas_value": 50}, "value.needed"),
            ({"gas_value": 0, "value": 1}, "gas_value.not_positive"),
            (
                {"gas_value": 5, "value": 1, "tolerance_percent": 0},
                "tolerance_percent.out_of_range",
            ),
        ):
            with self.assertRaises(InputError) as caught:
                run("detector.bump", payload)
            self.assertEqual(caught.exception.code, code)


class ZeroAndSpan(SimpleTestCase):
    def test_zero(self):
        for value, outcome, adjust in (
            (0.5, "accepted", False),
            (1.0, "accepted", False),
            (4, "accepted", True),
            (-4, "accepted", True),
            (12, "zero_gas_suspect", False),
            (-12, "out_of_range", False),
        ):
            said = run("detector.zero", {"value": value, "range": 100})
            self.assertEqual((said["outcome"], said["adjust"]), (outcome, adjust), value)

    def test_gas_in_the_zero_is_never_forced(self):
        said = run("detector.zero", {"value": 15, "range": 100})
        self.assertIn("do not force", said["advice"])

    def test_an_unsteady_zero(self):
        said = run("detector.zero", {"samples": rise(60, tau=40, seconds=60), "range": 100})
        self.assertEqual(said["outcome"], "unstable")

    def test_span(self):
        base = {"gas_value": 50, "range": 100}
        for value, outcome, adjust in (
            (50, "accepted", False),
            (47.5, "accepted", False),
            (40, "accepted", True),
            (24, "low_response", False),
            (76, "high_response", False),
            (3, "no_response", False),
            (101, "out_of_range", False),
        ):
            said = run("detector.span", {**base, "value": value})
            self.assertEqual((said["outcome"], said["adjust"]), (outcome, adjust), value)

    def test_the_gain_puts_it_right(self):
        # Hand calculation: (41 − 1) of 50 is 80 %; 1 / 0.8 = 1.25.
        said = run("detector.span", {"gas_value": 50, "zero_value": 1, "value": 41})
        self.assertAlmostEqual(said["sensitivity_percent"], 80)
        self.assertAlmostEqual(said["gain"], 1.25)

    def test_refusals(self):
        for name, payload, code in (
            ("zero", {"value": 1, "range": 0}, "range.not_positive"),
            ("zero", {"range": 100}, "value.needed"),
            ("span", {"gas_value": 0, "value": 1}, "gas_value.not_positive"),
            (
                "span",
                {"gas_value": 5, "value": 1, "allowed_low_percent": 150},
                "allowed.order",
            ),
            ("span", {"gas_value": 5, "value": 1, "range": -1}, "range.not_positive"),
        ):
            with self.assertRaises(InputError) as caught:
                run(f"detector.{name}", payload)
            self.assertEqual(caught.exception.code, code)


class BackToService(SimpleTestCase):
    def test_the_fitted_time(self):
        # First-order fall with τ = 20 s: from 50 to 2.5 takes 20 ln 20 = 59.91 s; 30 s are over.
        fall = rise(0, tau=20, seconds=31, step=5, start=50)
        said = run("detector.return_to_service", {"samples": fall, "gas_value": 50})
        self.assertFalse(said["clear"])
        self.assertAlmostEqual(said["time_constant_s"], 20, places=6)
        self.assertAlmostEqual(said["seconds_to_clear"], 59.9146 - 30, places=3)

    def test_clear_and_not_falling(self):
        low = [{"t": 0, "value": 10}, {"t": 60, "value": 2.5}]
        self.assertTrue(
            run("detector.return_to_service", {"samples": low, "gas_value": 50})["clear"]
        )
        flat = [{"t": t, "value": 20} for t in (0, 10, 20)]
        said = run("detector.return_to_service", {"samples": flat, "gas_value": 50})
        self.assertIsNone(said["seconds_to_clear"])
        self.assertIn("real gas", said["advice"])

    def test_refusals(self):
        for payload, code in (
            ({"samples": [], "gas_value": 50}, "samples.too_few"),
            (
                {"samples": [{"t": 1, "value": 1}, {"t": 1, "value": 1}], "gas_value": 5},
                "samples.order",
            ),
            (
                {"samples": [{"t": 1, "value": 1}], "gas_value": 5, "threshold_percent": 0},
                "threshold_percent.out_of_range",
            ),
        ):
            with self.assertRaises(InputError) as caught:
                run("detector.return_to_service", payload)
            self.assertEqual(caught.exception.code, code)


def history(values, start=date(2026, 1, 1), every=90):
    return [
        {"date": (start + timedelta(days=every * n)).isoformat(), "response": v}
        for n, v in enumerate(values)
    ]


class SensorLife(SimpleTestCase):
    VALUES = (98.0, 92.5, 84.0, 79.5, 71.0)

    def test_dates_and_limits_agree_with_a_statistics_library(self):
        x = numpy.arange(5) * 90.0
        y = numpy.array(self.VALUES)
        fit = stats.linregress(x, y)
        said = run("sensor.life", {"history": history(self.VALUES)})
        self.assertAlmostEqual(said["slope_per_month"], fit.slope * 365.25 / 12, places=9)
        spent = said["dates"][1]
        crossing = (40 - fit.intercept) / fit.slope
        self.near(spent["expected"], crossing)
        s = math.sqrt(sum((y - fit.intercept - fit.slope * x) ** 2) / 3)
        for share, early, late in ((0.8, "early_80", "late_80"), (0.95, "early_95", "late_95")):
            t = stats.t.ppf(0.5 + share / 2, 3)
            days = numpy.arange(360, 3000, 0.01)
            half = (
                t * s * numpy.sqrt(1 + 1 / 5 + (days - x.mean()) ** 2 / ((x - x.mean()) ** 2).sum())
            )
            line = fit.intercept + fit.slope * days
            self.near(spent[early], days[numpy.argmax(line - half <= 40)])
            above = line + half > 40
            last = spent[late]
            if above.all():
                self.assertIsNone(last)
            else:
                self.near(last, days[numpy.argmax(~above)])

    def near(self, said, x):
        """A date is the day on which the level is reached; the roots are good to 0.01 days."""
        day = (date.fromisoformat(said) - date(2026, 1, 1)).days
        self.assertAlmostEqual(day, x + 0.5, delta=0.52)

    def test_only_since_the_last_replacement(self):
        past = history((40.0, 35.0, 99.0, 95.0, 92.0))
        past[2]["replaced"] = True
        said = run("sensor.life", {"history": past})
        self.assertEqual((said["points_used"], said["status"]), (3, "good"))

    def test_too_few_predicts_nothing(self):
        said = run("sensor.life", {"history": history((98.0, 90.0))})
        self.assertEqual((said["status"], said["dates"]), ("too_few", []))
        self.assertIn("too few", said["advice"])
        spent = run("sensor.life", {"history": history((98.0, 30.0))})
        self.assertEqual(spent["status"], "replace")

    def test_weak_spent_and_rising(self):
        for last, status in ((61, "good"), (55, "weak"), (39, "replace")):
            said = run("sensor.life", {"history": history((80, 70, last))})
            self.assertEqual(said["status"], status)
        rising = run("sensor.life", {"history": history((80.0, 81.5, 82.0))})
        self.assertIsNone(rising["dates"][1]["expected"])

    @given(st.permutations(list(VALUES)))
    def test_the_order_of_the_list_changes_nothing(self, order):
        listed = history(self.VALUES)
        shuffled = [next(h for h in listed if h["response"] == v) for v in order]
        self.assertEqual(
            run("sensor.life", {"history": shuffled})["dates"],
            run("sensor.life", {"history": listed})["dates"],
        )

    def test_refusals(self):
        for payload, code in (
            ({"history": []}, "history.too_few"),
            ({"history": [{"date": "yesterday", "response": 90}]}, "date.invalid"),
            (
                {"history": history((90, 80)), "replace_percent": 60},
                "bands.order",
            ),
            ({"history": history((90, 80, 70), every=0)}, "dates.equal"),
        ):
            with self.assertRaises(InputError) as caught:
                run("sensor.life", payload)
            self.assertEqual(caught.exception.code, code)
