"""Many people at once at the real server: nothing is lost, doubled or answered with a 500."""

from __future__ import annotations

import json
import threading
import urllib.error
import uuid

from django.test import SimpleTestCase

from tests.process import RealServer
from tests.server.test_killed import Poster

PEOPLE, EACH = 8, 6


class Person(Poster):
    """A client that says what was answered, refusals included."""

    def said(self, path, body=None):
        try:
            return 200, self.call(path, body)
        except urllib.error.HTTPError as refused:
            return refused.code, json.load(refused)


def note(text):
    return {"id": str(uuid.uuid4()), "kind": "noted", "data": {"text": text}}


class AtOnce(SimpleTestCase):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.server = RealServer()
        cls.addClassCleanup(cls.server.close)
        cls.server.seed("tests.seed")
        cls.server.start()
        cls.people = [Person(cls.server.address) for _ in range(PEOPLE)]
        for person in cls.people:
            person.sign_in()

    def together(self, work):
        """Let everybody do something at the same moment; return what each was answered."""
        begin, found = threading.Barrier(PEOPLE), [None] * PEOPLE

        def one(n):
            begin.wait()
            found[n] = work(n, self.people[n])

        threads = [threading.Thread(target=one, args=(n,)) for n in range(PEOPLE)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join(60)
        return found

    def test_of_many_who_write_on_one_state_one_is_taken(self):
        job = self.people[0].call("jobs", {"tag": "PT-1"})["job"]
        for turn in range(EACH):
            seq = self.people[0].call(f"jobs/{job}")["seq"]
            body = {"expected_seq": seq}
            answers = self.together(
                lambda n, p, turn=turn, body=body: p.said(
                    f"jobs/{job}/events", {**body, "events": [note(f"{turn} by {n}")]}
                )
            )
            self.assertEqual(sorted(code for code, _ in answers), [200] + [409] * (PEOPLE - 1))
            refused = [said for code, said in answers if code == 409]
            self.assertTrue(all(said["code"] == "job.changed" for said in refused))
        notes = self.people[0].call(f"jobs/{job}")["notes"]
        self.assertEqual(len(notes), EACH)

    def test_each_on_a_job_of_their_own_loses_nothing(self):
        tags = [f"PT-{n}" for n in range(2, 2 + PEOPLE)]

        def work(n, person):
            job = person.call("jobs", {"tag": tags[n]})["job"]
            seq = person.call(f"jobs/{job}")["seq"]
            for i in range(EACH):
                body = {"expected_seq": seq, "events": [note(f"remark {i}")]}
                seq = person.call(f"jobs/{job}/events", body)["seq"]
                self.assertEqual(person.said("today")[0], 200)
                self.assertEqual(person.said("safety")[0], 200)
            return person.call(f"jobs/{job}")

        for state in self.together(work):
            self.assertEqual(state["notes"], [f"remark {i}" for i in range(EACH)])
        said = self.server.manage("verify_records")
        self.assertEqual(said.returncode, 0, said.stdout + said.stderr)

    def test_an_instrument_is_opened_once(self):
        answers = self.together(lambda n, p: p.said("jobs", {"tag": "PT-30"}))
        self.assertEqual({code for code, _ in answers} - {200, 409}, set())
        opened = {said["job"] for code, said in answers if code == 200}
        self.assertEqual(len(opened), 1)
