"""Sensors in blocks, interleaved, against one after the other."""

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from calibration.simulate.block import Block, BlockModel, as_trimmed, live, window
from calibration.simulate.commands import Command
from calibration.simulate.group import Request, Rules, timeline

BLOCKS = {"D-1": Block(), "D-2": Block(heating_c_per_min=6.0)}
SENSORS = {"A": "D-1", "B": "D-1", "C": "D-2", "D": "D-2"}
POINTS = (50.0, 100.0, 150.0)
LONG = 1e6


def requests(members, since=0.0):
    return [
        Request(member=m, block=SENSORS[m], point=i, target=t, since=since)
        for m in members
        for i, t in enumerate(POINTS)
    ]


def one_after_the_other():
    """Every sensor alone, put in when the one before has its last reading."""
    asked, since = [], 0.0
    for member in SENSORS:
        asked += requests([member], since)
        since = timeline(asked, BLOCKS, LONG, 7).taken[-1].t
    return timeline(asked, BLOCKS, LONG, 7)


def readings(course):
    """Return what is read of each sensor at each point: the mean of a dwell."""
    found = {}
    for taken in course.taken:
        r = taken.request
        model = BlockModel(block=BLOCKS[r.block], sensor="Pt100", offset_c=0.1)
        seen = window(model, course.commands[r.block], taken.t, 7, 5.0)
        found[r.member, r.point] = (
            float(sum(v.applied for v in seen)) / len(seen),
            float(sum(v.output for v in seen)) / len(seen),
        )
    return found


class Together(SimpleTestCase):
    def test_four_sensors_in_two_blocks_take_at_least_forty_percent_less(self):
        together = timeline(requests(SENSORS), BLOCKS, LONG, 7)
        apart = one_after_the_other()
        self.assertLess(together.taken[-1].t, 0.6 * apart.taken[-1].t)
        self.assertEqual(len(together.taken), len(apart.taken))

    def test_the_next_reading_is_known_before_it_is_taken(self):
        asked = requests(SENSORS)
        whole = timeline(asked, BLOCKS, LONG, 7)
        self.assertIsNone(whole.next_at)
        for taken in whole.taken:
            before = timeline(asked, BLOCKS, taken.t - 0.5, 7)
            self.assertEqual(before.next_at, taken.t)
            at = timeline(asked, BLOCKS, taken.t, 7)
            self.assertIn(taken, at.taken)

    def test_the_same_readings_result(self):
        """Within the band in which a block counts as ready; 0.39 ohm are 1 °C."""
        together = readings(timeline(requests(SENSORS), BLOCKS, LONG, 7))
        apart = readings(one_after_the_other())
        self.assertEqual(set(together), set(apart))
        for key, (applied, ohm) in together.items():
            self.assertAlmostEqual(applied, apart[key][0], delta=0.02, msg=key)
            self.assertAlmostEqual(ohm, apart[key][1], delta=0.02 * 0.39, msg=key)

    def test_the_next_point_that_is_ready_goes_first(self):
        course = timeline(requests(SENSORS), BLOCKS, LONG, 7)
        order = [t.request.member for t in course.taken]
        # D-1 heats faster: its two sensors are read while D-2 is on its way, point after point.
        self.assertEqual(order[:4], ["A", "B", "C", "D"])
        times = [t.t for t in course.taken]
        self.assertEqual(times, sorted(times))

    def test_a_reading_never_comes_before_its_block_is_ready(self):
        rules = Rules()
        course = timeline(requests(SENSORS), BLOCKS, LONG, 7, rules)
        for taken in course.taken:
            r = taken.request
            gone = max(c.t for c in course.commands[r.block] if c.t < taken.t)
            self.assertGreaterEqual(taken.t - gone, rules.dwell_s + rules.lag_s)


class AtAnyMoment(SimpleTestCase):
    @given(st.floats(0, 20_000), st.floats(0, 20_000))
    @settings(max_examples=40, deadline=None)
    def test_what_has_happened_stays(self, one, other):
        """Asked early and asked late, the past is the same: a restart loses nothing."""
        early, late = sorted((one, other))
        first = timeline(requests(SENSORS), BLOCKS, early, 7)
        second = timeline(requests(SENSORS), BLOCKS, late, 7)
        self.assertEqual(first.taken, second.taken[: len(first.taken)])
        for name, commands in first.commands.items():
            self.assertEqual(commands, second.commands[name][: len(commands)])

    @given(st.floats(100, 8_000))
    @settings(max_examples=30, deadline=None)
    def test_who_joins_later_changes_nothing_before(self, joined):
        alone = timeline(requests("ABC"), BLOCKS, joined, 7)
        asked = requests("ABC") + requests("D", joined + 1)
        self.assertEqual(timeline(asked, BLOCKS, joined, 7).taken, alone.taken)

    def test_it_says_what_each_block_does_and_who_is_next(self):
        course = timeline(requests(SENSORS), BLOCKS, 60.0, 7)
        first = course.blocks[0]
        self.assertEqual((first.block, first.target), ("D-1", 50.0))
        self.assertEqual((first.waiting, first.then), (("A", "B"), (100.0, 150.0)))
        self.assertGreater(first.ready_in_s, 0)
        self.assertEqual((course.reading, course.next), ("", "A"))
        self.assertGreater(course.ends_at, 600)

    def test_nothing_asked_is_nothing_done(self):
        course = timeline([], BLOCKS, 10.0, 7)
        self.assertEqual((course.taken, course.reading, course.next), ((), "", ""))


class Trimmed(SimpleTestCase):
    def test_trims_made_in_one_block_count_in_another(self):
        """1.4 % of gain are trimmed at 150 °C; in any other programme the output is right."""
        model = BlockModel(sensor="Pt100", lower=0.0, upper=150.0, output_span_percent=1.4)
        hot = [Command(t=0, kind="apply", value=150)]
        trimmed = [*hot, Command(t=3000, kind="trim", end="span")]
        same = as_trimmed(model, trimmed, 7)
        again = [Command(t=0, kind="apply", value=75)]
        before, after = live(model, again, 3000, 7), live(same, again, 3000, 7)
        ideal = 4 + 16 * float(after.applied) / 150
        self.assertGreater(abs(float(before.output) - ideal), 0.1)
        self.assertAlmostEqual(float(after.output), ideal, delta=0.005)
