"""Evaluating a run, and naming what is wrong."""

from decimal import Decimal

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from calibration.kernel.errors import InputError
from tests.core.loops import causes, evaluate, read_run


def at(percent, applied, reading, direction="up", cycle=1):
    return {
        "nominal_percent": str(percent),
        "applied": str(applied),
        "reading": str(reading),
        "direction": direction,
        "cycle": cycle,
    }


class Evaluate(SimpleTestCase):
    def test_the_limit_itself_is_within(self):
        # Hand calculation: 0.25 % of a 16 mA span is 0.04 mA.
        on, over = (
            evaluate([at(50, 2000, reading)], tolerance="0.25")["points"][0]
            for reading in ("12.04", "12.041")
        )
        self.assertTrue(on["within"])
        self.assertFalse(over["within"])
        self.assertEqual(Decimal(on["error_percent_of_span"]), Decimal("0.25"))
        self.assertEqual(Decimal(on["error_input_units"]), 10)

    def test_the_applied_value_counts_not_the_nominal(self):
        # Hand calculation: 2010 kPa asks for 12.04 mA.
        point = evaluate([at(50, 2010, "12.04")])["points"][0]
        self.assertEqual(Decimal(point["error"]), 0)

    def test_summary_by_hand(self):
        # Errors by hand [% of span]: up 0.1, 0.2, 0.3; down at 50 %: 0.4 and at 0 %: 0.1.
        readings = [
            at(0, 0, "4.016"),
            at(50, 2000, "12.032"),
            at(100, 4000, "20.048"),
            at(50, 2000, "12.064", "down"),
            at(0, 0, "4.016", "down"),
        ]
        s = evaluate(readings)["summary"]
        self.assertEqual(Decimal(s["max_error_percent"]), Decimal("0.4"))
        self.assertEqual(s["worst_point"], 3)
        self.assertEqual(Decimal(s["hysteresis_percent"]), Decimal("0.2"))
        # Mean curve 0.1, 0.3, 0.3: 0.1 above the line through its ends; half band 0.05.
        self.assertAlmostEqual(s["nonlinearity_terminal_percent"], 0.1, places=9)
        self.assertAlmostEqual(s["nonlinearity_independent_percent"], 0.05, places=9)
        self.assertEqual(s["verdict"], "near")

    def test_repeatability_over_cycles(self):
        readings = [at(50, 2000, r, cycle=c) for c, r in ((1, "12.00"), (2, "12.04"), (3, "12.02"))]
        said = evaluate(readings)["summary"]["repeatability_percent"]
        self.assertEqual(Decimal(said), Decimal("0.25"))

    @settings(max_examples=30)
    @given(st.permutations(range(9)))
    def test_the_order_of_readings_does_not_matter(self, order):
        readings, _ = read_run(output_zero_percent=0.3, hysteresis_percent=0.4)
        here = evaluate(readings)["summary"]
        there = evaluate([readings[i] for i in order])["summary"]
        for name in ("zero_shift_percent", "span_error_percent"):
            self.assertAlmostEqual(here[name], there[name], places=9)
        self.assertEqual(here["hysteresis_percent"], there["hysteresis_percent"])

    @settings(max_examples=200, deadline=None)
    @given(
        st.lists(
            st.tuples(
                st.sampled_from([0, 25, 50, 75, 100]),
                st.sampled_from([0, 1000, 2000, 4000, 4100, -50]),
                st.sampled_from(["4", "4.00", "8.1", "12", "20", "20.5", "3.8", "2"]),
                st.sampled_from(["up", "down"]),
            ),
            min_size=1,
            max_size=9,
        ),
        st.sampled_from(["linear", "square_root"]),
    )
    def test_whatever_was_typed_is_evaluated(self, rows, characteristic):
        said = evaluate([at(*row) for row in rows], characteristic=characteristic)
        self.assertEqual(len(said["points"]), len(rows))
        self.assertIn(said["summary"]["verdict"], ("within", "near", "outside"))

    def test_refusals_name_the_field(self):
        for readings, code, field in (
            ([], "readings.none", "readings"),
            ([at(0, "abc", 4)], "number.not_a_number", "readings.0.applied"),
            ([at(0, 0, "NaN")], "number.not_finite", "readings.0.reading"),
            ([at(0, 0, 4, "sideways")], "field.not_a_choice", "readings.0.direction"),
            ([{"applied": "0"}], "field.missing", "readings.0.nominal_percent"),
            ([{**at(0, 0, 4), "colour": "red"}], "field.unknown", "readings.0.colour"),
            ([at(0, 0, 4)] * 301, "readings.too_many", "readings"),
        ):
            with self.subTest(code=code), self.assertRaises(InputError) as caught:
                evaluate(readings)
            self.assertEqual((caught.exception.code, caught.exception.field), (code, field))


class Diagnose(SimpleTestCase):
    def test_zero_and_span_within_002_of_what_was_simulated(self):
        for seed in range(12):
            readings, _ = read_run(seed, output_zero_percent=0.48, output_span_percent=0.86)
            said = evaluate(readings)
            self.assertEqual(
                {c["cause"] for c in said["diagnosis"]}, {"zero_shift", "span_error"}, seed
            )
            self.assertAlmostEqual(said["summary"]["zero_shift_percent"], 0.48, delta=0.02)
            self.assertAlmostEqual(said["summary"]["span_error_percent"], 0.86, delta=0.02)

    def test_each_planted_fault_comes_first(self):
        for faults, wanted in (
            ({"sensor_zero_percent": 0.8}, "zero_shift"),
            ({"sensor_span_percent": -0.9}, "span_error"),
            ({"bow_percent": 1.2}, "nonlinearity"),
            ({"hysteresis_percent": 1.4}, "hysteresis"),
            ({"fault": "stuck", "fixed_output": 11.3}, "stuck"),
            ({"fault": "inhibit", "fixed_output": 2.0}, "inhibited"),
            ({"fault": "stuck", "fixed_output": 3.5}, "inhibited"),
            ({"fault": "stuck", "fixed_output": 21.5}, "saturated"),
            ({"high_limit": 14.0}, "saturated"),
            ({"sensor_span_percent": 25.0, "high_limit": 30.0}, "wrong_range"),
        ):
            for seed in range(6):
                readings, _ = read_run(seed, **faults)
                self.assertEqual(causes(readings)[:1], [wanted], (faults, seed))

    def test_a_good_instrument_raises_no_alarm(self):
        for seed in range(60):
            readings, _ = read_run(seed, sensor_zero_percent=0.05, sensor_span_percent=-0.05)
            self.assertEqual(causes(readings), [], seed)

    def test_one_bad_point_is_to_be_taken_again(self):
        readings, _ = read_run(3)
        readings[2]["reading"] = str(Decimal(readings[2]["reading"]) + Decimal("0.2"))
        said = evaluate(readings)["diagnosis"]
        self.assertEqual(said[0]["cause"], "outlier")
        self.assertIn("Take that reading again", said[0]["remedy"])

    def test_a_root_where_none_belongs(self):
        points = [(0, 4), (25, 12), (50, "15.314"), (75, "17.856"), (100, 20)]
        readings = [at(p, 40 * p, r) for p, r in points]
        self.assertEqual(causes(readings), ["wrong_characteristic"])

    def test_a_reversed_output(self):
        readings = [at(p, 40 * p, Decimal(20) - Decimal("0.16") * p) for p in (0, 25, 50, 75, 100)]
        self.assertEqual(causes(readings), ["reversed"])

    def test_scatter_is_named_as_noise(self):
        readings, _ = read_run(2, sensor_zero_percent=0.6)
        for reading in readings:
            reading["noise"] = 0.03
        self.assertIn("noise", causes(readings))

    def test_every_cause_carries_evidence_remedy_and_a_share(self):
        readings, _ = read_run(1, sensor_zero_percent=0.8, hysteresis_percent=0.9)
        for cause in evaluate(readings)["diagnosis"]:
            self.assertTrue(cause["evidence"] and cause["remedy"])
            self.assertTrue(0 <= cause["confidence"] <= 1)
