"""Sensors by themselves, as they are read in plants: in millivolt, in ohm, and in degrees."""

from decimal import Decimal

from django.test import SimpleTestCase

from calibration.families.temperature.methods import BARE, IN_DEGREES
from calibration.kernel.errors import InputError
from tests.core.families import Visit

CLASS_2 = {"tolerance": {"combine": "greatest", "absolute": "2.5", "percent_of_reading": "0.75"}}


class TypeK(SimpleTestCase):
    def typed(self, read_as, values, junction="22", **facts):
        """A run of three points typed with what the meter showed."""
        visit = Visit("type_k_sensor", asks=True, facts={**CLASS_2, **facts})
        visit.person.answers = {"operator": "Jo", "read_as": read_as, "temperature": junction}
        state = visit.until("as_found")
        for point, value in zip(state.as_found.points, values, strict=True):
            visit.push(
                "reading_taken",
                run="as_found",
                point=point.index,
                applied=point.target_value,
                reading=value,
                kept=True,
            )
        return visit

    def test_class_2_allows_three_quarters_of_a_percent_at_600(self):
        """IEC 60584-1, class 2: the greater of 2.5 °C and 0.75 % of t; 4.5 °C at 600."""
        good = self.typed(IN_DEGREES, ("102.4", "352.5", "604.4")).state()
        self.assertEqual(good.as_found.mark, "near")
        bad = self.typed(IN_DEGREES, ("102.4", "352.5", "604.6")).state()
        self.assertEqual(bad.as_found.mark, "outside")
        self.assertIn("+4.60 °C", bad.judgement.text)

    def test_a_perfect_couple_read_in_degrees_is_good(self):
        state = self.typed(IN_DEGREES, ("100.0", "350.0", "600.0")).state()
        self.assertEqual(state.as_found.mark, "within")
        self.assertEqual(state.as_found.output_unit, "°C")

    def test_a_junction_that_was_counted_twice_is_named_and_the_sensor_is_kept(self):
        """Junction 22 °C, compensated by the meter, typed as if it were bare: +21 °C, no fault.

        Emf of type K at 100, 350 and 600 °C: table of IEC 60584-1.
        """
        state = self.typed(BARE, ("4.096", "14.293", "24.905")).state()
        self.assertEqual(state.as_found.mark, "outside")
        self.assertEqual(state.judgement.causes[0].cause, "junction_compensation")
        self.assertNotIn("replace", state.judgement.advice.lower())
        self.assertIn("not at fault", state.judgement.advice)
        self.assertIn("repair", [c.id for c in state.judgement.choices])

    def test_a_sensor_is_never_told_to_be_adjusted(self):
        for values in (("103.0", "353.0", "603.0"), ("102.0", "351.8", "603.9")):
            state = self.typed(IN_DEGREES, values).state()
            said = state.judgement.advice + " ".join(c.label for c in state.judgement.choices)
            for word in ("adjust zero", "adjust span", "trim", "set the zero"):
                self.assertNotIn(word, said.lower())

    def test_how_it_is_read_is_one_of_two(self):
        visit = Visit("type_k_sensor", asks=True)
        with self.assertRaises(InputError) as caught:
            visit.push("recorded", step="how_read", field="read_as", value="by eye")
        self.assertEqual(caught.exception.code, "value.choice")

    def test_a_sensor_that_was_replaced_has_a_first_run_of_its_own(self):
        visit = self.typed(IN_DEGREES, ("108.0", "358.0", "608.0"))
        visit.push("repaired", step="judge", what="sensor", said="new insert", serial="K-9")
        state = visit.state()
        self.assertEqual(state.current_step, "as_left")
        for point in state.as_left.points:
            visit.push(
                "reading_taken",
                run="as_left",
                point=point.index,
                applied=point.target_value,
                reading=str(Decimal(point.target_value) + Decimal("0.3")),
            )
        done = visit.until("")
        self.assertEqual(done.outcome.words, "within limits after repair")


class OneRun(SimpleTestCase):
    def test_a_run_may_have_a_limit_of_its_own(self):
        """The loop check of a smart device may ask for less than its pressure run."""
        own = {"run": "loop_check", "tolerance": {"percent_of_span": "0.1"}, "source": "loop sheet"}
        visit = Visit("smart_transmitter", asks=True, facts={"run_limits": [own]})
        state = visit.until("judge")
        limits = {r.id: r.points[0].limit for r in state.runs}
        self.assertEqual((limits["as_found"], limits["loop_check"]), ("±0.50", "±0.10"))


class Block(SimpleTestCase):
    def test_a_block_has_a_lower_end(self):
        visit = Visit("pt100_sensor", asks=True)
        block = dict(visit.person.assets["heat_source"])
        block["spec"] = {**block["spec"], "lowest": "35"}
        visit.push("recorded", step="how_read", field="read_as", value=BARE)
        with self.assertRaises(InputError) as caught:
            visit.push("kit_chosen", role="block", asset=block)
        self.assertEqual(caught.exception.code, "reference.range")
        self.assertIn("begins at 35", caught.exception.message)
