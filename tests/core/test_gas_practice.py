"""Detectors as they are met in plants: what may be set, what is enough, what is read where."""

from datetime import datetime
from decimal import Decimal

from django.test import SimpleTestCase

from calibration.decisions.tolerance import limit_at
from calibration.engine.method.family import METHODS, newest
from calibration.families.gas.ledger import gas_of
from calibration.gas.cylinder import Channel
from calibration.gas.table import published_lel
from calibration.kernel.errors import InputError
from tests.core.asking import every_step
from tests.core.detectors import GasVisit


class Practice(SimpleTestCase):
    def refused(self, visit, code, kind, /, **data):
        with self.assertRaises(InputError) as caught:
            visit.push(kind, **data)
        self.assertEqual(caught.exception.code, code, caught.exception.message)
        return caught.exception

    def advised(self, state):
        return [c.id for c in state.judgement.choices if c.recommended]


class Zero(Practice):
    def test_a_zero_of_12_that_air_and_bottle_agree_on_is_forced_by_the_rules(self):
        visit = GasVisit("gas_zero_span", asks=True).head(zero=12.0)
        visit.until("judge")
        visit.push("decided", step="judge", choice="adjust", reason="air and bottle say the same")
        visit.until("zero")
        visit.step()
        force = visit.gas.force
        self.assertTrue(force.may_force)
        self.refused(visit, "set.refused", "gas_set", step="zero", before="12", after="0")
        visit.push("agreed", step="zero", way="second_person", reason="two agree", name="Ben")
        visit.push("gas_set", step="zero", before="12", after="0", kept=True)

    def test_an_end_that_is_good_is_left_and_one_that_is_not_is_not(self):
        visit = GasVisit("gas_zero_span", asks=True).head(response=0.8)
        visit.until("zero")
        visit.push("gas_kept", step="zero")
        visit.until("span")
        self.refused(visit, "kept.outside", "gas_kept", step="span")
        done = visit.until("")
        self.assertEqual(done.outcome.id, "adjusted")
        self.assertEqual([e.data["step"] for e in visit.events if e.kind == "gas_set"], ["span"])

    def test_what_is_chosen_is_set_though_all_is_within(self):
        visit = GasVisit("gas_zero_span", asks=True)
        visit.until("judge")
        visit.push("decided", step="judge", choice="adjust", reason="as the site does")
        done = visit.until("")
        self.assertEqual(done.outcome.id, "adjusted")
        self.assertTrue([e for e in visit.events if e.kind == "gas_set"])


class Gases(Practice):
    def test_19_point_9_in_clean_air_is_outside(self):
        visit = GasVisit("gas_oxygen", asks=True).head(response=19.9 / 20.9)
        state = visit.until("judge")
        self.assertEqual(state.as_found.mark, "outside")
        facts = visit.job.facts_of("as_found")
        limit = limit_at(facts.transfer, facts.tolerance, Decimal("20.9"))
        percent = 100 * limit / facts.transfer.output_span
        self.assertEqual(percent * facts.input_upper / 100, Decimal("0.5"))

    def test_a_channel_may_have_a_limit_of_its_own(self):
        visit = GasVisit(
            "gas_zero_span",
            asks=True,
            facts={"channel_limits": [{"channel": "a", "tolerance": {"absolute": "2"}}]},
        ).head(response=0.93)
        self.assertEqual(visit.until("judge").as_found.mark, "outside")

    def test_carbon_dioxide_rests_at_what_is_in_the_air(self):
        for unit, rest in (("ppm", "400"), ("% vol", "0.04")):
            c = Channel(
                id="a", gas="carbon dioxide", unit=unit, range=Decimal(5), principle="infrared"
            )
            self.assertEqual(c.rest, Decimal(rest))

    def test_isobutane_is_in_the_table(self):
        """ISO/IEC 80079-20-1: 1.3 % by volume; NFPA 325: 1.8."""
        self.assertEqual(published_lel("isobutane", "IEC"), 1.3)
        self.assertEqual(published_lel("isobutane", "NFPA"), 1.8)


class Bump(Practice):
    def test_a_bump_has_a_limit_of_its_own(self):
        """Within 20 % of the gas a detector is alive; its calibration asks for more."""
        for response, mark in ((0.85, "within"), (0.75, "outside")):
            visit = GasVisit("gas_bump", asks=True).head(response=response)
            visit.until("air_left" if mark == "within" else "judge")
            self.assertNotEqual(visit.state().as_found.mark == "outside", mark == "within")
        visit = GasVisit("gas_zero_span", asks=True).head(response=0.85)
        self.assertEqual(visit.until("judge").as_found.mark, "outside")

    def typed_at_display(self, shown):
        """A bump with the output held by the detector's own mode, read at its display."""
        visit = GasVisit("gas_bump", asks=True, inhibited=True)
        visit.push("kit_chosen", role="span_gas", asset=visit.person.assets["span_gas"])
        visit.push("went_without", role="meter")
        visit.until("as_found")
        visit.push("gas_on", step="as_found", role="span_gas", flow="0.5")
        visit.push(
            "reading_taken",
            run="as_found",
            point=0,
            applied="50",
            reading=shown,
            t90_s="18",
            kept=True,
        )
        return visit.state()

    def test_with_the_output_held_it_passes_on_what_the_display_shows(self):
        state = self.typed_at_display("49")
        self.assertEqual(state.as_found.output_unit, "%LEL")
        self.assertEqual(state.as_found.mark, "within")
        self.assertEqual(self.typed_at_display("20").as_found.mark, "outside")

    def test_only_a_reference_with_another_way_is_gone_without(self):
        visit = GasVisit("gas_bump", asks=True)
        self.refused(visit, "kit.needed", "went_without", role="span_gas")
        self.refused(visit, "kit.unknown_role", "went_without", role="anything")


class Portable(Practice):
    def test_no_flow_alarm_can_be_said_and_tried_again_lower(self):
        visit = GasVisit("gas_receiving", asks=True)
        visit.until("flow_alarm")
        visit.push("line_failed", step="flow_alarm", item="alarms", what="no alarm in 30 s")
        visit.push("confirmed", step="flow_alarm", item="alarms")
        self.assertEqual(visit.state().current_step, "fail_point")
        visit.push("recorded", step="fail_point", field="fail_point", value="160 mL/min")
        self.assertEqual(visit.state().current_step, "flow_alarm_seconds")

    def test_one_that_never_alarms_is_not_accepted(self):
        visit = GasVisit("gas_receiving", asks=True)
        visit.until("flow_alarm")
        visit.push("line_failed", step="flow_alarm", item="alarms", what="no alarm at all")
        visit.push("decided", step="flow_alarm", choice="without", reason="goes back to the maker")
        done = visit.until("")
        self.assertEqual(done.outcome.words, "not accepted")

    def test_the_battery_is_tried_before_the_log_is_cleared_and_only_where_wanted(self):
        order = [s.id for s in METHODS["gas_receiving", 2].steps]
        self.assertLess(order.index("endurance"), order.index("memory"))
        no = {"endurance": {"value": "no", "source": "site"}}
        visit = GasVisit("gas_receiving", asks=True, parameters=no)
        self.assertEqual(visit.until("").outcome.words, "accepted")
        self.assertFalse([e for e in visit.events if e.data.get("step") == "endurance"])

    def test_every_gas_is_set_at_each_visit(self):
        done = GasVisit("gas_portable", asks=True)
        self.assertEqual(done.until("").outcome.id, "adjusted")
        # Zero of three gases and oxygen in air; then three spans, for oxygen was set in air.
        self.assertEqual(len(gas_of(done.job.ledger).moves), 7)


class Order(Practice):
    def test_what_is_read_comes_before_bypass_and_flush_after_the_adapter(self):
        for name, version in (("gas_zero_span", 2), ("gas_infrared", 2), ("gas_two_channel", 2)):
            order = [s.id for s in METHODS[name, version].steps]
            for early in ("identity", "warm_up"):
                self.assertLess(order.index(early), order.index("bypass"), name)
        order = [s.id for s in METHODS["gas_infrared", 2].steps]
        self.assertEqual(order.index("flush"), order.index("adapter") + 1)

    def test_a_watch_is_ready_before_the_cylinder_is_opened(self):
        visit = GasVisit("gas_bump", asks=True)
        state = visit.until("as_found")
        said = " ".join(b.text for b in state.task.asks[0].blocks)
        self.assertIn("Have your watch ready", said)

    def test_steps_and_cylinders_are_called_by_their_gas(self):
        visit = GasVisit("gas_two_channel", asks=True)
        labels = [r.label for s in every_step(visit) for r in s.roles]
        self.assertIn("Span gas: carbon monoxide", labels)
        self.assertFalse([s.title for s in every_step(visit) if "second" in s.title])


class Unsettled(Practice):
    def test_what_does_not_settle_is_said_and_is_outside_though_it_reads_right(self):
        visit = GasVisit("gas_bump", asks=True)
        visit.until("as_found")
        visit.push("gas_on", step="as_found", role="span_gas", flow="0.5")
        reading = {"run": "as_found", "point": 0, "applied": "50", "digital": "50"}
        why = "It will not get steadier"
        visit.push("reading_taken", **reading, reading="12.0", early_reason=why, kept=True)
        self.assertEqual(visit.job.figures("as_found").mark, "outside")
        self.assertEqual([line.label for line in visit.lines][-1], "Does not settle")


class AtTheEnd(Practice):
    def test_the_purge_by_hand_has_a_countdown(self):
        """18.4 s to 90 %: down to 5 % of the gas in 18.4 / ln 10 × ln 20 = 24 s."""
        visit = GasVisit("gas_zero_span", asks=True)
        state = visit.until("air_left")
        [timer] = [b for b in state.task.asks[0].blocks if b.kind == "timer"]
        shut = next(e for e in reversed(visit.events) if e.kind == "gas_off")
        seconds = (datetime.fromisoformat(timer.ends_at) - shut.when).total_seconds()
        self.assertEqual(seconds, 24)

    def test_menu_selector_and_jumpers_are_put_back(self):
        for name in ("gas_zero_span", "gas_infrared", "gas_oxygen", "gas_two_channel", "gas_bump"):
            restore = newest(name).step("restore")
            with self.subTest(name=name):
                self.assertIn("rest", [i.id for i in restore.items if restore.must(i)])
                self.assertIn("flushed", [i.id for i in restore.items])
