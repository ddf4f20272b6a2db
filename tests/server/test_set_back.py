"""A job that is set back to an earlier entry, past the product, is found.

Whoever does it has the database, not the keys. With the register left alone it is found without
help; with the register set back as well, against a head that was kept elsewhere since.
"""

import json
from datetime import timedelta
from io import StringIO
from pathlib import Path
from tempfile import TemporaryDirectory
from unittest import mock

from django.core.management import call_command
from django.db import connection
from django.utils import timezone

from tests.server import works
from tests.server.base import ApiCase
from verifyloop.records.verify import against, check_all, head_now
from verifyloop.register.models import Entry, Head
from verifyloop.work.models import Job


class SetBack(ApiCase):
    def setUp(self):
        super().setUp()
        self.job = self.open()
        self.then = [self.kept()]
        for event in (*works.prepared()[:6], works.event("noted", text="bad as found")):
            self.must(self.send(self.job, event))
            self.then.append(self.kept())

    def kept(self):
        """The rows of the job and of its head, as somebody copied them."""
        return (
            Job.objects.filter(number=self.job).values("id", "seq", "head", "tail").get(),
            Head.objects.filter(subject=f"job {self.job}").values().get(),
            Entry.objects.count(),
        )

    def set_back(self, to, register=False):
        row, head, lines = to
        with connection.cursor() as cursor:
            cursor.execute("DELETE FROM work_event WHERE job_id = %s AND seq > %s",
                           [row["id"], row["seq"]])  # fmt: skip
        Job.objects.filter(pk=row["id"]).update(**row)
        if register:
            Head.objects.filter(pk=head["id"]).update(**head)
            self.assertEqual(Entry.objects.count(), lines, "no line of the register is newer")

    def found(self):
        return [f.what for f in check_all()]

    def test_to_any_earlier_entry_is_found_without_help(self):
        self.assertEqual(self.found(), [])
        newest = self.then[-1][0]["seq"]
        for to in reversed(self.then[:-1]):
            with self.subTest(entry=to[0]["seq"]):
                self.set_back(to)
                said = (
                    f"it had come to event {newest} and stands at {to[0]['seq']}: it was set back"
                )
                self.assertIn(said, self.found())

    def test_its_head_changed_or_taken_out_is_found(self):
        Head.objects.filter(subject=f"job {self.job}").update(seq=3)
        self.assertIn("how far it had come was changed in the register", self.found())
        Head.objects.all().delete()
        self.assertIn("how far it had come is gone from the register", self.found())

    def test_with_the_register_set_back_a_newer_head_elsewhere_finds_it(self):
        head = json.loads(json.dumps(head_now()))
        self.assertEqual(against(head), [])
        for to in reversed(self.then[:-1]):
            with self.subTest(entry=to[0]["seq"]):
                self.set_back(to, register=True)
                where = [f.where for f in against(head)]
                self.assertEqual(where, [self.job])

    def test_what_was_written_after_the_head_is_not_protected_by_it(self):
        head = head_now()
        self.must(self.send(self.job, works.event("noted", text="after the head")))
        self.set_back(self.then[-1], register=True)
        self.assertEqual(against(head), [])

    def test_the_command_prints_a_head_and_compares_with_it(self):
        with TemporaryDirectory() as folder:
            file, out = Path(folder) / "head.json", StringIO()
            call_command("verify_records", "--head", stdout=out)
            file.write_text(out.getvalue())
            call_command("verify_records", "--against", str(file), stdout=StringIO())
            self.set_back(self.then[2], register=True)
            out = StringIO()
            with self.assertRaises(SystemExit):
                call_command("verify_records", "--against", str(file), stdout=out)
            self.assertIn(f"{self.job}: it had come to event", out.getvalue())
            self.assertIn("when the head was kept; that event is gone", out.getvalue())


class MadeAnew(ApiCase):
    def test_lists_made_anew_after_a_timer_ran_out_are_as_the_events_say(self):
        """What a list says does not depend on when it was made."""
        job = self.open()
        self.must(
            self.send(job, *works.prepared()[:-1], works.event("timer_started", step="warm_up"))
        )
        self.assertTrue(Job.objects.get(number=job).timers)
        self.assertEqual([f.what for f in check_all()], [])
        later = timezone.now() + timedelta(days=2)
        with mock.patch("django.utils.timezone.now", return_value=later):
            out = StringIO()
            call_command("rebuild", stdout=out)
            self.assertIn("0 jobs differed", out.getvalue())
            self.assertEqual([f.what for f in check_all()], [])


class Source(ApiCase):
    def test_what_was_typed_is_not_said_to_come_from_a_rig(self):
        job = self.open()
        said = {**works.event("noted", text="from nowhere"), "source": "simulated"}
        refused = self.must(self.send(job, said), 422)
        self.assertEqual((refused["code"], refused["field"]), ("event.source", "source"))
