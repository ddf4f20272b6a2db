"""Many people at once at the real server: nothing is lost, doubled or answered with a 500."""

from __future__ import annotations

import json
import threading
import urllib.error
import urllib.request
import uuid
from datetime import timedelta

from django.test import SimpleTestCase
from django.utils import timezone

from tests.process import RealServer
from tests.server.test_killed import Poster

PEOPLE, EACH = 16, 4


class Person(Poster):
    """A client that says what was answered, refusals included."""

    def like(self, other):
        """Go on in the session of another: a device more of the same person."""
        self.cookies, self.token = dict(other.cookies), other.token

    def raw(self, path):
        """Ask for what is no JSON."""
        with urllib.request.urlopen(f"{self.address}/api/v1/{path}", timeout=30) as answer:
            return answer.read()

    def said(self, path, body=None, method=None):
        try:
            return 200, self.call(path, body, method)
        except urllib.error.HTTPError as refused:
            return refused.code, json.load(refused)


def devices(address, count, name="ana"):
    """Return so many devices of one person who signed in once."""
    first, *others = found = [Person(address) for _ in range(count)]
    first.sign_in(name)
    for other in others:
        other.like(first)
    return found


def note(text):
    return {"id": str(uuid.uuid4()), "kind": "noted", "data": {"text": text}}


class AtOnce(SimpleTestCase):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        # Two processes: what one remembers the other does not know.
        cls.server = RealServer.of_class(cls, VERIFYLOOP_WORKERS="2")
        cls.people = devices(cls.server.address, PEOPLE)

    def together(self, work, people=PEOPLE):
        """Let everybody do something at the same moment; return what each was answered."""
        begin, found = threading.Barrier(people), [None] * people

        def one(n):
            begin.wait()
            found[n] = work(n, self.people[n])

        threads = [threading.Thread(target=one, args=(n,)) for n in range(people)]
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

    def test_whoever_looks_at_a_job_sees_the_others_in_whatever_process(self):
        job = self.people[0].call("jobs", {"tag": "PT-1"})["job"]
        ben, rea = (devices(self.server.address, 1, name)[0] for name in ("ben", "rea"))
        for _ in range(2):
            for one in (ben, rea, self.people[0]):
                one.call(f"jobs/{job}/here")
        for _ in range(6):
            self.assertEqual(ben.call(f"jobs/{job}/here"), ["Ana Test", "Rea Test"])
            self.assertEqual(rea.call(f"jobs/{job}/here"), ["Ana Test", "Ben Test"])

    def test_each_on_a_job_of_their_own_loses_nothing(self):
        tags = [f"PT-{n}" for n in range(2, 10)]

        def work(n, person):
            job = person.call("jobs", {"tag": tags[n]})["job"]
            seq = person.call(f"jobs/{job}")["seq"]
            for i in range(EACH):
                body = {"expected_seq": seq, "events": [note(f"remark {i}")]}
                seq = person.call(f"jobs/{job}/events", body)["seq"]
                self.assertEqual(person.said("today")[0], 200)
                self.assertEqual(person.said("safety")[0], 200)
            return person.call(f"jobs/{job}")

        for state in self.together(work, len(tags)):
            self.assertEqual(state["notes"], [f"remark {i}" for i in range(EACH)])
        said = self.server.manage("verify_records")
        self.assertEqual(said.returncode, 0, said.stdout + said.stderr)

    def test_of_many_who_change_one_thing_one_is_taken(self):
        """Due days, rules, the site and areas: each says which version it goes over."""
        planners = devices(self.server.address, PEOPLE, "pia")
        plan = planners[0].call("instruments/PT-31")["plans"][0]
        due = str(timezone.localdate() + timedelta(days=40))
        rule = {"key": "adjust_share", "value": "60", "source": "procedure 7", "version": 0}
        moved = {"due": due, "reason": "shutdown", "version": plan["version"]}
        for path, body in (
            ("instruments/PT-31/due", {**moved, "method": plan["method"]["id"]}),
            (f"methods/{plan['method']['id']}/rules", rule),
        ):
            with self.subTest(path):
                said = self.together(
                    lambda n, _, path=path, body=body: planners[n].said(path, body)
                )
                codes = sorted(code for code, _ in said)
                self.assertEqual(codes, [200] + [409] * (PEOPLE - 1), said[0])

    def test_an_instrument_is_opened_once(self):
        answers = self.together(lambda n, p: p.said("jobs", {"tag": "PT-30"}))
        # The others are led to the job of the first: they may go on in it together.
        self.assertEqual({code for code, _ in answers}, {200})
        opened = {said["job"] for code, said in answers if code == 200}
        self.assertEqual(len(opened), 1)
