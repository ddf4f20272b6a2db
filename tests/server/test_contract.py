"""What the API answers is what its description says, at every stage of a job."""

import ast
import json
from pathlib import Path

from django.test import SimpleTestCase
from jsonschema import Draft202012Validator
from referencing import Registry, Resource
from referencing.jsonschema import DRAFT202012

import verifyloop.api
from calibration.engine.job.events import make_event
from calibration.engine.method.family import method_for, newest_methods
from calibration.kernel.codec import encode
from tests.core.detectors import BOTTLES, DETECTORS
from tests.replay.play_again import kept, state_at
from tests.server import detectors, electrodes, families, works
from tests.server.base import ApiCase
from tests.server.document import DOCUMENT
from tests.server.test_walks import TOLD_OF_GAS, TOLD_OF_PH
from tests.server.walker import TypedWalk
from verifyloop.api.answers import answer

REGISTRY = Registry().with_resource(
    "urn:api", Resource(contents=DOCUMENT, specification=DRAFT202012)
)


def validator(method, path):
    """Return what checks an answer of an endpoint; none where it answers with a file."""
    answer = DOCUMENT["paths"][path][method]["responses"]["200"]
    schema = answer.get("content", {}).get("application/json", {}).get("schema")
    if schema is None:
        return None
    named = json.loads(json.dumps(schema).replace('"#/', '"urn:api#/'))
    return Draft202012Validator(named, registry=REGISTRY)


class Contract(ApiCase):
    def setUp(self):
        super().setUp()
        families.shelf()
        detectors.shelf()
        electrodes.shelf()
        self.checked = set()

    def right(self, path, query=None, client=None, **names):
        """Ask, and hold the answer against the description."""
        where = path
        for name, value in names.items():
            where = where.replace(f"{{{name}}}", str(value))
        said = self.must((client or self.ana).get(where, query or {}))
        found = validator("get", path)
        if found is not None:
            with self.subTest(path=path):
                found.validate(said)
                self.checked.add(path)
        return said

    def of_a_job(self, job):
        state = self.right("/api/v1/jobs/{number}", number=job)
        self.right("/api/v1/jobs/{number}/history", number=job)
        self.right("/api/v1/jobs/{number}/changed", number=job)
        for run in (state["as_found"], state["as_left"], *state["extra_runs"]):
            if run and run["taken"]:
                point = next(p["index"] for p in run["points"] if p["event"])
                query = {"run": run["id"], "point": point}
                self.right("/api/v1/jobs/{number}/strip", query, number=job)
        return state

    def test_a_detector_and_a_ph_loop_at_every_stage(self):
        detectors.detector("X-1", "gas_zero_span")
        electrodes.loop("X-2", "ph_buffers")
        _, model = DETECTORS["gas_zero_span"]
        for walk in (
            TypedWalk(self, "X-1", TOLD_OF_GAS, model, BOTTLES),
            TypedWalk(self, "X-2", TOLD_OF_PH, electrodes.SOUND, electrodes.POURED),
        ):
            stages = [s["id"] for s in walk.seen["stages"]]
            firsts = [
                next(s["id"] for s in walk.seen["steps"] if s["stage"] == stage)
                for stage in stages
                if any(s["stage"] == stage for s in walk.seen["steps"])
            ]
            for step in [*firsts[1:], ""]:
                walk.walk(stop=step)
                with walk.at():
                    self.of_a_job(walk.job)
            self.right("/api/v1/records/{number}/certificate.json", number=walk.job)
            self.right("/api/v1/records/{number}/seal", number=walk.job)

    def test_every_list_of_the_plant(self):
        job = self.signed_job()
        works.rig(works.instrument("PT-9"))
        running = self.open("PT-9")
        for tag in ("PT-1", "PT-9"):
            self.right("/api/v1/instruments/{tag}", tag=tag)
        for path in (
            "/api/v1/session",
            "/api/v1/today",
            "/api/v1/safety",
            "/api/v1/methods",
            "/api/v1/kit/references",
            "/api/v1/kit/cylinders",
            "/api/v1/kit/sensors",
            "/api/v1/operations",
            "/api/v1/bench/tables",
        ):
            self.right(path)
        self.right("/api/v1/instruments", {"q": "pt"})
        self.right("/api/v1/records", {"q": job})
        self.right("/api/v1/operations/find", {"q": "250 ohm"})
        self.right("/api/v1/operations/{name}/form", name="loop.supply")
        self.right("/api/v1/kit/cylinders/{asset}", asset="G-2")
        self.right("/api/v1/jobs/{number}/kit", {"quantity": "pressure"}, number=running)
        self.right("/api/v1/rigs/{number}/frame", number=running)
        self.assertGreater(len(self.checked), 15)

    def test_every_person_sees_the_same_shape(self):
        self.signed_job()
        for name in self.people:
            client = self.client_of(name)
            for path in ("/api/v1/session", "/api/v1/today", "/api/v1/safety", "/api/v1/records"):
                self.right(path, client=client)

    def test_every_operation_has_its_own_words(self):
        """No two endpoints share a name; each has a sentence for who reads the description."""
        names = [c["operationId"] for p in DOCUMENT["paths"].values() for c in p.values()]
        self.assertEqual(len(names), len(set(names)))
        for path, calls in DOCUMENT["paths"].items():
            for call in calls.values():
                self.assertTrue(call.get("description") or call.get("summary"), path)


class AsTheCoreEncodes(SimpleTestCase):
    def test_what_is_sent_is_what_the_core_encodes(self):
        """Of one kept job of every method: the short way gives the same as the core's own."""
        for method in newest_methods():
            job = kept(method.id)[1]
            events = [make_event(**one) for one in job["events"]]
            of = method_for(job["method"], job["version"])
            for place in (len(events) // 2, len(events)):
                state = state_at(of, events[:place], events[place - 1].when)
                with self.subTest(method=method.id, entry=place):
                    self.assertEqual(json.loads(answer(state).content), as_plain(encode(state)))


def as_plain(value):
    """Return what JSON makes of it: tuples are lists, keys are text."""
    return json.loads(json.dumps(value))


class Names(SimpleTestCase):
    def test_no_two_shapes_of_the_contract_share_a_name(self):
        """Of two with one name the document would hold one, and screens would be built on it."""
        seen = {}
        for module in Path(verifyloop.api.__file__).parent.glob("*.py"):
            for node in ast.parse(module.read_text()).body:
                if isinstance(node, ast.ClassDef):
                    self.assertNotIn(node.name, seen, module.name)
                    seen[node.name] = module.name
        self.assertGreater(len(seen), 100)
