"""Every computation against what people and programs may put in: it answers, or it says which
field is wrong and what to do. Never anything else."""

import copy
import json

from django.test import SimpleTestCase

from calibration.kernel.errors import InputError
from calibration.operations import catalogue, run

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
