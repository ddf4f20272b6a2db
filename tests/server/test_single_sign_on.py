"""Sign-in by the account of the site: off by default, and only for whom a planner knows."""

from __future__ import annotations

import urllib.request
from urllib.error import HTTPError
from urllib.parse import urlsplit

from cryptography.hazmat.primitives.asymmetric import rsa
from django.conf import settings
from django.core.exceptions import ImproperlyConfigured
from django.test import Client, override_settings

from tests.server import works
from tests.server.base import ApiCase
from tests.server.sign_in_stand_in import StandIn
from verifyloop.environment import Environment
from verifyloop.register.models import Entry
from verifyloop.single_sign_on import NEEDED, fixed, from_environment


class NotFollowed(urllib.request.HTTPRedirectHandler):
    def redirect_request(self, *args):
        return None


class ByTheSite(ApiCase):
    def setUp(self):
        super().setUp()
        self.stand_in = StandIn()
        self.addCleanup(self.stand_in.close)
        backends = [*settings.AUTHENTICATION_BACKENDS, "verifyloop.accounts.single.ByClaims"]
        changed = override_settings(
            ROOT_URLCONF="tests.server.with_sign_in",
            AUTHENTICATION_BACKENDS=backends,
            SINGLE_SIGN_ON=self.stand_in.settings(),
            **self.stand_in.settings(),
            **fixed("/"),
        )
        changed.enable()
        self.addCleanup(changed.disable)
        self.people["ana"].email = "Ana@works.example"
        self.people["ana"].save()
        self.stand_in.claims = {"email": "ana@works.example", "email_verified": True}

    def sign_in(self):
        """Go there and back as a browser does; return who is signed in, and where it ended."""
        client = Client()
        there = client.get("/sso/authenticate/")
        opener = urllib.request.build_opener(NotFollowed)
        try:
            opener.open(there["Location"])
        except HTTPError as moved:
            back = urlsplit(moved.headers["Location"])
        ended = client.get(f"{back.path}?{back.query}")
        user = client.get("/api/v1/session").json()["user"]
        return (user or {}).get("username"), ended, client

    def refused(self):
        who, ended, _ = self.sign_in()
        self.assertIsNone(who)
        self.assertEqual(ended.status_code, 302)
        return ended

    def test_whoever_a_planner_knows_comes_in_with_the_role_given_here(self):
        before = Entry.objects.filter(account="ana").count()
        who, ended, client = self.sign_in()
        self.assertEqual((who, ended["Location"]), ("ana", "/"))
        self.assertTrue(client.get("/api/v1/session").json()["single"])
        self.assertEqual(client.get("/api/v1/people").status_code, 403)
        self.assertEqual(Entry.objects.filter(account="ana").count(), before)

    def test_a_signature_still_takes_ones_own_password(self):
        client = self.client_of("ana")
        job = self.open()
        self.must(self.send(job, *works.prepared(), *works.readings(), *works.returned()))
        said = self.send(job, works.event("signed"), client=client, password="")
        self.assertEqual(said.status_code, 403)

    def test_whoever_is_not_known_does_not(self):
        for claims in (
            {"email": "stranger@works.example", "email_verified": True},
            {"email": "ana@works.example", "email_verified": False},
            {"email_verified": True},
        ):
            self.stand_in.claims = claims
            self.assertEqual(self.refused()["Location"], "/?refused=sign-in")

    def test_a_sign_in_that_does_not_answer_is_no_dead_end(self):
        with override_settings(OIDC_OP_TOKEN_ENDPOINT="http://127.0.0.1:9/token"):
            self.assertEqual(self.refused()["Location"], "/?refused=sign-in")

    def test_whoever_works_here_no_more_does_not(self):
        self.people["ana"].is_active = False
        self.people["ana"].save()
        self.refused()

    def test_an_address_of_two_people_is_nobodys(self):
        self.people["ben"].email = "ana@works.example"
        self.people["ben"].save()
        self.refused()

    def test_a_token_of_somebody_else_is_refused(self):
        for other in ({"aud": "another"}, {"iss": "http://other.example"}, {"nonce": "x"}):
            self.stand_in.other = other
            self.refused()
        self.stand_in.other = {"exp": 1}
        self.refused()
        self.stand_in.other = {}
        self.stand_in.signed_by = rsa.generate_private_key(public_exponent=65537, key_size=2048)
        self.refused()


class Off(ApiCase):
    def test_it_is_off_unless_it_is_set_up(self):
        self.assertFalse(self.ana.get("/api/v1/session").json()["single"])
        self.assertEqual(Client().get("/sso/authenticate/").status_code, 404)

    def test_half_of_it_names_what_is_missing(self):
        with self.assertRaises(ImproperlyConfigured) as refused:
            from_environment(Environment({"VERIFYLOOP_OIDC_CLIENT": "x"}), "/")
        self.assertIn("VERIFYLOOP_OIDC_SECRET", str(refused.exception))
        whole = Environment({f"VERIFYLOOP_{name}": "x" for name in NEEDED.values()})
        self.assertEqual(from_environment(whole, "/")["OIDC_ISSUER"], "x")
