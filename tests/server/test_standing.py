"""Whether a result still holds, what anybody notes that ends it, and gas that is set aside."""

from datetime import timedelta

from django.utils import timezone

from tests.server import gcs, mixtures, traces
from tests.server.base import ApiCase
from tests.server.walker import RigWalk
from verifyloop.kit.models import Hold, Use
from verifyloop.plant.models import Happening


class Holds(ApiCase):
    """A device that is good until it is switched off, or until local midnight."""

    def setUp(self):
        super().setUp()
        gcs.shelf()
        with self.in_the_morning():
            gcs.rig(gcs.device("X-1"))

    def note(self, at="", what="switched_off", tag="X-1", client=None):
        return (client or self.ana).post(
            f"/api/v1/instruments/{tag}/happened",
            {"what": what, "at": at},
            content_type="application/json",
        )

    def standing(self):
        return self.must(self.ana.get("/api/v1/instruments/X-1"))["standing"]

    def today(self):
        return {s["tag"]: s for s in self.must(self.ana.get("/api/v1/today"))["stands"]}

    def calibrate(self):
        with self.in_the_morning():
            walk = RigWalk(self, "X-1", gcs.TOLD)
        walk.walk()
        return walk

    def test_never_calibrated_is_not_good(self):
        self.assertEqual(self.standing()["short"], "not calibrated yet")
        self.assertFalse(self.today()["X-1"]["good"])
        self.assertNotIn("PT-1", self.today())
        self.assertIsNone(self.must(self.ana.get("/api/v1/instruments/PT-1"))["standing"])

    def test_a_reviewer_notes_that_it_was_switched_off_and_that_ends_it(self):
        walk = self.calibrate()
        with walk.at():
            self.assertTrue(self.standing()["good"])
            self.assertEqual(self.today()["X-1"]["text"], "good until midnight")
            walk.later(60)
        with walk.at():
            said = self.must(self.note(client=self.client_of("rea")))
            self.assertFalse(said["standing"]["good"])
            self.assertIn("Calibrate it before the next sample", said["standing"]["text"])
            self.assertEqual(said["happened"][0]["by"], "Rea Test")
            self.assertFalse(self.today()["X-1"]["good"])

    def test_switched_off_before_the_runs_ends_nothing(self):
        walk = self.calibrate()
        with walk.at():
            before = timezone.localtime().replace(hour=8).strftime("%Y-%m-%dT%H:%M")
            self.must(self.note(at=before))
            self.assertTrue(self.standing()["good"])
        self.assertIn("ended at midnight", self.standing()["text"])

    def test_what_cannot_be_is_refused_by_its_field(self):
        soon = timezone.localtime(timezone.now() + timedelta(hours=2)).isoformat()
        cases = (
            ({"at": "yesterday"}, "time.invalid", "at"),
            ({"at": soon}, "time.future", "at"),
            ({"at": "2020-01-01T08:00"}, "time.too_long_ago", "at"),
            ({"what": "struck by lightning"}, "happening.unknown", "what"),
            ({"tag": "PT-1"}, "happening.unknown", "what"),
        )
        for sent, code, field in cases:
            with self.subTest(sent=sent):
                answer = self.note(**sent)
                self.assertEqual(answer.status_code, 422, answer.content)
                self.assertEqual((answer.json()["code"], answer.json()["field"]), (code, field))
        self.assertEqual(self.note(tag="NO-1").status_code, 404)
        self.assertFalse(Happening.objects.exists())


class SetAside(ApiCase):
    """Gas of references is set aside while a job is open, and booked as it is drawn."""

    def held(self, walk):
        return dict(Hold.objects.filter(job=walk.job).values_list("reference__asset", "amount"))

    def done(self, walk, upto):
        """Walk to the end; nothing is held afterwards, and something was drawn."""
        walk.walk(upto)
        held = self.held(walk)
        listed = self.must(self.ana.get("/api/v1/kit/references"))["references"]
        walk.walk()
        self.assertEqual(self.held(walk), {})
        self.assertTrue(Use.objects.filter(job=walk.job).exists())
        return held, {r["asset"]: r for r in listed}

    def test_trace_oxygen_and_the_list_of_references_says_so(self):
        traces.shelf()
        traces.rig(traces.analyzer("X-1"))
        held, listed = self.done(RigWalk(self, "X-1", traces.TOLD), "judge")
        self.assertEqual(set(held), {"C-9"})
        self.assertIn("aside", str(listed["C-9"]))

    def test_a_mixture_holds_both_of_its_cylinders(self):
        mixtures.shelf()
        mixtures.rig(mixtures.analyzer("X-1"))
        held, _ = self.done(RigWalk(self, "X-1", mixtures.TOLD), "zero_on")
        self.assertEqual(set(held), {"N-5", "C-5"})

    def test_a_chromatograph_holds_what_five_fillings_take_at_most(self):
        gcs.shelf()
        gcs.rig(gcs.device("X-1"))
        walk = RigWalk(self, "X-1", gcs.TOLD)
        walk.walk("judge")
        taken = sum(u.amount for u in Use.objects.filter(job=walk.job))
        self.assertGreater(taken, 0)
        self.assertEqual(set(self.held(walk)), {"C-7"})


class Courses(ApiCase):
    """What wears is drawn from what was learnt, whatever family it is of."""

    def test_each_component_of_a_chromatograph_has_its_course(self):
        gcs.shelf()
        gcs.rig(gcs.device("X-1"), aged_percent=8.0)
        RigWalk(self, "X-1", gcs.TOLD).walk()
        courses = self.must(self.ana.get("/api/v1/instruments/X-1"))["sensors"]
        self.assertEqual(len(courses), len(gcs.PEAKS))
        for one in courses:
            self.assertAlmostEqual(one["history"][0]["response"], 92.0, delta=3.0)

    def test_an_instrument_that_wears_nowhere_has_none(self):
        self.assertEqual(self.must(self.ana.get("/api/v1/instruments/PT-1"))["sensors"], [])
