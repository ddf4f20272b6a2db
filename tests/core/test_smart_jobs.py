"""Smart transmitters: read through the loop once the loop is ready, and silent devices."""

from django.test import SimpleTestCase

from calibration.engine.family import METHODS
from tests.core.families import Visit


class Order(SimpleTestCase):
    def test_resistor_and_connection_come_before_what_is_read_through_them(self):
        order = [s.id for s in METHODS["smart_transmitter", 2].steps]
        for first, then in (
            ("loop", "settings"),
            ("connect", "settings"),
            ("device_answers", "settings"),
        ):
            self.assertLess(order.index(first), order.index(then))

    def test_a_device_that_does_not_answer_is_said_and_the_job_ends_truly(self):
        visit = Visit("smart_transmitter", asks=True)
        state = visit.until("device_answers")
        self.assertIn("230 to 600 ohm", state.action.why)
        visit.push("line_failed", step="device_answers", item="answers", what="no answer")
        visit.push("ended", state="failed", reason="it does not answer")
        done = visit.until("")
        self.assertEqual(done.outcome.id, "failed")
        self.assertIn("no answer", done.outcome.why)
