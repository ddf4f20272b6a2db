"""Every computation against what people and programs may put in: it answers, or it says which
field is wrong and what to do. Never anything else."""

import copy
import json
import random
from dataclasses import fields
from time import process_time

from django.test import SimpleTestCase

from calibration.kernel.errors import InputError
from calibration.kernel.registry import OPERATIONS
from calibration.operations import catalogue, run
from calibration.sensors.curves import CURVES
from tests.long import LONG, several

#: What stands in a field by mistake, by habit or by malice.
NONSENSE = (
    "",
    " ",
    "-",
    "twelve",
    "1,2,3",
    "0x10",
    "1e400",
    "-1e400",
    "1e-400",
    "NaN",
    "inf",
    "9" * 5000,
    "\x00",
    "٣",
    "1 000 000",
    "½",
    None,
    True,
    [],
    {},
    [[[]]],
    {"value": "1", "unit": "furlong"},
    {"value": {"value": "1", "unit": "bar"}, "unit": "bar"},
    {"value": None, "unit": "bar"},
)
#: Numbers, each a good one somewhere and a bad one elsewhere.
NUMBERS = ("0", "-0", "-1", "1", "100", "1e-30", "-1e-30", "1e30", "-1e30", "0.1", -273.15, 1e308)


def places(value, path=()):
    """Yield the path of each value inside, containers too."""
    if path:
        yield path
    inside = (
        value.items()
        if isinstance(value, dict)
        else enumerate(value)
        if isinstance(value, list)
        else ()
    )
    for key, item in inside:
        yield from places(item, (*path, key))


def put(payload, path, value):
    """Return a copy with another value there."""
    changed = copy.deepcopy(payload)
    at = changed
    for key in path[:-1]:
        at = at[key]
    at[path[-1]] = value
    return changed


def left_out(payload, path):
    """Return a copy without that value."""
    changed = copy.deepcopy(payload)
    at = changed
    for key in path[:-1]:
        at = at[key]
    del at[path[-1]]
    return changed


class AnyInput(SimpleTestCase):
    def plain(self):
        for entry in catalogue():
            yield entry["name"], json.loads(json.dumps(entry["example"]))

    def try_it(self, name, payload, path):
        """Compute; whatever comes is an answer in numbers or a refusal that can be used."""
        try:
            said = run(name, payload, pictured=True)
        except InputError as refused:
            self.assertTrue(refused.message, (name, path))
            self.assertTrue(refused.remedy, (name, path, refused.code, refused.message))
            return refused
        self.assertTrue(json.dumps(said, allow_nan=False), (name, path))
        return None

    def test_nonsense_in_any_field_is_refused_by_the_name_of_the_field(self):
        for name, example in self.plain():
            for path in places(example):
                for value in NONSENSE:
                    with self.subTest(operation=name, path=path, value=str(value)[:20]):
                        refused = self.try_it(name, put(example, path, value), path)
                        if refused is not None:
                            self.assertTrue(refused.field, (refused.code, refused.message))

    def test_any_number_in_any_field(self):
        for name, example in self.plain():
            for path in places(example):
                for value in NUMBERS:
                    with self.subTest(operation=name, path=path, value=value):
                        self.try_it(name, put(example, path, value), path)

    def test_any_field_left_out(self):
        for name, example in self.plain():
            for path in places(example):
                with self.subTest(operation=name, path=path):
                    refused = self.try_it(name, left_out(example, path), path)
                    if refused is not None and refused.code == "field.missing":
                        self.assertIn(str(path[-1]), refused.field)

    def test_a_field_too_many_is_refused(self):
        for name, example in self.plain():
            with self.subTest(operation=name):
                refused = self.try_it(name, {**example, "spare": "1"}, ("spare",))
                self.assertIsNotNone(refused)
                self.assertIn("spare", refused.field)

    def test_a_list_ten_times_as_long_and_one_of_nothing(self):
        for name, example in self.plain():
            for path in places(example):
                at = example
                for key in path:
                    at = at[key]
                if isinstance(at, list):
                    with self.subTest(operation=name, path=path):
                        self.try_it(name, put(example, path, at * 10), path)
                        self.try_it(name, put(example, path, []), path)
                        self.try_it(name, put(example, path, at[:1]), path)


#: Values of every kind that was ever known to break something, and some that never did.
NASTY = (
    *NONSENSE,
    *NUMBERS,
    "0." + "3" * 60,
    "1" + "0" * 400,
    "1e40",
    "-1e40",
    "1e-320",
    "\ud800",
    "2026-13-45",
    "9999-12-31T23:59:59+00:00",
    10**30,
    -(10**30),
    1e-320,
    False,
    ["1"] * 50,
    {"a": {"b": {"c": 1}}},
)
CALLS = several(full=100_000, small=2_000)


class Fuzz(AnyInput):
    """Several fields wrong at once, seeded: a refusal with its field, or a finite answer."""

    test_nonsense_in_any_field_is_refused_by_the_name_of_the_field = None
    test_any_number_in_any_field = None
    test_any_field_left_out = None
    test_a_field_too_many_is_refused = None
    test_a_list_ten_times_as_long_and_one_of_nothing = None

    def test_any_of_it_at_once(self):
        chance = random.Random("nasty 13")
        examples = list(self.plain())
        slowest = (0.0, "")
        for number in range(CALLS):
            name, example = examples[number % len(examples)]
            payload = example
            for _ in range(chance.randint(1, 3)):
                path = chance.choice(list(places(payload)))
                payload = put(payload, path, chance.choice(NASTY))
            with self.subTest(operation=name, number=number):
                began = process_time()
                refused = self.try_it(name, payload, number)
                slowest = max(slowest, (process_time() - began, name))
                if refused is not None:
                    self.whole_path(name, payload, refused)
        if LONG:
            self.assertLess(slowest[0], 1.0, slowest)

    def whole_path(self, name, payload, refused):
        """The field is named from the outside in: its first part is an input of the operation."""
        known = {f.name for f in fields(OPERATIONS[name].input_type)}
        first = refused.field.split(".")[0]
        self.assertTrue(
            first in known or first in payload or first in ("input", ""),
            (refused.code, refused.field, refused.message),
        )


class Refused(SimpleTestCase):
    """What no run and no sensor has."""

    def refused(self, name, code, field, **changes):
        example = next(e["example"] for e in catalogue() if e["name"] == name)
        with self.assertRaises(InputError) as caught:
            run(name, {**example, **changes})
        self.assertEqual((caught.exception.code, caught.exception.field), (code, field))

    def test_what_is_impossible_in_a_run(self):
        example = next(e["example"] for e in catalogue() if e["name"] == "run.evaluate")
        first, *others = example["readings"]

        def reading(**changes):
            return [{**first, **changes}, *others]

        for code, field, changes in (
            ("cut_off_percent.range", "cut_off_percent", {"cut_off_percent": "-1"}),
            ("cut_off_percent.range", "cut_off_percent", {"cut_off_percent": "100"}),
            ("wires.out_of_range", "wires", {"wires": 7}),
            ("cycle.out_of_range", "readings.0.cycle", {"readings": reading(cycle=0)}),
            ("noise.negative", "readings.0.noise", {"readings": reading(noise=-0.1)}),
            (
                "tolerance.negative",
                "tolerance.percent_of_span",
                {"tolerance": {"percent_of_span": "-1"}},
            ),
        ):
            with self.subTest(code=code):
                self.refused("run.evaluate", code, field, **changes)

    def test_a_signal_that_no_temperature_gives(self):
        low = {"input_lower": "-270", "input_upper": "0", "characteristic": "type_T"}
        for output in ("3.99", "3.5"):
            self.refused(
                "signal.scale", "output.beyond_curve", "output", input=None, output=output, **low
            )


class Inverse(SimpleTestCase):
    """A curve is read backwards on its own reference function, from end to end."""

    def test_there_and_back_everywhere(self):
        for name, curve in CURVES.items():
            low, high = curve.inverse_from_c, curve.highest_c
            for n in range(101):
                t = low + (high - low) * n / 100
                with self.subTest(curve=name, t=t):
                    signal = curve.value(t)
                    back = curve.inverse(signal)
                    # As the signal says it: near the low end it hardly moves with temperature.
                    self.assertAlmostEqual(
                        curve.value(back), signal, delta=1e-9 * (1 + abs(signal))
                    )
                    if curve.slope(t) > 1e-3:
                        self.assertAlmostEqual(back, t, delta=1e-4)

    def test_type_t_at_its_low_end(self):
        """4 mA of −270 to 0 °C is −270 °C; NIST Monograph 175 gives −6.258 mV there."""
        said = run(
            "signal.scale",
            {
                "characteristic": "type_T",
                "input_lower": "-270",
                "input_upper": "0",
                "output_lower": "4",
                "output_upper": "20",
                "output": "4",
            },
        )
        self.assertAlmostEqual(float(said["input"]), -270.0, places=3)
