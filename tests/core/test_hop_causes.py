"""The meter between output and control room: when it is doubted, and when it is not.

Readings are made from physics: a transmitter, a meter with an offset and a gain, and a receiver
that shows what truly flows, to its last digit.
"""

from __future__ import annotations

import random
from decimal import Decimal

from django.test import SimpleTestCase

from calibration.decisions.tolerance import Tolerance
from calibration.runs.chain import ChainReading, LocateIn
from calibration.runs.hop_causes import meter_in_doubt

UPPER = 1600.0
AT = (0.0, 400.3, 800.1, 1200.4, 1600.2, 1199.7, 799.8, 399.9, 0.0)


def asked(readings):
    return LocateIn(
        input_lower=Decimal(0),
        input_upper=Decimal(1600),
        output_lower=Decimal(4),
        output_upper=Decimal(20),
        indicated_lower=Decimal(0),
        indicated_upper=Decimal(1600),
        tolerance=Tolerance(percent_of_span=Decimal("0.5")),
        readings=tuple(readings),
    )


def read(gain=0.0, offset=0.0, out=0.0, room=0.0, seed=1, at=AT):
    """What is written down: the meter off by a gain [of the current] and an offset [mA].

    ``out`` and ``room`` are span errors of transmitter and receiver [% of span].
    """
    chance = random.Random(seed)
    for p in at:
        true = 4 + 16 * p / UPPER * (1 + out / 100) + chance.gauss(0, 0.001)
        shown = UPPER * (true - 4) / 16 * (1 + room / 100)
        yield ChainReading(
            applied=Decimal(f"{p:.1f}"),
            output=Decimal(f"{true * (1 + gain) + offset:.3f}"),
            indicated=Decimal(f"{shown:.1f}"),
        )


class Meter(SimpleTestCase):
    def named(self, **how):
        found = meter_in_doubt(asked(read(**how)))
        return found is not None and found.cause == "meter_in_doubt"

    def test_a_meter_that_is_off_is_doubted(self):
        for seed in range(50):
            self.assertTrue(self.named(gain=0.0045, seed=seed))
            self.assertTrue(self.named(gain=-0.006, seed=seed))
            self.assertTrue(self.named(offset=0.12, seed=seed))

    def test_a_good_meter_is_not(self):
        for seed in range(50):
            self.assertFalse(self.named(seed=seed))
            self.assertFalse(self.named(out=0.9, seed=seed), "the receiver follows")
            self.assertFalse(self.named(room=-0.9, seed=seed), "the current is right")
            self.assertFalse(self.named(out=0.9, room=0.9, seed=seed))
            self.assertFalse(self.named(out=0.9, room=-0.4, seed=seed))

    def test_two_hops_against_each_other_look_the_same(self):
        """So it stays in doubt: only a second look at the current tells."""
        self.assertTrue(self.named(out=0.8, room=-0.8))

    def test_two_points_far_apart_are_needed(self):
        self.assertFalse(self.named(gain=0.006, at=(1600.2, 1600.2)))
        self.assertFalse(self.named(gain=0.006, at=(1200.4, 1600.2)))
        self.assertTrue(self.named(gain=0.006, at=(0.0, 1600.2)))

    def test_without_the_control_room_nothing_stands_against_it(self):
        alone = [ChainReading(applied=one.applied, output=one.output) for one in read(gain=0.006)]
        self.assertIsNone(meter_in_doubt(asked(alone)))
