"""Curves of sensors as one transfer, and the signatures of what is wrong with them."""

from decimal import Decimal

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from calibration.kernel.errors import InputError
from calibration.kernel.numbers import exact
from calibration.runs.sensor_faults import Seen, name_fault
from calibration.sensors import curves
from calibration.signals.transfer import Transfer, ideal_output, input_for, slope_at
from tests.core.published import platinum, thermocouples


def transfer(characteristic, low, high, ends):
    return Transfer(
        characteristic=characteristic,
        input_lower=Decimal(low),
        input_upper=Decimal(high),
        output_lower=Decimal(str(ends[0])),
        output_upper=Decimal(str(ends[1])),
    )


class Published(SimpleTestCase):
    def test_a_platinum_transfer_agrees_with_iec_60751(self):
        """IEC 60751, table of a Pt100, printed to 0.01 Ω."""
        ends = [curves.signal_of("Pt100", t) for t in (-100, 400)]
        curve = transfer("platinum", -100, 400, ends)
        with exact():
            for t, ohm in platinum.printed():
                if -100 <= t <= 400:
                    said = ideal_output(curve, Decimal(str(t)))
                    self.assertAlmostEqual(float(said), ohm, delta=0.0051, msg=t)

    def test_thermocouple_transfers_agree_with_nist_monograph_175(self):
        """Printed to 0.001 mV, reference junction at 0 °C."""
        for letter in thermocouples.TABLES:
            for t, emf in thermocouples.printed(letter):
                self.assertAlmostEqual(
                    curves.signal_of(letter, t), emf, delta=0.00051, msg=(letter, t)
                )


class Inverses(SimpleTestCase):
    @given(
        st.sampled_from(["Pt100", "Pt1000", "E", "J", "K", "N", "R", "S", "T"]),
        st.floats(0, 380),
        st.floats(0, 50),
    )
    @settings(max_examples=150, deadline=None)
    def test_the_temperature_of_a_signal_is_the_one_it_came_from(self, name, t, junction):
        signal = curves.signal_of(name, t, junction)
        self.assertAlmostEqual(curves.temperature_of(name, signal, junction), t, delta=0.001)

    @given(st.floats(-190, 840))
    @settings(max_examples=60, deadline=None)
    def test_a_transfer_inverts_its_own_ideal(self, t):
        curve = transfer("platinum", -200, 850, [18.52, 390.48])
        with exact():
            at = Decimal(repr(round(t, 3)))
            self.assertAlmostEqual(
                float(input_for(curve, ideal_output(curve, at))), float(at), delta=0.001
            )

    def test_beyond_the_curve_the_last_slope_goes_on_and_nothing_breaks(self):
        for signal in (-40.0, 0.0, 500.0):
            self.assertTrue(-3000 < curves.temperature_of("K", signal) < 30000)

    def test_the_slope_is_what_a_small_step_makes(self):
        curve = transfer("type_K", 0, 1000, [0.0, 41.276])
        with exact():
            step = ideal_output(curve, Decimal("500.5")) - ideal_output(curve, Decimal("499.5"))
            self.assertAlmostEqual(float(step), float(slope_at(curve, Decimal(500))), places=5)


class Refused(SimpleTestCase):
    def test_a_range_outside_the_standard(self):
        with self.assertRaises(InputError) as caught:
            transfer("platinum", 0, 900, [100, 400])
        self.assertEqual(
            (caught.exception.code, caught.exception.field),
            ("temperature.out_of_range", "input_upper"),
        )

    def test_a_temperature_outside_the_standard(self):
        curve = transfer("type_T", 0, 300, [0, 14.862])
        with self.assertRaises(InputError) as caught, exact():
            ideal_output(curve, Decimal(3000))
        self.assertIn("-270 to 400", str(caught.exception))
        self.assertTrue(caught.exception.remedy)


APPLIED = (0.0, 50.0, 100.0, 150.0, 200.0)


def seen(indicated, sensor="Pt100", **more):
    values = {
        "sensor": sensor,
        "wires": 4,
        "bare": True,
        "junction_c": 23.0,
        "applied_c": APPLIED,
        "indicated_c": tuple(indicated),
        "limit_c": (0.5,) * len(APPLIED),
        "span_c": 200.0,
        **more,
    }
    return Seen(**values)


class Signatures(SimpleTestCase):
    def named(self, picture):
        found = name_fault(picture)
        return found.cause if found else None

    def test_an_even_shift_is_drift_with_four_wires_and_the_lead_with_two(self):
        high = [t + 1.5 for t in APPLIED]
        self.assertIsNone(self.named(seen(high)))
        self.assertEqual(self.named(seen(high, wires=2)), "lead_resistance")
        low = [t - 1.5 for t in APPLIED]
        self.assertIsNone(self.named(seen(low, wires=2)))

    def test_heat_lost_along_the_stem_pulls_towards_the_room(self):
        self.assertEqual(self.named(seen([t - 0.03 * (t - 23) for t in APPLIED])), "immersion")

    def test_a_shunt_weighs_with_the_square_of_the_resistance(self):
        short = [
            curves.temperature_of("Pt100", r * 5000 / (r + 5000))
            for r in (curves.signal_of("Pt100", t) for t in APPLIED)
        ]
        self.assertEqual(self.named(seen(short)), "shunt")

    def test_another_thermocouple_is_named_with_its_letter(self):
        as_k = [curves.temperature_of("K", curves.signal_of("N", t, 23.0), 23.0) for t in APPLIED]
        found = name_fault(seen(as_k, "K"))
        self.assertEqual(found.cause, "wrong_sensor_type")
        self.assertIn("fit a type N where a type K is expected", found.evidence)

    def test_crossed_wires_mirror_about_the_junction(self):
        crossed = [
            curves.temperature_of("K", -curves.signal_of("K", t, 23.0), 23.0) for t in APPLIED
        ]
        self.assertEqual(self.named(seen(crossed, "K")), "swapped_polarity")

    def test_two_points_or_a_standing_output_name_nothing(self):
        two = seen([30.0, 80.0], applied_c=APPLIED[:2], limit_c=(0.5, 0.5))
        self.assertIsNone(self.named(two))
        self.assertIsNone(self.named(seen([80.0] * 5)))
