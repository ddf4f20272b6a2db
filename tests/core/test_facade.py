"""One door: every operation by name, its schema, its example, its refusals."""

import json
import subprocess
import sys

from django.test import SimpleTestCase
from jsonschema import Draft202012Validator

from calibration.desk.finding import listed
from calibration.kernel.codec import encode
from calibration.kernel.errors import InputError
from calibration.kernel.pictures import Bars, Chart, Sketch
from calibration.kernel.present import entries
from calibration.kernel.registry import OPERATIONS
from calibration.kernel.schema import schema
from calibration.operations import catalogue, run

#: Every computation of the product by name; one that is missing here or there is a mistake.
NAMES = """
    signal.scale rtd.resistance rtd.temperature thermocouple.emf thermocouple.temperature run.plan
    run.evaluate run.diagnose chain.locate adjust.plan stability.assess uncertainty.combine
    decision.assess decision.risk ph.evaluate ph.buffer gas.convert gas.reference_voltage
    gas.mixture
    gas.consumption gas.bleed_cycles gas.purge_time detector.bump detector.zero detector.span
    detector.return_to_service sensor.life injections.compare retention.check blank.check
    displacer.weights level.range belt.revolutions belt.deviation belt.material_test
    weights.sum
    loadcell.theoretical loadcell.minimum_weight flow.prove massflow.zero magmeter.verify
    loop.supply
    response.step reference.adequacy slip.detect unit.convert table.make adjust.screws
    detector.causes portable.endurance
"""


class Catalogue(SimpleTestCase):
    def test_every_operation_is_there_with_formula_and_source(self):
        entries = {e["name"]: e for e in catalogue()}
        self.assertEqual(set(NAMES.split()), set(entries))
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

    def test_every_result_says_how_it_was_computed(self):
        for entry in catalogue():
            how = run(entry["name"], entry["example"])["how"]
            self.assertEqual(how["formula"], entry["formula"])
            self.assertEqual(how["source"], entry["source"])
            plain = (str, int, bool)
            scalars = [k for k, v in entry["example"].items() if isinstance(v, plain) and v != ""]
            self.assertGreaterEqual(len(how["put_in"]), len(scalars), entry["name"])

    def test_every_inverse_is_there_and_leads_back(self):
        for op in OPERATIONS.values():
            if not op.inverse:
                continue
            other = OPERATIONS[op.inverse]
            self.assertEqual(other.inverse, op.name)
            there = run(op.name, op.example)
            known = {e.name for e in entries(other.input_type)}
            payload = {k: v for k, v in {**op.example, **there}.items() if k in known}
            back = run(other.name, payload)
            for field, value in op.example.items():
                if field in back:
                    self.assertAlmostEqual(float(back[field]), float(value), delta=1e-3)

    def test_every_calculator_has_a_picture_of_its_numbers(self):
        kinds = {"chart": Chart, "bars": Bars, "sketch": Sketch}
        for op in listed():
            picture = run(op.name, op.example, pictured=True)["picture"]
            self.assertIsNotNone(picture, op.name)
            shape = schema(kinds[picture["kind"]])
            Draft202012Validator(shape).validate(picture)
            self.assertTrue(picture["alt"])

    def test_every_figure_has_a_text(self):
        for op in listed():
            shown = run(op.name, op.example, pictured=True)["shown"]
            self.assertTrue(shown["figures"] or shown["sheets"], op.name)
            for figure in shown["figures"]:
                self.assertTrue(figure["label"] and figure["text"], op.name)
            for sheet in shown["sheets"]:
                self.assertTrue(all(len(r) == len(sheet["columns"]) for r in sheet["rows"]))


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
