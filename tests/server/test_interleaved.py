"""What was looked at before the turn came is stored only where nobody wrote meanwhile."""

from __future__ import annotations

import uuid
from io import StringIO
from unittest import mock

from django.core.management import call_command
from django.test import TransactionTestCase
from django.utils import timezone

from calibration.kernel.errors import InputError
from tests.server import works
from verifyloop.errors import Conflict
from verifyloop.work import appending
from verifyloop.work.appending import Batch, append_events
from verifyloop.work.models import Event, Job
from verifyloop.work.sent import NewEvent
from verifyloop.work.services import open_job


def entry(kind="noted", id=None, **data):
    return NewEvent(id or uuid.uuid4(), kind, data or {"text": "seen"})


class Interleaved(TransactionTestCase):
    def setUp(self):
        self.people = works.people()
        works.shelf()

    def opened(self, tag):
        return open_job(actor=self.people["ana"], tag=tag, now=timezone.now()).number

    def send(self, *events, who="ana", seq=1, number=""):
        return append_events(
            Batch(
                actor=self.people[who],
                number=number or self.number,
                expected_seq=seq,
                events=list(events),
                now=timezone.now(),
            )
        )

    def meanwhile(self, *others):
        """Let others write in the moment between looking and storing."""
        real, waiting = appending._admit, list(others)

        def admit(*given):
            real(*given)
            if waiting:
                waiting.pop(0)()

        return mock.patch.object(appending, "_admit", admit)

    def stored(self, number=""):
        found = Event.objects.filter(job__number=number or self.number).order_by("seq")
        return list(found.values_list("kind", "by"))

    def where_nobody_comes_between_nobody_waits_for_it(self):
        with mock.patch.object(appending, "_locked", side_effect=AssertionError):
            self.assertEqual(self.send(entry()).seq, 2)
        self.assertEqual(Job.objects.get(number=self.number).seq, 2)

    def who_comes_between_is_named_and_what_was_looked_at_is_not_stored(self):
        with (
            self.meanwhile(lambda: self.send(entry(), who="ben")),
            self.assertRaises(Conflict) as no,
        ):
            self.send(entry())
        self.assertIn("Ben Test added an entry", str(no.exception))
        self.assertEqual(self.stored(), [("opened", "Ana Test"), ("noted", "Ben Test")])

    def the_same_entry_sent_twice_at_once_is_stored_once_and_both_are_told_so(self):
        one = entry()
        with self.meanwhile(lambda: self.send(one)):
            self.assertEqual(self.send(one).seq, 2)
        self.assertEqual(len(self.stored()), 2)

    def of_several_entries_of_which_one_came_meanwhile_none_is_half_stored(self):
        one, two = entry(), entry()
        with self.meanwhile(lambda: self.send(one)), self.assertRaises(Conflict):
            self.send(one, two)
        self.assertEqual(len(self.stored()), 2)

    def an_entry_that_came_meanwhile_in_another_job_is_refused_by_name(self):
        one = entry()
        with (
            self.meanwhile(lambda: self.send(one, number=self.other)),
            self.assertRaises(InputError) as no,
        ):
            self.send(one)
        self.assertEqual(no.exception.code, "event.elsewhere")
        self.assertEqual(self.stored(), [("opened", "Ana Test")])

    def a_job_that_was_closed_meanwhile_takes_nothing(self):
        closing = entry("voided", reason="wrong instrument")
        with self.meanwhile(lambda: self.send(closing)), self.assertRaises(Conflict):
            self.send(entry())
        self.assertEqual(Job.objects.get(number=self.number).status, "voided")

    def who_writes_to_another_job_meanwhile_overtakes_nobody(self):
        with self.meanwhile(lambda: self.send(entry(), who="ben", number=self.other)):
            self.assertEqual(self.send(entry()).seq, 2)

    def what_takes_from_the_kit_is_looked_at_in_turn(self):
        chosen = entry("kit_chosen", role="pressure_reference", asset="R-1")
        with mock.patch.object(appending, "_ahead", side_effect=AssertionError):
            self.assertEqual(self.send(chosen).seq, 2)
            simulated = NewEvent(uuid.uuid4(), "noted", {"text": "x"}, "simulated")
            with self.assertRaises(InputError):
                self.send(simulated, seq=2)

    def test_each_way_to_come_between(self):
        # One test: emptying all tables takes longer than all of these.
        ways = (
            self.where_nobody_comes_between_nobody_waits_for_it,
            self.who_comes_between_is_named_and_what_was_looked_at_is_not_stored,
            self.the_same_entry_sent_twice_at_once_is_stored_once_and_both_are_told_so,
            self.of_several_entries_of_which_one_came_meanwhile_none_is_half_stored,
            self.an_entry_that_came_meanwhile_in_another_job_is_refused_by_name,
            self.a_job_that_was_closed_meanwhile_takes_nothing,
            self.who_writes_to_another_job_meanwhile_overtakes_nobody,
            self.what_takes_from_the_kit_is_looked_at_in_turn,
        )
        for n, way in enumerate(ways):
            with self.subTest(way.__name__):
                works.instrument(f"PT-{2 * n}")
                works.instrument(f"PT-{2 * n + 1}")
                self.number, self.other = self.opened(f"PT-{2 * n}"), self.opened(f"PT-{2 * n + 1}")
                way()
        out = StringIO()
        call_command("verify_records", stdout=out)
        self.assertIn("every record is as it was written", out.getvalue())
