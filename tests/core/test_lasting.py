"""Until when a result holds, how something wears, and what is drawn while a gas is on."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta, timezone

from django.test import SimpleTestCase

from calibration.engine.judging.validity import Happened
from calibration.families.chromatograph.validity import FROM, OFF, courses, standing
from calibration.families.trace.life import courses as life_of
from calibration.kernel.numbers import exact
from tests.core.mixtures import MixVisit
from tests.core.traces import TraceVisit

#: A site two hours east of Greenwich.
ZONE = timezone(timedelta(hours=2))


def at(day, hour, minute=0):
    return datetime(2026, 3, day, hour, minute, tzinfo=ZONE)


def signed(when, since=None):
    entry = {"responses": {"hydrogen": "99.0"}, "stored": True}
    if since is not None:
        entry[FROM] = since.isoformat()
    return [(when, [entry])]


class UntilWhen(SimpleTestCase):
    def test_good_until_midnight_of_the_site(self):
        """Calibrated at 00:30 local, which is the day before by Greenwich."""
        history = signed(at(5, 0, 30).astimezone(UTC))
        self.assertTrue(standing(history, [], at(5, 23, 59)).good)
        over = standing(history, [], at(6, 0, 0))
        self.assertFalse(over.good)
        self.assertIn("2026-03-05 00:30", over.text)

    def test_switched_off_ends_it_whoever_noted_it_and_however_late(self):
        history = signed(at(5, 9), since=at(5, 8, 40))
        for moment, good in ((at(5, 8, 39), True), (at(5, 8, 50), False), (at(5, 12), False)):
            with self.subTest(moment):
                found = standing(history, [Happened(what=OFF, at=moment)], at(5, 14))
                self.assertEqual(found.good, good)

    def test_switched_off_between_last_run_and_signature_ends_it(self):
        history = signed(at(5, 9), since=at(5, 8, 40))
        found = standing(history, [Happened(what=OFF, at=at(5, 8, 55))], at(5, 9, 5))
        self.assertEqual(found.short, "switched off 2026-03-05 08:55")

    def test_calibrated_anew_after_it_was_switched_off(self):
        history = [*signed(at(5, 9)), *signed(at(5, 13))]
        off = [Happened(what=OFF, at=at(5, 11))]
        self.assertTrue(standing(history, off, at(5, 14)).good)

    def test_a_job_that_ended_badly_is_no_calibration(self):
        self.assertFalse(standing([(at(5, 9), [])], [], at(5, 10)).good)


class Wearing(SimpleTestCase):
    def test_response_counts_from_the_first_though_it_was_stored(self):
        """Found 98 % and stored, then 97 % of that, not stored, then 96 %: 98, 95.06, 94.08 %."""
        own = {"peaks": [{"id": "a", "gas": "hydrogen", "label": "Hydrogen"}]}
        history = [
            (date(2026, month, 1), [{"responses": {"hydrogen": share}, "stored": stored}])
            for month, share, stored in ((1, "98", True), (2, "97", False), (3, "96", True))
        ]
        (course,) = courses(own, history, {})
        self.assertEqual([a.response for a in course.history], [98.0, 95.06, 94.08])
        self.assertEqual((course.weak, course.replace), (0.0, 0.0))

    def test_a_sensor_that_loses_two_percent_a_month_has_its_day(self):
        """100 % falling by 2 % a month reaches 40 % after 30 months."""
        own = {"sample_ppm": "2", "holds_minutes": "30"}
        history = [
            (
                date(2024 + n // 12, n % 12 + 1, 1),
                [{"answered": str(100 - 2 * n), "renewed": n == 0}],
            )
            for n in range(12)
        ]
        (course,) = life_of(own, history, {})
        self.assertEqual(course.replace_about[:7], "2026-07")
        self.assertTrue(course.order_by < course.replace_about)


class Drawn(SimpleTestCase):
    def test_gas_is_set_aside_until_it_was_on(self):
        for visit, role in ((TraceVisit(), "span_gas"), (MixVisit(), "mixture")):
            with self.subTest(role), exact():
                family = visit.standing().family
                visit.until("operator")
                job = visit.standing()
                asset = job.ledger.kit[role].asset.asset
                self.assertGreater(family.supplies.aside(job)[asset], 5)
                self.assertEqual(family.supplies.drawn(job), ())
                visit.until("")
                job = visit.standing()
                self.assertEqual(family.supplies.aside(job), {})
                drawn = [d.amount for d in family.supplies.drawn(job) if d.asset == asset]
                self.assertTrue(drawn and min(drawn) > 0)
