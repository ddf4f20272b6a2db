"""Talking to the API as a browser does: session cookie and token, token checks on."""

from __future__ import annotations

import logging
from datetime import timedelta
from unittest import mock

from django.conf import settings
from django.core.cache import cache
from django.http import HttpRequest
from django.middleware.csrf import get_token
from django.test import Client, TestCase, override_settings
from django.utils import timezone

from calibration.engine.view.asks import Form
from calibration.kernel.codec import decode
from calibration.simulate.answers import answer
from tests.server import clients, works
from verifyloop.plant.zone import KEY, zone_now

clients.share()
# What happened to ways in is told line by line: of no use among the dots of the tests.
logging.getLogger("verifyloop.security").setLevel(logging.ERROR)


#: Each request does its own long work: what a worker does is tested with real servers.
AT_ONCE = {"default": {"BACKEND": "django_tasks.backends.immediate.ImmediateBackend"}}


@override_settings(
    PASSWORD_HASHERS=["django.contrib.auth.hashers.MD5PasswordHasher"],
    TASKS=AT_ONCE,
    BACKGROUND="request",
)
class ApiCase(TestCase):
    """Test case with a small works and a client per person."""

    @classmethod
    def setUpTestData(cls):
        """Make the works once for all tests of a class; what each changes is taken back."""
        cls.people = works.people()
        cls.instrument = works.instrument()
        works.shelf()

    def setUp(self):
        cache.clear()  # who is here outlives the rows of a test
        self.ana = self.client_of("ana")

    def zone_known(self):
        """Read where the site is, and keep it: it is asked anew every few seconds."""
        zone_now()
        cache.touch(KEY, None)

    def client_of(self, name):
        client = Client(enforce_csrf_checks=True)
        client.force_login(self.people[name])
        request = HttpRequest()
        client.defaults["HTTP_X_CSRFTOKEN"] = get_token(request)
        client.cookies[settings.CSRF_COOKIE_NAME] = request.META["CSRF_COOKIE"]
        return client

    def open(self, tag="PT-1", client=None):
        answer = (client or self.ana).post(
            "/api/v1/jobs", {"tag": tag}, content_type="application/json"
        )
        self.assertEqual(answer.status_code, 200, answer.content)
        return answer.json()["job"]

    def state(self, job, client=None):
        return (client or self.ana).get(f"/api/v1/jobs/{job}").json()

    def send(self, job, *events, seq=None, client=None, password=""):
        if seq is None:
            seq = self.state(job)["seq"]
        return (client or self.ana).post(
            f"/api/v1/jobs/{job}/events",
            {"expected_seq": seq, "events": list(events), "password": password},
            content_type="application/json",
        )

    def answer(self, job, client=None):
        """Answer everything that a job asks since something went wrong."""
        while asked := self.state(job)["asked"]:
            one = decode(Form, asked[0])
            self.must(self.send(job, works.event(one.kind, **answer(one)), client=client))

    def must(self, answer, status=200):
        self.assertEqual(answer.status_code, status, answer.content[:600])
        return answer.json()

    def in_the_morning(self):
        """Yesterday at ten: a job that is begun then ends on the same day."""
        ten = timezone.localtime() - timedelta(days=1)
        ten = ten.replace(hour=10, minute=0)
        return mock.patch("django.utils.timezone.now", return_value=ten)

    def signed_job(self, tag="PT-1"):
        job = self.open(tag)
        self.must(self.send(job, *works.prepared(), *works.readings(), *works.returned()))
        self.must(self.send(job, works.event("signed"), password=works.PASSWORD))
        return job
