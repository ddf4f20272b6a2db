"""A works of the version before opens after migration and says the same."""

import gzip
import json
import re
from pathlib import Path

from django.test import SimpleTestCase

from tests.databases import on_sqlite
from tests.process import RealServer
from tests.replay.adapter import flat
from tests.replay.words import words_then

OLD = Path(__file__).with_name("old")


REVIEWED = {"accepted": "accepted", "redo": "to be done again"}


#: Figures that were said whether they existed or not, and what was said where they did not.
NONE = {"Hysteresis": "0.00", "Linearity": "0.00", "Repeatability": "0.00"}
DRAWN_OUT = ("Zero shift", "Span error")


def with_what_did_not_exist(run, before):
    """Put back the figures that are none now; every other one has to be as it was."""
    have = {c["name"]: c for c in run["characteristics"]}
    for old in before["characteristics"]:
        if old["name"] in DRAWN_OUT or NONE.get(old["name"]) == old["value"]:
            have.setdefault(old["name"], old)
    run["characteristics"] = [
        have[c["name"]] for c in before["characteristics"] if c["name"] in have
    ]


def runs_of(said, before):
    """Yield the runs of a certificate, each with what it was."""
    if "chain" in said:
        for name in ("as_found", "as_left"):
            yield said[name], before[name]
        yield from zip(said["extra_runs"], before["extra_runs"], strict=True)


def in_percent(run, old):
    """Errors of a detector come in the unit of the gas now; they were in percent of span."""
    if run["error_unit"] != old["error_unit"]:
        run["error_unit"] = old["error_unit"]
        for point in run["points"]:
            point["error"] = point["error_percent"]


def as_it_was(said, before):
    """Return an answer with what has moved since put back where it was."""
    if not isinstance(said, dict):
        return said
    for limit in said.get("limits", ()):
        # A choice was shown with blanks, and could not be sent back as it was read.
        limit["value"] = limit["value"].replace("_", " ")
    for run, old in runs_of(said, before):
        in_percent(run, old)
    for name in ("as_found", "as_left") if "chain" in said else ():
        with_what_did_not_exist(said[name], before[name])
    for run, old in zip(said.get("extra_runs", ()), before.get("extra_runs", ()), strict=True):
        with_what_did_not_exist(run, old)
    if "chain" in said:
        review = said["review"]
        words = f"{REVIEWED[review['outcome']]} by {review['by']}" if review else ""
        words += f": {review['comment']}" if review and review["comment"] else ""
        said["performed"]["review"] = words
        said["chain"]["sha256"] = said["chain"]["seal"]
    return said


#: What a sensor answers of a new one: net of zero since, and no better for a span that was set.
OF_A_SENSOR = re.compile(
    r"\.history\.\d+\.response$|\.of_new$"
    r"|(^|\.sensors)\.\d+\.(last|slope|advice|replace_about|replace_from|replace_to)$"
)


@on_sqlite
class OldDatabase(SimpleTestCase):
    maxDiff = 4000

    def test_today_histories_and_certificates_are_the_same_after_migration(self):
        self.out_of_service = []
        server = RealServer()
        self.addCleanup(server.close)
        server.database.write_bytes(gzip.decompress((OLD / "works.sqlite3.gz").read_bytes()))
        done = server.manage("migrate", "-v", "0")
        self.assertEqual(done.returncode, 0, done.stderr)
        said = server.python("-m", "tests.server.old.answers")
        self.assertEqual(said.returncode, 0, said.stderr)
        now = json.loads(said.stdout)
        before = json.loads(gzip.decompress((OLD / "answers.json.gz").read_bytes()))
        self.assertEqual(set(now), set(before))
        for path, answer in before.items():
            with self.subTest(path=path):
                self.marked_as_issued_later(path, now[path])
                wanted = flat(answer)
                found = words_then(flat(as_it_was(now[path], answer)))
                for key in self.worse(found):
                    wanted.pop(key, None)
                self.assertEqual({k: found.get(k) for k in wanted}, wanted)
        self.assertEqual(self.out_of_service, ["TE-4151"])
        said = server.manage("verify_records")
        self.assertEqual(said.returncode, 0, said.stdout[-2000:])

    def marked_as_issued_later(self, path, said):
        """A paper that is worked out when the database is brought along says so."""
        if path.endswith("certificate.json"):
            self.assertTrue(said["issue"]["late"])
            self.assertIn("signed before papers were kept", said["issue"]["reason"])

    def worse(self, found):
        """Yield what is said otherwise since a job has an outcome, where that was not good."""
        yield ".format"
        yield from (key for key in found if OF_A_SENSOR.search(key))
        # Portables have every gas set at each visit since version 2 of their method.
        yield from (
            f"{key.removesuffix('.id')}.value"
            for key, value in found.items()
            if key.endswith(".id") and value == "school" and found.get(".tag", "").startswith("PG")
        )
        if found.get(".verdict.outcome.good") is False:
            yield ".verdict.as_left"
        for key, value in found.items():
            if key.endswith(".next_due") and value == "out of service":
                yield key
            if key.endswith(".due_text") and str(value).startswith("out of service"):
                place = key.removesuffix(".due_text")
                self.out_of_service.append(found[f"{place}.tag"])
                yield from (key, f"{place}.group", ".overdue", ".soon")
