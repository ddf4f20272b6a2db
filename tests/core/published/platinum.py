"""Resistance of a 100 ohm platinum sensor as printed in IEC 60751, table 1: °C and ohm."""

TABLE = """
    -200 18.52  -150 39.72  -100 60.26  -50 80.31  -10 96.09  0 100.00  10 103.90  20 107.79
    25 109.73  30 111.67  40 115.54  50 119.40  60 123.24  70 127.08  80 130.90  90 134.71
    100 138.51  150 157.33  200 175.86  250 194.10  300 212.05  350 229.72  400 247.09
    450 264.18  500 280.98  550 297.49  600 313.71  650 329.64  700 345.28  750 360.64
    800 375.70  850 390.48
"""
#: Class limits as printed in IEC 60751 for round temperatures: °C, class, plus or minus °C.
LIMITS = (
    (0, "AA", 0.10),
    (0, "A", 0.15),
    (0, "B", 0.30),
    (0, "C", 0.60),
    (100, "AA", 0.27),
    (100, "A", 0.35),
    (100, "B", 0.80),
    (100, "C", 1.60),
    (400, "A", 0.95),
    (400, "B", 2.30),
    (-100, "A", 0.35),
    (600, "B", 3.30),
)


def printed() -> list[tuple[float, float]]:
    """Return temperature [°C] and resistance [ohm]."""
    words = TABLE.split()
    return [(float(t), float(r)) for t, r in zip(words[::2], words[1::2], strict=True)]
