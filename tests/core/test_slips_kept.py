"""What looks like a slip is asked about by name; what was taken elsewhere counts there."""

from django.test import SimpleTestCase

from calibration.engine.job.job import Job
from calibration.engine.job.ledger import build
from calibration.engine.papers.paper import deviations
from calibration.kernel.errors import InputError
from tests.core.play import METHOD, Play


class Kept(SimpleTestCase):
    def refused(self, play, code, kind, /, **data):
        with self.assertRaises(InputError) as caught:
            play.push(kind, **data)
        self.assertEqual(caught.exception.code, code, caught.exception.message)
        return caught.exception

    def test_swapped_columns_are_named_with_both_values(self):
        play = Play().prepare()
        typed = {"run": "as_found", "point": 2, "applied": "12.01", "reading": "2000.1"}
        said = self.refused(play, "slip.suspected", "reading_taken", **typed)
        self.assertEqual((said.field, said.swap), ("data.applied", "data.reading"))
        self.assertIn("Applied 12.01 and loop current 2000.1", said.message)

    def test_numbers_are_said_plainly_and_the_field_is_named(self):
        play = Play().prepare()
        typed = {"run": "as_found", "point": 2, "applied": "2.0001", "reading": "12.00"}
        said = self.refused(play, "slip.suspected", "reading_taken", **typed)
        self.assertEqual(said.suggestion, "2000.1")
        self.assertIn("Did you mean 2000.1?", said.message)
        self.assertTrue(said.message.startswith("Applied: "))

    def off(self, play):
        typed = {"run": "as_found", "point": 2, "applied": "1500", "reading": "10.00"}
        said = self.refused(play, "reading.off_target", "reading_taken", **typed, kept=True)
        self.assertIn("Applied 1500 kPa is far from the target, 2000 kPa.", said.message)
        return typed

    def test_a_reading_far_from_its_target_leaves_the_target_open(self):
        """1500 kPa of 0 to 4000 is 37.5 %: 4 mA + 16 mA x 0.375 = 10 mA, without error."""
        play = Play().prepare()
        typed = self.off(play)
        points = len(play.state().as_found.points)
        beside = {**typed, "point": points, "beside": "read on the way"}
        play.push("reading_taken", **beside)
        found = play.state().as_found
        self.assertEqual((found.taken, found.current, found.complete), (1, 0, False))
        extra = found.points[points]
        self.assertEqual((extra.target_value, extra.mark), ("1500", "within"))

    def test_it_counts_where_it_was_taken(self):
        play = Play().prepare()
        typed = {**self.off(play), "reading": "10.40"}
        play.push("reading_taken", **{**typed, "point": 9, "beside": "read on the way"}, kept=True)
        self.assertEqual(play.state().as_found.mark, "outside")

    def test_beside_is_only_beside(self):
        play = Play().prepare()
        near = {"run": "as_found", "applied": "0", "reading": "4.00", "beside": "on the way"}
        self.refused(play, "reading.on_target", "reading_taken", **near, point=9)
        far = {**near, "applied": "1500", "reading": "10.00"}
        self.refused(play, "reading.unknown_point", "reading_taken", **far, point=12)

    def test_a_point_that_cannot_be_reached_is_left_out_with_why(self):
        play = Play().prepare()
        self.refused(play, "reason.missing", "left_out", run="as_found", point=2, reason=" ")
        play.push("left_out", run="as_found", point=2, reason="the pump leaks above 40 %")
        play.run("as_found", skip=(2,))
        found = play.state().as_found
        self.assertTrue(found.complete)
        self.assertEqual((found.taken, found.points[2].reading), (8, "left out"))
        self.assertEqual(play.state().current_step, "judge")
        job = Job(build(METHOD, play.events), play.now)
        play.push("decided", step="judge", choice="leave")
        done = play.give_back().state()
        self.assertEqual((done.status, done.outcome.id), ("signed", "within"))
        self.assertIn("could not be reached: 1 of the points", done.outcome.why)
        self.assertIn("As found: no reading at 50 % (the pump leaks above 40 %).", deviations(job))

    def test_neither_what_was_read_nor_all_of_it_is_left_out(self):
        play = Play().prepare()
        play.push("reading_taken", run="as_found", point=0, applied="0", reading="4.00")
        out = {"run": "as_found", "reason": "x"}
        self.refused(play, "point.taken", "left_out", point=0, **out)
        self.refused(play, "reading.unknown_point", "left_out", point=9, **out)
        play = Play().prepare()
        for point in range(8):
            play.push("left_out", point=point, **out)
        self.refused(play, "point.only_one", "left_out", point=8, **out)
