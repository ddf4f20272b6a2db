"""The round as a calendar: read by another program, under an address that ends."""

from __future__ import annotations

from datetime import timedelta

from django.test import Client
from django.utils import timezone
from icalendar import Calendar

from tests.server import works
from tests.server.base import ApiCase
from verifyloop.accounts.models import Feed
from verifyloop.plant.models import Plan

JSON = "application/json"


class Feeds(ApiCase):
    def address(self):
        return self.must(self.ana.post("/api/v1/calendar", content_type=JSON))["path"]

    def events(self, path):
        answer = Client().get(path)
        self.assertEqual(answer.status_code, 200, answer.content[:200])
        self.assertIn("text/calendar", answer["Content-Type"])
        return list(Calendar.from_ical(answer.content).walk("VEVENT"))

    def test_every_plan_is_a_day_that_keeps_its_identity_when_it_moves(self):
        due = timezone.localdate() + timedelta(days=40)
        works.instrument("PT-9", serial="9", next_due=due, description="A, b; c\\d\nnext")
        path = self.address()
        found = {str(e["summary"]).split(":")[0]: e for e in self.events(path)}
        one = found["PT-9"]
        self.assertEqual(one["dtstart"].dt, due)
        self.assertEqual(one["dtend"].dt, due + timedelta(days=1))
        self.assertTrue(str(one["description"]).startswith("A, b; c\\d\nnext"))
        self.assertTrue(str(one["url"]).endswith("/instruments/PT-9"))
        Plan.objects.filter(instrument__tag="PT-9").update(next_due=due + timedelta(days=7))
        again = {str(e["uid"]): e for e in self.events(path)}[str(one["uid"])]
        self.assertEqual(again["dtstart"].dt, due + timedelta(days=7))

    def test_an_address_ends_by_a_newer_one_by_hand_and_with_its_person(self):
        first = self.address()
        token = first.rsplit("/", 1)[1].removesuffix(".ics")
        self.assertFalse(Feed.objects.filter(digest__contains=token).exists())
        second = self.address()
        self.assertEqual(Client().get(first).status_code, 404)
        self.events(second)
        self.people["ana"].is_active = False
        self.people["ana"].save()
        self.assertEqual(Client().get(second).json()["code"], "calendar.ended")
        self.people["ana"].is_active = True
        self.people["ana"].save()
        self.must(self.client_of("ana").delete("/api/v1/calendar"))
        self.assertEqual(Client().get(second).status_code, 404)
        self.assertFalse(self.must(self.client_of("ana").get("/api/v1/calendar"))["there"])
