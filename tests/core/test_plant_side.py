"""Level, weighing, flow, analyzers, loops and units: by hand and at their edges."""

from decimal import Decimal

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from calibration.kernel.errors import InputError
from calibration.kernel.units import UNITS, alternatives, convert
from calibration.operations import run

#: One of the first unit in the second, as printed in NIST SP 811 (2008), appendix B.8.
SP_811 = (
    ("psi", "kPa", "6.894757"),
    ("bar", "kPa", "100"),
    ("inH2O", "Pa", "249.082"),
    ("mmHg", "Pa", "133.3224"),
    ("ft", "m", "0.3048"),
    ("in", "mm", "25.4"),
    ("lb", "kg", "0.45359237"),
    ("oz", "g", "28.34952"),
    ("gal", "L", "3.785412"),
    ("in³", "cm³", "16.38706"),
    ("ft³", "L", "28.31685"),
    ("lb/ft³", "kg/m³", "16.01846"),
    ("lb/min", "kg/h", "27.21554"),
    ("ft/min", "m/s", "0.00508"),
    ("ft³/h", "L/min", "0.4719474"),
)


class Refusing(SimpleTestCase):
    """Shared: an operation refuses with this code."""

    def refuses(self, name, payload, code):
        with self.subTest(payload=payload), self.assertRaises(InputError) as caught:
            run(name, payload)
        self.assertEqual(caught.exception.code, code)
        self.assertTrue(caught.exception.remedy)


class Units(Refusing):
    def test_factors_as_printed(self):
        for a, b, printed in SP_811:
            said = Decimal(run("unit.convert", {"value": 1, "unit": a, "to_unit": b})["value"])
            digits = Decimal(printed)
            self.assertAlmostEqual(said, digits, delta=digits * Decimal("1e-6"), msg=f"{a} {b}")

    def test_fixed_points_of_temperature(self):
        # Ice point and boiling point of water; absolute zero.
        for c, f, k in (("0", 32, "273.15"), ("100", 212, "373.15"), ("-273.15", "-459.67", 0)):
            said = run("unit.convert", {"value": c, "unit": "°C", "to_unit": "°F"})["all"]
            values = {u["unit"]: Decimal(u["value"]) for u in said}
            self.assertAlmostEqual(values["°F"], Decimal(f), places=20)
            self.assertEqual(values["K"], Decimal(k))

    def test_refusals(self):
        for payload, code in (
            ({"value": 1, "unit": "furlong"}, "unit.unknown"),
            ({"value": 1, "unit": "psi", "to_unit": "kg"}, "unit.family"),
            ({"value": -300, "unit": "°C"}, "temperature.below_zero"),
            ({"value": -1, "unit": "kg"}, "value.negative"),
        ):
            self.refuses("unit.convert", payload, code)

    @given(st.sampled_from(sorted(UNITS)), st.decimals(-1000, 1000, places=3))
    def test_there_and_back(self, unit, value):
        for other in alternatives(unit):
            back = convert(convert(value, unit, other), other, unit)
            self.assertAlmostEqual(back, value, delta=Decimal("1e-18"))


class Loops(Refusing):
    BASE = {"supply_v": 24, "loop_ohm": 50, "resistor_ohm": 250, "minimum_v": 12}

    def test_ohms_law(self):
        # 20 mA through 250 ohm is 5 V; 24 − 0.02 × 300 = 18 V; at 22 mA 17.4 V.
        said = run("loop.supply", {**self.BASE, "alarm_ma": 22})
        self.assertEqual(Decimal(said["resistor_v"]), 5)
        self.assertEqual(Decimal(said["transmitter_v"]), 18)
        self.assertEqual(Decimal(said["transmitter_at_alarm_v"]), Decimal("17.4"))
        self.assertTrue(said["ok"] and said["alarm_ok"] and said["comms_ok"])

    def test_exactly_enough_is_enough(self):
        # 24 V − 20 mA × 600 ohm = 12 V.
        said = run("loop.supply", {**self.BASE, "loop_ohm": 350, "alarm_ma": 21})
        self.assertTrue(said["ok"])
        self.assertFalse(said["alarm_ok"])
        self.assertTrue(said["comms_ok"])
        self.assertFalse(run("loop.supply", {**self.BASE, "resistor_ohm": 100})["comms_ok"])

    def test_units_of_the_resistor(self):
        said = run("loop.supply", {**self.BASE, "resistor_ohm": {"value": "0.25", "unit": "kΩ"}})
        self.assertEqual(Decimal(said["resistor_v"]), 5)
        self.refuses(
            "loop.supply",
            {**self.BASE, "resistor_ohm": {"value": 1, "unit": "kg"}},
            "unit.family",
        )
        self.refuses("loop.supply", {**self.BASE, "resistor_ohm": {"value": 1}}, "field.wrong_type")

    def test_refusals(self):
        for change, code in (
            ({"supply_v": 0}, "supply_v.not_positive"),
            ({"loop_ohm": -1}, "loop_ohm.negative"),
            ({"current_ma": 200}, "current_ma.out_of_range"),
        ):
            self.refuses("loop.supply", {**self.BASE, **change}, code)


class Level(Refusing):
    def test_a_displacer_in_water(self):
        # Archimedes: a 1 L displacer in water of 1000 kg/m³ loses 1 kg; half immersed 0.5 kg.
        said = run("displacer.weights", {"displacer_kg": 1.5, "volume_l": 1, "density": 1000})[
            "weights"
        ]
        self.assertEqual([round(w["hung_kg"], 9) for w in said], [1.5, 1.25, 1.0, 0.75, 0.5])
        self.assertAlmostEqual(said[0]["hung_lb"], 3.306934, places=5)

    def test_an_interface(self):
        # 800 over 1000 kg/m³: at 0 % all in the light one, 1.5 − 0.8; at 100 % 1.5 − 1.0.
        said = run(
            "displacer.weights",
            {"displacer_kg": 1.5, "volume_l": 1, "density": 1000, "upper_density": 800},
        )
        self.assertAlmostEqual(said["weights"][0]["hung_kg"], 0.7)
        self.assertAlmostEqual(said["weights"][-1]["hung_kg"], 0.5)

    def test_volume_from_diameter_and_length(self):
        # π/4 × 0.1² × 1 m = 7.853982 L.
        said = run(
            "displacer.weights",
            {"displacer_kg": 20, "diameter_m": 0.1, "length_m": 1, "density": 1000},
        )
        self.assertAlmostEqual(said["volume_l"], 7.853982, places=6)

    def test_displacer_refusals(self):
        base = {"displacer_kg": 1.5, "volume_l": 1, "density": 1000}
        for change, code in (
            ({"displacer_kg": 0}, "displacer_kg.not_positive"),
            ({"density": 1600}, "displacer.floats"),
            ({"upper_density": 1000}, "density.order"),
            ({"volume_l": None}, "volume.needed"),
            ({"percents": []}, "percents.too_few"),
            ({"percents": [150]}, "percents.out_of_range"),
        ):
            self.refuses("displacer.weights", {**base, **change}, code)

    def test_a_metre_of_water(self):
        # NIST SP 811: a metre of water (conventional) is 9.80665 kPa.
        said = run(
            "level.range", {"arrangement": "open_or_dry", "density": 1000, "level_upper_m": 1}
        )
        self.assertAlmostEqual(said["upper_range_value_kpa"], 9.80665)
        self.assertEqual(said["zero"], "at zero")

    def test_suppressed_and_elevated(self):
        tap = {"density": 1000, "lower_tap_m": 1, "level_upper_m": 2}
        dry = run("level.range", {**tap, "arrangement": "open_or_dry"})
        self.assertEqual(dry["zero"], "suppressed")
        self.assertAlmostEqual(dry["lower_range_value_kpa"], 9.80665)
        wet = run(
            "level.range",
            {**tap, "arrangement": "wet_leg", "leg_height_m": 4, "fill_density": 1000},
        )
        self.assertEqual(wet["zero"], "elevated")
        self.assertAlmostEqual(wet["lower_range_value_kpa"], -3 * 9.80665)
        self.assertAlmostEqual(wet["span_kpa"], 2 * 9.80665)

    def test_seals_make_the_range_independent_of_the_transmitters_height(self):
        base = {
            "arrangement": "remote_seals",
            "density": 850,
            "level_upper_m": 2,
            "fill_density": 960,
        }
        high = run("level.range", {**base, "lower_tap_m": 1, "leg_height_m": 4})
        low = run("level.range", {**base, "lower_tap_m": 6, "leg_height_m": 9})
        self.assertAlmostEqual(high["lower_range_value_kpa"], low["lower_range_value_kpa"])

    def test_level_refusals(self):
        base = {"density": 1000, "level_upper_m": 1, "fill_density": 1000}
        for change, code in (
            ({"density": 0}, "density.not_positive"),
            ({"level_upper_m": 0}, "range.zero_width"),
            ({"fill_density": 0}, "fill_density.needed"),
        ):
            self.refuses("level.range", {**base, **change}, code)


class Weighing(Refusing):
    def test_cells_by_hand(self):
        # Four cells of 1000 kg and 2 mV/V at half load give 1 mV/V, 10 mV at 10 V.
        said = run(
            "loadcell.theoretical",
            {"cells": 4, "rated_kg": 1000, "dead_load_kg": 500, "applied_kg": 1500},
        )
        self.assertEqual(Decimal(said["signal_mv_per_v"]), 1)
        self.assertEqual(Decimal(said["signal_mv"]), 10)
        self.assertEqual(Decimal(said["dead_mv_per_v"]), Decimal("0.25"))
        self.assertFalse(said["overloaded"])

    def test_the_least_weight(self):
        base = {"cells": 4, "rated_kg": 1000}
        self.assertEqual(Decimal(run("loadcell.minimum_weight", base)["minimum_kg"]), Decimal(200))
        for weight, enough in ((200, True), ("199.9", False)):
            said = run("loadcell.minimum_weight", {**base, "weight_kg": weight})
            self.assertEqual(said["enough"], enough)

    def test_belt(self):
        # 100 m at 2 m/s is 50 s a round; 10 min is 12 rounds exactly, 10.1 min takes 13.
        base = {"length_m": 100, "speed_m_s": 2}
        self.assertEqual(run("belt.revolutions", {**base, "target_minutes": 10})["revolutions"], 12)
        said = run("belt.revolutions", {**base, "target_minutes": "10.1"})
        self.assertEqual(said["revolutions"], 13)
        self.assertAlmostEqual(Decimal(said["actual_minutes"]), Decimal("10.8333"), places=4)

    def test_belt_deviation(self):
        # Zero 20 counts of 40 000 is 0.05 %; span 100 of 40 000 is 0.25 %, exactly on the limit.
        said = run(
            "belt.deviation",
            {
                "old_zero": 1000,
                "new_zero": 1020,
                "span_count": 40000,
                "old_span": 40000,
                "new_span": 40100,
            },
        )
        self.assertEqual(Decimal(said["zero_percent"]), Decimal("0.05"))
        self.assertTrue(said["zero_accepted"] and said["span_accepted"])

    def test_a_first_zero_of_a_belt_is_a_baseline(self):
        said = run("belt.deviation", {"new_zero": 1020, "span_count": 40000})
        self.assertTrue(said["baseline"])
        self.assertIsNone(said["zero_percent"])
        self.assertIsNone(said["zero_accepted"])
        self.assertIn("baseline", said["advice"])

    def test_half_a_step_at_a_small_weight_is_many_at_capacity(self):
        # By hand: at a weight of 2 % half a step is 25 steps at capacity.
        base = {"cells": 4, "rated_kg": 1000, "weight_kg": 80, "share_percent": 2}
        said = run("loadcell.minimum_weight", {**base, "step_kg": "0.5"})
        self.assertEqual(Decimal(said["half_step_at_capacity"]), 25)
        # U of half a step either way, k = 2: 0.5/√3 = 0.2887 kg; times 50 it is 14.43 kg.
        grown = Decimal(said["uncertainty_at_capacity_kg"])
        self.assertAlmostEqual(grown, Decimal("14.4338"), places=4)
        self.assertTrue(said["enough"])
        strict = {**base, "step_kg": "0.5", "tolerance_percent": "0.1"}
        said = run("loadcell.minimum_weight", strict)
        self.assertEqual(Decimal(said["tolerance_kg"]), 4)
        self.assertFalse(said["enough"])
        self.assertIn("the tolerance does not", said["advice"])

    def test_material(self):
        # Counted 1 % too much: a span that divides goes up by 1 %, one that multiplies down.
        base = {"weighed_kg": 10000, "totalizer_kg": 10100, "old_span": 5000}
        up = run("belt.material_test", base)
        down = run("belt.material_test", {**base, "span_acts": "multiplies"})
        self.assertEqual(Decimal(up["error_percent"]), 1)
        self.assertEqual(Decimal(up["corrected_span"]), 5050)
        self.assertAlmostEqual(Decimal(down["corrected_span"]), Decimal("4950.495"), places=3)

    def test_refusals(self):
        for name, payload, code in (
            (
                "loadcell.theoretical",
                {"cells": 0, "rated_kg": 1, "applied_kg": 1},
                "cells.out_of_range",
            ),
            (
                "loadcell.theoretical",
                {"cells": 1, "rated_kg": 1, "applied_kg": -1},
                "applied_kg.negative",
            ),
            (
                "loadcell.minimum_weight",
                {"cells": 1, "rated_kg": 1, "weight_kg": 0},
                "weight_kg.not_positive",
            ),
            ("belt.revolutions", {"length_m": 0, "speed_m_s": 1}, "length_m.not_positive"),
            (
                "belt.revolutions",
                {"length_m": "0.001", "speed_m_s": 10, "target_minutes": 900},
                "target_minutes.too_long",
            ),
            (
                "belt.deviation",
                {"old_zero": 1, "new_zero": 1, "span_count": 0},
                "span_count.not_positive",
            ),
            (
                "belt.deviation",
                {"old_zero": 1, "new_zero": 1, "span_count": 9, "old_span": 9},
                "span.one_missing",
            ),
            ("belt.material_test", {"weighed_kg": 0, "totalizer_kg": 1}, "weighed_kg.not_positive"),
        ):
            self.refuses(name, payload, code)


class Flow(Refusing):
    ZERO = {"measured_zero": "1.0", "zero_stability": "1.0", "minimum_flow": 100}

    def test_on_the_limit_is_verified(self):
        said = run("massflow.zero", self.ZERO)
        self.assertTrue(said["verified"])
        self.assertEqual(Decimal(said["at_minimum_percent"]), 1)

    def test_next_actions(self):
        bad = {**self.ZERO, "measured_zero": "1.2"}
        for payload, action in (
            (self.ZERO, "leave_the_zero"),
            (bad, "find_the_cause"),
            ({**bad, "attempt": 2}, "set_a_new_zero"),
            ({**bad, "attempt": 2, "conditions": {"blocked_in": False}}, "make_conditions"),
        ):
            self.assertEqual(run("massflow.zero", payload)["next_action"], action)
        unmade = run("massflow.zero", {**self.ZERO, "conditions": {"density_stable": False}})
        self.assertFalse(unmade["verified"])
        self.assertEqual(unmade["missing"], ["density stable"])

    def test_what_is_shown_has_the_stored_zero_taken_off_already(self):
        shown = {**self.ZERO, "measured_zero": "1.5", "stored_zero": "0.8"}
        self.assertEqual(Decimal(run("massflow.zero", shown)["deviation"]), Decimal("1.5"))
        raw = run("massflow.zero", {**shown, "shown_is": "raw"})
        self.assertEqual(Decimal(raw["deviation"]), Decimal("0.7"))
        self.assertTrue(raw["verified"])

    def test_exactly_nothing_without_noise_is_a_cut_off(self):
        said = run("massflow.zero", {**self.ZERO, "measured_zero": "0", "noise": "0"})
        self.assertEqual((said["next_action"], said["verified"]), ("show_the_live_zero", False))
        alive = run("massflow.zero", {**self.ZERO, "measured_zero": "0", "noise": "0.02"})
        self.assertTrue(alive["verified"])

    def test_mean_schools_offset_and_full_flow(self):
        short = run("massflow.zero", {**self.ZERO, "mean_of_s": 30})
        self.assertEqual(short["missing"], ["a mean over 60 s or more"])
        each = run("massflow.zero", {**self.ZERO, "school": "each_visit"})
        self.assertEqual((each["next_action"], each["verified"]), ("set_a_new_zero", True))
        # By hand: an offset that moved by 0.4 of a unit worth 12 kg/h is 4.8 kg/h.
        moved = {"offset_before": "-1.2", "offset_after": "-0.8", "flow_per_offset": 12}
        said = run("massflow.zero", {**self.ZERO, **moved, "full_flow": 20000})
        self.assertEqual(Decimal(said["offset_moved"]), Decimal("0.4"))
        self.assertEqual(Decimal(said["offset_worth"]), Decimal("4.8"))
        self.assertEqual(Decimal(said["at_full_percent"]), Decimal("0.005"))

    def test_lines_of_a_tester_have_kinds(self):
        ticked = {"tag_confirmed": True, "serial_confirmed": True, "factory_values_match": True}
        whole = {"identity": ticked, "reconnected": True}
        for line, passed in (
            ({"measured": "0.03", "reference": 0, "kind": "absolute", "limit": "0.05"}, True),
            ({"measured": "-0.06", "reference": 0, "kind": "absolute", "limit": "0.05"}, False),
            ({"measured": "20.1", "reference": 20, "kind": "at_least"}, True),
            ({"measured": "19.9", "reference": 20, "kind": "at_least"}, False),
            ({"measured": 1, "reference": 1, "kind": "yes_no"}, True),
            ({"measured": 0, "reference": 1, "kind": "yes_no"}, False),
        ):
            with self.subTest(line=line):
                said = run("magmeter.verify", {"tests": [{"name": "x", **line}], **whole})
                self.assertEqual(said["verified"], passed)
                self.assertEqual(said["said"], "verified" if passed else "tested, not verified")

    def test_the_coil_is_copper(self):
        # IEC 60028: 0.00393 of its value at 20 °C a degree: 62 Ω at 20 °C is 66.873 Ω at 40 °C.
        line = {"name": "coil", "measured": "66.8732", "reference": "62", "coil_c": "40"}
        said = run("magmeter.verify", {"tests": [line]})["tests"][0]
        self.assertAlmostEqual(Decimal(said["at_20_c"]), Decimal(62), places=4)
        self.assertTrue(said["passed"])
        cold = {k: v for k, v in line.items() if k != "coil_c"}
        self.assertFalse(run("magmeter.verify", {"tests": [cold]})["tests"][0]["passed"])

    def proved(self, *counted, **more):
        runs = [{"counted": c, "reference": "1000"} for c in counted]
        return run("flow.prove", {"runs": runs, **more})

    def test_five_runs_of_one_spread_say_more_than_three(self):
        # API MPMS 4.8: five runs within 0.05 % leave ±0.027 %; three within 0.05 % leave ±0.073 %.
        five = self.proved("1000", "1000.5", "1000.2", "1000.3", "1000.1", reference_is="metered")
        three = self.proved("1000", "1000.5", "1000.2", reference_is="metered")
        for said, known in ((five, "0.027"), (three, "0.073")):
            found = Decimal(said["mean_uncertainty_percent"])
            self.assertAlmostEqual(found, Decimal(known), places=3)
            self.assertTrue(said["repeatable"])

    def test_air_carries_what_is_weighed(self):
        # OIML D 28: (1 − 1.2/8000) / (1 − 1.2/1000) = 1.001051 for water.
        said = self.proved("1001.051", "1001.051", "1001.051")
        self.assertAlmostEqual(Decimal(said["buoyancy_percent"]), Decimal("0.1051"), places=4)
        self.assertAlmostEqual(Decimal(said["error_percent"]), Decimal(0), places=3)
        self.assertAlmostEqual(Decimal(said["factor"]), Decimal(1), places=5)

    def test_runs_that_do_not_repeat_give_no_verdict(self):
        said = self.proved("1000", "1002", "1001", reference_is="metered")
        self.assertFalse(said["repeatable"])
        self.assertIsNone(said["within"])
        self.assertIn("begin anew", said["advice"])
        outside = self.proved("1003", "1003.1", "1003.2", reference_is="metered")
        self.assertFalse(outside["within"])
        self.refuses("flow.prove", {"runs": [{"counted": 1, "reference": 1}] * 2}, "runs.too_few")
        self.refuses("flow.prove", {"runs": [{"counted": 1, "reference": 1}] * 11}, "runs.too_many")

    def test_only_a_fully_ticked_verification_counts(self):
        ticked = {"tag_confirmed": True, "serial_confirmed": True, "factory_values_match": True}
        tests = [{"name": "coil", "measured": "101", "reference": "100"}]
        good = {"tests": tests, "identity": ticked, "reconnected": True}
        self.assertTrue(run("magmeter.verify", good)["verified"])
        for change, left in (
            ({"reconnected": None}, "reconnection check"),
            ({"reconnected": False}, "reconnection failed"),
            ({"identity": {**ticked, "serial_confirmed": False}}, "serial confirmed"),
            ({"tests": [{**tests[0], "measured": "101.01"}]}, "coil failed"),
        ):
            said = run("magmeter.verify", {**good, **change})
            self.assertFalse(said["verified"])
            self.assertIn(left, said["open"])

    def test_refusals_of_new_fields(self):
        self.refuses("massflow.zero", {**self.ZERO, "noise": "-1"}, "noise.negative")
        self.refuses("massflow.zero", {**self.ZERO, "full_flow": 0}, "full_flow.not_positive")
        line = {"name": "a", "measured": 1, "reference": 0, "kind": "absolute"}
        self.refuses("magmeter.verify", {"tests": [line]}, "limit.missing")
        hot = {"name": "a", "measured": 1, "reference": 1, "coil_c": 300}
        self.refuses("magmeter.verify", {"tests": [hot]}, "coil_c.out_of_range")
        load = {"cells": 1, "rated_kg": 9, "weight_kg": 1, "step_kg": 0}
        self.refuses("loadcell.minimum_weight", load, "step_kg.not_positive")

    def test_refusals(self):
        for field in ("zero_stability", "minimum_flow", "normal_flow"):
            self.refuses("massflow.zero", {**self.ZERO, field: 0}, f"{field}.not_positive")
        self.refuses("massflow.zero", {**self.ZERO, "attempt": 0}, "attempt.not_positive")
        self.refuses("magmeter.verify", {"tests": []}, "tests.too_few")
        self.refuses(
            "magmeter.verify",
            {"tests": [{"name": "a", "measured": 1, "reference": 0}]},
            "reference.zero",
        )


class Analyzers(Refusing):
    def inject(self, *values, **more):
        return run("injections.compare", {"components": [{"name": "h2", "values": values}], **more})

    def test_injections(self):
        # 100 and 102.5 differ by 2.469 % of their mean; 100 and 103 by 2.956 %.
        for values, action in (
            ([100], "inject_again"),
            ([100, 102.5], "accept"),
            ([100, 103], "inject_again"),
            ([100, 103, 102], "accept"),
            ([100, 103, 99], "recondition"),
        ):
            said = self.inject(*values)
            self.assertEqual(said["next_action"], action, values)
        self.assertEqual(self.inject(100, 103, 102)["accepted_pair"], [2, 3])
        self.assertAlmostEqual(self.inject(100, 103)["worst_percent"], 2.9557, places=4)

    def test_one_bad_component_rejects_the_pair(self):
        said = run(
            "injections.compare",
            {
                "components": [
                    {"name": "h2", "values": [100, 100]},
                    {"name": "c2h2", "values": [5, 6]},
                ]
            },
        )
        self.assertEqual(said["next_action"], "inject_again")

    def test_retention(self):
        def check(*seen):
            peaks = [{"name": f"c{n}", "expected_s": 100, "seen_s": s} for n, s in enumerate(seen)]
            return run("retention.check", {"peaks": peaks})

        self.assertTrue(check(100, 103, 97)["within"])
        self.assertIn("Single", check(104, 99)["advice"])

    def test_moisture_grows_with_retention_and_carrier_flow_does_not(self):
        def shifted(*percents):
            times = zip((30, 60, 120), percents, strict=True)
            peaks = [
                {"name": f"c{t}", "expected_s": t, "seen_s": t * (1 + p / 100)} for t, p in times
            ]
            return run("retention.check", {"peaks": peaks})["advice"]

        self.assertIn("moisture", shifted(1, 3.5, 7))
        self.assertIn("carrier flow or temperature", shifted(4, 4.2, 3.9))
        self.assertIn("carrier flow or temperature", shifted(-4, -4.2, -3.9))

    def test_the_gap_of_two_peaks_decides_and_not_their_shift(self):
        """R = 2 Δt / (w1 + w2) (IUPAC 1993): 2 · 6 / (4 + 4) = 1.5; 2 · 5 / 8 = 1.25."""

        def gap(late):
            peaks = [
                {"name": "carbon monoxide", "expected_s": 60, "seen_s": 60 + late, "width_s": 4},
                {"name": "methane", "expected_s": 66, "seen_s": 66, "width_s": 4},
            ]
            return run("retention.check", {"peaks": peaks})

        self.assertAlmostEqual(gap(0)["resolution"], 1.5)
        self.assertTrue(gap(0)["within"])
        moved = gap(1)
        self.assertAlmostEqual(moved["resolution"], 1.25)
        self.assertFalse(moved["within"], "1 s of 60 is in its window, and too near methane")
        self.assertEqual(moved["closest"], "Carbon monoxide and methane")

    def test_2_0_against_2_1_ppm_is_4_9_percent_and_means_nothing(self):
        for floor, action in (("0", "inject_again"), ("0.5", "accept")):
            trace = {"name": "acetylene", "values": ["2.0", "2.1"], "floor": floor}
            said = run("injections.compare", {"components": [trace]})
            self.assertEqual(said["next_action"], action)
            self.assertAlmostEqual(said["worst_percent"], 4.878, places=3)

    def test_all_off_by_one_ratio_is_volume_and_one_alone_is_separation(self):
        names = ("hydrogen", "methane", "ethylene")

        def compare(*second):
            pairs = zip(names, (500, 400, 50), second, strict=True)
            components = [{"name": n, "values": [a, b]} for n, a, b in pairs]
            return run("injections.compare", {"components": components})

        leak = compare(460, 368, 46)
        self.assertTrue(leak["one_ratio"])
        self.assertIn("volume injected, or a leak", leak["advice"])
        alone = compare(500, 400, 46)
        self.assertFalse(alone["one_ratio"])
        self.assertIn("Ethylene alone", alone["advice"])

    def test_methane_of_outdoor_air_is_asked_about(self):
        blank = [{"name": "methane", "value": 1.9, "limit": 1}]
        self.assertIn("outdoor air", run("blank.check", {"components": blank})["advice"])

    def test_blank(self):
        co2 = {"name": "co2", "value": 8, "limit": 8}
        self.assertTrue(run("blank.check", {"components": [co2]})["accepted"])
        said = run("blank.check", {"components": [co2, {"name": "h2", "value": 0.1}]})
        self.assertEqual(said["failed"], ["h2"])

    def test_refusals(self):
        self.refuses("injections.compare", {"components": []}, "components.too_few")
        self.refuses(
            "injections.compare",
            {"components": [{"name": "a", "values": [1, 2]}, {"name": "b", "values": [1]}]},
            "values.lengths",
        )
        self.refuses(
            "injections.compare", {"components": [{"name": "a", "values": []}]}, "values.too_few"
        )
        self.refuses(
            "retention.check",
            {"peaks": [{"name": "a", "expected_s": 0, "seen_s": 1}]},
            "expected_s.not_positive",
        )
        self.refuses(
            "blank.check",
            {"components": [{"name": "a", "value": 0, "limit": -1}]},
            "limit.negative",
        )
