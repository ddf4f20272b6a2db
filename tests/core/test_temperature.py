"""Platinum sensors and thermocouples against their published tables."""

from decimal import ROUND_HALF_UP, Decimal

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from calibration.kernel.errors import InputError
from calibration.operations import run
from calibration.sensors import rtd
from calibration.sensors.thermocouple import TYPE_B_TURN, limits, reference_emf, temperature_for
from tests.core.published import platinum, thermocouples


def printed_as(value: float, digits: str) -> Decimal:
    """Round as a printed table does."""
    return Decimal(repr(round(value, 9))).quantize(Decimal(digits), rounding=ROUND_HALF_UP)


class Thermocouples(SimpleTestCase):
    def test_every_type_agrees_with_its_table_to_the_last_digit(self):
        for letter in "BEJKNRST":
            table = thermocouples.printed(letter)
            self.assertGreaterEqual(len(table), 20)
            for t, emf in table:
                said = run("thermocouple.emf", {"type": letter, "temperature_c": t})
                self.assertEqual(
                    printed_as(said["emf_mv"], "0.001"),
                    printed_as(emf, "0.001"),
                    f"type {letter} at {t} °C",
                )

    def test_round_trip_over_the_whole_range(self):
        for letter in "BEJKNRST":
            low, high = limits(letter)
            low = TYPE_B_TURN if letter == "B" else low
            for n in range(301):
                t = low + (high - low) * n / 300
                back = temperature_for(letter, reference_emf(letter, t)[0])
                self.assertAlmostEqual(back, t, delta=0.001, msg=f"type {letter} at {t}")

    def test_pieces_of_a_reference_function_meet(self):
        # Monograph 175 joins its pieces at these temperatures to better than a nanovolt.
        for letter, t in (("J", 760.0), ("R", 1064.18), ("S", 1664.5), ("B", 630.615), ("E", 0.0)):
            below, above = (reference_emf(letter, t + d)[0] for d in (-1e-9, 1e-9))
            self.assertAlmostEqual(below, above, delta=2e-6)

    def test_the_slope_is_the_derivative(self):
        for letter, t in (("K", 127.0), ("K", -100.0), ("T", 200.0), ("S", 1200.0)):
            step = 1e-4
            rise = reference_emf(letter, t + step)[0] - reference_emf(letter, t - step)[0]
            self.assertAlmostEqual(reference_emf(letter, t)[1], rise / (2 * step), places=7)

    def test_cold_junction_by_emf_not_by_temperature(self):
        # Hand calculation from the printed table of type K: 20.644 mV at 500 °C less 1.000 mV at
        # 25 °C is 19.644 mV; 475 °C would give 19.580 mV.
        said = run(
            "thermocouple.emf", {"type": "K", "temperature_c": 500, "reference_junction_c": 25}
        )
        self.assertEqual(printed_as(said["emf_mv"], "0.001"), Decimal("19.644"))
        back = run(
            "thermocouple.temperature",
            {"type": "K", "emf_mv": said["emf_mv"], "reference_junction_c": 25},
        )
        self.assertAlmostEqual(back["temperature_c"], 500, places=5)

    def test_refuses_what_is_outside_the_function(self):
        for name, payload, code, field in (
            (
                "emf",
                {"type": "K", "temperature_c": 1373},
                "temperature.out_of_range",
                "temperature_c",
            ),
            (
                "emf",
                {"type": "B", "temperature_c": -1},
                "temperature.out_of_range",
                "temperature_c",
            ),
            (
                "emf",
                {"type": "T", "temperature_c": 20, "reference_junction_c": 500},
                "temperature.out_of_range",
                "reference_junction_c",
            ),
            ("emf", {"type": "X", "temperature_c": 20}, "field.not_a_choice", "type"),
            ("temperature", {"type": "K", "emf_mv": 55}, "emf.out_of_range", "emf_mv"),
            ("temperature", {"type": "K", "emf_mv": -6.5}, "emf.out_of_range", "emf_mv"),
        ):
            with self.assertRaises(InputError) as caught:
                run(f"thermocouple.{name}", payload)
            self.assertEqual((caught.exception.code, caught.exception.field), (code, field))

    @given(st.sampled_from("EJKNRST"), st.floats(0, 1), st.floats(0, 50))
    def test_the_inverse_inverts_with_any_reference_junction(self, letter, share, reference):
        low, high = limits(letter)
        t = low + share * (high - low)
        given_ = {"type": letter, "reference_junction_c": reference}
        emf = run("thermocouple.emf", {**given_, "temperature_c": t})["emf_mv"]
        back = run("thermocouple.temperature", {**given_, "emf_mv": emf})
        self.assertAlmostEqual(back["temperature_c"], t, delta=0.001)


class Platinum(SimpleTestCase):
    def test_agrees_with_the_table_to_the_last_digit(self):
        table = platinum.printed()
        self.assertGreaterEqual(len(table), 20)
        for t, ohm in table:
            said = run("rtd.resistance", {"r0_ohm": 100, "temperature_c": t})
            self.assertEqual(
                printed_as(said["resistance_ohm"], "0.01"), printed_as(ohm, "0.01"), f"{t} °C"
            )

    def test_other_nominal_resistances_scale(self):
        # IEC 60751 table 1 times five and ten.
        for r0, ohm in ((500, 692.5), (1000, 1385.1), (200, 277.01)):
            said = run("rtd.resistance", {"r0_ohm": r0, "temperature_c": 100})
            self.assertAlmostEqual(said["resistance_ohm"], ohm, delta=0.06)

    def test_round_trip_over_the_whole_range(self):
        for n in range(1051):
            t = -200.0 + n
            self.assertAlmostEqual(rtd.temperature_for(rtd.ratio(t)), t, delta=0.001)

    def test_limits_of_the_classes(self):
        for t, name, limit in platinum.LIMITS:
            said = run("rtd.resistance", {"r0_ohm": 100, "temperature_c": t})
            self.assertAlmostEqual(said["tolerance_c"][name], limit, places=9)

    def test_a_class_ends_with_its_range(self):
        said = run("rtd.resistance", {"r0_ohm": 100, "temperature_c": 300})
        self.assertIsNone(said["tolerance_c"]["AA"])
        self.assertIsNotNone(said["tolerance_c"]["A"])

    def test_refuses_what_is_outside(self):
        for name, payload, code in (
            ("resistance", {"temperature_c": -201}, "temperature_c.out_of_range"),
            ("resistance", {"temperature_c": 851}, "temperature_c.out_of_range"),
            ("resistance", {"r0_ohm": 120, "temperature_c": 0}, "field.not_a_choice"),
            ("temperature", {"resistance_ohm": 5}, "resistance.out_of_range"),
            ("temperature", {"r0_ohm": 1000, "resistance_ohm": 100}, "resistance.out_of_range"),
        ):
            with self.assertRaises(InputError) as caught:
                run(f"rtd.{name}", payload)
            self.assertEqual(caught.exception.code, code)

    def test_a_typed_unit_changes_nothing_but_the_typing(self):
        # 212 °F and 373.15 K are 100 °C (NIST SP 811, B.8).
        plain = run("rtd.resistance", {"temperature_c": "100"})["resistance_ohm"]
        for value, unit in (("212", "°F"), ("373.15", "K"), ("100", "°C")):
            said = run("rtd.resistance", {"temperature_c": {"value": value, "unit": unit}})
            self.assertAlmostEqual(said["resistance_ohm"], plain, places=10)
