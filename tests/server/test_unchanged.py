"""What is kept until the register has another line is never older than what is worked out anew."""

from __future__ import annotations

from datetime import timedelta
from unittest import mock

from django.db import connection, transaction
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from tests.core.detectors import BOTTLES, DETECTORS
from tests.server import detectors, works
from tests.server.setting_up import SetUp
from tests.server.test_walks import TOLD_OF_GAS
from tests.server.walker import TypedWalk
from verifyloop.plant import words
from verifyloop.plant.models import Area, Instrument, Plan, SiteRule
from verifyloop.register import unchanged
from verifyloop.work import selectors, sensors

JSON = "application/json"
LOOKED = ("today", "kit/sensors", "instruments?q=gt")


class Unchanged(SetUp):
    def setUp(self):
        super().setUp()
        detectors.shelf()
        detectors.detector("GT-1", "gas_zero_span", next_due=timezone.localdate())

    def looked(self):
        return [self.must(self.ana.get(f"/api/v1/{path}")) for path in LOOKED]

    def forget(self):
        unchanged._kept.clear()
        sensors._said.clear()

    def same(self):
        """Look twice, and once with nothing kept: all the same."""
        first, kept = self.looked(), self.looked()
        self.assertEqual(first, kept)
        self.forget()
        self.assertEqual(self.looked(), kept)
        return first

    def calibrated(self):
        _, model = DETECTORS["gas_zero_span"]
        walk = TypedWalk(self, "GT-1", TOLD_OF_GAS, model, BOTTLES)
        walk.walk()
        return walk

    def test_every_change_is_seen_at_the_next_look(self):
        due = str(timezone.localdate() + timedelta(days=4))
        plan = self.must(self.ana.get("/api/v1/instruments/PT-1"))["plans"][0]
        moved = {"due": due, "reason": "campaign", "version": plan["version"]}
        changes = {
            "a due day": lambda: self.pia.post("/api/v1/instruments/PT-1/due", moved, JSON),
            "an instrument": lambda: works.instrument("PT-2", next_due=timezone.localdate()),
            "many days at once": lambda: Plan.objects.filter(instrument__tag="PT-2").update(
                next_due=timezone.localdate() + timedelta(days=1)
            ),
            "no day": lambda: Plan.objects.filter(instrument__tag="PT-2").update(next_due=None),
            "a name": lambda: Instrument.objects.filter(tag="PT-1").update(description="Feed"),
            "an area": lambda: Area.objects.filter(name="Boiler house").update(name="Boilers"),
            "out of service": lambda: Instrument.objects.filter(tag="PT-1").update(
                out_of_service={"since": "2026-11-01T08:00:00+00:00", "on": [], "left": "x"}
            ),
            "a job": lambda: self.open("PT-2"),
            "a signature": self.calibrated,
            "a limit that nothing reaches yet": lambda: SiteRule.objects.create(
                method="gas_zero_span", key="weak_percent", value="99", unit="%", source="site"
            ),
            "a plan gone": lambda: Plan.objects.filter(instrument__tag="PT-2").delete(),
        }
        before = self.same()
        for what, change in changes.items():
            with self.subTest(what):
                change()
                now = self.same()
                self.assertEqual(now == before, what == "a limit that nothing reaches yet")
                before = now

    def test_what_is_rolled_back_was_never_kept(self):
        before = self.same()
        with transaction.atomic():
            Plan.objects.update(next_due=None)
            self.assertNotEqual(self.looked(), before)
            transaction.set_rollback(True)
        self.assertEqual(self.looked(), before)


class Words(SetUp):
    """The words of instruments are those of the store, whatever changed since they were read."""

    def found(self, words):
        said = self.must(self.ana.get("/api/v1/instruments", {"q": words}))
        return [f["tag"] for f in said["found"]]

    def test_what_is_looked_through_follows_the_register(self):
        self.assertEqual(self.found("drum"), ["PT-1"])
        works.instrument("PT-2", description="Drum level")
        self.assertEqual(self.found("DRUM"), ["PT-1", "PT-2"])
        Instrument.objects.filter(tag="PT-1").update(description="Feed water", serial="S-4711")
        self.assertEqual(self.found("drum"), ["PT-2"])
        self.assertEqual(self.found("feed 4711"), ["PT-1"])
        Area.objects.filter(name="Boiler house").update(name="Power house")
        self.assertEqual(self.found("power"), ["PT-1", "PT-2"])
        self.assertEqual(self.found("boiler"), [])
        with transaction.atomic():
            Instrument.objects.filter(tag="PT-2").update(description="Elsewhere")
            self.assertEqual(self.found("elsewhere"), ["PT-2"])
            transaction.set_rollback(True)
        self.assertEqual(self.found("elsewhere"), [])
        self.assertEqual(self.found("drum"), ["PT-2"])
        Instrument.objects.filter(tag="PT-2").delete()
        self.assertEqual(self.found("drum"), [])

    def test_somebody_is_looking_through_them_while_they_are_read_again(self):
        works.instrument("PT-2")
        looking = iter(words._texts().items())
        next(looking)
        Instrument.objects.filter(tag="PT-2").delete()
        self.assertEqual(self.found("pt-2"), [])
        self.assertEqual(len(list(looking)), 1)

    def test_many_hits_and_few_are_found_by_the_same_words(self):
        works.instrument("PT-2", description="Drum level")
        for most in (1_000, 0):
            with self.subTest(most), mock.patch.object(words, "MOST_HITS", most):
                for said in ("drum", "boiler", "s-77", "pt-", "drum pt-2", "nothing"):
                    self.assertEqual(
                        self.found(said),
                        [
                            i.tag
                            for i in Instrument.objects.order_by("tag")
                            if all(
                                w in f"{i.tag} {i.description} {i.serial} {i.area.name}".lower()
                                for w in said.split()
                            )
                        ],
                    )

    def records(self, words):
        said = self.must(self.ana.get("/api/v1/records", {"q": words}))
        return [r["job"] for r in said["records"]]

    def test_names_and_orders_of_records_follow_each_signature(self):
        self.assertEqual(self.records("ana"), [])
        plan = Plan.objects.get(instrument__tag="PT-1")
        plan.work_order = "WO 47/11"
        plan.save()
        first = self.signed_job("PT-1")
        for words_ in ("ana", "ANA test", "47/11", "ana 47/11", "ana pt-1"):
            self.assertEqual(self.records(words_), [first], words_)
        self.assertEqual(self.records("ben"), [])
        works.instrument("PT-2")
        self.ana, ana = self.client_of("ben"), self.ana
        second = self.signed_job("PT-2")
        self.ana = ana
        self.assertEqual(self.records("ben"), [second])
        self.assertEqual(self.records("test"), [second, first])
        self.assertEqual(self.records("test 47"), [first])
        with mock.patch.object(selectors, "MOST_NAMES", 0):
            self.assertEqual(self.records("test"), [second, first])
            self.assertEqual(self.records("ben"), [second])

    def test_what_is_in_no_record_is_not_looked_for_in_any(self):
        self.signed_job("PT-1")
        self.records("ana")
        with CaptureQueriesContext(connection) as asked:
            self.assertEqual(self.records("nothinglikethis"), [])
        self.assertFalse([q for q in asked if 'FROM "work_job"' in q["sql"]])
