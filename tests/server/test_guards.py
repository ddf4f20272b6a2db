"""When an entry was made, and the order of what is due: each limit held by a figure of its own."""

import uuid
from datetime import UTC, date, datetime, timedelta

from django.test import SimpleTestCase, TestCase

from calibration.kernel.errors import InputError
from tests.server import works
from verifyloop.plant.models import Plan
from verifyloop.work.clocks import time_of
from verifyloop.work.due import due_rows
from verifyloop.work.sent import NewEvent

NOW = datetime(2026, 5, 4, 9, 0, tzinfo=UTC)
OPENED = NOW - timedelta(minutes=30)


class Made(SimpleTestCase):
    def made(self, at):
        return time_of(NewEvent(id=uuid.uuid4(), kind="noted", at=at), NOW, OPENED)

    def refused(self, at):
        with self.assertRaises(InputError) as caught:
            self.made(at)
        return caught.exception.code

    def test_a_clock_may_be_a_minute_ahead_and_no_more(self):
        ahead = NOW + timedelta(seconds=59)
        self.assertEqual(self.made(ahead), ahead)
        self.assertEqual(self.refused(NOW + timedelta(seconds=61)), "event.time")

    def test_an_entry_is_not_of_before_the_job(self):
        self.assertEqual(self.made(OPENED - timedelta(seconds=59)), OPENED)
        self.assertEqual(self.refused(OPENED - timedelta(seconds=61)), "event.before_job")
        self.assertEqual(self.refused(OPENED - timedelta(hours=1)), "event.before_job")


class Due(TestCase):
    def test_what_is_out_of_service_without_a_day_stands_first_in_its_area(self):
        works.people()
        first = works.instrument(tag="PT-9")
        other = works.instrument(tag="PT-1")
        today = date(2026, 5, 4)
        Plan.objects.filter(instrument=other).update(next_due=today)
        Plan.objects.filter(instrument=first).update(next_due=None)
        type(first).objects.filter(pk=first.pk).update(out_of_service={"job": "J26-00001"})
        self.assertEqual(
            [(r.tag, r.due) for r in due_rows(today)], [("PT-9", None), ("PT-1", today)]
        )
