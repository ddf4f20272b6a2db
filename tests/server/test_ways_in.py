"""Nobody is somebody else: links, addresses, and what a signature says of its account."""

from __future__ import annotations

import io
import tempfile
from datetime import timedelta
from pathlib import Path
from unittest import mock

from django.contrib.auth import get_user_model
from django.core import mail
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import CommandError, call_command
from django.test import Client, override_settings
from django.utils import timezone

from tests.server import works
from tests.server.base import ApiCase
from tests.server.works import PASSWORD
from verifyloop.accounts.models import Notice, OneTimeLink
from verifyloop.records.verify import check_all
from verifyloop.register.models import Entry

JSON = "application/json"
GOOD = "three quiet words"


class WaysIn(ApiCase):
    def setUp(self):
        super().setUp()
        self.pia = self.client_of("pia")
        self.rea = self.people["rea"]
        self.rea.email = "rea@fen.example"
        self.rea.save()

    def link(self, name="rea", client=None, status=200, **more):
        sent = {"own": PASSWORD, **more}
        made = (client or self.pia).post(f"/api/v1/people/{name}/link", sent, content_type=JSON)
        return self.must(made, status)

    def rules(self, status=200, **more):
        now = self.must(self.pia.get("/api/v1/ways-in/rules"))
        sent = {**now, "own": PASSWORD, **more}
        return self.must(self.pia.put("/api/v1/ways-in/rules", sent, content_type=JSON), status)

    def taken(self, path):
        """Whoever has the link sets a password, and is signed in."""
        door = Client(enforce_csrf_checks=True)
        door.defaults["HTTP_X_CSRFTOKEN"] = door.get("/api/v1/session").json()["csrf_token"]
        session = self.must(door.post(f"/api/v1/people{path}", {"password": GOOD}, JSON))
        door.defaults["HTTP_X_CSRFTOKEN"] = session["csrf_token"]
        return door

    def paper(self, job):
        return self.must(self.ana.get(f"/api/v1/records/{job}/certificate.json"))


class Links(WaysIn):
    def test_a_planner_who_reviews_in_anothers_name_is_told_on_the_review(self):
        """The attack: a link for the reviewer, a password set by it, her name under a review."""
        job = self.signed_job()
        with self.captureOnCommitCallbacks(execute=True):
            door = self.taken(self.link()["path"])
        self.must(
            self.send(job, works.event("reviewed", outcome="accepted"), client=door, password=GOOD)
        )
        note = f"{timezone.localdate()}: its password was set by a link that Pia Test (pia) made."
        self.assertEqual(self.paper(job)["review"]["account_note"], note)
        said = self.ana.get(f"/api/v1/jobs/{job}/signature").json()
        self.assertEqual(said["account_note"], f"The account of Rea Test, {note}")
        pdf = self.ana.get(f"/api/v1/records/{job}/certificate.pdf")
        self.assertEqual(pdf.status_code, 200)
        self.assertEqual([m.to for m in mail.outbox], [["rea@fen.example"]] * 2)
        lines = Entry.objects.filter(account="link by pia", subject__startswith="accounts.user ")
        self.assertEqual(lines.count(), 1)
        told = door.get("/api/v1/session").json()["user"]["told"]
        self.assertEqual(len(told), 2)
        self.assertIn("Pia Test (pia) made a link", told[0])
        self.assertEqual([f.what for f in check_all()], [])

    def test_after_the_days_of_the_site_nothing_is_said(self):
        door = self.taken(self.link()["path"])
        user = get_user_model().objects.get(username="rea")
        user.reset_at = timezone.now() - timedelta(days=15)
        user.save()
        job = self.signed_job()
        review = works.event("reviewed", outcome="accepted")
        self.must(self.send(job, review, client=door, password=GOOD))
        self.assertNotIn("account_note", self.paper(job)["review"])

    def test_a_client_cannot_write_the_note_itself(self):
        job = self.signed_job()
        review = works.event("reviewed", outcome="accepted", account_note="all is well")
        self.must(self.send(job, review, client=self.client_of("rea"), password=PASSWORD))
        self.assertNotIn("account_note", self.paper(job)["review"])

    def test_it_takes_ones_own_password_and_is_counted(self):
        for _ in range(5):
            wrong = self.link(status=403, own="guess")
        self.assertEqual(wrong["field"], "own")
        self.assertEqual(self.link(status=403)["code"], "password.locked")
        self.assertFalse(OneTimeLink.objects.exists())

    def test_nobody_makes_one_for_themselves_nor_agrees_to_their_own(self):
        self.assertEqual(self.link("pia", status=403)["code"], "link.own")
        said = self.link(status=403, second="rea", second_password=PASSWORD)
        self.assertEqual(said["code"], "link.own")

    def test_an_administrator_or_two_people_where_the_site_asks(self):
        self.assertEqual(self.rules(409, links_by="administrator")["code"], "rules.nobody")
        self.assertEqual(self.rules(409, links_by="two")["code"], "rules.nobody")
        self.must(self.changed("ben", role="administrator"))
        self.rules(links_by="two")
        self.assertEqual(self.link(status=422)["field"], "second")
        self.assertEqual(self.link(status=422, second="pia")["field"], "second")
        said = self.link(status=403, second="ben", second_password="no")
        self.assertEqual(said["field"], "second_password")
        said = self.link(status=403, second="ana", second_password=PASSWORD)
        self.assertEqual(said["code"], "role.not_allowed")
        self.link(second="ben", second_password=PASSWORD)
        self.assertEqual(OneTimeLink.objects.get().accounts, "pia,ben")
        # Who could change the rule alone could make a link alone.
        self.assertEqual(self.rules(422, links_by="one")["field"], "second")
        self.rules(links_by="administrator", second="ben", second_password=PASSWORD)
        self.assertEqual(self.rules(403, links_by="one")["code"], "link.administrator")
        self.assertEqual(self.link(status=403)["code"], "link.administrator")
        self.link(client=self.client_of("ben"))

    def changed(self, name, **more):
        found = self.pia.get("/api/v1/people").json()["people"]
        before = next(p for p in found if p["username"] == name)
        sent = {k: before[k] for k in ("role", "active", "email", "version")}
        return self.pia.put(f"/api/v1/people/{name}", {**sent, **more}, content_type=JSON)

    def test_another_address_is_another_way_in(self):
        new = {"email": "pia@elsewhere.example"}
        self.assertEqual(self.must(self.changed("rea", **new), 403)["field"], "own")
        with (
            override_settings(SINGLE_SIGN_ON={"on": True}),
            self.captureOnCommitCallbacks(execute=True),
        ):
            self.must(self.changed("rea", **new, own=PASSWORD))
        self.rea.refresh_from_db()
        self.assertIn("Pia Test (pia) changed the address", self.rea.reset_how)
        self.assertEqual(mail.outbox[0].to, ["rea@fen.example"])
        self.assertEqual(Notice.objects.get().user, self.rea)

    def test_the_rules_take_a_password_and_the_state_that_was_read(self):
        self.assertEqual(self.rules(403, own="no")["field"], "own")
        self.assertEqual(self.rules(422, links_by="anybody")["field"], "links_by")
        self.assertEqual(self.rules(422, reset_days=9999)["field"], "reset_days")
        self.rules(reset_days=30)
        self.assertEqual(self.rules(409, version="")["code"], "version.old")
        self.must(self.ana.get("/api/v1/ways-in/rules"), 403)

    def test_what_was_read_is_told_no_more(self):
        self.link("ana")
        self.assertEqual(len(self.ana.get("/api/v1/session").json()["user"]["told"]), 1)
        self.must(self.ana.post("/api/v1/ways-in/notices/read"))
        self.assertEqual(self.ana.get("/api/v1/session").json()["user"]["told"], [])

    def test_mail_that_does_not_go_out_stops_nothing(self):
        with (
            mock.patch("verifyloop.accounts.resets.send_mail", side_effect=OSError("away")),
            self.assertLogs("verifyloop.mail", "WARNING"),
            self.captureOnCommitCallbacks(execute=True),
        ):
            self.link()

    def test_at_the_server_there_is_a_link_where_nobody_else_can_make_one(self):
        out = io.StringIO()
        call_command("password_link", "pia", stdout=out)
        path = out.getvalue().split("site: ")[1].split()[0]
        self.taken(path)
        self.assertEqual(Entry.objects.filter(account="link by the server").count(), 2 + 1)
        with self.assertRaisesMessage(CommandError, "nobody of that name"):
            call_command("password_link", "nobody")


class Statements(WaysIn):
    def test_who_only_said_ok_answers_for_the_work_of_others(self):
        ben = self.client_of("ben")
        job = self.open()
        self.must(self.send(job, *works.prepared(), *works.readings(), *works.returned()))
        self.must(self.send(job, works.event("noted", text="ok"), client=ben))
        said = ben.get(f"/api/v1/jobs/{job}/signature").json()["statement"]
        self.assertIn("as responsible", said)
        self.assertIn("Ana Test did", said)
        own = self.ana.get(f"/api/v1/jobs/{job}/signature").json()["statement"]
        self.assertEqual(own, "I did this work and recorded it as it was.")
        self.must(self.send(job, works.event("signed"), client=ben, password=PASSWORD))
        self.assertEqual(self.paper(job)["performed"]["statement"], said)


class Namesakes(WaysIn):
    def test_a_file_of_a_namesake_is_not_ones_own(self):
        ben = self.people["ben"]
        ben.first_name, ben.last_name = "Ana", "Test"
        ben.save()
        sent = {"file": SimpleUploadedFile("note.txt", b"a note")}
        with (
            tempfile.TemporaryDirectory() as place,
            self.settings(DATA_DIR=Path(place)),
        ):
            made = self.must(self.ana.post("/api/v1/files/instrument/PT-1", sent))[0]
        address = f"/api/v1/files/content/{made['id']}/remove"
        body = {"reason": "not needed here"}
        refused = self.client_of("ben").post(address, body, content_type=JSON)
        self.assertEqual(refused.status_code, 403)
        self.must(self.ana.post(address, body, content_type=JSON))
