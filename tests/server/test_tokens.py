"""Tokens for scripts: what each is good for, and when it is good no more."""

from __future__ import annotations

from datetime import timedelta
from unittest import mock

from django.test import Client
from django.utils import timezone

from tests.server import works
from tests.server.base import ApiCase
from verifyloop.accounts.models import Token
from verifyloop.register.models import Entry

JSON = "application/json"


class Tokens(ApiCase):
    def make(self, client=None, **more):
        body = {"name": "Archive", "scope": "records", "days": 30, "password": works.PASSWORD}
        return (client or self.ana).post("/api/v1/tokens", {**body, **more}, content_type=JSON)

    def script(self, token):
        return Client(enforce_csrf_checks=True, headers={"Authorization": f"Bearer {token}"})

    def token(self, **more):
        return self.must(self.make(**more))["token"]

    def test_a_script_fetches_certificates_and_nothing_else(self):
        job = self.signed_job()
        script = self.script(self.token())
        self.assertEqual(script.get("/api/v1/records").json()["total"], 1)
        paper = script.get(f"/api/v1/records/{job}/certificate.pdf")
        self.assertTrue(paper.content.startswith(b"%PDF"))
        for path in (
            "/api/v1/kit/cylinders",
            "/api/v1/methods",
            "/api/v1/people",
            "/api/v1/tokens",
        ):
            self.assertEqual(script.get(path).status_code, 401, path)
        answer = script.post("/api/v1/jobs", {"tag": "PT-1"}, content_type=JSON)
        self.assertEqual(answer.status_code, 401)

    def test_one_that_reads_reads_and_one_that_writes_writes_as_its_person_may(self):
        reads = self.script(self.token(scope="read"))
        self.assertEqual(reads.get("/api/v1/methods").status_code, 200)
        opened = {"tag": "PT-1"}
        self.assertEqual(reads.post("/api/v1/jobs", opened, content_type=JSON).status_code, 401)
        writes = self.script(self.token(scope="write"))
        self.assertEqual(writes.post("/api/v1/jobs", opened, content_type=JSON).status_code, 200)
        self.assertEqual(Entry.objects.filter(account="ana").exists(), True)
        refused = writes.post("/api/v1/setup/areas", {"name": "X"}, content_type=JSON)
        self.assertEqual(refused.status_code, 403)
        for path in ("/api/v1/people", "/api/v1/tokens", "/api/v1/calendar", "/api/v1/views"):
            self.assertEqual(writes.get(path).status_code, 401, path)

    def test_a_script_signs_nothing_even_with_the_password(self):
        script = self.script(self.token(scope="write"))
        job = self.open()
        done = (*works.prepared(), *works.readings(), *works.returned())
        self.must(self.send(job, *done, client=script))
        signed = self.send(job, works.event("signed"), client=script, password=works.PASSWORD)
        self.assertEqual(self.must(signed, 403)["code"], "token.signs_nothing")
        self.assertEqual(self.state(job)["status"], "open")
        self.must(self.send(job, works.event("signed"), password=works.PASSWORD))

    def test_what_is_kept_is_no_token(self):
        token = self.token()
        self.assertNotIn(token, str(Token.objects.values().get()))
        written = "".join(Entry.objects.values_list("said", flat=True))
        self.assertNotIn(token, written)
        self.assertEqual(self.must(self.ana.get("/api/v1/tokens"))["tokens"][0]["name"], "Archive")

    def test_it_ends(self):
        token = self.token()
        script = self.script(token)
        self.assertEqual(script.get("/api/v1/records").status_code, 200)
        later = timezone.now() + timedelta(days=31)
        with mock.patch("django.utils.timezone.now", return_value=later):
            self.assertEqual(script.get("/api/v1/records").status_code, 401)
        id = Token.objects.get().pk
        self.assertEqual(self.client_of("ben").delete(f"/api/v1/tokens/{id}").status_code, 404)
        self.must(self.client_of("pia").delete(f"/api/v1/tokens/{id}"))
        self.assertEqual(script.get("/api/v1/records").status_code, 401)
        self.assertEqual(self.ana.delete(f"/api/v1/tokens/{id}").status_code, 404)

    def test_whoever_works_here_no_more_asks_nothing(self):
        script = self.script(self.token())
        self.people["ana"].is_active = False
        self.people["ana"].save()
        self.assertEqual(script.get("/api/v1/records").status_code, 401)

    def test_nonsense_is_no_token(self):
        for token in ("", "vl_", "vl_x", "x" * 5000, "vl_\x00", "Bearer"):
            self.assertEqual(self.script(token).get("/api/v1/records").status_code, 401)

    def test_what_cannot_be_made(self):
        for more, field, status in (
            ({"name": " "}, "name", 422),
            ({"scope": "everything"}, "scope", 422),
            ({"days": 0}, "days", 422),
            ({"days": 367}, "days", 422),
            ({"password": "wrong"}, "password", 403),
        ):
            self.assertEqual(self.must(self.make(**more), status)["field"], field)
        self.assertFalse(Token.objects.exists())
