"""Where nothing was measured there is no figure: the operations answer none, and say so."""

from django.test import SimpleTestCase

from calibration.operations import run

UP = (("0", "4.01"), ("50", "12.03"), ("100", "20.02"))


def reading(percent, value, direction="up", cycle=1):
    return {
        "nominal_percent": percent,
        "applied": str(40 * int(percent)),
        "reading": value,
        "direction": direction,
        "cycle": cycle,
    }


class OfARun(SimpleTestCase):
    def summary(self, *readings):
        asked = {
            "input_lower": "0",
            "input_upper": "4000",
            "output_lower": "4",
            "output_upper": "20",
            "tolerance": {"percent_of_span": "0.5"},
            "readings": list(readings),
        }
        return run("run.evaluate", asked)["summary"]

    def test_no_hysteresis_of_one_direction(self):
        up = [reading(*r) for r in UP]
        self.assertIsNone(self.summary(*up)["hysteresis_percent"])
        down = [reading("50", "12.05", "down")]
        self.assertAlmostEqual(float(self.summary(*up, *down)["hysteresis_percent"]), 0.125)

    def test_no_repeatability_of_one_cycle(self):
        first = [reading(*r) for r in UP]
        self.assertIsNone(self.summary(*first)["repeatability_percent"])
        second = [reading("50", "12.05", cycle=2)]
        self.assertAlmostEqual(float(self.summary(*first, *second)["repeatability_percent"]), 0.125)

    def test_no_linearity_of_two_points(self):
        two = [reading(*UP[0]), reading(*UP[2])]
        for said in (self.summary(*two), self.summary(*two, *two)):
            self.assertIsNone(said["nonlinearity_terminal_percent"])
            self.assertIsNone(said["nonlinearity_independent_percent"])
        self.assertIsNotNone(self.summary(*two, reading(*UP[1]))["nonlinearity_terminal_percent"])

    def test_no_span_error_beyond_what_was_read(self):
        half = self.summary(reading("50", "11.00"), reading("75", "14.50"))
        self.assertIsNone(half["zero_shift_percent"])
        self.assertIsNone(half["span_error_percent"])
        lower = self.summary(reading("0", "4.01"), reading("50", "12.03"))
        self.assertIsNotNone(lower["zero_shift_percent"])
        self.assertIsNone(lower["span_error_percent"])
        near = self.summary(reading("10", "5.61"), reading("90", "18.42"))
        self.assertIsNotNone(near["span_error_percent"])

    def test_nothing_but_its_error_of_a_single_point(self):
        said = self.summary(reading("50", "12.03"))
        none = {k for k, v in said.items() if v is None}
        self.assertEqual(
            none,
            {
                "hysteresis_percent",
                "repeatability_percent",
                "zero_shift_percent",
                "span_error_percent",
                "nonlinearity_terminal_percent",
                "nonlinearity_independent_percent",
            },
        )


class OfOthers(SimpleTestCase):
    def test_no_agreement_of_two_empty_injections(self):
        def compare(**values):
            components = [{"name": n, "values": v} for n, v in values.items()]
            return run("injections.compare", {"components": components})

        empty = compare(acetylene=["0", "0"])
        self.assertIsNone(empty["worst_percent"])
        self.assertIsNone(empty["components"][0]["within"])
        self.assertEqual(empty["components"][0]["from_mean_percent"], [])
        self.assertEqual(empty["next_action"], "inject_again")
        beside = compare(acetylene=["0", "0"], hydrogen=["100", "101"])
        self.assertEqual(beside["next_action"], "accept")
        self.assertIsNone(beside["components"][0]["within"])
        self.assertEqual(compare(acetylene=["0", "5"])["components"][0]["within"], False)

    def test_no_spread_and_no_slope_of_one_sample(self):
        asked = {"samples": [{"t": 0, "value": 12.0}], "band": 0.02, "dwell_s": 10}
        said = run("stability.assess", asked)
        self.assertEqual((said["std"], said["slope"], said["samples_used"]), (None, None, 1))

    def test_no_acceptance_limit_when_u_is_as_large_as_the_limit(self):
        for rule in ("guarded", "guarded_rss"):
            for u, none in ((0.5, True), (0.7, True), (0.4, False)):
                asked = {"error": 0, "limit": 0.5, "expanded_uncertainty": u, "rule": rule}
                with self.subTest(rule=rule, u=u):
                    found = run("decision.assess", asked)["acceptance_limit"]
                    self.assertEqual(found is None, none)
