"""What tests of whole jobs share: what is refused, and tables of the certificate."""

from __future__ import annotations

from decimal import Decimal

from django.test import SimpleTestCase

from calibration.engine.papers.certificate import certificate
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import exact
from tests.long import DOCS, LONG


class Jobs(SimpleTestCase):
    """A job is played up to a step, and something is tried there."""

    def refused(self, visit, code, kind, **data):
        """It is refused with a code, a field and a remedy."""
        with self.assertRaises(InputError) as caught:
            visit.push(kind, **data)
        self.assertEqual(caught.exception.code, code)
        self.assertTrue(caught.exception.remedy)
        self.assertTrue(caught.exception.field)
        return caught.exception

    def paper(self, visit):
        with exact():
            return certificate(visit.standing(), visit.state(), "")

    def tables(self, visit):
        return {t["title"]: t for t in self.paper(visit)["tables"]}

    def advised(self, visit):
        """Return what is advised at the judgement."""
        return [c.label for c in visit.state().judgement.choices if c.recommended]

    def planted(self, found, table):
        """Rows as stored; at full count the promise is held."""
        text = found.text()
        self.assertEqual(text, table.read_text(), "run make tables")
        if LONG:
            found.promise(self)

    def published(self, name, faults):
        """Named first or left between two in 95 %, the wrong remedy < 1 %, false alarms < 2 %."""
        text = (DOCS / name).read_text()
        rows = [r.split("|") for r in text.splitlines() if r.startswith("| ") and "%" in r]
        self.assertEqual({r[1].strip() for r in rows}, set(faults))
        for row in rows:
            named, between = (float(Decimal(c.replace("%", "").strip())) for c in row[4:6])
            self.assertGreaterEqual(named + between, 95.0, row[1])
        for line, most in (("Wrong remedy first: ", 1.0), ("False alarms: ", 2.0)):
            share = text.split(line)[1].split("(")[1].split(" %")[0]
            self.assertLess(float(share), most)
