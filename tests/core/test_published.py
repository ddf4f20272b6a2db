"""Data sets of straight lines that were published with their certified results."""

import math

from django.test import SimpleTestCase

from calibration.kernel.fits import least_squares

# NIST Statistical Reference Datasets, linear regression, "Norris": calibration of ozone monitors.
NORRIS = """
0.1 0.2 338.8 337.4 118.1 118.2 888.0 884.6 9.2 10.1 228.1 226.5 668.5 666.3 998.5 996.3
449.1 448.6 778.9 777.0 559.2 558.2 0.3 0.4 0.1 0.6 778.1 775.5 668.8 666.9 339.3 338.0
448.9 447.5 10.8 11.6 557.7 556.0 228.3 228.1 998.0 995.8 888.8 887.6 119.6 120.2 0.3 0.3
0.6 0.3 557.6 556.8 339.3 339.1 888.0 887.2 998.5 999.0 778.9 779.0 10.2 11.1 117.6 118.3
228.9 229.2 668.4 669.1 449.2 448.9 0.2 0.5
"""
# Certified by NIST: intercept, slope, residual standard deviation.
NORRIS_AT_ZERO, NORRIS_SLOPE, NORRIS_SD = -0.262323073774029, 1.00211681802045, 0.884796396144373

# JCGM 100:2008 (GUM), H.3, table H.6: reading of a thermometer and the correction observed. [°C]
GUM_H3 = (
    (21.521, -0.171),
    (22.012, -0.169),
    (22.512, -0.166),
    (23.003, -0.159),
    (23.507, -0.164),
    (23.999, -0.165),
    (24.513, -0.156),
    (25.002, -0.157),
    (25.503, -0.159),
    (26.010, -0.161),
    (26.511, -0.160),
)


class LeastSquares(SimpleTestCase):
    def test_norris(self):
        numbers = [float(n) for n in NORRIS.split()]
        y, x = numbers[0::2], numbers[1::2]
        self.assertEqual(len(x), 36)
        line = least_squares(x, y)
        self.assertAlmostEqual(line.at_zero, NORRIS_AT_ZERO, places=11)
        self.assertAlmostEqual(line.slope, NORRIS_SLOPE, places=13)
        left = [b - line.at(a) for a, b in zip(x, y, strict=True)]
        self.assertAlmostEqual(
            math.sqrt(sum(r * r for r in left) / (len(x) - 2)), NORRIS_SD, places=11
        )

    def test_a_thermometer_of_the_gum(self):
        """H.3.2: y1 = −0.1712 °C and y2 = 0.00218 with t0 = 20 °C; H.3.4: −0.1494 at 30 °C."""
        line = least_squares([t - 20 for t, _ in GUM_H3], [b for _, b in GUM_H3])
        self.assertAlmostEqual(line.at_zero, -0.1712, places=4)
        self.assertAlmostEqual(line.slope, 0.00218, places=5)
        self.assertAlmostEqual(line.at(10), -0.1494, places=4)
