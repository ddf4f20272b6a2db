"""Cylinders for channels, and the simulated gas train."""

import math
from datetime import date
from decimal import Decimal

from django.test import SimpleTestCase

from calibration.detector.life import Past, expected_on
from calibration.gas.cylinder import Channel, Cylinder, fits, in_words, value_on
from calibration.kernel.codec import decode
from calibration.kernel.errors import InputError
from calibration.simulate.commands import Command, Share
from calibration.simulate.detector import DetectorModel, Head, live, settings_at, used_l
from calibration.simulate.exposure import exposure

METHANE = {
    "id": "a",
    "gas": "methane",
    "unit": "%LEL",
    "range": "100",
    "principle": "catalytic",
    "gas_value": "50",
}


def channel(**changes):
    return decode(Channel, {**METHANE, **changes})


def bottle(*parts, balance="air", **changes):
    named = [dict(zip(("gas", "value", "unit", "lel_set"), p, strict=False)) for p in parts]
    base = {"parts": named, "balance": balance, "water_l": "10", "pressure_bar": "60"}
    return decode(Cylinder, {**base, **changes})


class Fits(SimpleTestCase):
    def fit(self, cylinder, purpose="span", needed="0", **changes):
        return fits(cylinder, channel(**changes), purpose, "IEC", Decimal(needed))

    def test_a_label_in_volume_is_counted_by_the_sites_table(self):
        # Methane: 4.4 % vol by ISO/IEC 80079-20-1, 5.0 by NFPA 325. So 2.2 % vol is 50 or 44 %LEL.
        cylinder = bottle(("methane", "2.2", "% vol"))
        self.assertEqual(value_on(cylinder, channel(), "IEC"), Decimal("50.00"))
        self.assertEqual(value_on(cylinder, channel(), "NFPA"), Decimal("44.00"))

    def test_a_label_under_the_other_table_is_caught_and_converted(self):
        fit = self.fit(bottle(("methane", "50", "%LEL", "NFPA")))
        self.assertTrue(fit.usable)
        self.assertFalse(fit.ok)
        # 50 % of 5.0 % vol is 2.5 % vol, which is 56.82 % of 4.4 % vol.
        self.assertEqual(fit.value, Decimal("56.82"))
        self.assertIn("50 on the label is 56.82 %LEL here", fit.remark)

    def test_every_lel_is_said_with_its_table(self):
        text = in_words(bottle(("methane", "50", "%LEL")), "IEC")
        self.assertEqual(text, "methane 50 %LEL (2.20 % vol by ISO/IEC 80079-20-1) in air")
        self.assertEqual(in_words(bottle(), "IEC"), "zero air")

    def test_what_cannot_serve_is_refused_with_why(self):
        for cylinder, purpose, said in (
            (bottle(("carbon monoxide", "100", "ppm")), "span", "no methane"),
            (bottle(("methane", "50", "% vol"), balance="nitrogen"), "span", "percent-volume"),
            (bottle(("methane", "0.1", "% vol")), "span", "too little"),
            (bottle(("methane", "2.2", "% vol"), balance="nitrogen"), "span", "needs oxygen"),
            (bottle(("methane", "2.2", "% vol")), "zero", "no zero gas"),
            (bottle(balance="nitrogen"), "zero", "needs oxygen"),
            (bottle(), "nitrogen", "Pure nitrogen"),
        ):
            with self.subTest(said=said):
                fit = self.fit(cylinder, purpose)
                self.assertFalse(fit.usable)
                self.assertIn(said, fit.remark)

    def test_a_fixed_regulator_of_the_wrong_flow_is_refused_where_it_is_chosen(self):
        for flow, changes, said in (
            ("1.5", {}, "gives 1.5 L/min; the manual wants 0.5"),
            ("5", {"demand": True}, "demand-flow"),
        ):
            with self.subTest(flow=flow):
                cylinder = bottle(("methane", "2.2", "% vol"), flow_l_per_min=flow)
                fit = self.fit(cylinder, **changes)
                self.assertFalse(fit.usable)
                self.assertIn(said, fit.remark)

    def test_doubts_are_said_and_a_reason_is_asked_for(self):
        for cylinder, changes, said in (
            (bottle(("methane", "1.1", "% vol")), {}, "The instrument is set to 50 %LEL"),
            (bottle(("methane", "0.44", "% vol")), {"gas_value": "10"}, "tells little"),
            (bottle(("methane", "2.2", "% vol"), uncertainty_percent="8"), {}, "±8 %"),
            (bottle(("methane", "2.2", "% vol")), {"humid": True}, "humidifier"),
        ):
            with self.subTest(said=said):
                if said == "tells little":
                    changes = {**changes, "range": "60"}
                fit = self.fit(cylinder, **changes)
                self.assertTrue(fit.usable)
                self.assertFalse(fit.ok)
                self.assertIn(said, fit.remark)

    def test_what_is_left_follows_boyle_and_what_is_set_aside_is_gone(self):
        # 10 L of water at 60 bar down to 5 bar: 10 x 55 / 1.01325 litres at one atmosphere.
        full = bottle(("methane", "2.2", "% vol"))
        self.assertAlmostEqual(float(full.left_l), 542.81, places=2)
        self.assertFalse(self.fit(full, needed="543").usable)
        kept = bottle(("methane", "2.2", "% vol"), set_aside_l="540")
        self.assertIn("2.8 L are left", self.fit(kept, needed="3").remark)

    def test_a_mixture_without_a_limit_for_its_gas_is_no_lel_gas(self):
        with self.assertRaises(InputError):
            value_on(bottle(("oxygen", "18", "% vol")), channel(gas="oxygen"), "IEC")


def train(model, *commands):
    return [Command(**c) for c in commands], model


class Train(SimpleTestCase):
    model = DetectorModel(
        heads=(Head(id="a", gas="methane", unit="%LEL", range=100, noise=0.0, alarm=20),)
    )
    gas = {"kind": "gas", "value": 0.5, "mix": (Share(gas="methane", percent=2.2),)}

    def shown(self, t, *commands, **changes):
        model = DetectorModel(**{**vars(self.model), **changes})
        given = [Command(**c) for c in commands]
        return float(live(model, given, t, 1).digital), given, model

    def on(self, **more):
        return {"t": 0.0, "kind": "adapter", "value": 1.0}, {"t": 1.0, **self.gas, **more}

    def test_t90_of_a_first_order_sensor_is_ln_10_time_constants(self):
        # IEC 60079-29-1 defines t90; of a first-order lag it is tau x ln 10.
        _, commands, model = self.shown(0, *self.on())
        seen = exposure(model, commands, 121.0, 1)
        self.assertAlmostEqual(float(seen.t90_s), 8 * math.log(10), delta=0.6)
        self.assertAlmostEqual(float(seen.peak), 50.0, delta=0.2)

    def test_without_adapter_or_flow_nothing_comes(self):
        self.assertEqual(self.shown(60, {"t": 1.0, **self.gas})[0], 0.0)
        adapter, gas = self.on()
        self.assertEqual(self.shown(60, adapter, gas, blocked=True)[0], 0.0)

    def test_half_the_flow_lets_half_of_the_air_in(self):
        adapter, gas = self.on(value=0.25)
        self.assertAlmostEqual(self.shown(120, adapter, gas)[0], 25.0, delta=0.1)

    def test_a_cylinder_really_empties(self):
        adapter, gas = self.on(litres=0.5)
        # 0.5 L at 0.5 L/min last one minute; then the reading falls again.
        full, commands, model = self.shown(60, adapter, gas)
        self.assertAlmostEqual(full, 50.0, delta=0.2)
        self.assertLess(float(live(model, commands, 300, 1).digital), 1.0)
        self.assertEqual(float(used_l(model, commands, 300)), 0.5)
        self.assertEqual(settings_at(model, commands, 300)["flow"], "0.00")

    def test_a_held_output_says_nothing_about_gas(self):
        _, commands, model = self.shown(0, *self.on(), inhibited=True)
        now = live(model, commands, 90, 1)
        self.assertEqual((float(now.output), float(now.digital)), (2.0, 50.0))

    def test_an_alarm_is_live_while_there_is_gas_and_left_over_afterwards(self):
        _, commands, model = self.shown(0, *self.on())
        self.assertEqual(settings_at(model, commands, 90)["alarm"], "live")
        commands += [Command(t=90, kind="shut"), Command(t=91, kind="adapter", value=0.0)]
        self.assertEqual(settings_at(model, commands, 300)["alarm"], "latched")
        commands.append(Command(t=301, kind="reset"))
        self.assertEqual(settings_at(model, commands, 310)["alarm"], "none")

    def test_a_bead_without_oxygen_hardly_answers(self):
        adapter, gas = self.on(text="nitrogen")
        self.assertLess(self.shown(120, adapter, gas)[0], 15.0)

    def test_the_instrument_itself_refuses_what_is_out_of_reach(self):
        _, commands, model = self.shown(0, *self.on())
        far = Command(t=100, kind="trim", end="span", setting="a", to=5.0)
        with self.assertRaises(InputError) as caught:
            live(model, [*commands, far], 101, 1)
        self.assertEqual(caught.exception.code, "set.refused")

    def test_overshoot_passes_its_end_and_comes_back(self):
        head = Head(
            id="a",
            gas="methane",
            unit="%LEL",
            range=100,
            noise=0.0,
            overshoot=0.3,
            principle="infrared",
        )
        _, commands, model = self.shown(0, *self.on(), heads=(head,))
        seen = exposure(model, commands, 200.0, 1)
        self.assertGreater(float(seen.peak), 51.0)
        self.assertAlmostEqual(float(live(model, commands, 200, 1).digital), 50.0, delta=0.2)


class Life(SimpleTestCase):
    def test_a_straight_ageing_is_expected_to_go_on(self):
        history = [
            Past(date="2026-01-01", response=100.0, replaced=True),
            Past(date="2026-04-11", response=90.0),
            Past(date="2026-07-20", response=80.0),
        ]
        # Ten percent in a hundred days: seventy another hundred days later.
        self.assertAlmostEqual(expected_on(history, date(2026, 10, 28)), 70.0)

    def test_two_results_expect_nothing(self):
        history = [Past(date="2026-01-01", response=100.0), Past(date="2026-04-11", response=90.0)]
        self.assertIsNone(expected_on(history, date(2026, 10, 28)))
