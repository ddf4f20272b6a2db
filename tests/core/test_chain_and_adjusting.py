"""Which hop holds the error, and what to adjust next."""

from dataclasses import replace
from decimal import Decimal

from django.test import SimpleTestCase

from calibration.kernel.errors import InputError
from calibration.operations import run
from calibration.simulate.commands import Command
from calibration.simulate.loop import LoopModel, live
from tests.core.loops import RANGE, read_run


def locate(stations):
    payload = {**RANGE, "tolerance": {"percent_of_span": "0.5"}, "readings": stations}
    return run("chain.locate", payload)


class Hops(SimpleTestCase):
    def test_the_hop_with_the_fault_is_named_with_its_remedy(self):
        for faults, hop, remedy in (
            ({"output_span_percent": 0.9}, "output", "output_trim"),
            ({"output_zero_percent": -0.8}, "output", "output_trim"),
            ({"sensor_zero_percent": 0.8}, "sensing", "sensor_trim"),
            ({"receiver_span_percent": 5.0}, "receiver", "receiver_scaling"),
            ({"output_span_percent": 12.0, "high_limit": 30.0}, "output", "range"),
            ({}, None, "none"),
        ):
            for seed in range(5):
                _, stations = read_run(seed, **faults)
                said = locate(stations)
                self.assertEqual((said["fails"], said["remedy"]), (hop, remedy), (faults, seed))

    def test_what_was_not_read_joins_two_hops(self):
        _, stations = read_run(1, output_span_percent=0.9)
        no_digital = [{k: v for k, v in s.items() if k != "digital"} for s in stations]
        self.assertEqual(locate(no_digital)["remedy"], "zero_and_span")
        no_output = [{k: v for k, v in s.items() if k != "output"} for s in stations]
        self.assertEqual(locate(no_output)["remedy"], "read_more")

    def test_the_whole_is_the_sum_of_the_hops(self):
        _, stations = read_run(4, sensor_zero_percent=0.3, output_zero_percent=0.2)
        said = locate(stations)
        for point in range(len(stations)):
            parts = [Decimal(h["errors_percent"][point]) for h in said["hops"]]
            s = stations[point]
            whole = 100 * (Decimal(s["indicated"]) - Decimal(s["applied"])) / 4000
            self.assertAlmostEqual(sum(parts), whole, places=9)

    def test_refuses_too_little(self):
        with self.assertRaises(InputError):
            locate([])
        with self.assertRaises(InputError):
            locate([{"applied": "0"}])


def plan(zero, span, passes=(), **more):
    payload = {
        **RANGE,
        "zero_error_percent": str(zero),
        "span_error_percent": str(span),
        "limit_percent": "0.1",
        "adjustments": ["zero", "span"],
        "passes": [{"zero_error_percent": str(z), "span_error_percent": str(s)} for z, s in passes],
    }
    return run("adjust.plan", {**payload, **more})


class NextAdjustment(SimpleTestCase):
    def test_zero_before_span_with_target_and_way(self):
        said = plan("0.6", "1.5")
        self.assertEqual((said["next"], said["apply"], said["direction"]), ("zero", "0", "lower"))
        self.assertEqual(Decimal(said["target_reading"]), 4)
        said = plan("0.05", "-1.5")
        self.assertEqual((said["next"], said["direction"]), ("span", "raise"))
        self.assertEqual(Decimal(said["target_reading"]), 20)

    def test_done_when_both_ends_are_within(self):
        said = plan("0.1", "-0.1")
        self.assertIsNone(said["next"])
        self.assertEqual(said["passes_left"], 0)

    def test_passes_left_from_the_interaction(self):
        # Hand calculation: errors 1.6 then 0.8 give r = 0.5; ln(0.1/0.8)/ln 0.5 = 3.
        said = plan(3, 3, passes=[("1.6", 1), ("0.8", "0.5")], interacting=True)
        self.assertAlmostEqual(said["interaction"], 0.5)
        self.assertEqual(said["passes_left"], 3)
        diverging = plan(3, 3, passes=[("0.8", 0), ("1.6", 0)], interacting=True)
        self.assertIsNone(diverging["passes_left"])

    def test_refuses_nothing_to_adjust(self):
        for bad in ({"adjustments": []}, {"limit_percent": "0"}):
            with self.assertRaises(InputError):
                plan(1, 1, **bad)


class VirtualLoop(SimpleTestCase):
    model = LoopModel(lower=0, upper=4000, noise_percent=0.0, source_offset_percent=0.0)

    def test_answers_with_its_delay_and_then_settles(self):
        step = [Command(t=0, kind="apply", value=2000)]
        early, late = (live(self.model, step, t, 1) for t in (1.2, 40.0))
        # First-order source with tau 1.2 s: 63.2 % of the way after one time constant.
        self.assertAlmostEqual(float(early.applied), 0.632 * 2000, delta=1)
        self.assertLess(early.output, Decimal(12))
        self.assertEqual((late.applied, late.output), (Decimal("2000.0"), Decimal("12.000")))

    def test_the_same_seed_gives_the_same_values_and_another_does_not(self):
        noisy = LoopModel(lower=0, upper=4000)
        values = [[live(noisy, [], t, seed).output for t in range(1, 30)] for seed in (1, 1, 2)]
        self.assertEqual(values[0], values[1])
        self.assertNotEqual(values[0], values[2])

    def test_a_trim_removes_the_error_of_its_hop(self):
        faulty = replace(self.model, output_zero_percent=0.6, output_span_percent=0.9)
        done = [
            Command(t=0, kind="apply", value=0),
            Command(t=30, kind="trim", hop="output", end="zero"),
            Command(t=31, kind="apply", value=4000),
            Command(t=70, kind="trim", hop="output", end="span"),
            Command(t=71, kind="apply", value=2000),
        ]
        self.assertEqual(live(faulty, done, 120, 1).output, Decimal("12.000"))

    def test_refuses_a_span_trim_at_the_low_end(self):
        with self.assertRaises(InputError) as caught:
            live(self.model, [Command(t=1, kind="trim", hop="output", end="span")], 2, 1)
        self.assertEqual(caught.exception.code, "trim.out_of_range")

    def test_limits_of_the_output(self):
        high = [Command(t=0, kind="apply", value=4400)]
        self.assertEqual(live(self.model, high, 60, 1).output, Decimal("20.500"))
