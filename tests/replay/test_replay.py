"""Every kept job gives, entry by entry, what it gave when it was done."""

from django.test import SimpleTestCase

import calibration.families  # noqa: F401  # registers them
from calibration.engine.method.family import newest_methods
from tests.long import several
from tests.replay.adapter import flat
from tests.replay.play_again import JOBS, kept, looks, papers, read, refusal
from tests.replay.raw import raw_paper, today

#: At least so many whole jobs of every method.
LEAST = 5
#: Each so many entries the whole state is compared, and always the last; in the long run all.
EVERY = several(full=1, small=8)


class Kept(SimpleTestCase):
    def test_there_are_jobs_of_the_newest_version_of_every_method(self):
        missing = [(m.id, m.version) for m in newest_methods() if not kept(m.id, m.version)]
        self.assertEqual(missing, [])


class OfMethod:
    """The kept jobs of one version of a method; a class each, so that they run side by side."""

    maxDiff = 4000
    method = ""
    place = JOBS

    def test_reads_as_it_was_signed(self):
        jobs = read(self.place)
        self.assertGreaterEqual(len(jobs), LEAST)
        for job in jobs:
            with self.subTest(job=job["name"]):
                self.same(job)

    def test_its_paper_reads_as_it_does_today(self):
        """Raw: people, deviations, condition and outcome too, and nothing worked out anew."""
        papers = today(self.place)
        for job in read(self.place):
            with self.subTest(job=job["name"]):
                found = raw_paper(job["method"], job["version"], job["events"])
                self.agree(
                    flat(found), flat(papers[job["name"]]["paper"] or {}), f"{job['name']}, paper"
                )

    def agree(self, found, wanted, where):
        """Say only what differs."""
        if found == wanted:
            return
        paths = {p for p in {*found, *wanted} if found.get(p) != wanted.get(p)}
        differs = {p: (wanted.get(p), found.get(p)) for p in sorted(paths)[:8]}
        self.assertEqual(differs, {}, f"{where}: recorded, now; {len(paths)} differ")

    def same(self, job):
        events, recorded = job["events"], {}
        known, raw = (job["method"], job["version"], events), job.get("raw", False)
        seen = looks(*known, every=EVERY, raw=raw)
        for number, (wanted, now) in enumerate(zip(job["states"], seen, strict=True)):
            for path in wanted.get("gone", ()):
                recorded.pop(path)
            recorded |= {path: value for path, value in wanted.items() if path != "gone"}
            if now:
                self.agree(now, recorded, f"{job['name']}, entry {number + 1}")
        self.agree(papers(*known, raw=raw), job["papers"], job["name"])
        for after, tried, said in job["refused"]:
            found = refusal(job["method"], job["version"], events[:after], tried)
            self.assertEqual(found, said, f"{job['name']}, refused after entry {after}")


for _place in sorted(JOBS.iterdir()):
    _method, _version = _place.name.split(".")[:2]
    _name = "".join(word.capitalize() for word in _method.split("_"))
    _name += _version if _version.isdigit() else ""
    _own = {"method": _method, "place": _place, "__module__": __name__}
    globals()[_name] = type(_name, (OfMethod, SimpleTestCase), _own)
