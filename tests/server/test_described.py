"""The API for others: its description is sound, it names its answers, and a client comes of it."""

from __future__ import annotations

import json
import re
import subprocess
import sys
import tempfile
from pathlib import Path

from django.test import SimpleTestCase
from django.utils import timezone
from jsonschema import Draft202012Validator
from openapi_spec_validator import validate
from referencing import Registry, Resource
from referencing.jsonschema import DRAFT202012

from tests.process import ROOT, RealServer
from tests.server import works
from tests.server.base import ApiCase
from tests.server.document import DOCUMENT
from tests.server.test_at_once import Person
from tests.server.works import PASSWORD
from verifyloop.api.described import REFUSED
from verifyloop.api.examples import EXAMPLES

PAGE = ROOT / "docs/api.md"
CALLS = {c["operationId"]: (p, w, c) for p, ws in DOCUMENT["paths"].items() for w, c in ws.items()}


def script() -> str:
    """Return the script of the page that fetches every certificate since a day."""
    return re.search(r"```python\n(.*?)```", PAGE.read_text(), re.S)[1]


class Described(SimpleTestCase):
    def test_the_document_is_sound(self):
        validate(DOCUMENT)
        self.assertTrue(all(path.startswith("/api/v1/") for path in DOCUMENT["paths"]))

    def test_every_status_is_named_by_number(self):
        for name, (_, way, call) in CALLS.items():
            with self.subTest(name):
                known = set(call["responses"])
                self.assertTrue({"200", "404", "422", "503"} <= known)
                self.assertLessEqual(known - {"200"}, set(REFUSED))
                self.assertEqual("409" in known, way != "get")

    def test_what_is_no_json_is_a_file(self):
        files = [n for n, (_, _, c) in CALLS.items() if "binary" in json.dumps(c["responses"])]
        self.assertIn("certificatePdf", files)
        self.assertGreaterEqual(len(files), 12)
        for name, (_, _, call) in CALLS.items():
            said = json.dumps(call["responses"]["200"].get("content", {}))
            self.assertNotIn('"title": "Response", "type": "string"', said, name)

    def test_every_example_fits_its_schema(self):
        self.assertLessEqual(set(EXAMPLES), set(CALLS))
        registry = Registry().with_resource(
            "urn:api", Resource(contents=DOCUMENT, specification=DRAFT202012)
        )
        for name, example in EXAMPLES.items():
            call = CALLS[name][2]
            shapes = {
                "request": call.get("requestBody", {}).get("content", {}),
                "answer": call["responses"]["200"].get("content", {}),
            }
            for part, value in example.items():
                schema = json.dumps(shapes[part]["application/json"]["schema"])
                named = json.loads(schema.replace('"#/', '"urn:api#/'))
                with self.subTest(name, part=part):
                    Draft202012Validator(named, registry=registry).validate(value)


class Lists(ApiCase):
    def numbers(self, **query):
        said = self.must(self.ana.get("/api/v1/records", query))
        return said["total"], said["pages"], [r["job"] for r in said["records"]]

    def test_records_are_found_by_instrument_area_and_days_page_by_page(self):
        first, second = self.signed_job("PT-1"), self.signed_job(works.instrument("PT-2").tag)
        today = str(timezone.localdate())
        self.assertEqual(self.numbers(tag="PT-2"), (1, 1, [second]))
        self.assertEqual(self.numbers(first=today, last=today, per_page=1), (2, 2, [second]))
        self.assertEqual(self.numbers(per_page=1, page=2), (2, 2, [first]))
        self.assertEqual(self.numbers(area="Nowhere")[0], 0)
        self.assertEqual(self.ana.get("/api/v1/records", {"per_page": 1000}).status_code, 422)

    def test_instruments_come_page_by_page(self):
        for number in range(2, 6):
            works.instrument(f"PT-{number}")
        said = self.must(self.ana.get("/api/v1/instruments", {"per_page": 2, "page": 2}))
        found = [i["tag"] for i in said["found"]]
        self.assertEqual((said["total"], said["pages"], found), (5, 3, ["PT-3", "PT-4"]))


class Scripts(SimpleTestCase):
    """Against the real server, by a token."""

    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.server = RealServer.of_class(cls)
        ana = Person(cls.server.address)
        ana.sign_in()
        cls.jobs = [cls.signed(ana, tag) for tag in ("PT-1", "PT-2")]
        given = {"name": "archive", "scope": "records", "days": 3, "password": PASSWORD}
        cls.token = ana.call("tokens", given)["token"]

    @classmethod
    def signed(cls, person, tag):
        """Do a whole job and sign it."""
        job = person.call("jobs", {"tag": tag})["job"]
        work = [*works.prepared(), *works.readings(), *works.returned()]
        for events, password in ((work, ""), ([works.event("signed")], PASSWORD)):
            seq = person.call(f"jobs/{job}")["seq"]
            body = {"expected_seq": seq, "events": events, "password": password}
            person.call(f"jobs/{job}/events", body)
        return job

    def run_in(self, folder, *arguments, **more):
        environment = {**self.server.environment, **more}
        return subprocess.run(
            [sys.executable, *arguments],
            cwd=folder,
            env=environment,
            capture_output=True,
            text=True,
            check=False,
        )

    def test_the_script_of_the_page_fetches_every_certificate_since_a_day(self):
        self.assertLessEqual(len(script().strip().splitlines()), 15)
        with tempfile.TemporaryDirectory() as folder:
            (Path(folder) / "fetch.py").write_text(script())
            site = {"LOOPS": self.server.address, "TOKEN": self.token}
            said = self.run_in(folder, "fetch.py", str(timezone.localdate()), **site)
            self.assertEqual(said.returncode, 0, said.stderr)
            papers = {p.stem: p.read_bytes()[:4] for p in Path(folder).glob("*.pdf")}
        self.assertEqual(papers, dict.fromkeys(self.jobs, b"%PDF"))

    def test_a_client_that_is_generated_from_the_document_works(self):
        with tempfile.TemporaryDirectory() as folder:
            (Path(folder) / "openapi.json").write_text(json.dumps(DOCUMENT))
            made = self.run_in(
                folder,
                *("-m", "openapi_python_client", "generate", "--path", "openapi.json"),
                *("--meta", "none", "--output-path", "loops"),
            )
            self.assertEqual(made.returncode, 0, made.stdout + made.stderr)
            site = {"LOOPS": self.server.address, "TOKEN": self.token}
            said = self.run_in(folder, "-c", CLIENT, **site)
        self.assertEqual(said.stdout.split(), [str(len(self.jobs)), *self.jobs[::-1]], said.stderr)


CLIENT = """
import os
from loops import AuthenticatedClient
from loops.api.records import find_records
client = AuthenticatedClient(base_url=os.environ["LOOPS"], token=os.environ["TOKEN"])
found = find_records.sync(client=client)
print(found.total, *[r.job for r in found.records])
"""
