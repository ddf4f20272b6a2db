"""A plant of its own: its first start, people by invitation, and what nobody may do."""

from __future__ import annotations

import io
import tempfile
from datetime import timedelta
from pathlib import Path
from unittest import mock

from django.contrib.auth.models import Group
from django.core.cache import cache
from django.core.management import CommandError, call_command
from django.test import Client, TestCase, override_settings
from django.utils import timezone

from tests.server.base import ApiCase
from tests.server.works import PASSWORD
from verifyloop.accounts.models import OneTimeLink, User
from verifyloop.plant.models import Site
from verifyloop.plant.start import first_key

JSON = "application/json"
GOOD = "three quiet words"
SITE = {
    "name": "Fen Works",
    "time_zone": "Europe/Amsterdam",
    "decimal_sign": ",",
    "units": {"pressure": "kPa"},
}
PERSON = {"username": "pia", "first_name": "Pia", "last_name": "Test", "password": GOOD}


def stranger():
    client = Client(enforce_csrf_checks=True)
    client.defaults["HTTP_X_CSRFTOKEN"] = client.get("/api/v1/session").json()["csrf_token"]
    return client


@override_settings(PASSWORD_HASHERS=["django.contrib.auth.hashers.MD5PasswordHasher"])
class FirstStart(TestCase):
    def setUp(self):
        cache.clear()
        place = tempfile.TemporaryDirectory()
        self.addCleanup(place.cleanup)
        beside = self.settings(DATA_DIR=Path(place.name))
        beside.enable()
        self.addCleanup(beside.disable)

    def start(self, key=None, site=SITE, person=PERSON, **more):
        sent = {"key": first_key() if key is None else key, "site": site, "person": person}
        return stranger().post("/api/v1/site/start", {**sent, **more}, content_type=JSON)

    def test_the_first_planner_makes_the_site_once(self):
        self.assertTrue(stranger().get("/api/v1/session").json()["empty"])
        said = self.start().json()
        self.assertEqual((said["user"]["role"], said["empty"]), ("planner", False))
        site = Site.objects.get()
        self.assertEqual(
            (site.name, site.time_zone, site.demo), ("Fen Works", "Europe/Amsterdam", False)
        )
        self.assertEqual(self.start(key="x").json()["code"], "start.done")
        self.assertEqual(User.objects.count(), 1)

    def test_the_key_is_that_of_the_console(self):
        said = self.start(key="guess")
        self.assertEqual((said.status_code, said.json()["field"]), (403, "key"))
        self.assertFalse(User.objects.exists() or Site.objects.exists())

    def test_each_wrong_entry_names_its_field_and_nothing_is_made(self):
        for field, site, person in (
            ("name", {**SITE, "name": " "}, PERSON),
            ("time_zone", {**SITE, "time_zone": "Mars/Base"}, PERSON),
            ("decimal_sign", {**SITE, "decimal_sign": ";"}, PERSON),
            ("units.pressure", {**SITE, "units": {"pressure": "kg"}}, PERSON),
            ("username", SITE, {**PERSON, "username": "Pia Test"}),
            ("password", SITE, {**PERSON, "password": "1234567890"}),
            ("password", SITE, {**PERSON, "password": "short"}),
            ("email", SITE, {**PERSON, "email": "pia"}),
            ("last_name", SITE, {**PERSON, "last_name": ""}),
        ):
            with self.subTest(field):
                said = self.start(site=site, person=person)
                self.assertEqual((said.status_code, said.json()["field"]), (422, field))
                self.assertTrue(said.json()["remedy"])
        self.assertFalse(User.objects.exists() or Site.objects.exists())

    def test_days_are_those_of_the_site(self):
        self.start(site={**SITE, "time_zone": "Pacific/Kiritimati"})
        late = timezone.datetime(2026, 3, 4, 12, 0, tzinfo=timezone.get_default_timezone())
        client = Client()
        client.force_login(User.objects.get())
        with mock.patch("django.utils.timezone.now", return_value=late):
            self.assertEqual(client.get("/api/v1/today").json()["date"], "2026-03-05")

    def test_the_demo_never_fills_a_plant_and_a_plant_never_starts_on_the_demo(self):
        self.start()
        with self.assertRaisesMessage(CommandError, "data of a plant"):
            call_command("demo", stdout=io.StringIO())
        self.assertEqual(User.objects.count(), 1)
        Site.objects.update(demo=True)
        with self.assertRaisesMessage(CommandError, "make demo"):
            call_command("start", stdout=io.StringIO())

    def test_the_console_says_how_to_begin(self):
        said = io.StringIO()
        call_command("start", address="http://here", stdout=said)
        self.assertIn(f"http://here/?key={first_key()}", said.getvalue())


class People(ApiCase):
    def setUp(self):
        super().setUp()
        self.pia = self.client_of("pia")

    def invited(self, **more):
        person = {"username": "noor", "first_name": "Noor", "last_name": "New"}
        sent = {**person, "role": "reviewer", "own": PASSWORD, **more}
        return self.must(self.pia.post("/api/v1/people", sent, content_type=JSON))

    def one(self, name, client=None):
        found = (client or self.pia).get("/api/v1/people").json()["people"]
        return next(p for p in found if p["username"] == name)

    def change(self, name, client=None, **more):
        before = self.one(name)
        sent = {k: before[k] for k in ("role", "active", "email", "version")}
        return (client or self.pia).put(
            f"/api/v1/people/{name}", {**sent, **more}, content_type=JSON
        )

    def test_an_invitation_works_once(self):
        made = self.invited()
        self.assertFalse(made["person"]["ready"])
        address = "/api/v1/people" + made["path"]
        door = stranger()
        self.assertEqual(door.get(address).json()["name"], "Noor New")
        weak = door.post(address, {"password": "noor"}, content_type=JSON)
        self.assertEqual((weak.status_code, weak.json()["field"]), (422, "password"))
        said = self.must(door.post(address, {"password": GOOD}, content_type=JSON))
        self.assertEqual(said["user"]["role"], "reviewer")
        self.assertEqual(stranger().get(address).json()["code"], "link.ended")
        again = stranger().post(address, {"password": GOOD}, content_type=JSON)
        self.assertEqual(again.status_code, 404)
        token = made["path"].rsplit("/", 1)[1]
        self.assertFalse(OneTimeLink.objects.filter(digest__contains=token).exists())

    def test_a_link_ends_after_its_week_and_by_a_newer_one(self):
        first = "/api/v1/people" + self.invited()["path"]
        second = self.must(self.pia.post("/api/v1/people/noor/link", {"own": PASSWORD}, JSON))
        self.assertEqual(stranger().get(first).status_code, 404)
        self.assertEqual(stranger().get("/api/v1/people" + second["path"]).status_code, 200)
        OneTimeLink.objects.update(expires_at=timezone.now() - timedelta(seconds=1))
        self.assertEqual(stranger().get("/api/v1/people" + second["path"]).status_code, 404)

    def test_who_has_ended_is_out_at_once_and_never_gone(self):
        self.assertEqual(self.ana.get("/api/v1/today").status_code, 200)
        self.must(self.change("ana", active=False))
        self.assertEqual(self.ana.get("/api/v1/today").status_code, 401)
        body = {"username": "ana", "password": PASSWORD}
        refused = stranger().post("/api/v1/session", body, content_type=JSON)
        self.assertEqual(refused.json()["code"], "session.refused")
        self.assertTrue(User.objects.filter(username="ana").exists())
        self.must(self.change("ana", active=True))

    def test_a_role_is_its_group_and_what_it_may(self):
        self.must(self.change("ben", role="read-only"))
        ben = User.objects.get(username="ben")
        self.assertEqual([g.name for g in ben.groups.all()], ["read-only"])
        client = self.client_of("ben")
        self.assertEqual(client.get("/api/v1/session").json()["user"]["can"], [])
        opened = client.post("/api/v1/jobs", {"tag": "PT-1"}, content_type=JSON)
        self.assertEqual(opened.status_code, 403)
        self.assertEqual(Group.objects.filter(name="read-only").count(), 1)

    def test_the_last_write_does_not_win_unnoticed(self):
        old = self.one("ben")["version"]
        self.must(self.change("ben", role="reviewer"))
        said = self.change("ben", role="planner", version=old)
        self.assertEqual((said.status_code, said.json()["code"]), (409, "version.old"))
        self.assertEqual(self.one("ben")["role"], "reviewer")

    def test_somebody_can_always_invite(self):
        for more in ({"active": False}, {"role": "technician"}):
            said = self.change("pia", **more)
            self.assertEqual((said.status_code, said.json()["code"]), (409, "people.last"))
        self.must(self.change("rea", role="administrator"))
        self.must(self.change("pia", role="technician"))

    def test_only_planners_and_administrators_see_and_change_people(self):
        for name in ("ana", "rea"):
            client = self.client_of(name)
            self.assertEqual(client.get("/api/v1/people").status_code, 403)
            self.assertEqual(self.change("ben", client=client, role="planner").status_code, 403)
            link = client.post("/api/v1/people/pia/link", {"own": PASSWORD}, JSON)
            self.assertEqual(link.status_code, 403)
        self.assertFalse(OneTimeLink.objects.exists())

    def test_a_password_of_ones_own_ends_the_other_sessions(self):
        other = self.client_of("ana")
        sent = {"old": "wrong", "new": GOOD}
        wrong = self.ana.post("/api/v1/people/me/password", sent, content_type=JSON)
        self.assertEqual((wrong.status_code, wrong.json()["field"]), (403, "old"))
        sent = {"old": PASSWORD, "new": "ana-ana"}
        weak = self.ana.post("/api/v1/people/me/password", sent, content_type=JSON)
        self.assertEqual((weak.status_code, weak.json()["field"]), (422, "new"))
        sent = {"old": PASSWORD, "new": GOOD}
        self.must(self.ana.post("/api/v1/people/me/password", sent, content_type=JSON))
        self.assertEqual(self.ana.get("/api/v1/today").status_code, 200)
        self.assertEqual(other.get("/api/v1/today").status_code, 401)

    def test_the_site_is_changed_by_who_read_it_as_it_is(self):
        Site.objects.create(name="Works")
        said = self.pia.get("/api/v1/site").json()
        sent = {**said, "name": "Fen Works"}
        self.assertEqual(self.ana.put("/api/v1/site", sent, content_type=JSON).status_code, 403)
        self.assertEqual(
            self.must(self.pia.put("/api/v1/site", sent, content_type=JSON))["name"], "Fen Works"
        )
        old = self.pia.put("/api/v1/site", sent, content_type=JSON)
        self.assertEqual((old.status_code, old.json()["code"]), (409, "version.old"))
