"""Every reference on one list, bottles that are used up, and what is offered for a role."""

from __future__ import annotations

from datetime import timedelta

from django.utils import timezone

from tests.server import electrodes, works
from tests.server.base import ApiCase
from tests.server.walker import TypedWalk
from tests.server.works import event
from verifyloop.kit.models import Reference, Use

TOLD = {"operator": "Jo", "serial": "S-77"}


class Listed(ApiCase):
    def setUp(self):
        super().setUp()
        electrodes.shelf()

    def listed(self):
        found = self.must(self.ana.get("/api/v1/kit/references"))["references"]
        return {r["asset"]: r for r in found}

    def test_each_stands_there_with_its_date_and_what_its_kind_adds(self):
        found = self.listed()
        self.assertEqual(set(found), set(Reference.objects.values_list("asset", flat=True)))
        bottle = found["B-4.006"]
        self.assertEqual(bottle["left"], "1000 mL")
        self.assertEqual(
            [(r["label"], r["value"]) for r in bottle["lines"]][:2],
            [("Set", "primary 4.006"), ("lot", "L-1")],
        )
        meter = found["M-9"] if "M-9" in found else next(iter(found.values()))
        self.assertEqual((meter["lines"], meter["left"]), ([], ""))

    def test_words_and_pages(self):
        def asked(**query):
            return self.must(self.ana.get("/api/v1/kit/references", query))

        every = asked()
        self.assertEqual((every["total"], every["pages"]), (len(every["references"]), 1))
        two = asked(page=2, per_page=3)
        self.assertEqual((two["page"], two["pages"]), (2, -(-every["total"] // 3)))
        self.assertEqual(two["references"], every["references"][3:6])
        words = asked(q="pressure r-2")
        self.assertEqual([r["asset"] for r in words["references"]], ["R-2"])
        nothing = asked(q="no such thing", page=9)
        self.assertEqual((nothing["total"], nothing["page"], nothing["references"]), (0, 1, []))

    def test_what_may_not_be_used_says_why(self):
        yesterday = timezone.localdate() - timedelta(days=1)
        Reference.objects.filter(asset="B-7.00").update(due_on=yesterday)
        Reference.objects.filter(asset="B-4.01").update(withdrawn="cloudy")
        found = self.listed()
        self.assertIn("was due", found["B-7.00"]["remark"])
        self.assertEqual((found["B-7.00"]["usable"], found["B-4.01"]["usable"]), (False, False))
        self.assertIn("cloudy", found["B-4.01"]["remark"])

    def test_a_bottle_that_is_nearly_empty_says_so(self):
        bottle = Reference.objects.get(asset="B-6.865")
        Use.objects.create(
            reference=bottle, job="J-1", tag="X", at=timezone.now(), amount=0.9 * bottle.amount
        )
        said = self.listed()["B-6.865"]
        self.assertEqual((said["left"], said["usable"]), ("100 mL", True))
        self.assertIn("Nearly empty", said["remark"])

    def test_the_list_takes_few_queries_however_long_it_is(self):
        for n in range(20):
            works.reference(f"Z-{n}", "current", "0.01", "24", "mA")
        self.zone_known()
        with self.assertNumQueries(5):  # session, person, how many, set aside, list
            self.listed()


class Offered(ApiCase):
    def setUp(self):
        super().setUp()
        electrodes.shelf()
        electrodes.loop("X-1")
        self.job = self.open("X-1")

    def offered(self, role, quantity="ph_buffer"):
        query = {"quantity": quantity, "role": role}
        return self.must(self.ana.get(f"/api/v1/jobs/{self.job}/kit", query))

    def test_only_what_can_serve_and_the_set_on_record_first(self):
        near, side = self.offered("buffer_near"), self.offered("buffer_side")
        self.assertEqual([o["asset"] for o in near], ["B-6.865", "B-7.00"])
        self.assertEqual([o["adequate"] for o in near], [True, False])
        self.assertIn("primary set on record", near[1]["remark"])
        self.assertEqual([o["asset"] for o in side], ["B-4.006", "B-4.01"])

    def test_a_role_that_the_job_does_not_have_is_offered_nothing(self):
        self.assertEqual(self.offered("buffer_third"), [])
        self.assertEqual(self.offered("nothing"), [])

    def test_one_past_its_date_is_shown_last_and_not_taken(self):
        yesterday = timezone.localdate() - timedelta(days=1)
        Reference.objects.filter(asset="B-6.865").update(due_on=yesterday)
        found = self.offered("buffer_near")
        self.assertEqual([o["asset"] for o in found], ["B-7.00", "B-6.865"])
        self.assertFalse(found[1]["usable"])
        answer = self.send(self.job, event("kit_chosen", role="buffer_near", asset="B-6.865"))
        self.assertEqual(self.must(answer, 422)["code"], "reference.expired")

    def test_a_reason_opens_what_a_doubt_shuts(self):
        choice = {"role": "buffer_near", "asset": "B-7.00"}
        refused = self.must(self.send(self.job, event("kit_chosen", **choice)), 422)
        self.assertEqual(
            (refused["code"], refused["field"]), ("reference.not_adequate", "data.reason")
        )
        said = event("kit_chosen", reason="the analyzer was set to it today", **choice)
        state = self.must(self.send(self.job, said))
        role = next(a for a in state["tasks"][0]["asks"] if a["id"] == "buffer_near")
        self.assertTrue(role["said"].startswith("B-7.00, "), role["said"])
        self.assertIn("the analyzer was set to it today", role["said"])


class UsedUp(ApiCase):
    def setUp(self):
        super().setUp()
        electrodes.shelf()
        electrodes.loop("X-1")
        self.walk = TypedWalk(self, "X-1", TOLD, electrodes.SOUND, electrodes.POURED)

    def poured(self):
        uses = Use.objects.filter(job=self.walk.job).select_related("reference")
        return sorted((u.reference.asset, u.amount) for u in uses)

    def test_each_immersion_is_booked_on_its_bottle_and_once(self):
        self.walk.walk("as_found")
        self.assertEqual(self.poured(), [])
        self.walk.walk("judge")
        self.assertEqual(self.poured(), [("B-4.006", 60.0), ("B-6.865", 60.0)])
        note = event("noted", text="a remark")
        self.must(self.send(self.walk.job, note))
        self.assertEqual(len(self.poured()), 2)

    def test_what_was_poured_cannot_be_taken_back_but_the_reading_can(self):
        state = self.walk.walk("judge")
        history = self.must(self.ana.get(f"/api/v1/jobs/{self.walk.job}/history"))
        lines = {line["id"]: line for line in history}
        poured = next(i for i, line in lines.items() if "fresh portion" in line["text"])
        self.assertFalse(lines[poured]["can_retract"])
        back = event("retracted", event=poured, reason="slip")
        self.assertEqual(self.must(self.send(self.walk.job, back), 422)["code"], "retract.refused")
        reading = state["as_found"]["points"][1]["event"]
        back = event("retracted", event=reading, reason="read too early")
        state = self.must(self.send(self.walk.job, back))
        self.assertEqual(state["current_step"], "as_found")
        self.assertEqual(len(self.poured()), 2)
