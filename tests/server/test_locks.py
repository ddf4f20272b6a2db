"""Locks over HTTP: the password of who hung it, nobody else's, and a planner's decision."""

from __future__ import annotations

from tests.server import plant
from tests.server.base import ApiCase
from tests.server.walker import RigWalk
from tests.server.works import PASSWORD, event

HUNG = {"step": "on_locked", "proven": "start pressed: it stays still"}
GROUNDS = {"procedure": "works rule 7", "reached": "called twice", "reason": "beets wait"}


class Locks(ApiCase):
    def setUp(self):
        super().setUp()
        plant.shelf()
        plant.rig(plant.instrument("X-1", "belt_routine"), "belt_routine")
        self.walk = RigWalk(self, "X-1", plant.told("belt_routine"))
        self.walk.walk("on_locked")
        self.job = self.walk.job

    def put(self, one, client=None, password=""):
        with self.walk.at():
            return self.send(self.job, one, client=client, password=password)

    def refused(self, answer, status, code):
        self.assertEqual(answer.status_code, status, answer.content)
        self.assertEqual(answer.json()["code"], code)
        self.assertTrue(answer.json()["remedy"])

    def test_two_people_and_each_takes_off_their_own_with_their_password(self):
        ben = self.client_of("ben")
        self.must(self.put(event("lock_hung", **HUNG)))
        self.must(self.put(event("lock_hung", **HUNG), ben))
        off = event("lock_taken_off", step="on_locked")
        self.refused(self.put(off, ben, "wrong-word-1"), 403, "password.wrong")
        state = self.must(self.put(off, ben, PASSWORD))
        locks = [(o["by"], o["account"]) for o in state["on"] if o["kind"] == "lock"]
        self.assertEqual(locks, [("Ana Test", "ana")])
        again = event("lock_taken_off", step="on_locked")
        self.refused(self.put(again, ben, PASSWORD), 422, "lock.not_yours")
        strip = self.must(self.ana.get("/api/v1/safety"))["items"]
        self.assertIn("lock of Ana Test", " ".join(str(i) for i in strip))

    def test_of_somebody_absent_only_a_planner_decides(self):
        self.must(self.put(event("lock_hung", **HUNG)))
        said = {"step": "on_locked", "account": "ana", **GROUNDS}
        ben, pia = self.client_of("ben"), self.client_of("pia")
        self.refused(self.put(event("lock_ended", **said), ben, PASSWORD), 403, "role.not_allowed")
        bare = {**said, "reached": ""}
        self.refused(self.put(event("lock_ended", **bare), pia, PASSWORD), 422, "reason.missing")
        self.refused(self.put(event("lock_ended", **said), pia), 403, "password.wrong")
        state = self.must(self.put(event("lock_ended", **said), pia, PASSWORD))
        self.assertEqual([o for o in state["on"] if o["kind"] == "lock"], [])
        lines = self.must(self.ana.get(f"/api/v1/jobs/{self.job}/history"))
        self.assertIn("ended by decision", lines[0]["text"])
        self.assertEqual(lines[0]["by"], "Pia Test")

    def test_the_job_goes_to_its_signature_with_every_lock_off(self):
        state = self.walk.walk()
        self.assertEqual(state["status"], "signed")
        said = self.must(self.ana.get(f"/api/v1/records/{self.job}/certificate.json"))
        rows = next(t["rows"] for t in said["tables"] if t["title"] == "Locks")
        self.assertEqual({row[3] for row in rows}, {"own hand"})
