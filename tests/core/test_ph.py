"""pH buffers and electrodes."""

import numpy
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from calibration.analyzers.ph import nernst_slope
from calibration.kernel.errors import InputError
from calibration.operations import run

#: Theoretical slope, mV/pH: Buck et al., Pure Appl. Chem. 74 (2002) 2169, table of k' = RT ln10/F.
SLOPES = {0: 54.199, 5: 55.191, 10: 56.183, 20: 58.168, 25: 59.159, 37: 61.541, 50: 64.120}
#: DIN 19266, printed values of the primary buffers: nominal, °C, pH.
PRIMARY = (
    ("1.679", 25, 1.679),
    ("1.679", 40, 1.694),
    ("4.006", 10, 4.000),
    ("4.006", 30, 4.012),
    ("6.865", 20, 6.881),
    ("6.865", 50, 6.833),
    ("9.180", 15, 9.276),
    ("9.180", 40, 9.068),
)


def readings(*pairs, temperature=25, set_="technical"):
    return [
        {"set": set_, "nominal": n, "temperature_c": temperature, "reading_mv": mv}
        for n, mv in pairs
    ]


class Buffers(SimpleTestCase):
    def test_printed_values(self):
        for nominal, t, ph in PRIMARY:
            said = run("ph.buffer", {"set": "primary", "nominal": nominal, "temperature_c": t})
            self.assertAlmostEqual(said["ph"], ph, places=9)

    def test_between_entries(self):
        # Half-way between 6.881 at 20 °C and 6.865 at 25 °C.
        said = run("ph.buffer", {"set": "primary", "nominal": "6.865", "temperature_c": 22.5})
        self.assertAlmostEqual(said["ph"], 6.873)

    def test_a_table_of_the_site_comes_first(self):
        own = {
            "set": "site",
            "nominal": "9.22",
            "temperatures_c": ["20", "30"],
            "values": ["9.22", "9.14"],
            "source": "bottle",
        }
        said = run(
            "ph.buffer",
            {"set": "site", "nominal": "9.22", "temperature_c": 25, "own_tables": [own]},
        )
        self.assertAlmostEqual(said["ph"], 9.18)
        self.assertEqual(said["source"], "bottle")
        own["temperatures_c"] = ["30", "20"]
        with self.assertRaises(InputError) as caught:
            run("ph.buffer", {"set": "site", "nominal": "9.22", "own_tables": [own]})
        self.assertEqual(caught.exception.code, "buffer.table")

    def test_refusals(self):
        for payload, code in (
            ({"set": "primary", "nominal": "6.865", "temperature_c": 90}, "buffer.temperature"),
            ({"set": "technical", "nominal": "7.00", "temperature_c": -1}, "buffer.temperature"),
            ({"set": "technical", "nominal": "6.865"}, "buffer.unknown"),
            ({"set": "secret", "nominal": "7"}, "buffer.unknown"),
        ):
            with self.assertRaises(InputError) as caught:
                run("ph.buffer", payload)
            self.assertEqual(caught.exception.code, code)


class Electrodes(SimpleTestCase):
    def test_theoretical_slope(self):
        for t, slope in SLOPES.items():
            self.assertAlmostEqual(-nernst_slope(t), slope, delta=0.0015)

    def test_an_ideal_electrode(self):
        # At 25 °C the buffers are 7.00 and 4.01: 2.99 pH times 59.16 mV.
        said = run("ph.evaluate", {"buffers": readings(("7.00", 0), ("4.01", 176.885))})
        self.assertAlmostEqual(said["slope_percent"], 100, delta=0.001)
        self.assertAlmostEqual(said["offset_mv"], 0, places=6)
        self.assertEqual(said["verdict"], "accepted")

    def test_three_buffers_by_least_squares(self):
        ph, mv = [4.01, 7.00, 10.01], [170.0, 2.0, -171.0]
        said = run(
            "ph.evaluate",
            {"buffers": readings(("4.01", mv[0]), ("7.00", mv[1]), ("10.01", mv[2]))},
        )
        slope, at_zero = numpy.polyfit(ph, mv, 1)
        self.assertAlmostEqual(said["slope_mv_per_ph"], slope, places=9)
        self.assertAlmostEqual(said["offset_mv"], at_zero + 7 * slope, places=9)

    def test_verdicts(self):
        for second, previous, verdict, word in (
            (150, None, "rejected", "clean"),
            (190, None, "rejected", "which buffers"),
            (-170, None, "rejected", "wrong way"),
            (162, None, "watch", "nears"),
            (174, {"slope_percent": 99, "offset_mv": -20}, "watch", "moved"),
        ):
            said = run(
                "ph.evaluate",
                {"buffers": readings(("7.00", 0), ("4.01", second)), "previous": previous},
            )
            self.assertEqual(said["verdict"], verdict, second)
            self.assertIn(word, " ".join(said["advice"]))
        shifted = run("ph.evaluate", {"buffers": readings(("7.00", 45), ("4.01", 218))})
        self.assertEqual(shifted["verdict"], "rejected")
        self.assertIn("fouled", shifted["advice"][0])

    def test_changes_against_the_last_time(self):
        said = run(
            "ph.evaluate",
            {
                "buffers": readings(("7.00", 0), ("4.01", 176.885)),
                "previous": {"slope_percent": 98, "offset_mv": 3},
            },
        )
        self.assertAlmostEqual(said["slope_change_percent"], 2, delta=0.001)
        self.assertAlmostEqual(said["offset_change_mv"], -3, places=6)

    def test_refusals(self):
        for buffers, code in (
            (readings(("7.00", 0)), "buffers.too_few"),
            (readings(("7.00", 0), ("7.00", 1)), "buffers.equal"),
            (readings(("7.00", 5), ("4.01", 5)), "buffers.no_change"),
            (readings(("7.00", 0), ("4.01", 170), temperature=90), "buffer.temperature"),
            (
                readings(("7.00", 0)) + readings(("4.01", 170), temperature=35),
                "buffers.temperatures",
            ),
        ):
            with self.assertRaises(InputError) as caught:
                run("ph.evaluate", {"buffers": buffers})
            self.assertEqual(caught.exception.code, code)

    @given(st.permutations([("4.01", 168.0), ("7.00", 1.0), ("10.01", -172.0)]))
    def test_the_order_of_buffers_changes_nothing(self, order):
        said = run("ph.evaluate", {"buffers": readings(*order)})
        again = run("ph.evaluate", {"buffers": readings(*sorted(order))})
        self.assertAlmostEqual(said["slope_percent"], again["slope_percent"], places=9)
        self.assertAlmostEqual(said["offset_mv"], again["offset_mv"], places=9)

    def test_the_analyzers_own_slope_names_a_wrong_set(self):
        """By hand at 25 °C, electrode at 100 %: primary buffers lie 6.865 − 4.006 = 2.859 apart,
        technical ones 7.00 − 4.01 = 2.99. Counted with the other set the slope is 2.859 / 2.99 =
        95.6 %, or 2.99 / 2.859 = 104.6 %: within every limit of a slope."""
        primary = [
            {"set": "primary", "nominal": "6.865", "reading_mv": 59.159 * 0.135},
            {"set": "primary", "nominal": "4.006", "reading_mv": 59.159 * 2.994},
        ]
        technical = readings(("7.00", 0), ("4.01", 59.159 * 2.99))
        for buffers, reported, other in (
            (primary, 95.6, "technical"),
            (technical, 104.6, "primary"),
        ):
            said = run("ph.evaluate", {"buffers": buffers, "analyzer_slope_percent": reported})
            self.assertAlmostEqual(said["analyzer_ratio"], reported / 100, delta=0.001)
            self.assertEqual((said["set_suspected"], said["verdict"]), (other, "rejected"))
            self.assertIn(f"fits the {other} set", said["advice"][-1])

    def test_an_analyzer_that_counts_the_same_buffers_agrees(self):
        buffers = readings(("7.00", 0), ("4.01", 59.159 * 2.99 * 0.95))
        said = run("ph.evaluate", {"buffers": buffers, "analyzer_slope_percent": 95.4})
        self.assertEqual((said["set_suspected"], said["verdict"]), (None, "accepted"))
        alone = run("ph.evaluate", {"buffers": buffers})
        self.assertIsNone(alone["analyzer_ratio"])

    def test_a_difference_that_no_set_explains_is_said_without_a_name(self):
        buffers = readings(("7.00", 0), ("4.01", 59.159 * 2.99))
        said = run("ph.evaluate", {"buffers": buffers, "analyzer_slope_percent": 88})
        self.assertIsNone(said["set_suspected"])
        self.assertIn("Compare the set and the temperature", said["advice"][-1])
