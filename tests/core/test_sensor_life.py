"""What is learnt of a sensor: from accepted results, net of zero, never better for being set."""

from datetime import date

import numpy as np
from django.test import SimpleTestCase

from calibration.detector.life import Past, foreseen
from calibration.detector.naming import Evidence, causes_of
from calibration.families.gas.learnt import past_of, responses, sensors_now
from calibration.families.gas.sensor import of_new, response_of
from calibration.kernel.numbers import exact
from tests.core.detectors import GasVisit
from tests.core.families import START


class Learnt(SimpleTestCase):
    def learnt(self, visit):
        return responses(visit.job)

    def test_a_plugged_filter_of_a_stopped_job_teaches_nothing(self):
        visit = GasVisit("gas_zero_span", asks=True).head(plugged=0.85)
        visit.until("judge")
        visit.push("decided", step="judge", choice="stop", reason="no filter at hand")
        visit.until("")
        self.assertEqual(self.learnt(visit), [])

    def test_after_a_changed_filter_the_run_that_was_accepted_teaches(self):
        visit = GasVisit("gas_zero_span", asks=True).head(plugged=0.85)
        visit.until("judge")
        visit.push("repaired", step="judge", what="filter", said="filter changed")
        visit.head(plugged=0.0)
        visit.until("")
        (one,) = self.learnt(visit)
        self.assertAlmostEqual(one["raw"], 100, delta=3)
        self.assertLess(float(one["t90"]), 30)
        self.assertFalse(one["replaced"])

    def test_a_span_that_was_set_makes_a_sensor_no_better(self):
        """37 % of new stays 37 % of new when it shows the full gas after it was set."""
        visit = GasVisit(
            "gas_zero_span",
            asks=True,
            channel={"base_percent": "57"},
            parameters={"replace_percent": {"value": "30", "source": "test"}},
        ).head(response=0.65)
        visit.until("")
        with exact():
            found, left = of_new(visit.job, "as_found"), of_new(visit.job, "as_left")
            shown = response_of(visit.job, "as_left")
        self.assertAlmostEqual(float(found), 37, delta=1)
        self.assertEqual(found, left)
        self.assertAlmostEqual(float(shown), 100, delta=2)
        (one,) = self.learnt(visit)
        self.assertAlmostEqual(one["raw"], 37, delta=1)

    def test_the_response_is_net_of_zero(self):
        visit = GasVisit("gas_zero_span", asks=True).head(response=0.8, zero=2.0)
        visit.until("judge")
        with exact():
            self.assertAlmostEqual(float(response_of(visit.job, "as_found")), 80, delta=1.5)

    def test_a_new_sensor_begins_a_new_course(self):
        visit = GasVisit("gas_zero_span", asks=True).head(response=0.45)
        visit.until("judge")
        visit.push("repaired", step="judge", what="sensor", said="new sensor", serial="N-1")
        visit.head(response=1.0)
        visit.until("")
        (one,) = self.learnt(visit)
        self.assertTrue(one["replaced"])
        day = START.date()
        past = past_of([(day, [one])], "a")
        self.assertEqual([p.replaced for p in past], [True])

    def test_a_span_set_in_a_job_that_was_not_accepted_counts_for_later_responses_alone(self):
        one = {
            "channel": "a",
            "raw": 50.0,
            "set": True,
            "replaced": False,
            "accepted": False,
            "t90": "",
        }
        day = START.date()
        self.assertEqual(past_of([(day, [one])], "a"), [])
        known = sensors_now({"channels": [{"id": "a"}]}, [(day, [one])], day)
        self.assertEqual(known["a"]["base_percent"], "50.0")


class Renewed(SimpleTestCase):
    def test_a_new_sensor_is_not_refused_for_what_the_old_one_showed(self):
        visit = GasVisit("gas_zero_span", asks=True).head(response=0.35)
        visit.until("judge")
        visit.push("decided", step="judge", choice="replace", reason="spent")
        visit.until("zero")
        visit.head(response=0.9)
        for name in ("zero", "span"):
            self.assertIsNone(visit.until(name).task.asks[0].refusal)
        self.assertEqual(visit.until("").outcome.id, "adjusted")


class Spent(SimpleTestCase):
    def test_a_sensor_past_the_limit_of_its_site_is_to_be_replaced(self):
        """36.5 % of new against 40: replaced, though it shows what it should."""
        said = causes_of(
            Evidence(
                range=100, gas_value=50, zero=0, span=49.5, of_new_percent=36.5, replace_percent=40
            )
        )
        self.assertEqual([c.cause for c in said.causes], ["spent"])
        self.assertIn("36.5 %", said.causes[0].evidence)
        self.assertIn("Replace", said.causes[0].remedy)

    def test_it_is_advised_in_the_job_and_known_at_plan(self):
        visit = GasVisit(
            "gas_zero_span",
            asks=True,
            channel={"base_percent": "37", "expected_percent": "98.6"},
        )
        self.assertIn("Take a new sensor along", visit.state().task.caution)
        state = visit.until("judge")
        self.assertEqual([c.id for c in state.judgement.choices if c.recommended], ["replace"])
        self.assertEqual(state.judgement.causes[0].label, "Sensor spent")


class Infrared(SimpleTestCase):
    def test_a_dirty_window_is_cleaned_and_its_span_is_never_set(self):
        visit = GasVisit("gas_infrared", asks=True).head(response=0.8)
        state = visit.until("judge")
        self.assertEqual(state.judgement.causes[0].label, "Window, mirror or lamp")
        self.assertNotIn("set the span", state.judgement.advice.lower())
        self.assertNotIn("adjust", [c.id for c in state.judgement.choices if c.recommended])
        visit.push("repaired", step="judge", what="cleaned", said="windows and mirror")
        visit.head(response=1.0)
        self.assertEqual(visit.until("").outcome.words, "within limits after repair")

    def test_what_was_set_twice_and_is_still_outside_is_not_set_again(self):
        visit = GasVisit("gas_infrared", asks=True).head(response=0.8)
        visit.until("judge")
        visit.push("decided", step="judge", choice="adjust", reason="against the advice")
        visit.until("left_judge")
        visit.push("decided", step="left_judge", choice="adjust", reason="once more")
        state = visit.until("left_judge")
        self.assertEqual([c.id for c in state.judgement.choices if c.recommended], ["stop"])


class Zero(SimpleTestCase):
    def test_nothing_is_known_of_a_channel_that_was_not_read(self):
        visit = GasVisit("gas_zero_span", asks=True)
        visit.until("as_found")
        with exact():
            self.assertIsNone(of_new(visit.job, "as_found"))
            self.assertIsNone(response_of(visit.job, "as_left"))
        self.assertEqual(responses(visit.job), [])


class Course(SimpleTestCase):
    def test_what_is_foreseen_widens_with_time_and_meets_the_line(self):
        """Four points on y = 98 − 0.02 x and one beside: the band of a new observation widens."""
        past = [
            Past(date="2026-01-01", response=98.0, replaced=True),
            Past(date="2026-04-11", response=96.5),
            Past(date="2026-07-20", response=93.5),
            Past(date="2026-10-28", response=92.0),
        ]
        found = foreseen(past, date(2027, 10, 28))
        self.assertEqual((found[0].day, found[-1].day), (date(2026, 10, 28), date(2027, 10, 28)))
        widths = [p.high - p.low for p in found]
        self.assertEqual(widths, sorted(widths))
        line = np.polyfit([0, 100, 200, 300], [98.0, 96.5, 93.5, 92.0], 1)
        self.assertAlmostEqual(found[-1].expected, np.polyval(line, 665), places=9)

    def test_two_results_foresee_nothing(self):
        past = [Past(date="2026-01-01", response=98.0), Past(date="2026-04-11", response=96.0)]
        self.assertEqual(foreseen(past, date(2027, 1, 1)), ())
