"""Gas: concentrations, mixtures, amounts, bleeding and purging."""

from typing import get_args

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from calibration.gas.concentration import molar_volume
from calibration.gas.table import GASES, GasName
from calibration.kernel.errors import InputError
from calibration.operations import run

#: mg/m³ for 1 ppm at 25 °C and 1 atm as printed in the NIOSH Pocket Guide to Chemical Hazards
#: (DHHS 2005-149), with rounded molar masses.
NIOSH = {
    "ammonia": 0.70,
    "benzene": 3.19,
    "carbon dioxide": 1.80,
    "carbon monoxide": 1.15,
    "chlorine": 2.90,
    "hydrogen sulfide": 1.40,
    "methanol": 1.31,
    "nitric oxide": 1.23,
    "nitrogen dioxide": 1.88,
    "propane": 1.80,
    "sulfur dioxide": 2.62,
    "toluene": 3.77,
}


class Converting(SimpleTestCase):
    def test_mass_per_volume_agrees_with_the_pocket_guide(self):
        for gas, printed in NIOSH.items():
            said = run(
                "gas.convert",
                {"value": 1, "from_unit": "ppm", "to_unit": "mg_per_m3", "gas": gas},
            )
            self.assertAlmostEqual(said["value"], printed, delta=0.006 * printed + 0.005, msg=gas)

    def test_molar_volume(self):
        # CODATA 2018: 22.413 969 54 L/mol at 273.15 K and 101.325 kPa; 22.710 954 64 at 100 kPa.
        self.assertAlmostEqual(molar_volume(0, 101.325), 22.41396954, places=7)
        self.assertAlmostEqual(molar_volume(0, 100), 22.71095464, places=7)

    def test_both_sets_of_limits(self):
        # Hand calculation: half of 1.7 % and of 2.1 % propane.
        for which, volume in (("IEC", 0.85), ("NFPA", 1.05)):
            said = run(
                "gas.convert",
                {
                    "value": 50,
                    "from_unit": "percent_lel",
                    "to_unit": "percent_volume",
                    "gas": "propane",
                    "lel_set": which,
                },
            )
            self.assertAlmostEqual(said["value"], volume, places=12)
            self.assertIn("80079" if which == "IEC" else "NFPA", said["lel_source"])

    def test_an_own_limit_comes_before_the_table(self):
        said = run(
            "gas.convert",
            {
                "value": 1,
                "from_unit": "percent_volume",
                "to_unit": "percent_lel",
                "gas": "methane",
                "lel_percent_volume": 5,
            },
        )
        self.assertAlmostEqual(said["value"], 20)
        self.assertEqual(said["lel_source"], "typed")

    def test_the_choices_are_the_table(self):
        self.assertEqual(sorted(get_args(GasName)), sorted(GASES))

    def test_refusals(self):
        for change, code in (
            ({"value": -1}, "value.negative"),
            ({"value": 7000, "gas": "methane"}, "value.too_much"),
            ({"gas": "nitrogen"}, "lel.needed"),
            ({}, "lel.needed"),
            ({"gas": "methane", "pressure_kpa": -1}, "pressure.not_positive"),
            ({"gas": "methane", "temperature_c": -273.15}, "temperature.below_zero"),
            ({"from_unit": "ppm", "to_unit": "mg_per_m3"}, "molar_mass.needed"),
            ({"lel_percent_volume": 120}, "lel.not_positive"),
            ({"gas": "phlogiston"}, "field.not_a_choice"),
        ):
            with self.subTest(change=change), self.assertRaises(InputError) as caught:
                run("gas.convert", {"value": 50, **change})
            self.assertEqual(caught.exception.code, code)

    @given(
        st.sampled_from(sorted(g for g, e in GASES.items() if e.iec)),
        st.sampled_from(["ppm", "percent_volume", "percent_lel", "mg_per_m3"]),
        st.floats(0.001, 100),
    )
    def test_there_and_back(self, gas, unit, ppm):
        there = run("gas.convert", {"value": ppm, "from_unit": "ppm", "to_unit": unit, "gas": gas})[
            "value"
        ]
        back = run(
            "gas.convert", {"value": there, "from_unit": unit, "to_unit": "ppm", "gas": gas}
        )["value"]
        self.assertAlmostEqual(back, ppm, delta=1e-9 * ppm)


class Voltage(SimpleTestCase):
    def test_both_ways(self):
        # Hand calculation: 50 of 100 on 5 V is 2.5 V.
        there = run("gas.reference_voltage", {"range": 100, "gas_value": "50"})
        back = run("gas.reference_voltage", {"range": 100, "voltage_v": "2.5"})
        self.assertEqual(float(there["voltage_v"]), 2.5)
        self.assertEqual(float(back["gas_value"]), 50)

    def test_refusals(self):
        for change, code in (
            ({"range": 0, "gas_value": 1}, "range.not_positive"),
            ({"full_scale_v": 0, "gas_value": 1}, "full_scale_v.not_positive"),
            ({"gas_value": 1, "voltage_v": 1}, "value.one_needed"),
            ({}, "value.one_needed"),
        ):
            with self.assertRaises(InputError) as caught:
                run("gas.reference_voltage", {"range": 100, **change})
            self.assertEqual(caught.exception.code, code)


class Mixtures(SimpleTestCase):
    def mix(self, *components, **more):
        listed = [{"gas": g, "value": v, "unit": u} for g, v, u in components]
        return run("gas.mixture", {"components": listed, **more})

    def test_balance_and_oxygen_of_air(self):
        # ISO 2533: dry air has 20.9476 % oxygen. 2.2 % methane leaves 97.8 % air.
        said = self.mix(("methane", "2.2", "percent_volume"))
        self.assertAlmostEqual(said["balance_percent"], 97.8)
        self.assertAlmostEqual(said["oxygen_percent"], 0.978 * 20.9476)
        self.assertAlmostEqual(said["total_percent_lel"], 50)

    def test_a_bead_without_oxygen_is_warned_of(self):
        in_nitrogen = self.mix(("methane", "50", "percent_lel"), balance="nitrogen")
        in_air = self.mix(("methane", "50", "percent_lel"), balance="air")
        infrared = self.mix(("methane", "50", "percent_lel"), balance="nitrogen", sensor="infrared")
        self.assertIn("needs oxygen", in_nitrogen["warnings"][0])
        self.assertFalse([w for w in in_air["warnings"] if "oxygen" in w])
        self.assertFalse([w for w in infrared["warnings"] if "oxygen" in w])

    def test_a_percent_volume_gas_is_no_lel_gas(self):
        said = self.mix(("methane", "50", "percent_volume"), balance="nitrogen")
        self.assertTrue(any("percent-volume gas" in w for w in said["warnings"]))
        burning = self.mix(("methane", "9", "percent_volume"), balance="air")
        self.assertTrue(any("can burn" in w for w in burning["warnings"]))

    def test_refusals(self):
        for components, code in (
            ((), "components.too_few"),
            ((("methane", "-1", "ppm"),), "value.negative"),
            ((("oxygen", "5", "percent_lel"),), "lel.needed"),
            (
                (("methane", "60", "percent_volume"), ("ethane", "50", "percent_volume")),
                "mixture.over_100",
            ),
        ):
            with self.assertRaises(InputError) as caught:
                self.mix(*components)
            self.assertEqual(caught.exception.code, code)

    @given(st.permutations([("methane", "1"), ("oxygen", "15"), ("carbon dioxide", "2.5")]))
    def test_the_order_of_components_changes_nothing(self, order):
        said = self.mix(*((g, v, "percent_volume") for g, v in order), balance="nitrogen")
        self.assertAlmostEqual(said["balance_percent"], 81.5)
        self.assertAlmostEqual(said["oxygen_percent"], 15)


class Amounts(SimpleTestCase):
    CYLINDER = {
        "flow_l_per_min": "0.5",
        "steps_min": ["2", "3"],
        "cylinder_water_l": "10",
        "pressure_bar": "6.01325",
        "minimum_bar": "5",
    }

    def test_by_hand(self):
        # Boyle's law: 10 L times 1.01325 bar of usable pressure is 10 L at one atmosphere.
        said = run("gas.consumption", {**self.CYLINDER, "instruments": 3})
        self.assertAlmostEqual(said["needed_l"], 7.5)
        self.assertAlmostEqual(said["left_l"], 10)
        self.assertEqual((said["uses_left"], said["enough"]), (4, True))
        self.assertFalse(run("gas.consumption", {**self.CYLINDER, "instruments": 5})["enough"])

    def test_pressure_in_psi_gives_the_same(self):
        # NIST SP 811: 1 psi = 6.894757 kPa; 87.2148 psi is 6.01325 bar.
        psi = {"value": "87.2148214", "unit": "psi"}
        said = run("gas.consumption", {**self.CYLINDER, "pressure_bar": psi})
        self.assertAlmostEqual(said["left_l"], 10, places=5)

    def test_refusals(self):
        for change, code in (
            ({"flow_l_per_min": 0}, "flow_l_per_min.not_positive"),
            ({"steps_min": []}, "steps_min.too_few"),
            ({"steps_min": ["0"]}, "steps_min.not_positive"),
            ({"instruments": 0}, "instruments.not_positive"),
            ({"pressure_bar": -1}, "pressure_bar.negative"),
        ):
            with self.assertRaises(InputError) as caught:
                run("gas.consumption", {**self.CYLINDER, **change})
            self.assertEqual(caught.exception.code, code)


class BleedingAndPurging(SimpleTestCase):
    def test_each_cycle_halves(self):
        # Hand calculation: 1 bar over 2 bar halves; 1000 ppm after 10 cycles is 1000/1024.
        said = run(
            "gas.bleed_cycles",
            {"start_ppm": 1000, "fill_bar_abs": 2, "vent_bar_abs": 1, "target_ppm": 1},
        )
        self.assertEqual(said["cycles"], 10)
        self.assertAlmostEqual(said["residual_ppm"], 1000 / 1024)

    def test_gauge_and_absolute_are_told_apart(self):
        """By hand: seven cycles at 1.4 bar gauge keep (1.01325/2.41325)⁷ of 209476 ppm."""
        for fill, cycles, least, most in (("1.4", 7, 470, 490), ("5", 7, 0.5, 1), ("100", 3, 0, 1)):
            asked = {"fill_bar_abs": fill, "fill_is": "gauge", "cycles": cycles, "span_ppm": 100}
            said = run("gas.bleed_cycles", asked)
            self.assertTrue(least < said["residual_ppm"] < most, said)
            self.assertAlmostEqual(said["residual_percent"], said["residual_ppm"])
        absolute = run("gas.bleed_cycles", {"fill_bar_abs": "2.41325", "cycles": 7})
        gauge = run("gas.bleed_cycles", {"fill_bar_abs": "1.4", "fill_is": "gauge", "cycles": 7})
        self.assertAlmostEqual(absolute["residual_ppm"], gauge["residual_ppm"])

    def test_exactly_reached_is_reached(self):
        said = run(
            "gas.bleed_cycles",
            {"start_ppm": 1024, "fill_bar_abs": 2, "vent_bar_abs": 1, "target_ppm": 1},
        )
        self.assertEqual(said["cycles"], 10)

    def test_the_fill_gas_carries_its_own(self):
        said = run(
            "gas.bleed_cycles",
            {
                "start_ppm": 100,
                "fill_bar_abs": 10,
                "vent_bar_abs": 1,
                "cycles": 30,
                "fill_gas_ppm": 2,
            },
        )
        self.assertAlmostEqual(said["residual_ppm"], 2, places=9)

    def test_purging(self):
        # Textbook of a stirred tank: three exchanges leave 4.98 %, five leave 0.67 %.
        for exchanges, left in ((3, 0.0498), (5, 0.0067)):
            said = run(
                "gas.purge_time",
                {"dead_volume_l": 2, "flow_l_per_min": 4, "exchanges": exchanges},
            )
            self.assertAlmostEqual(said["fraction_left"], left, places=4)
            self.assertAlmostEqual(said["minutes"], exchanges / 2)

    @given(st.floats(0.0001, 0.9999))
    def test_purge_target_and_exchanges_agree(self, fraction):
        base = {"dead_volume_l": 1.3, "flow_l_per_min": 0.7}
        there = run("gas.purge_time", {**base, "target_fraction": fraction})
        back = run("gas.purge_time", {**base, "exchanges": there["exchanges"]})
        self.assertAlmostEqual(back["fraction_left"], fraction, places=12)

    def test_refusals(self):
        bleed = {"fill_bar_abs": 6, "vent_bar_abs": 1}
        purge = {"dead_volume_l": 1, "flow_l_per_min": 1}
        for name, payload, code in (
            ("bleed_cycles", {"fill_bar_abs": 1, "vent_bar_abs": 1, "cycles": 1}, "pressure.order"),
            (
                "bleed_cycles",
                {"fill_bar_abs": 2, "vent_bar_abs": -1, "cycles": 1},
                "vent_bar_abs.not_positive",
            ),
            ("bleed_cycles", bleed, "value.one_needed"),
            ("bleed_cycles", {**bleed, "cycles": 500}, "cycles.out_of_range"),
            (
                "bleed_cycles",
                {**bleed, "target_ppm": 1, "fill_gas_ppm": 1},
                "target.unreachable",
            ),
            ("purge_time", purge, "value.one_needed"),
            ("purge_time", {**purge, "target_fraction": 1}, "target_fraction.out_of_range"),
            ("purge_time", {**purge, "exchanges": 0}, "exchanges.not_positive"),
        ):
            with self.subTest(payload=payload), self.assertRaises(InputError) as caught:
                run(f"gas.{name}", payload)
            self.assertEqual(caught.exception.code, code)
