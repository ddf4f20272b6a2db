"""The automatic zero of an analyzer goes on while nobody looks; each time is told once."""

from dataclasses import replace
from datetime import timedelta
from unittest import mock

from django.db import transaction
from django.utils import timezone

from calibration.families.mixture.model import corrections, own_zeros
from calibration.simulate.commands import Command
from tests.server import mixtures, works
from tests.server.base import ApiCase
from tests.server.mixtures import CELLS
from tests.server.test_tampering import verified
from verifyloop.work.models import OwnAct

DAYS = timedelta(days=4)


class ByItself(ApiCase):
    def setUp(self):
        super().setUp()
        self.now = timezone.now()

    def looks(self, at):
        """Somebody opens the page of the analyzer at a moment."""
        with mock.patch("django.utils.timezone.now", return_value=at):
            return self.must(self.ana.get("/api/v1/instruments/AT-1"))["by_itself"]

    def told(self):
        return list(OwnAct.objects.order_by("at").values_list("at", "values", "text"))

    def test_four_days_of_nobody_looking(self):
        begun = self.now - DAYS - timedelta(minutes=1)
        mixtures.by_itself("AT-1", begun)
        said = self.looks(self.now)
        self.assertEqual((said["count"], said["every"], said["late"]), (96, "60 min", False))
        for n, (at, values, _) in enumerate(self.told(), start=1):
            self.assertEqual(at, begun + timedelta(hours=n))
            # By hand: 2.4 % vol a day is 0.1 an hour, 1.2 is 0.05; oxygen has another zero.
            self.assertAlmostEqual(float(values["a"]), 0.1, delta=0.1)
            self.assertAlmostEqual(float(values["b"]), -0.05, delta=0.011)
            self.assertNotIn("c", values)
        self.assertEqual(len(said["last"]), 5)
        self.assertEqual(said["bad"], [])
        self.assertTrue(verified()[1])

    def test_killed_in_between_it_is_the_same_as_looked_at_once(self):
        mixtures.by_itself("AT-1", self.now - DAYS)
        self.looks(self.now)
        at_once = self.told()
        OwnAct.objects.all().delete()
        self.looks(self.now - timedelta(days=2.3))
        some = OwnAct.objects.count()
        self.assertEqual(some, 40)
        with self.assertRaises(RuntimeError), transaction.atomic():
            self.looks(self.now - timedelta(days=1))
            raise RuntimeError("pulled plug")
        self.assertEqual(OwnAct.objects.count(), some)
        self.looks(self.now)
        self.looks(self.now)
        self.assertEqual(self.told(), at_once)

    def test_one_that_moved_too_far_is_on_today_until_a_good_one_follows(self):
        cells = (CELLS[0], replace(CELLS[1], zero_per_day=-3.6), CELLS[2])
        rig = mixtures.by_itself("AT-1", self.now - timedelta(hours=3), cells=cells)
        stands = {s["tag"]: s for s in self.must(self.ana.get("/api/v1/today"))["stands"]}
        self.assertFalse(stands["AT-1"]["good"])
        self.assertIn("Carbon monoxide more than its 0.1 % vol", stands["AT-1"]["text"])
        self.assertEqual(len(self.looks(self.now)["bad"]), 3)
        rig.model["cells"][1]["zero_per_day"] = 0.0
        rig.save()
        self.looks(self.now + timedelta(hours=1))
        self.assertEqual(self.must(self.ana.get("/api/v1/today"))["stands"], [])

    def test_one_that_does_not_come_is_late(self):
        mixtures.by_itself("AT-1", self.now - timedelta(hours=5), held=True)
        said = self.looks(self.now)
        self.assertEqual((said["count"], said["late"]), (0, True))

    def test_not_while_gas_of_a_test_is_on(self):
        rig = mixtures.by_itself("AT-1", self.now)
        model = mixtures.MixModel(**{**vars(mixtures.sound()), "zeroes_every_s": 3600.0})
        on = Command(t=10 * 3600.0 + 60, kind="tell", setting="span")
        off = Command(t=12 * 3600.0 + 60, kind="tell", setting="process")
        seen = [t / 3600 for t in own_zeros(model, [on, off], 0.0, 14 * 3600.0)]
        self.assertEqual(seen, [1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 13, 14])
        self.assertEqual(len(corrections(model, [on, off], 0.0, 14 * 3600.0, rig.seed)), 12)

    def test_others_have_no_such_log(self):
        works.rig(works.instrument("PT-3"))
        for tag in ("PT-1", "PT-3"):
            self.assertIsNone(self.must(self.ana.get(f"/api/v1/instruments/{tag}"))["by_itself"])
