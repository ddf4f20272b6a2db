"""A round is kept on the server: anybody may take it over, one signature signs what is ready."""

from __future__ import annotations

from tests.core.detectors import BOTTLES, DETECTORS
from tests.server import detectors, works
from tests.server.base import ApiCase
from tests.server.test_walks import TOLD_OF_GAS
from tests.server.walker import TypedWalk
from tests.server.works import PASSWORD
from verifyloop.work.models import Job, Round


class Rounds(ApiCase):
    def setUp(self):
        super().setUp()
        detectors.shelf()
        for n in (1, 2, 3):
            detectors.detector(f"GT-{n}", "gas_bump")
        self.tags = ["GT-1", "GT-2", "GT-3"]

    def post(self, path, body, client=None):
        answer = (client or self.ana).post(path, body, content_type="application/json")
        return answer

    def start(self):
        return self.must(self.post("/api/v1/rounds", {"tags": self.tags}))["job"]

    def of(self, job, client=None):
        return self.must((client or self.ana).get(f"/api/v1/rounds/of/{job}"))["round"]

    def walked(self, tag):
        """Do one check up to its signature, as the person at the first tablet."""
        _, model = DETECTORS["gas_bump"]
        walk = TypedWalk(self, tag, TOLD_OF_GAS, model, BOTTLES)
        walk.walk("sign")
        return walk.job

    def test_another_tablet_takes_it_over_where_it_stands(self):
        first = self.start()
        self.assertEqual(self.walked("GT-1"), first)
        ben = self.client_of("ben")
        line = self.must(ben.get("/api/v1/today"))["rounds"][0]
        self.assertEqual((line["job"], line["place"], line["total"]), (first, 1, 3))
        here = self.of(first, ben)
        self.assertEqual((here["next"], here["jobs"]), ("GT-2", [first]))
        second = self.must(self.post(f"/api/v1/rounds/{here['id']}/next", {}, ben))["job"]
        state = self.state(second)
        self.assertEqual(state["instrument"]["tag"], "GT-2")
        # Kit and the operator told hold for the round.
        self.assertNotIn(state["current_step"], ("kit", "operator"))

    def test_one_signature_signs_what_is_ready_and_says_what_is_not(self):
        first = self.start()
        self.walked("GT-1")
        here = self.of(first)
        self.must(self.post(f"/api/v1/rounds/{here['id']}/next", {}))
        wrong = self.post(f"/api/v1/rounds/{here['id']}/sign", {"password": "no"})
        self.assertEqual(self.must(wrong, 403)["code"], "password.wrong")
        done = self.must(self.post(f"/api/v1/rounds/{here['id']}/sign", {"password": PASSWORD}))
        self.assertEqual(done["signed"], [first])
        self.assertEqual(len(done["left"]), 2)
        self.assertIsNotNone(self.of(first), "it is not ended while something is left")

    def test_nobody_signs_what_they_did_not_record(self):
        first = self.start()
        self.walked("GT-1")
        here = self.of(first)
        done = self.post(
            f"/api/v1/rounds/{here['id']}/sign", {"password": PASSWORD}, self.client_of("ben")
        )
        self.assertEqual(self.must(done)["signed"], [])
        self.assertEqual(Job.objects.get(number=first).status, Job.Status.OPEN)

    def test_it_ends_with_its_last_signature(self):
        job = self.start()
        for tag in self.tags:
            self.assertEqual(self.walked(tag), job)
            here = self.of(job)
            if here["next"]:
                job = self.must(self.post(f"/api/v1/rounds/{here['id']}/next", {}))["job"]
        done = self.must(self.post(f"/api/v1/rounds/{here['id']}/sign", {"password": PASSWORD}))
        self.assertEqual((len(done["signed"]), done["left"]), (3, []))
        self.assertIsNone(self.of(job))
        self.assertIsNotNone(Round.objects.get().ended_at)

    def test_an_instrument_is_in_one_round_only_and_must_fit(self):
        self.start()
        again = self.post("/api/v1/rounds", {"tags": self.tags})
        self.assertEqual(self.must(again, 422)["code"], "round.open")
        works.instrument("PT-2")
        other = self.post("/api/v1/rounds", {"tags": ["PT-1", "PT-2"]})
        self.assertEqual(self.must(other, 422)["code"], "round.not_fit")
