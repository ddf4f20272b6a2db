"""Every entry of a whole job with nonsense in every field of it, at the moment when it is due.

It is refused by the name of the field, or taken; what is taken never breaks the job: its state,
its history and its certificate can still be read.
"""

import uuid

from django.test import SimpleTestCase

from calibration.engine.admission.admit import admit
from calibration.engine.job.events import make_event
from calibration.engine.job.fold import history, view
from calibration.engine.job.job import Job
from calibration.engine.job.ledger import build
from calibration.engine.method.family import method_for, newest_methods
from calibration.engine.papers.certificate import certificate
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import exact
from tests.long import several
from tests.replay.play_again import kept

NONSENSE = ("", "no such thing", "NaN", "-1e30", "1e30", "0", None, [], {"a": 1}, "x" * 9000)
#: Every so many entries of a job; every one in full.
EVERY = several(full=1, small=12)


def wrong(data):
    """Yield a name and the entry's data with nonsense in one field, or with the field left out."""
    for field in data:
        for value in NONSENSE:
            yield f"{field} = {str(value)[:20]!r}", {**data, field: value}
        yield f"no {field}", {k: v for k, v in data.items() if k != field}
    yield "one more", {**data, "spare": "1"}


class OfMethod:
    """One method's job, a class each, so that they run side by side."""

    method = ""

    def test_nonsense_in_every_field_of_every_entry(self):
        job = kept(self.method)[1]
        method = method_for(job["method"], job["version"])
        events = [make_event(**one) for one in job["events"]]
        tried = 0
        for place in range(1, len(events), EVERY):
            before, one = events[:place], job["events"][place]
            for what, data in wrong(one["data"]):
                with self.subTest(entry=place, kind=one["kind"], what=what):
                    self.send(
                        method, before, {**one, "id": str(uuid.UUID(int=tried)), "data": data}
                    )
                    tried += 1
        self.assertGreater(tried, 50)

    def send(self, method, before, said):
        """Send it as a client does; look at the job when it was taken."""
        try:
            event = make_event(**said)
            admit(Job(build(method, before), event.when), event, {e.id: e for e in before})
            after = [*before, event]
            job = Job(build(method, after), event.when)
            with exact():
                seen = view(job, after)
        except InputError as refused:
            # A state that cannot be worked out is a refusal too: nothing is stored then.
            self.assertTrue(refused.message)
            self.assertTrue(refused.field, refused.message)
            return
        self.assertEqual(len(history(job.ledger, after)), len(after))
        self.assertEqual(certificate(job, seen, "0" * 64)["number"], seen.job)


for _method in (m.id for m in newest_methods()):
    _name = "".join(word.capitalize() for word in _method.split("_"))
    _own = {"method": _method, "__module__": __name__}
    globals()[_name] = type(_name, (OfMethod, SimpleTestCase), _own)
