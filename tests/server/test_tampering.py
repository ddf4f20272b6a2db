"""What somebody with the database in hand may change: every such change is found.

One row a change, made past the product by SQL. Whoever makes them does not have the keys, which
lie outside the database; where a chain has to be made anew, it is made as they could make it.
"""

import json
import shutil
from io import StringIO
from pathlib import Path
from tempfile import NamedTemporaryFile, TemporaryDirectory

from django.core.exceptions import ImproperlyConfigured
from django.core.management import call_command
from django.db import connection
from django.test import override_settings
from django.utils import timezone

from calibration.engine.job.sealing import seal as plain_seal
from tests.server import works
from tests.server.base import ApiCase
from verifyloop.plant.models import Happening, Site, SiteRule
from verifyloop.register import book, keys
from verifyloop.register.models import Entry
from verifyloop.work.models import Event, Job

EVENT = "UPDATE work_event SET {} WHERE job_id = {job} AND seq = 7"
JOB = "UPDATE work_job SET {} WHERE id = {job}"
FROM = "UPDATE work_event SET payload = replace(payload, '{}', '{}')"
#: words that must be said of it, and the statements that make it
TABLE = {
    "a reading in the content": ("content", FROM.format("12.01", "12.00")),
    "a name in the content": ("content", FROM.format("Ana Test", "Ben Test")),
    "a limit in the content": ("content", FROM.format('"0.5"', '"5.0"')),
    "the paper of the signed job": ("content", FROM.format("within limits", "beyond reach")),
    "the kind of an event": ("kind", EVENT.format("kind = 'noted'", job="{job}")),
    "the time of an event": ("'at'", EVENT.format("at = '2020-01-01'", job="{job}")),
    "the name beside an event": ("'by'", EVENT.format("by = 'Ben Test'", job="{job}")),
    "the account of an event": ("'actor'", EVENT.format("actor_id = {ben}", job="{job}")),
    "no account": ("'actor'", EVENT.format("actor_id = NULL", job="{job}")),
    "the id of an event": ("'uuid'", EVENT.format("uuid = '{uuid}'", job="{job}")),
    "the seal of an event": ("content", EVENT.format("seal = '1.00'", job="{job}")),
    "a seal without a key": ("content", EVENT.format("seal = '{hex}'", job="{job}")),
    "a seal by an unknown key": ("content", EVENT.format("seal = '9.{hex}'", job="{job}")),
    "an event taken out": ("missing", "DELETE FROM work_event WHERE job_id = {job} AND seq = 20"),
    "the first event taken out": (
        "missing",
        "DELETE FROM work_event WHERE job_id = {job} AND seq = 1",
    ),
    "the end cut off": ("missing at the end", "DELETE FROM work_event WHERE seq > 30"),
    "the signature cut off, and the job set back": (
        "further than",
        "DELETE FROM work_event WHERE job_id = {job} AND seq > {before}; "
        + JOB.format("seq = {before}, head = '{head}'", job="{job}"),
    ),
    "the paper cut off, and the job set back": (
        "further than",
        "DELETE FROM work_event WHERE job_id = {job} AND kind = 'issued'; "
        + JOB.format("seq = {signed}, head = '{signed_head}'", job="{job}"),
    ),
    "events moved to another job": (
        "missing",
        "UPDATE work_event SET job_id = {open} WHERE job_id = {job} AND seq > 10",
    ),
    "an event moved in its order": (
        "missing",
        "UPDATE work_event SET seq = 99 WHERE job_id = {job} AND seq = 8",
    ),
    "a whole job gone": (
        "the job is gone",
        "DELETE FROM work_event WHERE job_id = {job}; DELETE FROM work_job WHERE id = {job}",
    ),
    "the number of a job": ("the job is gone", JOB.format("number = 'J20-00001'", job="{job}")),
    "the instrument of a job": ("instrument", JOB.format("instrument_id = {other}", job="{job}")),
    "the method of a job": ("method", JOB.format("method = 'smart_transmitter'", job="{job}")),
    "the version of a method": ("method_version", JOB.format("method_version = 7", job="{job}")),
    "the tail": ("further than", JOB.format("tail = '1.00'", job="{job}")),
    "the limit of an instrument": (
        "tolerance",
        'UPDATE plant_instrument SET tolerance = \'{{"percent_of_span": "5"}}\'',
    ),
    "the serial of an instrument": ("serial", "UPDATE plant_instrument SET serial = 'S-78'"),
    "the last result of an instrument": (
        "last_outcome",
        "UPDATE plant_instrument SET last_outcome = 'failed' WHERE tag = 'PT-1'",
    ),
    "service of an instrument": (
        "out_of_service",
        "UPDATE plant_instrument SET out_of_service = '{{}}' WHERE tag = 'PT-1'",
    ),
    "an instrument put in": (
        "knows of no such row",
        "INSERT INTO plant_area (name, \"order\") VALUES ('Nowhere', 9)",
    ),
    "an instrument taken out": ("the row is gone", "DELETE FROM plant_siterule"),
    "a due date": ("next_due", "UPDATE plant_plan SET next_due = '2040-01-01'"),
    "why it is due": ("due_reason", "UPDATE plant_plan SET due_reason = 'as agreed'"),
    "a parameter of a plan": (
        "parameters",
        'UPDATE plant_plan SET parameters = \'{{"adjust_share": {{"value": "99"}}}}\'',
    ),
    "the method of a plan": ("method", "UPDATE plant_plan SET method = 'dp_level'"),
    "when it was switched off": (
        "past the product: at",
        "UPDATE plant_happening SET at = '2020-01-01'",
    ),
    "that it was switched off": ("the row is gone", "DELETE FROM plant_happening"),
    "a rule of the site": ("value", "UPDATE plant_siterule SET value = '99'"),
    "who made a rule": ("by", "UPDATE plant_siterule SET by = 'Rea Test'"),
    "the laboratory": ("laboratory", "UPDATE plant_site SET laboratory = 'Elsewhere'"),
    "the accuracy of a reference": (
        "spec",
        'UPDATE kit_reference SET spec = \'{{"percent_of_full_scale": "0.0001"}}\'',
    ),
    "the date of a reference": ("due_on", "UPDATE kit_reference SET due_on = '2040-01-01'"),
    "a withdrawn reference": ("withdrawn", "UPDATE kit_reference SET withdrawn = 'x'"),
    "the password of a person": ("password", "UPDATE accounts_user SET password = 'x'"),
    "the role of a person": (
        "role",
        "UPDATE accounts_user SET role = 'reviewer' WHERE username = 'ana'",
    ),
    "the name of a person": ("last_name", "UPDATE accounts_user SET last_name = 'Other'"),
    "a person put in": (
        "knows of no such row",
        "INSERT INTO accounts_user (password, is_superuser, username, first_name, last_name, "
        "email, is_staff, is_active, date_joined, role, daily_mail, reset_how) VALUES ('x', true, "
        "'eve', '', '', '', true, true, '2026-01-01', 'planner', false, '')",
    ),
    "a group for a person": (
        "of role technician, in groups",
        "INSERT INTO auth_group (id, name) VALUES (900, 'planner'); "
        "INSERT INTO accounts_user_groups (user_id, group_id) SELECT id, 900 FROM accounts_user "
        "WHERE username = 'ana'",
    ),
    "a use for a job that there is not": (
        "of a job that there is not",
        "INSERT INTO kit_use (job, tag, at, amount, reference_id) SELECT 'J-none', 'X', "
        "'2026-01-01', 3.0, min(id) FROM kit_reference",
    ),
    "a line of the register": ("line of the register", "UPDATE register_entry SET said = '{{}}'"),
    "who wrote a line": ("line of the register", "UPDATE register_entry SET account = 'eve'"),
    "when a line was written": (
        "line of the register",
        "UPDATE register_entry SET at = '2020-01-01'",
    ),
    "a line taken out": (
        "line of the register",
        "DELETE FROM register_entry WHERE id = (SELECT min(id) + 4 FROM register_entry)",
    ),
}
#: columns of lists that are made from the events; each is set to something else
PROJECTED = {
    '"anew"': "'in'",
    "status": "'reviewed'", "stage": "'plan'", "step_title": "'x'", "opened_at": "'2020-01-01'",
    "opened_by": "'Ben Test'", "changed_at": "'2020-01-01'", "mark_found": "'outside'",
    "mark_left": "'near'", "outcome": "'failed'", "follow_up": "'open'",
    "max_error_found": "0.001", "zero_found": "0.001", "span_found": "0.001",
    "max_error_left": "0.001", "limit_percent": "9", "adjusted": "true", "causes": "'x'",
    "\"on\"": "'[1]'", "timers": "'[1]'", "has_on": "true", "in_block": "'D-1'",
    "signed_at": "'2020-01-01'", "signed_by": "'Ben Test'", "\"references\"": "'[]'",
    "learnt": "'[1]'", "work_order": "'WO-1'",
}  # fmt: skip


def verified(*arguments):
    """Return what is said of the records, and whether all of them are as they were."""
    out = StringIO()
    try:
        call_command("verify_records", *arguments, stdout=out)
    except SystemExit:
        return out.getvalue(), False
    return out.getvalue(), True


class Tampering(ApiCase):
    def setUp(self):
        super().setUp()
        Site.objects.create(name="Works", laboratory="Workshop")
        at = timezone.now()
        SiteRule.objects.create(
            method="pressure_transmitter", key="adjust_share", value="50", unit="%", source="site"
        )
        other = works.instrument("PT-2")
        Happening.objects.create(
            instrument=other, what="switched_off", at=at, noted_at=at, by="Ana Test"
        )
        self.number = self.signed_job()
        self.open_number = self.open("PT-2")
        job = Job.objects.get(number=self.number)
        signed = Event.objects.get(job=job, kind="signed")
        before = Event.objects.get(job=job, seq=signed.seq - 1)
        self.names = {
            "job": job.pk,
            "open": Job.objects.get(number=self.open_number).pk,
            "other": Job.objects.get(number=self.open_number).instrument_id,
            "ben": self.people["ben"].pk,
            "uuid": "0" * 32,
            "hex": "ab" * 32,
            "before": before.seq,
            "head": before.seal,
            "signed": signed.seq,
            "signed_head": signed.seal,
        }
        said, clean = self.verify()
        self.assertTrue(clean, said)

    def verify(self, *arguments):
        return verified(*arguments)

    def found(self, words, *statements, arguments=()):
        """Make a change, see it found, undo it."""
        with connection.cursor() as cursor:
            cursor.execute("SAVEPOINT before_damage")
            try:
                for one in statements:
                    cursor.execute(one)
                said, clean = self.verify(*arguments)
            finally:
                cursor.execute("ROLLBACK TO before_damage")
        self.assertFalse(clean, said)
        self.assertIn(words, said)

    def test_every_change_of_the_table_is_found(self):
        for what, (words, statements) in TABLE.items():
            with self.subTest(what=what):
                made = statements.format(**self.names)
                self.found(words, *made.split("; "))

    def test_every_column_of_the_lists_is_compared(self):
        made = {f.column for f in Job._meta.concrete_fields}
        compared = {name.strip('"') for name in PROJECTED}
        own = {"id", "number", "instrument_id", "method", "method_version", "follows_id"}
        self.assertEqual(made - compared - own, {"seq", "head", "tail"})
        for column, value in PROJECTED.items():
            with self.subTest(column=column):
                change = JOB.format(f"{column} = {value}", **self.names)
                self.found(column.strip('"'), change)

    def chain_made_anew(self, job, change):
        """Return the statements of someone who makes a whole chain anew, without a key."""
        head = ""
        for event in Event.objects.filter(job=job).order_by("seq"):
            payload = change(event.payload).replace("'", "''")
            head = plain_seal(head, change(event.payload))
            yield (
                f"UPDATE work_event SET payload = '{payload}', seal = '{head}' "
                f"WHERE id = {event.pk}"
            )
        yield f"UPDATE work_job SET head = '{head}' WHERE id = {job.pk}"

    def test_a_chain_made_anew_is_found(self):
        job = Job.objects.get(number=self.number)
        made = self.chain_made_anew(job, lambda text: text.replace("12.01", "12.00"))
        self.found("no keyed seal", *made)

    def test_an_invented_job_is_found(self):
        job = Job.objects.get(number=self.number)
        columns = [f.column for f in Job._meta.concrete_fields if not f.primary_key]
        names = ", ".join(f'"{c}"' for c in columns)
        values = names.replace('"number"', "'J20-00099'")
        self.found(
            "knows of no such job",
            f"INSERT INTO work_job ({names}) SELECT {values} FROM work_job WHERE id = {job.pk}",
        )

    def test_a_forged_review_is_found(self):
        job = Job.objects.get(number=self.number)
        said = {
            "job": job.number, "seq": job.seq + 1, "id": "00000000-0000-4000-8000-000000000001",
            "kind": "reviewed", "at": "2026-11-25T10:00:00+00:00", "by": "Rea Test",
            "role": "reviewer", "source": "typed", "account": "rea",
            "data": {"name": "Rea Test", "outcome": "accepted", "comment": ""},
        }  # fmt: skip
        payload = json.dumps(said, sort_keys=True, separators=(",", ":"))
        forged = plain_seal(job.head, payload)
        self.found(
            "no keyed seal",
            "INSERT INTO work_event (job_id, seq, uuid, kind, at, by, actor_id, payload, seal) "
            f"VALUES ({job.pk}, {job.seq + 1}, '{said['id'].replace('-', '')}', 'reviewed', "
            f"'2026-11-25 10:00:00', 'Rea Test', {self.people['rea'].pk}, '{payload}', "
            f"'{forged}')",
            f"UPDATE work_job SET seq = {job.seq + 1}, head = '{forged}' WHERE id = {job.pk}",
        )

    def test_the_newest_rows_cut_off_are_found_against_a_head_kept_elsewhere(self):
        kept = self.folder_file(self.verify_head())
        job = Job.objects.get(number=self.open_number)
        last = Entry.objects.order_by("-pk").first()
        self.assertEqual(last.subject, f"job {job.number}")
        cut = (
            f"DELETE FROM work_event WHERE job_id = {job.pk}",
            f"DELETE FROM work_job WHERE id = {job.pk}",
            f"DELETE FROM register_entry WHERE id = {last.pk}",
        )
        self.found("the line of the head", *cut, arguments=("--against", kept))
        said, clean = self.verify("--against", kept)
        self.assertTrue(clean, said)

    def test_a_certificate_is_such_a_head(self):
        paper = self.must(self.ana.get(f"/api/v1/records/{self.number}/certificate.json"))
        kept = self.folder_file(json.dumps(paper))
        self.assertTrue(self.verify("--against", kept)[1])
        line = paper["chain"]["register_line"]
        self.found(
            "the line of the head",
            f"UPDATE register_entry SET seal = '1.00' WHERE id = {line}",
            arguments=("--against", kept),
        )

    def verify_head(self):
        return self.verify("--head")[0]

    def folder_file(self, text):
        path = self.enterContext(NamedTemporaryFile("w+", suffix=".json"))
        path.write(text)
        path.flush()
        return path.name

    def test_another_key_seals_and_the_earlier_still_proves(self):
        line, folder = book.head()[0], Path(self.enterContext(TemporaryDirectory()))
        copied = Path(shutil.copy(keys.place(), folder / "seal.keys"))
        with override_settings(SEAL_KEYS=copied):
            call_command("new_seal_key", stdout=StringIO())
            newest = max(keys.keys())
            self.must(self.send(self.open_number, works.event("noted", text="after the new key")))
            self.assertTrue(Event.objects.order_by("-pk").first().seal.startswith(f"{newest}."))
            said, clean = self.verify()
            self.assertTrue(clean, said)
        self.assertGreater(book.head()[0], line)
        self.assertNotIn(newest, keys.keys())
        self.assertFalse(self.verify()[1], "without the new key its seals do not prove")

    def test_missing_or_broken_keys_are_said_by_name(self):
        with TemporaryDirectory() as folder:
            place = Path(folder) / "seal.keys"
            for text in (None, "", "1 zz", "1 abcd", "one " + "ab" * 32):
                with self.subTest(text=text), override_settings(SEAL_KEYS=place):
                    if text is not None:
                        place.write_text(text)
                    keys._kept.cache_clear()
                    with self.assertRaises(ImproperlyConfigured) as said:
                        keys.keys()
                    self.assertIn(str(place), str(said.exception))
