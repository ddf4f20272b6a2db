"""What set a device is said on the paper, whichever family set it."""

from django.test import SimpleTestCase

import calibration.families  # noqa: F401  # registers them
from calibration.engine.job.events import make_event
from calibration.engine.job.history import in_words
from calibration.engine.job.ledger import Ledger
from calibration.engine.method.family import FAMILIES, family_of, method_for
from tests.replay.play_again import JOBS, read
from tests.replay.raw import raw_paper


def grown(job):
    """Yield each entry of a family's own with its ledger, and by how much the device changed."""
    events = [make_event(**one) for one in job["events"]]
    method = method_for(job["method"], job["version"])
    ledger = Ledger(method=method, opened=events[0].content, opened_event=events[0])
    back = {e.content.event for e in events if e.kind == "retracted"}
    for event in events:
        before = ledger.changes
        if event.id in back:
            continue
        ledger.add(event)
        if event.kind in family_of(method).events:
            yield ledger, event, ledger.changes - before


class Moves(SimpleTestCase):
    def test_what_changes_a_device_says_so_and_stands_on_the_paper(self):
        seen = set()
        for place in sorted(JOBS.glob("*.jsonl.gz")):
            for job in read(place)[:4]:
                with self.subTest(job=job["name"], of=place.name):
                    seen |= self.said(job)
        sets = {name for f in FAMILIES.values() for name, kind in f.events.items() if kind.sets}
        self.assertEqual(seen, sets)

    def said(self, job):
        """Return the kinds of entry that set something in a job."""
        own = family_of(method_for(job["method"], job["version"])).events
        paper = raw_paper(job["method"], job["version"], job["events"])
        found = set()
        for ledger, event, changed in grown(job):
            if changed:
                found.add(event.kind)
                self.assertTrue(own[event.kind].sets, event.kind)
            if paper and own[event.kind].sets == "said":
                self.assertIn(in_words(ledger, event), paper["adjustments"])
        return found
