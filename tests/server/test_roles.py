"""Roles by endpoints: who may not is refused, and whoever only reads changes nothing at all."""

from __future__ import annotations

from django.db import transaction

from tests.server.base import ApiCase
from tests.server.test_any_request import OPEN, SHAPE, endpoints, example
from tests.server.works import PASSWORD, reference
from verifyloop.accounts.models import User
from verifyloop.accounts.permissions import ALLOWED
from verifyloop.plant.models import Site
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
ROLES = tuple(str(r) for r in User.Role.values)
DUE = {"due": "2030-01-01", "reason": "campaign", "version": ""}
THOSE = {"tags": ["PT-1"], "count": 1}
DUE_OF_THOSE = {"those": THOSE, "first": "2030-01-01", "reason": "x"}
THING = {"kind": "current", "record": {}}
#: What is asked of whom: method, path, a body that is right in shape, and the permission.
ASKED = (
    ("post", "/api/v1/jobs", {"tag": "PT-1"}, "job.open"),
    (
        "post",
        "/api/v1/people",
        {"username": "x", "first_name": "", "last_name": "", "role": "x", "own": PASSWORD},
        "people.manage",
    ),
    ("get", "/api/v1/people", {}, "people.manage"),
    ("post", "/api/v1/people/ben/link", {"own": PASSWORD}, "people.manage"),
    ("post", "/api/v1/people/ben/unlock", {}, "people.manage"),
    (
        "put",
        "/api/v1/people/ben",
        {"role": "planner", "active": True, "version": ""},
        "people.manage",
    ),
    ("get", "/api/v1/ways-in/rules", {}, "people.manage"),
    ("post", "/api/v1/ways-in/of/ben/end", {"own": PASSWORD}, "people.manage"),
    ("post", "/api/v1/site/restores/9", {"own": PASSWORD}, "site.change"),
    (
        "put",
        "/api/v1/ways-in/rules",
        {
            "links_by": "one",
            "reset_days": 14,
            "pin": False,
            "factor_roles": [],
            "version": "",
            "own": PASSWORD,
        },
        "people.manage",
    ),
    ("put", "/api/v1/site", {"name": "X", "version": ""}, "site.change"),
    ("post", "/api/v1/setup/check", {"base": "pressure_transmitter", "record": {}}, "plant.setup"),
    (
        "post",
        "/api/v1/setup/instruments",
        {"base": "pressure_transmitter", "record": {}},
        "plant.setup",
    ),
    (
        "put",
        "/api/v1/setup/instruments/PT-1",
        {"record": {}, "version": "", "reason": "x"},
        "plant.setup",
    ),
    ("post", "/api/v1/setup/areas", {"name": ""}, "plant.setup"),
    ("put", "/api/v1/setup/areas", {"names": [], "before": []}, "plant.setup"),
    ("post", "/api/v1/setup/areas/rename", {"name": "Boiler house", "to": ""}, "plant.setup"),
    ("post", "/api/v1/kit/check", THING, "kit.setup"),
    ("post", "/api/v1/kit/things", THING, "kit.setup"),
    ("put", "/api/v1/kit/things/R-1", {"record": {}, "version": "", "reason": "x"}, "kit.setup"),
    (
        "post",
        "/api/v1/kit/things/R-1/withdraw",
        {"withdrawn": True, "reason": "x", "version": ""},
        "kit.setup",
    ),
    ("post", "/api/v1/instruments/PT-1/due", DUE, "instrument.plan"),
    (
        "post",
        "/api/v1/together/due",
        {"those": THOSE, "first": "2030-01-01", "reason": "x"},
        "instrument.plan",
    ),
    ("post", "/api/v1/together/methods", THOSE, "method.change"),
    (
        "post",
        "/api/v1/together/plans",
        {**DUE_OF_THOSE, "method": "x"},
        "method.change",
    ),
    (
        "post",
        "/api/v1/instruments/PT-1/work-order",
        {"method": "x", "number": "1", "version": ""},
        "job.open",
    ),
    ("post", "/api/v1/instruments/PT-1/back", {"reason": "x"}, "instrument.plan"),
    ("post", "/api/v1/instruments/PT-1/plans", {"method": "x", **DUE}, "method.change"),
    ("post", "/api/v1/instruments/PT-1/happened", {"what": "x"}, "instrument.note"),
    ("post", "/api/v1/lists/instruments/synonyms", {"heading": "x", "column": ""}, "plant.setup"),
    ("post", "/api/v1/lists/references/synonyms", {"heading": "x", "column": ""}, "kit.setup"),
    ("post", "/api/v1/lists/people/synonyms", {"heading": "x", "column": ""}, "people.manage"),
    ("get", "/api/v1/lists/people/list.csv", {}, "people.manage"),
)


class Roles(ApiCase):
    def setUp(self):
        super().setUp()
        Site.objects.create(name="Works")
        for role in ROLES:
            if role not in self.people:
                user = User(username=role, first_name=role.title(), last_name="Role", role=role)
                user.set_password(PASSWORD)
                user.save()
                self.people[role] = user

    def ask(self, client, method, path, body):
        if method == "get":
            return client.get(path)
        return getattr(client, method)(path, body, content_type=JSON)

    def test_who_may_not_is_refused_and_who_may_is_not(self):
        for role in ROLES:
            client = self.client_of(role)
            for method, path, body, code in ASKED:
                with self.subTest(role=role, path=path, method=method), transaction.atomic():
                    answer = self.ask(client, method, path, body)
                    refused = answer.status_code == 403
                    self.assertEqual(refused, role not in ALLOWED[code], answer.content[:200])
                    if refused:
                        said = answer.json()
                        self.assertEqual(said["code"], "role.not_allowed")
                        self.assertIn(ALLOWED[code][0], said["remedy"])
                    transaction.set_rollback(True)

    def test_whoever_only_reads_changes_nothing_by_any_endpoint(self):
        there = {"tag": "PT-1", "number": self.open(), "asset": "R-1", "username": "ben"}
        there |= {"method_id": "pressure_transmitter", "kind": "instruments", "about": "kit"}
        there |= {"key": "R-1", "id": "1", "round_id": "1", "proposal": "1", "token": "x"}
        there |= {"name": "loop.supply"}
        reference("R-9", "pressure", "0.1", "700", "kPa")
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
                answer = self.ask(client, method, path, body)
                self.assertLess(answer.status_code, 500)
                now = (Entry.objects.count(), Event.objects.count())
                self.assertEqual(now, before)
                asked += 1
        self.assertGreater(asked, 40)
