"""Strangers at the door: wrong passwords, addresses that are none, and what stays on a tablet."""

from __future__ import annotations

import io
import logging
from datetime import timedelta
from unittest import mock

from axes.models import AccessAttempt, AccessFailureLog, AccessLog
from django.core.management import call_command
from django.test import Client
from django.utils import timezone

from tests.core.detectors import BOTTLES, DETECTORS
from tests.server import detectors, works
from tests.server.base import ApiCase
from tests.server.test_walks import TOLD_OF_GAS
from tests.server.walker import TypedWalk
from tests.server.works import PASSWORD, event
from verifyloop.accounts.guessing import FIRST, LONGEST, known
from verifyloop.accounts.models import KnownDevice
from verifyloop.register.models import Entry


def quiet(case):
    """Wrong passwords are tried by the dozen here: their log lines are of no use."""
    log = logging.getLogger("axes")
    level = log.level
    log.setLevel(logging.ERROR)
    case.addCleanup(log.setLevel, level)


class SigningIn(ApiCase):
    def setUp(self):
        super().setUp()
        self.door = self.fresh()
        quiet(self)

    def fresh(self):
        door = Client(enforce_csrf_checks=True)
        door.defaults["HTTP_X_CSRFTOKEN"] = door.get("/api/v1/session").json()["csrf_token"]
        return door

    def try_it(self, password, username="ana", **more):
        body = {"username": username, "password": password}
        said = self.door.post("/api/v1/session", body, content_type="application/json", **more)
        if said.status_code == 200:
            self.door.defaults["HTTP_X_CSRFTOKEN"] = said.json()["csrf_token"]
        return said

    def test_two_hundred_wrong_ones_are_counted_logged_and_locked(self):
        with self.assertLogs("axes", "WARNING") as logged:
            codes = [self.try_it(f"guess {n}").json()["code"] for n in range(200)]
        self.assertTrue(all("ana" in line for line in logged.output))
        self.assertEqual(len(logged.output), 6)
        self.assertEqual(codes[:4], ["session.refused"] * 4)
        self.assertEqual(set(codes[4:]), {"password.locked"})
        self.assertEqual(AccessFailureLog.objects.filter(username="ana").count(), 5)
        said = self.try_it(PASSWORD)
        self.assertEqual((said.status_code, said.json()["code"]), (403, "password.locked"))
        self.assertIn("min", said.json()["remedy"])

    def test_the_right_person_gets_in_again_after_a_while_that_grows(self):
        for _ in range(5):
            self.try_it("guess")
        start = timezone.now()
        for minutes, lets_in in ((4, False), (20, True)):
            with (
                mock.patch(
                    "django.utils.timezone.now", return_value=start + timedelta(minutes=minutes)
                ),
                mock.patch(
                    "axes.handlers.proxy.now", return_value=start + timedelta(minutes=minutes)
                ),
            ):
                self.assertEqual(self.try_it(PASSWORD).status_code == 200, lets_in)

    def later(self, **ago):
        """Every wrong one so far was so long ago, and no right one since."""
        AccessLog.objects.all().delete()
        for model in (AccessAttempt, AccessFailureLog):
            for row in model.objects.all():
                then = row.attempt_time - timedelta(**ago)
                model.objects.filter(pk=row.pk).update(attempt_time=then)

    def test_each_further_five_double_the_time_and_none_while_locked_prolongs_it(self):
        lasts = []
        for _ in range(4):
            for _ in range(9):
                said = self.try_it("guess").json()
            lasts.append(int(said["remedy"].split()[1]))
            self.later(minutes=lasts[-1] + 1)
        first = FIRST // timedelta(minutes=1)
        self.assertEqual(lasts, [first * 2**n for n in range(4)])
        self.assertLess(max(lasts), LONGEST // timedelta(minutes=1))

    def test_no_password_is_hashed_while_it_is_locked(self):
        for _ in range(5):
            self.try_it("guess")
        with mock.patch("django.contrib.auth.hashers.check_password") as hashed:
            self.assertEqual(self.try_it(PASSWORD).status_code, 403)
        hashed.assert_not_called()

    def test_one_name_from_many_addresses_and_many_names_from_one(self):
        for n in range(30):
            self.try_it("guess", REMOTE_ADDR=f"10.0.0.{n}")
        said = self.try_it(PASSWORD, REMOTE_ADDR="10.0.1.1")
        self.assertEqual((said.status_code, said.json()["code"]), (403, "password.locked"))
        people = self.client_of("pia").get("/api/v1/people").json()["people"]
        self.assertEqual([p["username"] for p in people if p["locked"]], ["ana"])
        AccessFailureLog.objects.all().delete()
        for n in range(60):
            self.try_it("guess", f"name{n}", REMOTE_ADDR="10.0.2.1")
        self.assertEqual(self.try_it(PASSWORD, REMOTE_ADDR="10.0.2.1").status_code, 403)
        self.assertEqual(self.try_it(PASSWORD, REMOTE_ADDR="10.0.2.2").status_code, 200)

    def test_a_device_that_is_known_waits_and_is_never_locked(self):
        """A lock at a machine must come off, whoever guesses elsewhere."""
        self.must(self.try_it(PASSWORD))
        for n in range(40):
            self.fresh().post("/api/v1/session", {"username": "ana", "password": "guess"},
                              "application/json", REMOTE_ADDR=f"10.0.0.{n}")  # fmt: skip
        self.must(self.try_it(PASSWORD))
        for _ in range(5):
            self.assertEqual(self.try_it("guess").json()["code"], "session.refused")
        said = self.try_it(PASSWORD).json()
        self.assertEqual(said["code"], "password.wait")
        KnownDevice.objects.update(wrong_at=timezone.now() - timedelta(seconds=21))
        self.must(self.try_it(PASSWORD))
        self.assertEqual(self.try_it("guess", "ben").json()["code"], "session.refused")
        self.assertIsNone(known(self.try_it(PASSWORD).wsgi_request, "ben"))

    def test_a_planner_lifts_it_on_screen_and_the_register_keeps_it(self):
        for _ in range(6):
            self.try_it("guess")
        pia = self.client_of("pia")
        found = pia.get("/api/v1/people").json()["people"]
        self.assertEqual([p["username"] for p in found if p["locked"]], ["ana"])
        self.must(self.ana.post("/api/v1/people/ana/unlock"), 403)
        self.assertFalse(self.must(pia.post("/api/v1/people/ana/unlock"))["locked"])
        self.must(self.try_it(PASSWORD))
        self.assertEqual(Entry.objects.filter(kind="lifted", account="pia").count(), 1)

    def test_a_command_lifts_it(self):
        for _ in range(6):
            self.try_it("guess")
        self.assertEqual(self.try_it(PASSWORD).status_code, 403)
        call_command("unlock", "ana", stdout=io.StringIO())
        self.assertEqual(self.try_it(PASSWORD).status_code, 200)

    def test_others_and_other_devices_are_not_kept_out(self):
        for _ in range(9):
            self.try_it("guess")
        self.assertEqual(self.try_it(PASSWORD, "ben").status_code, 200)
        self.door = self.fresh()
        self.assertEqual(self.try_it(PASSWORD, REMOTE_ADDR="10.0.0.9").status_code, 200)

    def test_a_name_that_is_none_is_locked_alike(self):
        codes = [self.try_it("x", "nobody").json()["code"] for _ in range(6)]
        self.assertEqual(codes[-1], "password.locked")


class Signing(ApiCase):
    def setUp(self):
        super().setUp()
        quiet(self)

    def test_wrong_passwords_at_a_signature_count_and_lock(self):
        job = self.open()
        self.must(self.send(job, *works.prepared(), *works.readings(), *works.returned()))
        codes = [self.send(job, event("signed"), password="guess").json()["code"] for _ in range(6)]
        self.assertEqual(codes, ["password.wrong"] * 4 + ["password.locked"] * 2)
        self.assertEqual(AccessFailureLog.objects.filter(username="ana").count(), 5)
        self.assertEqual(self.send(job, event("signed"), password=PASSWORD).status_code, 403)
        call_command("unlock", "ana", stdout=io.StringIO())
        self.must(self.send(job, event("signed"), password=PASSWORD))

    def test_a_second_person_is_asked_for_their_password_only_where_one_is_needed(self):
        """Else every step would tell whether a password of somebody else is right."""
        detectors.shelf()
        detectors.detector("X-1", "gas_zero_span")
        walk = TypedWalk(self, "X-1", TOLD_OF_GAS, DETECTORS["gas_zero_span"][1], BOTTLES)
        walk.walk("judge")
        data = {"step": "span", "way": "second_person", "reason": "x", "username": "ben"}
        for password in ("guess", PASSWORD):
            said = walk.post(walk.seen["seq"], event("agreed", **data, password=password))
            self.assertEqual(said.json()["code"], "force.not_due")
        self.assertEqual(AccessFailureLog.objects.count(), 0)


class Answers(ApiCase):
    def test_an_address_or_a_way_that_is_none_says_so_like_every_refusal(self):
        for answer, status, code in (
            (self.ana.get("/api/v1/nothing"), 404, "request.unknown"),
            (self.ana.get("/api/v1/jobs/none/nothing"), 404, "request.unknown"),
            (self.ana.put("/api/v1/today"), 405, "request.way"),
            (self.ana.get("/api/v1/jobs/none"), 404, "job.unknown"),
        ):
            with self.subTest(code=code):
                said = answer.json()
                self.assertEqual((answer.status_code, said["code"]), (status, code))
                self.assertTrue(said["message"] and said["remedy"])

    def test_no_answer_stays_in_a_cache(self):
        job = self.signed_job()
        for path in (
            "/api/v1/session",
            "/api/v1/today",
            f"/api/v1/jobs/{job}",
            f"/api/v1/records/{job}/certificate.pdf",
            f"/api/v1/records/{job}/certificate.json",
            "/api/v1/nothing",
        ):
            self.assertEqual(self.ana.get(path)["Cache-Control"], "no-store", path)

    def test_half_a_character_and_a_number_that_is_none_are_refused(self):
        job = self.open()
        for body in ('{"events": [{"data": {"text": "\\ud800"}}]}', '{"expected_seq": NaN}'):
            said = self.ana.post(
                f"/api/v1/jobs/{job}/events", body, content_type="application/json"
            )
            self.assertEqual(said.status_code, 400)

    def test_who_else_is_in_a_job(self):
        job = self.open()
        ben = self.client_of("ben")
        self.assertEqual(self.must(self.ana.get(f"/api/v1/jobs/{job}/here")), [])
        self.assertEqual(self.must(ben.get(f"/api/v1/jobs/{job}/here")), ["Ana Test"])
        self.assertEqual(self.must(self.ana.get(f"/api/v1/jobs/{job}/here")), ["Ben Test"])
        later = timezone.now() + timedelta(seconds=30)
        with mock.patch("django.utils.timezone.now", return_value=later):
            self.assertEqual(self.must(self.ana.get(f"/api/v1/jobs/{job}/here")), [])

    def test_what_is_on_is_named_to_who_worked_on_it(self):
        job = self.open()
        self.must(self.send(job, *works.prepared()))
        mine = self.must(self.ana.get("/api/v1/safety/mine"))["items"]
        self.assertEqual({(i["tag"], i["kind"]) for i in mine}, {("PT-1", k) for k in ON})
        self.assertEqual(self.must(self.client_of("ben").get("/api/v1/safety/mine"))["items"], [])


ON = ("bypass", "connection")
