"""Whoever only reads changes nothing at all, by any address; `test_allowed` has the other roles."""

from __future__ import annotations

from tests.server import works
from tests.server.base import ApiCase
from tests.server.test_any_request import OPEN, SHAPE, endpoints, example
from verifyloop.register.models import Entry
from verifyloop.work.models import Event

JSON = "application/json"
#: What everybody may change of themselves.
OWN = (
    "/api/v1/people/me/password",
    "/api/v1/calendar",
    "/api/v1/calendar/mail",
    "/api/v1/tokens",
    "/api/v1/tokens/{id}",
    "/api/v1/views",
    "/api/v1/views/{id}",
)


class Roles(ApiCase):
    def setUp(self):
        super().setUp()
        works.of_each_role(self.people)

    def test_whoever_only_reads_changes_nothing_by_any_endpoint(self):
        there = {"tag": "PT-1", "number": self.open(), "asset": "R-1", "username": "ben"}
        there |= {"method_id": "pressure_transmitter", "kind": "instruments", "about": "kit"}
        there |= {"key": "R-1", "id": "1", "round_id": "1", "proposal": "1", "token": "x"}
        there |= {"name": "loop.supply"}
        works.reference("R-9", "pressure", "0.1", "700", "kPa")
        client = self.client_of("read-only")
        before = (Entry.objects.count(), Event.objects.count())
        asked = 0
        for method, path, call in endpoints():
            if method == "get" or path in (*OPEN, *OWN):
                continue
            for name, value in there.items():
                path = path.replace(f"{{{name}}}", value)
            content = call.get("requestBody", {}).get("content", {})
            body = example(content[SHAPE]["schema"]) if SHAPE in content else {}
            with self.subTest(method=method, path=path):
                answer = getattr(client, method)(path, body, content_type=JSON)
                self.assertLess(answer.status_code, 500)
                now = (Entry.objects.count(), Event.objects.count())
                self.assertEqual(now, before)
                asked += 1
        self.assertGreater(asked, 40)
