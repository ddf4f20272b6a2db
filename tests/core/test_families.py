"""Every family of transmitters from plan to signature, and what its job must not let pass."""

from django.test import SimpleTestCase

from calibration.families.shared.loop import ask
from calibration.kernel.errors import InputError
from tests.core import passes, planted
from tests.core.asking import adjustment, every_step
from tests.core.families import FAMILIES, Visit
from tests.long import LONG


class Whole(SimpleTestCase):
    def test_a_good_instrument_of_every_family_comes_through(self):
        for family in FAMILIES:
            with self.subTest(family=family):
                visit = Visit(family)
                found = visit.until("judge")
                self.assertEqual(found.as_found.mark, "within")
                self.assertEqual(found.as_found.causes, ())
                done = visit.until("")
                self.assertEqual((done.status, done.on, done.to_close), ("signed", (), ()))

    def test_what_is_out_is_adjusted_and_comes_back_within(self):
        for family, faults in (
            ("smart_transmitter", {"sensor_zero_percent": 0.9}),
            ("smart_transmitter", {"output_span_percent": -1.2}),
            ("pt100_transmitter", {"output_zero_percent": 0.8}),
            ("temperature_loop", {"output_span_percent": 1.5}),
            ("dp_level", {"sensor_zero_percent": -1.0}),
            ("displacer", {"output_zero_percent": 2.0, "output_span_percent": -4.0}),
            ("flow_root_in_transmitter", {"output_span_percent": 1.5}),
            ("flow_root_in_receiver", {"output_span_percent": 1.5}),
        ):
            with self.subTest(family=family, faults=faults):
                visit = Visit(family, **faults)
                self.assertEqual(visit.until("judge").as_found.mark, "outside")
                self.assertEqual(visit.until("").as_left.mark, "within")

    def test_a_sensor_is_replaced_and_never_adjusted(self):
        visit = Visit("pt100_sensor", offset_c=2.5)
        state = visit.until("judge")
        self.assertIn("replace it", state.judgement.advice)
        self.assertEqual({c.id for c in state.judgement.choices}, {"leave", "stop"})
        done = visit.until("")
        self.assertEqual((done.status, done.instrument.school[:12]), ("signed", "not adjusted"))

    def test_a_sticky_displacer_shows_only_with_liquid(self):
        visit = Visit("displacer", friction_percent=3.5)
        self.assertEqual(visit.until("judge").as_found.mark, "within")
        state = visit.until("wet_judge")
        self.assertEqual(state.judgement.causes[0].cause, "hysteresis")
        self.assertEqual([c.id for c in state.judgement.choices if c.recommended], ["stop"])
        self.assertEqual(visit.until("").status, "signed")


class Settings(SimpleTestCase):
    def written(self, visit):
        return [e.content for e in visit.events if e.kind == "written"]

    def test_damping_goes_off_for_the_run_and_comes_back_as_found(self):
        visit = Visit("smart_transmitter", damping_s=1.6)
        done = visit.until("")
        said = [(w.step, w.value, w.read_back) for w in self.written(visit)]
        self.assertEqual(said, [("damping_off", "0", "0"), ("damping_back", "1.6", "1.6")])
        self.assertEqual(done.as_found.mark, "within")

    def test_a_range_that_differs_is_brought_back_after_the_as_found_run(self):
        visit = Visit("smart_transmitter", set_upper=3500.0)
        visit.until("settings")
        visit.step()
        step = next(s for s in every_step(visit) if s.id == "settings")
        self.assertIn("The record says 4000", " ".join(f.question for f in step.fields))
        self.assertTrue(step.may_wait)
        found = visit.until("judge")
        self.assertEqual(found.as_found.causes, ("Wrong range set",))
        chosen = next(c for c in found.judgement.choices if c.recommended)
        self.assertIn("Bring the settings back", chosen.label)
        with self.assertRaises(InputError) as caught:
            visit.push("written", step="rerange", setting="upper", value="4000", read_back="4000")
        self.assertEqual(caught.exception.code, "step.not_needed")
        done = visit.until("")
        self.assertEqual((done.as_left.mark, done.status), ("within", "signed"))
        self.assertEqual([w.setting for w in self.written(visit)], ["upper"])
        self.assertFalse([e for e in visit.events if e.kind == "adjusted"])

    def test_a_range_found_may_be_the_right_one(self):
        """Then the record is out of date: it is said why, and nothing is written."""
        visit = Visit("smart_transmitter", set_upper=4200.0)
        visit.until("settings")
        visit.step()
        visit.push("decided", step="settings", choice="accept", reason="range was changed")
        state = visit.until("judge")
        self.assertNotIn(
            "Bring the settings back", " ".join(c.label for c in state.judgement.choices)
        )

    def test_a_transmitter_set_to_another_thermocouple_is_put_right(self):
        visit = Visit("type_k_transmitter", sensor_set="J")
        found = visit.until("judge")
        self.assertEqual(found.as_found.causes, ("Wrong sensor type",))
        done = visit.until("")
        self.assertEqual(done.as_left.mark, "within")
        self.assertEqual([(w.setting, w.value) for w in self.written(visit)], [("sensor", "K")])

    def test_a_write_counts_only_when_it_is_read_back(self):
        visit = Visit("smart_transmitter", damping_s=1.6)
        visit.until("damping_off")
        for value, read_back, code in (
            ("0", "1.6", "setting.not_taken"),
            ("0.5", "0.5", "setting.other_value"),
        ):
            with self.assertRaises(InputError) as caught:
                visit.push(
                    "written",
                    step="damping_off",
                    setting="damping",
                    value=value,
                    read_back=read_back,
                )
            self.assertEqual(caught.exception.code, code)
            self.assertTrue(caught.exception.remedy)
        self.assertEqual(visit.state().current_step, "damping_off")

    def test_a_job_cannot_close_while_the_current_is_fixed(self):
        visit = Visit("smart_transmitter")
        visit.until("loop_check")
        self.assertIn("Fixed-current mode is still on", " ".join(visit.state().to_close))
        with self.assertRaises(InputError) as caught:
            visit.push("signed")
        self.assertEqual(caught.exception.code, "job.not_ready")

    def test_the_loop_check_is_left_out_where_the_site_says_no(self):
        no = {"loop_check": {"value": "no", "source": "site rule"}}
        visit = Visit("smart_transmitter", parameters=no)
        done = visit.until("")
        self.assertEqual((done.status, done.extra_runs), ("signed", ()))

    def test_a_fixed_current_stands_for_one_value_only(self):
        visit = Visit("smart_transmitter")
        visit.until("loop_check")
        with self.assertRaises(InputError) as caught:
            visit.push("reading_taken", run="loop_check", point=0, applied="5", reading="4.0")
        self.assertEqual(caught.exception.code, "reading.fixed_current")

    def test_the_range_of_a_vessel_is_reckoned_and_compared(self):
        wrong = {"input_lower": "0", "input_upper": "30"}
        visit = Visit("dp_level", facts=wrong, lower=0.0, upper=30.0)
        visit.until("settings")
        visit.step()
        step = next(s for s in every_step(visit) if s.id == "settings")
        self.assertIn("it comes to -36.1", " ".join(f.question for f in step.fields))
        shown = {line.label: line.value for line in step.computed}
        self.assertEqual(shown["zero is"], "elevated")

    def test_supply_and_resistor_are_reckoned_before_the_device_is_talked_to(self):
        visit = Visit("smart_transmitter")
        visit.until("loop")
        for name, value in (("supply_v", "16"), ("loop_ohm", "50"), ("resistor_ohm", "250")):
            visit.push("recorded", step="loop", field=name, value=value)
        step = next(s for s in every_step(visit) if s.id == "loop")
        self.assertIn("would reach the transmitter", step.fields[-1].question)
        self.assertEqual(visit.state().current_step, "loop")
        visit.push("recorded", step="loop", field="supply_v", value="24")
        self.assertEqual(visit.state().current_step, "connect")


class Weights(SimpleTestCase):
    def test_weights_are_hung_from_heavy_to_light(self):
        run = Visit("displacer").state().as_found
        targets = [float(p.target_value) for p in run.points[:5]]
        self.assertEqual(targets, sorted(targets, reverse=True))
        # 1.362 kg, 38.4 mm by 813 mm in 870 kg/m3: by hand V = pi/4 x 0.0384^2 x 0.813
        # = 0.94154 L, buoyancy 0.81914 kg, so 542.9 g are left at 100 %.
        self.assertEqual((targets[0], targets[4]), (1362.0, 542.9))
        self.assertEqual(run.input_unit, "g")

    def test_an_interface_weighs_the_upper_liquid_at_the_bottom(self):
        upper = {"name": "upper_density", "value": "700", "unit": "kg/m³"}
        given, _ = FAMILIES["displacer"]
        visit = Visit("displacer", facts={"settings": [*given["settings"], upper]})
        first = float(visit.state().as_found.points[0].target_value)
        # 1362 g less 0.94154 L x 700 kg/m3 = 659.1 g
        self.assertAlmostEqual(first, 702.9, delta=0.1)

    def test_screws_are_turned_to_an_aim_once_the_interaction_is_known(self):
        visit = Visit("displacer", output_zero_percent=1.3, output_span_percent=0.8)
        visit.until("adjust")
        advice = [adjustment(visit)]
        while visit.state().current_step == "adjust":
            visit.step()
            advice.append(adjustment(visit))
        self.assertTrue(any("Aim off by" in a.advice for a in advice if a))
        self.assertLessEqual(len(ask.history(visit.standing())), 8)


class Tables(SimpleTestCase):
    """The tables in docs/methods are what these runs give, now."""

    maxDiff = None

    def test_screws_take_fewer_passes_as_advised_than_to_nominal(self):
        nominal, aimed = passes.table()
        self.assertLess(sum(aimed), sum(nominal))
        self.assertLess(sorted(aimed)[100], sorted(nominal)[100])
        self.assertEqual(passes.DOCS.read_text(), passes.as_text(nominal, aimed))

    def test_planted_faults_are_called_by_their_name(self):
        faults, alarms = planted.count()
        for name, found in faults.items():
            wanted = planted.FAULTS[name][3]
            if LONG:
                self.assertGreaterEqual(found[wanted], 0.95 * planted.SEEDS, f"{name}: {found}")
        for family, accused in alarms.items():
            if LONG:
                self.assertLess(accused, 0.02 * planted.SEEDS, family)
        self.assertEqual(planted.TABLE.read_text(), planted.as_text(faults, alarms))
