"""Second factors and PINs: what they are asked for, where they count, and when they are dead."""

from __future__ import annotations

from datetime import timedelta
from unittest import mock

import pyotp
from django.test import Client, override_settings
from django.utils import timezone

from tests.server import works
from tests.server.base import ApiCase
from tests.server.works import PASSWORD, event
from verifyloop.accounts.models import CodeApp, KnownDevice, Pin, SignInRules
from verifyloop.records.verify import check_all
from verifyloop.register.models import Entry

JSON = "application/json"


class Factors(ApiCase):
    def setUp(self):
        super().setUp()
        self.door = self.fresh()

    def fresh(self):
        door = Client(enforce_csrf_checks=True)
        door.defaults["HTTP_X_CSRFTOKEN"] = door.get("/api/v1/session").json()["csrf_token"]
        return door

    def sign_in(self, name="ana", door=None, status=200, **more):
        door = door or self.door
        said = self.must(
            door.post("/api/v1/session", {"username": name, "password": PASSWORD, **more}, JSON),
            status,
        )
        if status == 200:
            door.defaults["HTTP_X_CSRFTOKEN"] = said["csrf_token"]
        return said

    def post(self, path, status=200, door=None, **body):
        return self.must((door or self.door).post(f"/api/v1/ways-in/{path}", body, JSON), status)

    def with_app(self, name="ana"):
        """Somebody who took an app into use; its codes, and the recovery codes."""
        self.sign_in(name)
        begun = self.post("app", own=PASSWORD)
        codes = pyotp.TOTP(begun["secret"])
        self.assertTrue(begun["picture"].startswith("data:image/svg+xml"))
        self.assertIn(f"Verify%20Loop:{name}", begun["address"])
        self.post("app/first", 403, code="000000")
        paper = self.post("app/first", code=codes.now())["codes"]
        self.assertEqual(len(set(paper)), 10)
        return codes, paper

    def later(self, seconds=60):
        return mock.patch(
            "django.utils.timezone.now", return_value=timezone.now() + timedelta(seconds=seconds)
        )


class Codes(Factors):
    def test_the_code_of_the_app_is_asked_and_good_once(self):
        codes, _ = self.with_app()
        door = self.fresh()
        said = self.sign_in(door=door, status=403)
        self.assertEqual((said["code"], said["field"]), ("factor.needed", "code"))
        with self.later():
            now = codes.at(timezone.now())
            self.assertEqual(
                self.sign_in(door=door, status=403, code="111111")["code"], "factor.wrong"
            )
            self.sign_in(door=door, code=now)
            again = self.sign_in(door=self.fresh(), status=403, code=now)
            self.assertEqual(again["code"], "factor.wrong")

    def test_guessing_codes_locks_as_guessing_passwords_does(self):
        self.with_app()
        door = self.fresh()
        for n in range(5):
            said = self.sign_in(door=door, status=403, code=f"{n:06}")
        self.assertEqual(said["code"], "password.locked")

    def test_a_recovery_code_is_good_once_and_its_person_is_told(self):
        _, paper = self.with_app()
        door = self.fresh()
        self.sign_in(door=door, code=paper[0].upper())
        told = door.get("/api/v1/session").json()["user"]["told"]
        self.assertIn("A recovery code was used; 9 are left.", told[-1])
        self.sign_in(door=self.fresh(), status=403, code=paper[0])

    def test_neither_database_nor_register_tells_the_secret(self):
        self.sign_in()
        secret = self.post("app", own=PASSWORD)["secret"]
        self.post("app/first", code=pyotp.TOTP(secret).now())
        self.assertNotIn(secret, CodeApp.objects.get().secret)
        for said in Entry.objects.values_list("said", flat=True):
            self.assertNotIn(secret, said)
            self.assertNotIn(CodeApp.objects.get().secret, said)
        self.assertEqual(list(check_all()), [])

    def test_what_changes_a_way_in_takes_password_and_factor(self):
        codes, _ = self.with_app()
        for path in ("app", "recovery", "end", "passkeys/options"):
            with self.subTest(path):
                self.assertEqual(self.post(path, 403, own="no")["field"], "own")
                self.assertEqual(self.post(path, 403, own=PASSWORD)["code"], "factor.needed")
        with self.later():
            left = self.post("end", own=PASSWORD, code=codes.at(timezone.now()))
        self.assertEqual((left["app"], left["recovery_left"]), (False, 0))
        self.sign_in(door=self.fresh())

    def test_new_recovery_codes_end_those_of_before(self):
        codes, paper = self.with_app()
        with self.later():
            new = self.post("recovery", own=PASSWORD, code=codes.at(timezone.now()))["codes"]
        self.sign_in(door=self.fresh(), status=403, code=paper[0])
        self.sign_in(door=self.fresh(), code=new[0])

    def test_a_link_sets_the_password_and_the_factor_is_still_asked(self):
        self.with_app()
        pia = self.client_of("pia")
        path = self.must(pia.post("/api/v1/people/ana/link", {"own": PASSWORD}, JSON))["path"]
        said = self.must(
            self.fresh().post(f"/api/v1/people{path}", {"password": "three quiet words"}, JSON)
        )
        self.assertIsNone(said["user"])

    def test_who_lost_them_is_helped_by_the_rule_of_links_and_it_is_told(self):
        self.with_app()
        pia = self.client_of("pia")
        path = "/api/v1/ways-in/of/ana/end"
        self.must(self.ana.post(path, {"own": PASSWORD}, JSON), 403)
        self.assertEqual(self.must(pia.post(path, {"own": "no"}, JSON), 403)["field"], "own")
        own = pia.post("/api/v1/ways-in/of/pia/end", {"own": PASSWORD}, JSON)
        self.assertEqual(own.json()["code"], "link.own")
        self.must(pia.post(path, {"own": PASSWORD}, JSON))
        door = self.fresh()
        self.assertIn("ended", self.sign_in(door=door)["user"]["told"][-1])
        self.assertIn("ended by Pia Test (pia)", self.mine(door)["reset"])

    def mine(self, door):
        return self.must(door.get("/api/v1/ways-in/mine"))

    def test_a_role_that_needs_one_does_nothing_before_it_is_there(self):
        SignInRules.objects.create(factor_roles=["technician"])
        said = self.sign_in()
        self.assertEqual((said["user"]["bare"], said["user"]["can"]), (True, []))
        token = {"name": "x", "scope": "records", "days": 9, "password": PASSWORD}
        refused = self.must(self.door.post("/api/v1/tokens", token, JSON), 403)
        self.assertEqual(refused["code"], "factor.missing")
        refused = self.must(self.door.post("/api/v1/jobs", {"tag": "PT-1"}, JSON), 403)
        self.assertEqual(refused["code"], "factor.missing")
        secret = self.post("app", own=PASSWORD)["secret"]
        self.post("app/first", code=pyotp.TOTP(secret).now())
        self.must(self.door.post("/api/v1/jobs", {"tag": "PT-1"}, JSON))

    def test_a_script_has_no_ways_in(self):
        made = self.must(
            self.ana.post(
                "/api/v1/tokens",
                {"name": "x", "scope": "records", "days": 9, "password": PASSWORD},
                JSON,
            )
        )
        script = {"HTTP_AUTHORIZATION": f"Bearer {made['token']}"}
        answer = Client().get("/api/v1/ways-in/mine", **script)
        self.assertIn(answer.status_code, (401, 403))

    def test_no_passkeys_where_browsers_refuse_them(self):
        self.sign_in()
        for host, here in (
            ("127.0.0.1:8000", False),
            ("localhost:8000", True),
            ("loops.example", False),
        ):
            with override_settings(ALLOWED_HOSTS=["*"]):
                said = self.door.get("/api/v1/session", HTTP_HOST=host).json()
            self.assertEqual(said["passkeys"], here, host)
        with override_settings(ALLOWED_HOSTS=["*"]):
            refused = self.door.post(
                "/api/v1/ways-in/passkeys/options", {"own": PASSWORD}, JSON, HTTP_HOST="127.0.0.1"
            )
        self.assertEqual(refused.json()["code"], "passkey.not_here")


class Pins(Factors):
    PIN = "738152"

    def setUp(self):
        super().setUp()
        SignInRules.objects.create(pin=True)
        self.sign_in()

    def set_pin(self, status=200, pin=PIN, **more):
        body = {"own": PASSWORD, "pin": pin, **more}
        return self.must(self.door.put("/api/v1/ways-in/pin", body, JSON), status)

    def ready(self):
        job = self.open(client=self.door)
        done = (*works.prepared(), *works.readings(), *works.returned())
        self.must(self.send(job, *done, client=self.door))
        return job

    def sign(self, job, said, status=200):
        answer = self.send(job, event("signed"), client=self.door, password=said)
        return self.must(answer, status)

    def test_it_signs_on_a_device_that_is_known(self):
        self.set_pin()
        self.assertTrue(self.door.get("/api/v1/session").json()["user"]["pin"])
        job = self.ready()
        self.sign(job, self.PIN)

    def test_elsewhere_it_is_a_wrong_password(self):
        self.set_pin()
        job = self.ready()
        KnownDevice.objects.all().delete()
        self.assertEqual(self.sign(job, self.PIN, 403)["code"], "password.wrong")
        self.sign(job, PASSWORD)

    def test_where_the_site_uses_none_it_signs_nothing(self):
        self.set_pin()
        job = self.ready()
        SignInRules.objects.update(pin=False)
        self.sign(job, self.PIN, 403)
        self.assertEqual(self.set_pin(403)["code"], "pin.not_here")

    def test_after_five_wrong_ones_it_is_dead_and_the_password_goes_on(self):
        self.set_pin()
        job = self.ready()
        for n in range(5):
            self.sign(job, f"90{n}417", 403)
        self.assertTrue(Pin.objects.get().dead)
        told = self.door.get("/api/v1/session").json()["user"]["told"]
        self.assertIn("Your PIN is dead", told[-1])
        self.sign(job, self.PIN, 403)
        self.sign(job, PASSWORD)
        self.assertEqual([f.what for f in check_all()], [])

    def test_a_right_one_counts_from_the_beginning_again(self):
        self.set_pin()
        job = self.ready()
        for n in range(4):
            self.sign(job, f"90{n}417", 403)
        self.sign(job, self.PIN)
        self.assertEqual(Pin.objects.get().tries, 0)

    def test_it_is_not_guessed_and_takes_the_whole_proof(self):
        for pin in ("123456", "987654", "111111", "121212", "19841231", "12345", "abcdef", ""):
            self.assertEqual(self.set_pin(422, pin=pin)["field"], "pin", pin)
        self.assertEqual(self.set_pin(403, own="no")["field"], "own")

    def test_it_opens_nothing_else(self):
        self.set_pin()
        for path, body in (
            ("/api/v1/session", {"username": "ana", "password": self.PIN}),
            ("/api/v1/tokens", {"name": "x", "scope": "records", "days": 9, "password": self.PIN}),
            ("/api/v1/people/me/password", {"old": self.PIN, "new": "three quiet words"}),
            ("/api/v1/ways-in/end", {"own": self.PIN}),
        ):
            self.assertEqual(self.door.post(path, body, JSON).status_code, 403, path)
