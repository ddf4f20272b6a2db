"""Who and when are true: the steady clock of a device, wrong clocks, people at one tablet."""

from __future__ import annotations

import uuid
from datetime import timedelta
from io import StringIO
from unittest import mock

from django.core.management import call_command
from django.utils import timezone

from tests.server import works
from tests.server.base import ApiCase
from tests.server.works import event
from verifyloop.plant.models import Plan
from verifyloop.work.appending import Batch, append_events
from verifyloop.work.models import Event, Job
from verifyloop.work.sent import NewEvent

YEAR = timedelta(days=400)


def iso(at):
    return at.isoformat(timespec="milliseconds")


class Clocks(ApiCase):
    def note(self, text, **more):
        return {**event("noted", text=text), **more}

    def stored(self, text):
        return Event.objects.get(payload__contains=text)

    def lines(self, job):
        found = self.must(self.ana.get(f"/api/v1/jobs/{job}/history"))
        return {line["text"]: line for line in found}

    def at(self, moment):
        return mock.patch("django.utils.timezone.now", return_value=moment)

    def test_an_entry_that_waited_has_its_own_time_and_that_of_its_arrival(self):
        now = timezone.now()
        with self.at(now - timedelta(hours=1)):
            job = self.open()
        with self.at(now):
            wall = iso(now - timedelta(minutes=12))
            self.must(self.send(job, self.note("waited", at=wall, age_s=720)))
        found = self.stored("waited")
        self.assertEqual(iso(found.at), iso(now - timedelta(minutes=12)))
        self.assertIn(iso(now), found.payload)
        self.assertEqual(self.lines(job)["Note: waited"]["clock"], "arrived 12 min later")

    def test_a_wrong_clock_of_a_tablet_moves_nothing_and_is_said(self):
        job = self.open()
        wrong = iso(timezone.now() - YEAR)
        self.must(self.send(job, self.note("by a wrong clock", at=wrong, age_s=2)))
        self.assertLess(abs(self.stored("by a wrong").at - timezone.now()), timedelta(minutes=1))
        line = self.lines(job)["Note: by a wrong clock"]
        self.assertEqual(line["clock"], "clock of the device 400 days behind")

    def test_nobody_signs_while_the_clocks_are_days_apart(self):
        job = self.open()
        self.must(self.send(job, *works.prepared(), *works.readings(), *works.returned()))
        signed = {**event("signed"), "at": iso(timezone.now() - YEAR), "age_s": 1}
        said = self.must(self.send(job, signed, password=works.PASSWORD), 422)
        self.assertEqual(said["code"], "clock.differs")
        self.assertIn("400 days", said["message"])
        last = {**event("signed"), "at": "9999-12-31T23:59:59+00:00", "age_s": 2_000_000}
        self.must(self.send(job, last, password=works.PASSWORD), 422)
        signed = {**event("signed"), "at": iso(timezone.now()), "age_s": 1}
        self.must(self.send(job, signed, password=works.PASSWORD))

    def test_what_cannot_be_is_refused_and_nothing_stored(self):
        job = self.open()
        now, before = timezone.now(), Event.objects.count()
        for more, code in (
            ({"at": "2026-03-01T08:00:00"}, "event.time"),
            ({"at": iso(now + timedelta(hours=1))}, "event.time"),
            ({"at": iso(now - YEAR)}, "event.before_job"),
            ({"age_s": 3600 * 24 * 5}, "event.before_job"),
            ({"age_s": 3600 * 24 * 400}, "event.time"),
        ):
            with self.subTest(more=more):
                said = self.must(self.send(job, self.note("no", **more)), 422)
                self.assertEqual(said["code"], code)
        for age in (-1, "NaN", "Infinity", "x"):
            with self.subTest(age=age):
                self.must(self.send(job, self.note("no", age_s=age)), 422)
        self.assertEqual(Event.objects.count(), before)

    def test_a_server_clock_that_jumped_is_said_and_does_not_drag_the_rest(self):
        now = timezone.now()
        with self.at(now - timedelta(hours=2)):
            job = self.open()
            self.must(self.send(job, *works.prepared()))
        append_events(
            Batch(
                actor=self.people["ana"],
                number=job,
                expected_seq=Job.objects.get().seq,
                events=[NewEvent(uuid.uuid4(), "noted", {"text": "while it was ahead"})],
                now=now + YEAR,
            )
        )
        with self.at(now):
            state = self.must(self.send(job, *works.readings(), *works.returned()))
            self.assertEqual(len(state["clocks"]), 1)
            self.assertIn("400 days", state["clocks"][0])
            self.must(self.send(job, event("signed"), password=works.PASSWORD))
        self.assertEqual(iso(Job.objects.get().signed_at), iso(now))
        days = int(Plan.objects.get().due_reason.split()[0])
        due = timezone.localdate(now) + timedelta(days=days)
        self.assertEqual(Plan.objects.get().next_due, due)
        paper = self.must(self.ana.get(f"/api/v1/records/{job}/certificate.json"))
        self.assertIn("the clock was changed", " ".join(paper["method"]["deviations"]))

    def test_entries_of_somebody_else_are_refused_and_kept(self):
        job = self.open()
        body = {"expected_seq": 1, "events": [self.note("of ana")], "account": "ana"}
        ben, kind = self.client_of("ben"), {"content_type": "application/json"}
        said = self.must(ben.post(f"/api/v1/jobs/{job}/events", body, **kind), 403)
        self.assertEqual(said["code"], "account.other")
        self.must(self.ana.post(f"/api/v1/jobs/{job}/events", body, **kind))
        self.assertEqual(self.stored("of ana").actor, self.people["ana"])

    def test_two_people_three_tablets_a_minute_without_server_one_wrong_clock(self):
        now = timezone.now()
        with self.at(now - timedelta(minutes=10)):
            job = self.open()
            self.must(self.send(job, self.note("begun")))
        # Three tablets kept entries for 60, 45 and 30 s; the third's clock is a day ahead.
        ben = self.client_of("ben")
        wall = {"a": now - timedelta(seconds=60), "b": now - timedelta(seconds=45)}
        wrong = now - timedelta(seconds=30) + timedelta(days=1)
        with self.at(now):
            for text, client, age, at in (
                ("of b", ben, 45, wall["b"]),
                ("of c", ben, 30, wrong),
                ("of a", self.ana, 60, wall["a"]),
            ):
                entry = self.note(text, at=iso(at), age_s=age)
                self.must(self.send(job, entry, client=client))
        for text, who, age in (("of a", "ana", 60), ("of b", "ben", 45), ("of c", "ben", 30)):
            found = self.stored(f'"{text}"')
            self.assertEqual(found.actor.username, who)
            self.assertEqual(iso(found.at), iso(now - timedelta(seconds=age)))
        self.assertIn("24 h ahead", self.lines(job)["Note: of c"]["clock"])
        out = StringIO()
        call_command("verify_records", stdout=out)
        self.assertIn("every record is as it was written", out.getvalue())
