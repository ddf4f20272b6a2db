"""Who is signed in is remembered for seconds; whatever changes it counts at once, everywhere."""

from __future__ import annotations

from django.test import SimpleTestCase

from tests.process import RealServer
from tests.server.test_at_once import Person, devices
from tests.server.works import PASSWORD

#: Enough that each of two processes is asked.
ASKED = 8


class Remembered(SimpleTestCase):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.server = RealServer.of_class(cls, VERIFYLOOP_WORKERS="2")

    def person(self, name):
        return devices(self.server.address, 1, name)[0]

    def said(self, person, path, body=None):
        """Ask again and again over connections of their own, so that both processes answer."""
        found = set()
        for _ in range(ASKED):
            found.add(person.said(path, body)[0])
        return found

    def everywhere(self, person):
        self.assertEqual(self.said(person, "today"), {200})

    def test_a_sign_out_counts_in_every_process(self):
        ana = self.person("ana")
        self.everywhere(ana)
        before = Person(self.server.address)
        before.like(ana)
        self.assertEqual(ana.said("session", method="DELETE")[0], 200)
        self.assertEqual(self.said(before, "today"), {401})

    def changed(self, planner, name, **more):
        now = next(p for p in planner.call("people")["people"] if p["username"] == name)
        sent = {"role": now["role"], "active": True, "version": now["version"], **more}
        planner.call(f"people/{name}", {**sent, "own": PASSWORD}, "PUT")

    def test_another_role_and_the_end_of_an_account_count_in_every_process(self):
        ben, pia = self.person("ben"), self.person("pia")
        self.everywhere(ben)
        note = {"what": "switched_off"}
        self.assertEqual(self.said(ben, "instruments/PT-1/happened", note), {422})
        self.changed(pia, "ben", role="read-only")
        self.assertEqual(self.said(ben, "instruments/PT-1/happened", note), {403})
        self.changed(pia, "ben", active=False)
        self.assertEqual(self.said(ben, "today"), {401})

    def test_a_command_counts_in_every_process(self):
        rea = self.person("rea")
        self.everywhere(rea)
        ended = (
            "from verifyloop.accounts.models import User;"
            "User.objects.filter(username='rea').update(is_active=False)"
        )
        done = self.server.manage("shell", "-c", ended)
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertEqual(self.said(rea, "today"), {401})
