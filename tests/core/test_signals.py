"""Ideal transfer, tolerance, run plan."""

from decimal import Decimal

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from calibration.decisions.tolerance import Tolerance, in_words, limit_at
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import exact
from calibration.operations import run
from calibration.signals.transfer import Transfer, ideal_output, input_for

RANGE = {"input_lower": "0", "input_upper": "4000", "output_lower": "4", "output_upper": "20"}
number = st.decimals(min_value=-5000, max_value=5000, places=2, allow_nan=False)


def transfer(**changes):
    given = {**RANGE, "characteristic": "linear", **changes}
    return Transfer(**{k: v if k == "characteristic" else Decimal(v) for k, v in given.items()})


class Scale(SimpleTestCase):
    def test_linear_by_hand(self):
        # Hand calculation: 3001.2 / 4000 = 0.7503; 4 + 0.7503 x 16 = 16.0048 mA.
        said = run("signal.scale", {**RANGE, "input": "3001.2"})
        self.assertEqual(Decimal(said["output"]), Decimal("16.0048"))
        self.assertEqual(Decimal(said["percent"]), Decimal("75.03"))
        self.assertFalse(said["clipped"])

    def test_square_root_points(self):
        # ISO 5167-1: flow goes with the root of differential pressure; 25 % gives half flow.
        for applied, output in (("0", "4"), ("1000", "12"), ("4000", "20"), ("-100", "4")):
            said = run("signal.scale", {**RANGE, "characteristic": "square_root", "input": applied})
            self.assertEqual(Decimal(said["output"]), Decimal(output), applied)
        self.assertTrue(said["clipped"])

    def test_reversed_and_elevated_ranges(self):
        # Hand calculation: 100 to -100 on 4-20 mA: 0 is the middle, 12 mA.
        self.assertEqual(
            ideal_output(transfer(input_lower="100", input_upper="-100"), Decimal(0)), 12
        )
        self.assertEqual(
            ideal_output(transfer(output_lower="20", output_upper="4"), Decimal(1000)), 16
        )

    def test_refuses_no_width_and_none_or_two_values(self):
        for bad, code in (
            ({"input_upper": "0", "input": "1"}, "range.zero_width"),
            ({"output_upper": "4", "input": "1"}, "range.zero_width"),
            ({}, "value.one_needed"),
            ({"input": "1", "output": "5"}, "value.one_needed"),
            ({"characteristic": "square_root", "output": "3.9"}, "root.negative"),
            ({"characteristic": "square_root", "percent": "-1"}, "root.negative"),
        ):
            with self.subTest(bad=bad), self.assertRaises(InputError) as caught:
                run("signal.scale", {**RANGE, **bad})
            self.assertEqual(caught.exception.code, code)

    @given(number, number, number)
    def test_the_inverse_inverts(self, lower, upper, value):
        if lower == upper:
            return
        with exact():
            t = transfer(input_lower=lower, input_upper=upper)
            back = input_for(t, ideal_output(t, value))
        self.assertAlmostEqual(back, value, delta=Decimal("1e-20") * (1 + abs(upper - lower)))

    @given(st.tuples(number, number).filter(lambda p: p[0] < p[1]))
    def test_scaling_is_monotone(self, pair):
        for kind in ("linear", "square_root"):
            t = transfer(characteristic=kind)
            with exact():
                self.assertLessEqual(ideal_output(t, pair[0]), ideal_output(t, pair[1]))


class Allowed(SimpleTestCase):
    def test_terms_add_up_or_the_greatest_counts(self):
        # Hand calculation at 1000 kPa of 4000: 0.1 % of 16 mA = 0.016; 0.2 % of 1000 kPa = 2 kPa
        # = 0.008 mA; 4 kPa = 0.016 mA; 0.01 mA.
        terms = {
            "percent_of_span": Decimal("0.1"),
            "percent_of_reading": Decimal("0.2"),
            "absolute": Decimal(4),
            "output_absolute": Decimal("0.01"),
        }
        t = transfer()
        self.assertEqual(limit_at(t, Tolerance(**terms), Decimal(1000)), Decimal("0.050"))
        greatest = Tolerance(combine="greatest", **terms)
        self.assertEqual(limit_at(t, greatest, Decimal(1000)), Decimal("0.016"))

    def test_on_a_root_an_input_term_weighs_more_at_low_flow(self):
        t, allowed = transfer(characteristic="square_root"), Tolerance(absolute=Decimal(4))
        self.assertGreater(
            limit_at(t, allowed, Decimal(40)), 5 * limit_at(t, allowed, Decimal(4000))
        )

    @given(st.decimals(min_value=0, max_value=4000, places=1), st.sampled_from(["kPa", "bar"]))
    def test_never_depends_on_the_unit_chosen(self, applied, unit):
        factor = {"kPa": Decimal(1), "bar": Decimal("0.01")}[unit]
        t = transfer(input_upper=4000 * factor)
        allowed = Tolerance(percent_of_reading=Decimal("0.5"), percent_of_span=Decimal("0.1"))
        with exact():
            here = limit_at(t, allowed, applied * factor)
            reference = limit_at(transfer(), allowed, applied)
        self.assertAlmostEqual(here, reference, delta=Decimal("1e-25"))

    def test_refuses_negative_and_empty(self):
        for bad in ({"percent_of_span": Decimal(-1)}, {}):
            with self.assertRaises(InputError):
                Tolerance(**bad)

    def test_in_words(self):
        self.assertEqual(
            in_words(Tolerance(percent_of_span=Decimal("0.50")), "kPa", "mA"), "±0.5 % of span"
        )


class Plan(SimpleTestCase):
    def test_up_and_down_turns_once_at_the_top(self):
        points = run("run.plan", {"input_lower": "0", "input_upper": "400", "points": 5})["points"]
        self.assertEqual(
            [(p["nominal"], p["direction"]) for p in points],
            [(str(v), "up") for v in (0, 100, 200, 300, 400)]
            + [(str(v), "down") for v in (300, 200, 100, 0)],
        )

    def test_counts_of_points_over_cycles(self):
        for count, pattern, cycles, wanted in (
            (3, "up", 1, 3),
            (9, "up_down", 1, 17),
            (11, "down_up", 1, 21),
            (5, "up_down", 2, 17),
        ):
            payload = {"input_lower": "0", "input_upper": "1", "points": count}
            said = run("run.plan", {**payload, "pattern": pattern, "cycles": cycles})
            self.assertEqual(len(said["points"]), wanted)

    def test_overshoot_is_asked_where_the_way_turns(self):
        payload = {"input_lower": "0", "input_upper": "4000", "overshoot_percent": "2"}
        points = run("run.plan", payload)["points"]
        turned = [p for p in points if p["approach"] is not None]
        self.assertEqual([(p["nominal"], p["approach"]) for p in turned], [("3000", "4080")])

    def test_own_percents_must_rise(self):
        base = {"input_lower": "0", "input_upper": "100"}
        said = run("run.plan", {**base, "percents": ["0", "33.3", "100"], "pattern": "up"})
        self.assertEqual([p["nominal"] for p in said["points"]], ["0", "33.3", "100"])
        for bad in (["50", "0"], ["0", "0"], ["5"]):
            with self.assertRaises(InputError):
                run("run.plan", {**base, "percents": bad})
        for bad in ({"points": 4}, {"cycles": 0}, {"cycles": 11}, {"input_upper": "0"}):
            with self.assertRaises(InputError):
                run("run.plan", {**base, **bad})
