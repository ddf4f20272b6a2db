"""One door: every operation by name, its schema, its example, its refusals."""

import json
import subprocess
import sys

from django.test import SimpleTestCase
from jsonschema import Draft202012Validator

from calibration.codec import encode
from calibration.errors import InputError
from calibration.operations import catalogue, run
from calibration.registry import OPERATIONS

OF_THE_FIRST_ISSUE = {
    "signal.scale",
    "run.plan",
    "run.evaluate",
    "run.diagnose",
    "stability.assess",
    "adjust.plan",
    "response.step",
    "slip.detect",
    "uncertainty.combine",
    "decision.assess",
    "reference.adequacy",
    "chain.locate",
}


class Catalogue(SimpleTestCase):
    def test_every_operation_is_there_with_formula_and_source(self):
        entries = {e["name"]: e for e in catalogue()}
        self.assertLessEqual(OF_THE_FIRST_ISSUE, set(entries))
        for entry in entries.values():
            self.assertTrue(entry["title"] and entry["formula"] and entry["source"])

    def test_every_example_fits_its_schema_and_runs(self):
        for entry in catalogue():
            with self.subTest(name=entry["name"]):
                Draft202012Validator.check_schema(entry["input"])
                Draft202012Validator(entry["input"]).validate(entry["example"])
                said = run(entry["name"], entry["example"])
                Draft202012Validator(entry["output"]).validate(said)
                json.dumps(said, allow_nan=False)

    def test_every_operation_says_what_it_raises_and_where_it_is_from(self):
        for op in OPERATIONS.values():
            text = op.function.__doc__ or ""
            self.assertIn("Raises\n", text, op.name)
            self.assertIn("References\n", text, op.name)


class Refusals(SimpleTestCase):
    def test_unknown_name_and_unknown_field(self):
        with self.assertRaises(InputError) as caught:
            run("coffee.brew", {})
        self.assertEqual(caught.exception.code, "operation.unknown")
        with self.assertRaises(InputError) as caught:
            run("response.step", {"start": 0, "end": 1, "t_s": 1, "tau_s": 1, "mood": 3})
        self.assertEqual(caught.exception.field, "mood")

    def test_wrong_types(self):
        for payload, code in (
            ({"samples": 5, "band": 1, "dwell_s": 1}, "field.wrong_type"),
            ({"samples": [], "band": "x", "dwell_s": 1}, "number.not_a_number"),
            ({"samples": [7], "band": 1, "dwell_s": 1}, "field.wrong_type"),
        ):
            with self.assertRaises(InputError) as caught:
                run("stability.assess", payload)
            self.assertEqual(caught.exception.code, code)

    def test_encode_refuses_what_it_does_not_know(self):
        with self.assertRaises(TypeError):
            encode(object())


class CommandLine(SimpleTestCase):
    def call(self, *arguments, given=""):
        return subprocess.run(
            [sys.executable, "-m", "calibration", *arguments],
            input=given,
            capture_output=True,
            text=True,
            check=False,
        )

    def test_list_and_run(self):
        names = [e["name"] for e in json.loads(self.call("--list").stdout)]
        self.assertIn("run.evaluate", names)
        given = (
            '{"input_lower":0,"input_upper":4000,"output_lower":4,"output_upper":20,"input":1000}'
        )
        done = self.call("signal.scale", given=given)
        self.assertEqual((done.returncode, json.loads(done.stdout)["output"]), (0, "8"))

    def test_bad_input_exits_2_with_an_error_and_no_traceback(self):
        for arguments, given, code in (
            (["signal.scale"], "{", "json.invalid"),
            (["signal.scale"], "[1]", "json.not_an_object"),
            (["signal.scale"], '{"input_lower": NaN}', "number.not_finite"),
            (["nonsense"], "{}", "operation.unknown"),
            ([], "", "usage"),
        ):
            done = self.call(*arguments, given=given)
            self.assertEqual(done.returncode, 2)
            self.assertEqual(json.loads(done.stdout)["error"]["code"], code)
            self.assertNotIn("Traceback", done.stderr)
