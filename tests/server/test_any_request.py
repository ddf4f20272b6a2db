"""What may arrive at the door: strangers, nonsense in every place of a request, and jobs whose
every entry is tried wrong first. Each is answered with what is wrong; nothing of it is kept."""

import json
import random
from dataclasses import replace
from itertools import count
from urllib.parse import quote, urlencode

from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import transaction
from django.test import Client

from tests.core.detectors import BOTTLES, DETECTORS
from tests.core.families import FAMILIES
from tests.core.test_any_input import places, put
from tests.long import several
from tests.server import detectors, electrodes, families, works
from tests.server.base import ApiCase
from tests.server.document import DOCUMENT, endpoints
from tests.server.test_door import quiet
from tests.server.test_walks import TOLD, TOLD_OF_GAS, TOLD_OF_PH
from tests.server.walker import TypedWalk
from verifyloop.work.models import Event, Job

#: Open to everybody: whether somebody is signed in, signing in or out, and a published schema.
SHAPE = "application/json"
#: What is asked before anybody is signed in; a key or a link is asked for instead.
OPEN = (
    "/api/v1/session",
    "/api/v1/ways-in/passkey",
    "/api/v1/ways-in/passkey/options",
    "/api/v1/records/certificate.schema.json",
    "/api/v1/site/choices",
    "/api/v1/site/start",
    "/api/v1/people/welcome/{token}",
    "/api/v1/calendar/{token}.ics",
)
PATHS = ("no-such-thing", "%00", "..%2F..%2Fetc", "9" * 300, "ü", "' OR 1=1 --", " ")
QUERIES = ("", "\x00", "-1", "1e9", "9" * 40, "ü", "' OR 1=1 --", "[]")
BODIES = (
    "",
    "{",
    "null",
    "[]",
    '"text"',
    "{}",
    "12",
    "[" * 3000,
    '{"a": 1}',
    '{"tag": null, "events": {}, "expected_seq": "x"}',
)
VALUES = (None, "", "\x00", "x" * 5000, -1, 1e308, True, [], {}, [[]], "ü", "2026-13-45")


def example(schema):
    """Return a body of the right shape, as the description says it."""
    if "$ref" in schema:
        return example(DOCUMENT["components"]["schemas"][schema["$ref"].split("/")[-1]])
    if "anyOf" in schema:
        return example(schema["anyOf"][0])
    if "example" in schema:
        return schema["example"]
    made = {"array": [], "string": "x", "integer": 1, "number": 1, "boolean": True}
    if schema.get("type") == "array":
        return [example(schema.get("items", {}))]
    if schema.get("type") == "object" or "properties" in schema:
        return {k: example(v) for k, v in schema.get("properties", {}).items()}
    kind = schema.get("type")
    return made.get(kind[0] if isinstance(kind, list) else kind, "x")


class AtTheDoor(ApiCase):
    def setUp(self):
        super().setUp()
        self.job = self.open()
        self.there = {
            "tag": "PT-1",
            "number": self.job,
            "asset": "R-1",
            "method_id": "pressure_transmitter",
            "round_id": "1",
            "proposal": "1",
            "name": "loop.supply",
            "username": "ben",
            "token": "x",
            "about": "instrument",
            "key": "PT-1",
            "id": "1",
            "kind": "instruments",
        }

    def filled(self, path, **other):
        for name, value in {**self.there, **other}.items():
            path = path.replace(f"{{{name}}}", value)
        return path

    def ask(self, client, method, path, body=None):
        if method == "get":
            return client.get(path, body if isinstance(body, dict) else {})
        return getattr(client, method)(path, body, content_type="application/json")

    def refused(self, answer, *statuses):
        """It says what is wrong in the one shape that every refusal has."""
        self.assertIn(answer.status_code, statuses or (400, 401, 403, 404, 409, 413, 422))
        if answer["Content-Type"].startswith("application/json"):
            said = answer.json()
            self.assertTrue(said["code"], said)
            self.assertTrue(said["message"], said)

    def answered(self, answer):
        """It is an answer or a refusal; never a crash."""
        if answer.status_code != 200:
            self.refused(answer)

    def test_a_stranger_gets_nothing_and_changes_nothing(self):
        stranger = Client(enforce_csrf_checks=True)
        before = Event.objects.count()
        asked = 0
        for method, path, _ in endpoints():
            if path not in OPEN:
                with self.subTest(method=method, path=path):
                    answer = self.ask(stranger, method, self.filled(path), "{}")
                    self.refused(answer, 401, 403)
                    asked += 1
        self.assertGreater(asked, 50)
        self.assertEqual(Event.objects.count(), before)

    def test_a_session_without_its_token_changes_nothing(self):
        client = Client(enforce_csrf_checks=True)
        client.force_login(self.people["ana"])
        for method, path, _ in endpoints():
            if method != "get" and path not in OPEN:
                with self.subTest(method=method, path=path):
                    self.refused(self.ask(client, method, self.filled(path), "{}"), 403)

    def test_nothing_of_that_name(self):
        for method, path, _ in endpoints():
            for name in self.there:
                if f"{{{name}}}" in path:
                    for value in PATHS:
                        with self.subTest(method=method, path=path, value=value):
                            where = self.filled(path, **{name: value})
                            self.answered(self.ask(self.ana, method, where, "{}"))

    def test_nonsense_in_every_question(self):
        for method, path, call in endpoints():
            asked = [p["name"] for p in call.get("parameters", []) if p["in"] == "query"]
            for name in asked:
                for value in QUERIES:
                    with self.subTest(path=path, name=name, value=value):
                        self.answered(self.ask(self.ana, method, self.filled(path), {name: value}))

    def test_bodies_of_no_shape(self):
        for method, path, _ in endpoints():
            if method == "post":
                for body in BODIES:
                    with self.subTest(path=path, body=body[:20]), transaction.atomic():
                        self.answered(self.ask(self.ana, method, self.filled(path), body))
                        transaction.set_rollback(True)

    def test_nonsense_in_every_field_of_every_body(self):
        clients = [self.ana, self.client_of("pia")]
        for method, path, call in endpoints():
            if "requestBody" not in call or path.startswith("/api/v1/operations/"):
                continue
            if SHAPE not in call["requestBody"]["content"]:
                continue  # a file: see test_lists
            shape = call["requestBody"]["content"][SHAPE]["schema"]
            body = example(shape)
            # Whose role does not allow it is refused whatever it is: asked by one who may.
            there = self.filled(path)
            said = {client: self.in_vain(client, method, there, body) for client in clients}
            may = next((c for c in clients if said[c] != 403), self.ana)
            for field in body:
                for value in VALUES:
                    with self.subTest(path=path, field=field, value=str(value)[:20]):
                        self.in_vain(may, method, there, {**body, field: value})

    def in_vain(self, client, method, path, body):
        with transaction.atomic():
            answer = self.ask(client, method, path, body)
            self.answered(answer)
            transaction.set_rollback(True)
        return answer.status_code

    def test_something_longer_than_four_megabytes(self):
        path = f"/api/v1/jobs/{self.job}/events"
        self.refused(self.ask(self.ana, "post", path, '{"a": "' + "x" * 5_000_000 + '"}'), 413)

    def test_files_of_a_job_that_has_none(self):
        for kind in ("pdf", "json", "csv"):
            self.refused(
                self.ana.get(f"/api/v1/records/{self.job}/certificate.{kind}"), 404, 409, 422
            )
            self.refused(self.ana.get(f"/api/v1/records/none/certificate.{kind}"), 404)


class Fuzz(ApiCase):
    """Every endpoint as every role with anything, seeded: what comes back is in the document."""

    NASTY = (*VALUES, *QUERIES, "0." + "3" * 60, 10**30, -(10**30), "9999-12-31", "1" * 50_000)

    def setUp(self):
        super().setUp()
        self.chance = random.Random("door 13")
        self.there = {
            "tag": "PT-1",
            "number": self.open(),
            "asset": "R-1",
            "method_id": "pressure_transmitter",
            "round_id": "1",
            "proposal": "1",
            "name": "loop.supply",
            "username": "ben",
            "token": "x",
            "about": "instrument",
            "key": "PT-1",
            "id": "1",
            "kind": "instruments",
        }
        self.roles = {name: self.client_of(name) for name in ("ana", "pia", "rea")}
        self.roles["nobody"] = Client(enforce_csrf_checks=True)

    def test_no_answer_is_a_crash_or_one_that_the_document_does_not_name(self):
        quiet(self)
        calls = list(endpoints())
        for number in range(several(full=20_000, small=400)):
            method, path, call = calls[number % len(calls)]
            role = self.chance.choice(list(self.roles))
            with self.subTest(number=number, method=method, path=path, role=role):
                with transaction.atomic():
                    answer = self.ask(self.roles[role], method, path, call)
                    transaction.set_rollback(True)
                said = b"".join(answer)[:300]
                self.assertLess(answer.status_code, 500, said)
                status = str(answer.status_code)
                named = status in call["responses"] or f"{status[0]}XX" in call["responses"]
                self.assertTrue(named, (status, said))
            if path == "/api/v1/session":
                self.roles = {n: self.client_of(n) for n in ("ana", "pia", "rea")}
                self.roles["nobody"] = Client(enforce_csrf_checks=True)

    def ask(self, client, method, path, call):
        chance = self.chance
        for name, value in self.there.items():
            if chance.random() < 0.15:
                value = quote(str(chance.choice(self.NASTY))[:300], safe="")
            path = path.replace(f"{{{name}}}", value or "x")
        query = {
            p["name"]: chance.choice(self.NASTY)
            for p in call.get("parameters", [])
            if p["in"] == "query" and chance.random() < 0.7
        }
        if query:
            path += "?" + urlencode({k: str(v)[:60_000] for k, v in query.items()})
        if "requestBody" not in call:
            return getattr(client, method)(path)
        if SHAPE not in call["requestBody"]["content"]:
            nasty = str(chance.choice(self.NASTY)).encode("utf-8", "replace")
            return getattr(client, method)(path, {"file": SimpleUploadedFile("list.csv", nasty)})
        content = call["requestBody"]["content"][SHAPE]
        body = example(content["schema"])
        for _ in range(chance.randint(0, 2)):
            found = list(places(body))
            if found:
                body = put(body, chance.choice(found), chance.choice(self.NASTY))
        return getattr(client, method)(path, json.dumps(body), content_type="application/json")


class Clumsy(TypedWalk):
    """Types every entry wrong in several ways before typing it right."""

    WRONG = ("", "no such thing", None, "1e30", "-5", [], {"value": "1"}, "\x00", "x" * 9000)

    def __init__(self, *args, every=1):
        self.every, self.turn, self.tried = every, count(), 0
        super().__init__(*args)

    def send(self, *events):
        for one in events:
            if next(self.turn) % self.every == 0:
                for field in one["data"]:
                    for value in self.WRONG:
                        self.wrongly(one, {**one["data"], field: value})
                    self.wrongly(one, {k: v for k, v in one["data"].items() if k != field})
            super().send(one)

    def wrongly(self, one, data):
        """Send it; it is refused by the name of a field, or taken and taken back as a whole."""
        said = works.event(one["kind"], **data)
        with self.case.subTest(kind=one["kind"], data=str(data)[:200]), transaction.atomic():
            answer = self.post(self.seen["seq"], said)
            self.tried += 1
            if answer.status_code != 200:
                self.case.assertIn(answer.status_code, (404, 422), answer.content[:300])
                self.case.assertTrue(answer.json()["field"], answer.content[:300])
                self.case.assertTrue(answer.json()["message"])
            transaction.set_rollback(True)


class AtTheInstrument(ApiCase):
    def whole(self, walk):
        state = walk.walk()
        self.assertGreater(walk.tried, 60)
        self.assertEqual((state["status"], state["on"]), ("signed", []))
        self.assertEqual(Job.objects.get(number=walk.job).status, Job.Status.SIGNED)
        self.assertEqual(Event.objects.filter(job__number=walk.job).count(), state["seq"])

    def test_a_transmitter(self):
        families.shelf()
        family = "smart_transmitter"
        families.instrument("X-1", family)
        _, model = FAMILIES[family]
        faults, _ = families.PLANTED[family]
        self.whole(Clumsy(self, "X-1", TOLD, replace(model, **faults), every=8))

    def test_a_detector(self):
        detectors.shelf()
        detectors.detector("X-1", "gas_zero_span")
        _, model = DETECTORS["gas_zero_span"]
        self.whole(Clumsy(self, "X-1", TOLD_OF_GAS, model, BOTTLES, every=7))

    def test_a_ph_loop(self):
        electrodes.shelf()
        electrodes.loop("X-1", "ph_buffers")
        made = (self, "X-1", TOLD_OF_PH, electrodes.SOUND, electrodes.POURED)
        self.whole(Clumsy(*made, every=8))
