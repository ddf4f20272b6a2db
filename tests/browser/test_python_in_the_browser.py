"""The core, unchanged, in the WebAssembly Python that ships with the application."""

from __future__ import annotations

import json
import math
import time

from calibration.operations import catalogue
from tests.browser.base import BrowserCase

#: Floating point differs between the two only in the last bits of library functions.
CLOSE = 1e-12
ALL = """
import json
from calibration.operations import catalogue, run
json.dumps({e["name"]: run(e["name"], e["example"], pictured=True) for e in catalogue()})
"""
START = """async () => {
  const { folder } = await (await fetch('/python/where.json')).json();
  const worker = new Worker(`/python/${folder}/worker.mjs`, {type: 'module'});
  window.answers = {};
  worker.onmessage = ({data}) => { window.answers[data.id] = data; };
  worker.onerror = (e) => { window.answers.failed = e.message || 'failed'; };
  window.worker = worker;
}"""


class PythonInTheBrowser(BrowserCase):
    def test_it_computes_as_the_server_does(self):
        """One worker for all of it: to start one takes seconds of a processor."""
        self.page = self.person("ana")
        self.asked = []
        self.page.context.on("request", lambda request: self.asked.append(request.url))
        self.page.evaluate(START)
        with self.subTest("every example agrees with the server, and nothing leaves the house"):
            self.every_example()
        with self.subTest("other rules than those that are served do not compute"):
            self.other_rules()

    def answer(self, message: dict, seconds: int = 90) -> dict:
        self.page.evaluate("m => window.worker.postMessage(m)", message)
        end = time.monotonic() + seconds
        while time.monotonic() < end:
            said = self.page.evaluate("id => window.answers[id] ?? null", message["id"])
            if said:
                return said
            self.assertIsNone(self.page.evaluate("() => window.answers.failed ?? null"))
            self.page.wait_for_timeout(200)
        raise AssertionError("the worker gave no answer")

    def every_example(self):
        here = json.loads(self.answer({"id": "all", "script": ALL})["said"])
        token = self.page.context.request.get(f"{self.server().address}/api/v1/session").json()
        headers = {"X-CSRFToken": token["csrf_token"], "Origin": self.server().address}
        for entry in catalogue():
            answer = self.page.context.request.post(
                f"{self.server().address}/api/v1/operations/{entry['name']}",
                data=json.dumps(entry["example"]),
                headers={**headers, "Content-Type": "application/json"},
            )
            self.assertEqual(answer.status, 200, answer.text())
            theirs = answer.json()
            mine = {k: v for k, v in here[entry["name"]].items() if k not in ("shown", "picture")}
            self.same(theirs, mine, entry["name"])
        for url in self.asked:
            self.assertTrue(url.startswith(self.server().address), url)
        self.refuses_alike(headers)

    def other_rules(self):
        example = {"id": "1", "name": "thermocouple.emf", "payload": {"type": "K"}}
        example["payload"]["temperature_c"] = "500"
        self.assertIn("said", self.answer(example))
        renewed = {"status": 200, "body": json.dumps({"folder": "0" * 16})}
        self.page.context.route("**/python/where.json", lambda route: route.fulfill(**renewed))
        refused = self.answer({**example, "id": "2"})
        self.assertEqual(refused["error"]["code"], "release.old")
        self.page.context.unroute("**/python/where.json")
        self.page.context.route("**/python/where.json", lambda route: route.abort())
        self.assertIn("said", self.answer({**example, "id": "3"}), "without a network it computes")

    def refuses_alike(self, headers: dict) -> None:
        bad = {"type": "K", "temperature_c": "1400"}
        mine = self.answer({"id": "bad", "name": "thermocouple.emf", "payload": bad})["error"]
        theirs = self.page.context.request.post(
            f"{self.server().address}/api/v1/operations/thermocouple.emf", data=bad, headers=headers
        )
        self.assertEqual(theirs.status, 422)
        for key in ("code", "field", "message", "remedy"):
            self.assertEqual(mine[key], theirs.json()[key])

    def same(self, a, b, path: str) -> None:
        self.assertIs(type(a), type(b), path)
        if isinstance(a, dict):
            self.assertEqual(list(a), list(b), path)
            for key in a:
                self.same(a[key], b[key], f"{path}.{key}")
        elif isinstance(a, list):
            self.assertEqual(len(a), len(b), path)
            for n, (x, y) in enumerate(zip(a, b, strict=True)):
                self.same(x, y, f"{path}.{n}")
        elif isinstance(a, float):
            self.assertTrue(math.isclose(a, b, rel_tol=CLOSE, abs_tol=1e-15), f"{path}: {a} {b}")
        else:
            self.assertEqual(a, b, path)
