"""Every address of the API, over real HTTP, as every role, and every file that it serves."""

from __future__ import annotations

import json
import re
import urllib.error
import urllib.request

from django.test import SimpleTestCase

from tests.process import RealServer
from tests.server.document import DOCUMENT
from tests.server.test_at_once import Person
from tests.server.works import PASSWORD, prepared, readings

#: one of each role; none is nobody who signed in
ROLES = ("ana", "rea", "pia", "adam", "")
#: The works of the tests have no administrator.
ADMINISTRATOR = f"""
import django; django.setup()
from verifyloop.accounts.models import User
user = User(username="adam", first_name="Adam", role="administrator")
user.set_password("{PASSWORD}"); user.save()
"""
#: What stands for a name in a path or in a question; a job and more is looked up.
NAMED = {
    "tag": "PT-1",
    "asset": "R-1",
    "quantity": "pressure",
    "role": "pressure_reference",
    "run": "as_found",
    "point": "0",
    "figure": "as_found.points.0.error",
    "about": "instrument",
    "key": "PT-1",
    "token": "nobody-knows-this",
    "id": "1",
}
#: What a name stands for below one path, where it is not the same everywhere.
BELOW = {
    "/api/v1/lists/": {"kind": "instruments", "name": "list.csv"},
    "/api/v1/operations/": {"name": "signal.scale"},
    "/api/v1/records/period/": {"name": "records.csv"},
    "/api/v1/kit/cylinders/": {"asset": "G-1"},
}
#: What an address is asked with, though it could be left out.
WITH = {
    "/api/v1/setup/new": "template=gas_oxygen",
    "/api/v1/kit/things/new": "kind=pressure",
}
#: Addresses that answer somebody who does not sign in.
OPEN = ("calendar/", "people/welcome/", "certificate.schema.json", "/session", "site/choices")


class EveryAddress(SimpleTestCase):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.server = RealServer.of_class(cls)
        made = cls.server.python("-c", ADMINISTRATOR)
        assert made.returncode == 0, made.stderr
        cls.people = {}
        for name in ROLES:
            cls.people[name] = Person(cls.server.address)
            if name:
                cls.people[name].sign_in(name)
        ana = cls.people["ana"]
        cls.job = ana.call("jobs", {"tag": "PT-1"})["job"]
        events = [*prepared(), *readings()]
        ana.call(f"jobs/{cls.job}/events", {"expected_seq": 1, "events": events})

    def get(self, who, path):
        """Return status and body of a real answer."""
        person = self.people[who]
        cookie = "; ".join(f"{k}={v}" for k, v in person.cookies.items())
        asked = urllib.request.Request(self.server.address + path, headers={"Cookie": cookie})
        try:
            with urllib.request.urlopen(asked, timeout=60) as answer:
                return answer.status, answer.read()
        except urllib.error.HTTPError as refused:
            return refused.code, refused.read()

    def filled(self, path, call):
        """Return an address with something in each of its places."""
        named = {**NAMED, "number": self.job}
        for start, more in BELOW.items():
            named |= more if path.startswith(start) else {}
        found = re.sub(r"{(\w+)}", lambda m: named[m[1]], path)
        asked = [
            f"{p['name']}={named[p['name']]}"
            for p in call.get("parameters", ())
            if p["in"] == "query" and p.get("required")
        ]
        asked += [WITH[path]] if path in WITH else []
        return f"{found}?{'&'.join(asked)}" if asked else found

    def test_every_address_answers_every_role_and_none_with_a_500(self):
        answered = set()
        for path, ways in DOCUMENT["paths"].items():
            if "get" not in ways:
                continue
            address = self.filled(path, ways["get"])
            for who in ROLES:
                with self.subTest(address=address, who=who):
                    status, body = self.get(who, address)
                    self.assertLess(status, 500, body[:300])
                    known = set(ways["get"]["responses"])
                    self.assertIn(str(status), known, body[:300])
                    if status >= 400:
                        said = json.loads(body)
                        self.assertTrue(said["message"] and "code" in said, said)
                    elif not who:
                        self.assertTrue(any(o in path for o in OPEN), path)
                    if status == 200:
                        answered.add(path)
        never = {p for p, ways in DOCUMENT["paths"].items() if "get" in ways} - answered
        # Of an open job, a rig that is none, tokens that nobody has and a site without a name there
        # is nothing.
        nothing = (
            "certificate.",
            "/issues",
            "/seal",
            "{token}",
            "/frame",
            "/file",
            "content/{id}",
            "v1/site",
        )
        self.assertEqual({p for p in never if not any(n in p for n in nothing)}, set())

    def test_the_document_itself_is_served_each_time(self):
        for who in ROLES:
            for _ in range(2):
                status, body = self.get(who, "/api/v1/openapi.json")
                self.assertEqual(status, 200, body[:300])
        self.assertEqual(json.loads(body)["paths"].keys(), DOCUMENT["paths"].keys())

    def test_every_file_is_what_it_says(self):
        for path, begins in (
            ("/api/v1/sheets/form/PT-1", b"%PDF"),
            ("/api/v1/sheets/labels/instruments", b"%PDF"),
            ("/api/v1/sheets/labels/kit", b"%PDF"),
            ("/api/v1/lists/instruments/list.xlsx", b"PK"),
            ("/api/v1/lists/references/template.xlsx", b"PK"),
            ("/api/v1/records/certificate.schema.json", b"{"),
        ):
            with self.subTest(path):
                status, body = self.get("pia", path)
                self.assertEqual((status, body[: len(begins)]), (200, begins))


class Linted(SimpleTestCase):
    """What a linter of API descriptions asks for first."""

    def test_it_says_where_who_and_under_which_licence(self):
        self.assertTrue(DOCUMENT["servers"])
        self.assertEqual(DOCUMENT["info"]["license"]["identifier"], "Apache-2.0")
        calls = [c for ways in DOCUMENT["paths"].values() for c in ways.values()]
        self.assertEqual([c["operationId"] for c in calls if "security" not in c], [])

    def test_entries_and_records_are_typed(self):
        schemas = DOCUMENT["components"]["schemas"]
        self.assertIn("reading_taken", schemas["EventIn"]["properties"]["kind"]["enum"])
        names = [
            r["$ref"].rpartition("/")[2] for r in schemas["EventIn"]["properties"]["data"]["anyOf"]
        ]
        self.assertIn("EntryReadingTaken", names)
        self.assertEqual(
            schemas["EntryReadingTaken"]["properties"]["applied"]["x-unit"], "input unit"
        )
        own = schemas["RecordIn"]["properties"]["record"]["properties"]["own"]["anyOf"]
        self.assertIn({"$ref": "#/components/schemas/FactsGasDetectors"}, own)
