"""How often an endpoint asks the database does not depend on how much there is."""

from __future__ import annotations

from datetime import timedelta

from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from tests.server import detectors, works
from tests.server.base import ApiCase

#: by path: the most that one look may ask
MOST = {
    "/api/v1/today": 15,
    "/api/v1/safety": 6,
    "/api/v1/instruments": 8,
    "/api/v1/methods": 6,
    "/api/v1/kit/cylinders": 8,
    "/api/v1/kit/sensors": 8,
    "/api/v1/records": 8,
}


class Counts(ApiCase):
    def asked(self, path):
        with CaptureQueriesContext(
            connection,
        ) as caught:
            self.must(self.ana.get(path))
        return len(caught)

    def grow(self, start, count):
        for n in range(start, start + count):
            due = timezone.localdate() - timedelta(days=n % 5)
            detectors.detector(f"GD-{n}", "gas_zero_span", next_due=due)
            works.instrument(f"FT-{n}", next_due=due)
            parts = [{"gas": "methane", "value": "50", "unit": "%LEL"}]
            detectors.cylinder(f"GX-{n}", parts)

    def test_they_are_constant_and_few(self):
        self.signed_job("PT-1")
        detectors.shelf()
        self.grow(0, 3)
        self.zone_known()
        few = {path: self.asked(path) for path in MOST}
        self.grow(3, 12)
        many = {path: self.asked(path) for path in MOST}
        self.assertEqual(few, many)
        for path, most in MOST.items():
            self.assertLessEqual(many[path], most, path)
