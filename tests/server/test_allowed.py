"""Roles by addresses: each that changes something is asked with a body that is right.

Whoever may, does it; whoever may not is refused for that alone.
"""

from __future__ import annotations

import base64
import re
from datetime import timedelta

from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import transaction
from django.utils import timezone

from tests.server import detectors, gcs, works
from tests.server.setting_up import KitForms, SetUp
from tests.server.test_any_request import OPEN, endpoints
from tests.server.test_files import Beside, photo
from tests.server.test_operations import BUFFER
from tests.server.test_roles import OWN
from tests.server.walker import RigWalk
from tests.server.works import PASSWORD, event
from verifyloop.accounts.models import User
from verifyloop.accounts.permissions import ALLOWED
from verifyloop.lists.models import Brought
from verifyloop.plant.models import Plan, Proposal, Site
from verifyloop.records import outside

JSON = "application/json"
ROLES = tuple(str(r) for r in User.Role.values)
#: What only computes, and what is of one's own way in or only looks whether something would do.
FREE = ("/api/v1/operations/", "/api/v1/ways-in/")
PRESSURE, WHY, PASS = "pressure_transmitter", {"reason": "campaign"}, {"own": PASSWORD}


OUT = {"since": "2026-11-01T08:00:00+00:00", "on": [], "left": "stopped", "to": "Jo", "tag": ""}


class Allowed(KitForms, SetUp, Beside):
    def setUp(self):
        super().setUp()
        self.site = Site.objects.create(name="Works")
        works.of_each_role(self.people)

    def get(self, path):
        return self.must(self.pia.get(f"/api/v1{path}"))

    def file(self, name, content):
        """A file is read once: it is made anew for each who sends it."""
        return lambda: {"file": SimpleUploadedFile(name, content)}

    def asked(self):
        """Yield (permission, method, path, body)."""
        yield from self.of_jobs()
        yield from self.of_people()
        yield from self.of_plans()
        yield from self.of_setting_up()
        yield from self.of_rounds_and_rigs()
        yield from self.of_lists_and_files()
        yield from self.of_analyzers()

    def of_people(self):
        who = "people.manage"
        new = {"username": "new", "first_name": "New", "last_name": "One", "role": "technician"}
        ben = next(p for p in self.get("/people")["people"] if p["username"] == "ben")
        outside.restored("/srv/backup/one", "")
        line = self.pia.get("/api/v1/session").json()["user"]["restores"][0]["line"]
        yield who, "get", "/people", {}
        yield who, "get", "/ways-in/rules", {}
        yield who, "post", "/people", {**new, **PASS}
        yield who, "post", "/people/ben/link", PASS
        yield who, "post", "/people/ben/unlock", {}
        changed = {"role": "planner", "active": True, "version": ben["version"], **PASS}
        yield who, "put", "/people/ben", changed
        yield who, "post", "/ways-in/of/ben/end", PASS
        yield who, "put", "/ways-in/rules", {**self.get("/ways-in/rules"), **PASS}
        said = {"name": "X", "version": self.get("/site")["version"]}
        yield "site.change", "put", "/site", said
        yield "site.change", "post", f"/site/restores/{line}", PASS

    def of_plans(self):
        out = works.instrument("PT-7", out_of_service=OUT)
        Plan.objects.create(instrument=out, method="smart_transmitter", next_due=self.due)
        plans = {p["method"]["id"]: p for p in self.get("/instruments/PT-7")["plans"]}
        plan = self.get("/instruments/PT-1")["plans"][0]
        found = Proposal.objects.create(
            instrument=self.instrument, job="J-1", field="serial", label="Serial", before="S-77",
            after="S-78", reason="x", by="Ana Test", at=timezone.now(),
        )  # fmt: skip
        those, may = {"tags": ["PT-1"], "count": 1}, "instrument.plan"
        version = {"version": plan["version"]}
        yield may, "post", "/instruments/PT-1/due", {"due": self.due, **WHY, **version}
        yield may, "post", "/together/due", {"those": those, "first": self.due, **WHY}
        yield may, "post", "/instruments/PT-7/back", WHY
        yield may, "post", f"/instruments/PT-1/proposals/{found.pk}", {"take": True, **WHY}
        ordered = {"method": PRESSURE, "number": "WO-1", **version}
        yield "job.open", "post", "/instruments/PT-1/work-order", ordered
        may, smart = "method.change", {"method": "smart_transmitter"}
        yield may, "post", "/together/methods", those
        body = {"those": those, "first": self.due, **smart, **WHY}
        yield may, "post", "/together/plans", body
        number = {"key": "cycles", "value": "3", "source": "m", **WHY}
        yield may, "post", "/instruments/PT-1/parameters", {**number, **version}
        yield may, "post", "/instruments/PT-1/plans", {"due": self.due, **smart, **WHY}
        dropped = {**smart, **WHY, "version": plans["smart_transmitter"]["version"]}
        yield may, "post", "/instruments/PT-7/plans/drop", dropped
        rule = {"key": "adjust_share", "value": "60", "source": "procedure 7", "version": 0}
        yield may, "post", f"/methods/{PRESSURE}/rules", rule
        yield "bench.tables", "post", "/bench/buffers", BUFFER

    def of_setting_up(self):
        may = "plant.setup"
        form = self.form("pressure")
        sent = {"base": form["base"], "record": self.typed(form, "PT-9")}
        yield may, "post", "/setup/check", sent
        yield may, "post", "/setup/instruments", sent
        form = self.get("/setup/instruments/PT-1")
        record = {**form["record"], "maker": "Elsewhere"}
        sent = {"record": record, "version": form["version"], **WHY}
        yield may, "put", "/setup/instruments/PT-1", sent
        areas = self.get("/setup/areas")
        names = [a["name"] for a in areas]
        yield may, "post", "/setup/areas", {"name": "Yard"}
        yield may, "put", "/setup/areas", {"names": names[::-1], "before": names}
        yield may, "post", "/setup/areas/rename", {"name": "Boiler house", "to": "Boilers"}
        form = self.form_of_kit("current")
        sent = {"kind": "current", "record": self.typed_kit(form, "R-70")}
        yield "kit.setup", "post", "/kit/check", sent
        yield "kit.setup", "post", "/kit/things", sent
        works.reference("R-71", "pressure", "0.1", "700", "kPa")
        form = self.get("/kit/things/R-71")
        sent = {"record": {**form["record"], "serial": "S-9"}, "version": form["version"], **WHY}
        yield "kit.setup", "put", "/kit/things/R-71", sent
        sent = {"withdrawn": True, "version": form["version"], **WHY}
        yield "kit.setup", "post", "/kit/things/R-71/withdraw", sent

    def of_jobs(self):
        signed = self.signed_job()
        works.instrument("PT-2")
        number = self.open("PT-2")
        seq = self.state(number)["seq"]

        def entry(kind, **data):
            return {"expected_seq": seq, "events": [event(kind, **data)], "password": PASSWORD}

        yield "job.open", "post", "/jobs", {"tag": "PT-1"}
        yield "job.record", "post", f"/jobs/{number}/events", entry("noted", text="x")
        yield "job.open", "post", f"/jobs/{number}/events", entry("voided", reason="wrong tag")
        seq = self.state(signed)["seq"]
        review = entry("reviewed", outcome="accepted", comment="")
        yield "job.review", "post", f"/jobs/{signed}/events", review
        issue = {"changes": {"serial": "S-78"}, "reason": "typed wrong", "password": PASSWORD}
        yield "job.amend", "post", f"/records/{signed}/issues", issue

    def of_rounds_and_rigs(self):
        works.rig(works.instrument("PT-3"))
        self.open("PT-3")
        yield "job.record", "post", "/rigs/PT-3/commands", {"kind": "apply", "value": 5}
        detectors.shelf()
        for n in (1, 2, 3, 4):
            detectors.detector(f"GT-{n}", "gas_bump")
        yield "job.open", "post", "/rounds", {"tags": ["GT-3", "GT-4"]}
        sent = {"tags": ["GT-1", "GT-2"]}
        job = self.must(self.ana.post("/api/v1/rounds", sent, content_type=JSON))["job"]
        number = self.get(f"/rounds/of/{job}")["round"]["id"]
        yield "job.open", "post", f"/rounds/{number}/next", {}
        yield "job.sign", "post", f"/rounds/{number}/sign", {"password": PASSWORD}

    def of_lists_and_files(self):
        for kind, may in (
            ("instruments", "plant.setup"),
            ("references", "kit.setup"),
            ("people", "people.manage"),
        ):
            yield may, "post", f"/lists/{kind}", self.file("a.csv", b"tag,maker\nPT-1,X\n")
            known = {"heading": "Bemerkung", "column": ""}
            yield may, "post", f"/lists/{kind}/synonyms", known
        yield "people.manage", "get", "/lists/people/list.csv", {}
        at, by = timezone.now() - timedelta(hours=1), self.people["pia"]
        for act, state, body in (
            ("stop", "waiting", {}),
            ("go-on", "stopped", {}),
            ("take-back", "stopped", WHY),
        ):
            one = Brought.objects.create(
                kind="instruments", name="a.csv", content=b"tag,maker\nPT-1,X\n", mark="x",
                actor=by, at=at, state=state,
            )  # fmt: skip
            yield "plant.setup", "post", f"/lists/brought/{one.pk}/{act}", body
        plate = self.file("plate.jpg", photo())
        beside = self.must(self.ana.post(f"/api/v1/files/job/{self.open()}", plate()))[0]
        yield "file.add", "post", "/files/instrument/PT-1", plate
        yield "file.add", "put", f"/files/content/{beside['id']}/paper", {"on": True}
        yield "file.remove", "post", f"/files/content/{beside['id']}/remove", WHY

    def of_analyzers(self):
        gcs.shelf()
        gcs.rig(gcs.device("X-1"))
        walk = RigWalk(self, "X-1", gcs.TOLD)
        walk.walk("inject_1")
        with walk.at():
            content = self.ana.get(f"/api/v1/jobs/{walk.job}/file").content
        read = {"name": "run.csv", "content": base64.b64encode(content).decode()}
        yield "job.record", "post", f"/jobs/{walk.job}/file", read
        yield "instrument.note", "post", "/instruments/X-1/happened", {"what": "switched_off"}

    def ask(self, client, method, path, body):
        if method == "get":
            return client.get(path)
        if callable(body):
            return client.post(path, body())
        return getattr(client, method)(path, body, content_type=JSON)

    def test_who_may_not_is_refused_and_who_may_does_it(self):
        asked = list(self.asked())
        for role in ROLES:
            client = self.client_of(role)
            for code, method, path, body in asked:
                with self.subTest(role=role, path=path, method=method), transaction.atomic():
                    answer = self.ask(client, method, f"/api/v1{path}", body)
                    if role in ALLOWED[code]:
                        self.assertEqual(answer.status_code, 200, answer.getvalue()[:300])
                    else:
                        said = self.must(answer, 403)
                        self.assertEqual(said["code"], "role.not_allowed")
                        self.assertIn(ALLOWED[code][0], said["remedy"])
                    transaction.set_rollback(True)

    def test_no_address_that_changes_something_is_left_out(self):
        asked = [(method, f"/api/v1{path}") for _, method, path, _ in self.asked()]
        for method, path, _ in endpoints():
            if method == "get" or path in (*OPEN, *OWN) or path.startswith(FREE):
                continue
            shape = re.compile(re.sub(r"\{\w+\}", "[^/]+", path))
            with self.subTest(method=method, path=path):
                fits = [p for m, p in asked if m == method and shape.fullmatch(p)]
                self.assertTrue(fits)
