"""The support pages: the administrator looks at every table, and changes nothing."""

from __future__ import annotations

from django.contrib import admin
from django.test import Client
from django.urls import reverse
from django.utils import timezone

from tests.server import works
from tests.server.base import ApiCase
from verifyloop.accounts.models import Token, User
from verifyloop.accounts.tokens import new_token
from verifyloop.plant.models import Instrument
from verifyloop.work.models import Event


class Support(ApiCase):
    def setUp(self):
        super().setUp()
        self.job = self.signed_job()
        user = User(username="admin-1", first_name="Ada", last_name="Role", role="administrator")
        user.set_password(works.PASSWORD)
        user.save()
        self.people["admin-1"] = user
        self.admin = self.client_of("admin-1")

    def test_only_the_administrator_comes_in(self):
        for name, status in (("ana", 302), ("rea", 302), ("pia", 302), ("admin-1", 200)):
            self.assertEqual(self.client_of(name).get("/support/").status_code, status, name)

    def test_there_is_one_sign_in_and_one_place_to_change_a_password(self):
        nobody = Client()
        self.assertEqual(nobody.get("/support/login/")["Location"], "/")
        refused = self.client_of("pia").get("/support/", follow=True)
        self.assertContains(refused, "for the administrator", status_code=403)
        sent = self.admin.get("/support/password_change/")
        self.assertEqual(sent["Location"], "/site?show=password")

    def test_every_table_is_shown_and_none_is_changed(self):
        said = {"name": "Archive", "scope": "read", "days": 3, "password": works.PASSWORD}
        _, token = new_token(actor=self.people["ana"], now=timezone.now(), **said)
        secrets = {t.digest for t in Token.objects.all()} | {token, self.people["ana"].password}
        for model, shown in admin.site._registry.items():
            names = model._meta.app_label, model._meta.model_name
            where = reverse("admin:{}_{}_changelist".format(*names))
            page = self.admin.get(where)
            self.assertEqual(page.status_code, 200, where)
            self.assertFalse(shown.has_add_permission(page.wsgi_request))
            self.assertEqual(self.admin.get(f"{where}?q=ana").status_code, 200, where)
            for row in model._default_manager.all()[:1]:
                one = reverse("admin:{}_{}_change".format(*names), args=[row.pk])
                page = self.admin.get(one)
                self.assertEqual(page.status_code, 200, one)
                for secret in secrets:
                    self.assertNotIn(secret, page.content.decode(), one)

    def test_nothing_is_written_past_the_product(self):
        one = Instrument.objects.get(tag="PT-1")
        event = Event.objects.first()
        before = Event.objects.count()
        token = self.admin.cookies.get("csrftoken")
        more = {"HTTP_X_CSRFTOKEN": token.value} if token else {}
        for path in (
            f"/support/plant/instrument/{one.pk}/change/",
            f"/support/plant/instrument/{one.pk}/delete/",
            "/support/plant/instrument/add/",
            f"/support/work/event/{event.pk}/delete/",
        ):
            answer = self.admin.post(path, {"serial": "other", "post": "yes"}, **more)
            self.assertEqual(answer.status_code, 403, path)
        one.refresh_from_db()
        self.assertNotEqual(one.serial, "other")
        self.assertEqual(Event.objects.count(), before)
