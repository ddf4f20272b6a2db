"""The papers of every method's kept jobs: schema, PDF and CSV say the same figures."""

import csv
import io
import re
from functools import cache

from django.test import SimpleTestCase
from jsonschema import Draft202012Validator
from pypdf import PdfReader
from reportlab.pdfbase.pdfmetrics import getFont

from calibration.engine.job.events import make_event
from calibration.engine.job.job import Job
from calibration.engine.job.ledger import build
from calibration.engine.judging.evaluation import WORST
from calibration.engine.method.family import method_for, newest_methods
from calibration.engine.papers.certificate import certificate
from tests.long import several
from tests.replay.play_again import kept, state_at
from verifyloop.paper import clean, load_fonts
from verifyloop.records.certificate import schema
from verifyloop.records.csv import as_csv
from verifyloop.records.pdf import render

EACH = several(full=100, small=1)
HEAD = "0f" * 32
VALIDATOR = Draft202012Validator(schema())


def paper(kept_job):
    """Return the certificate of a kept job; none of one that was not signed."""
    events = [make_event(**one) for one in kept_job["events"]]
    method = method_for(kept_job["method"], kept_job["version"])
    state = state_at(method, events, events[-1].when)
    if state.status == "open":
        return None
    return certificate(Job(build(method, events), events[-1].when), state, HEAD)


def runs_of(said):
    return [said["as_found"], said["as_left"], *said["extra_runs"]]


def words(text):
    """Return text without its blanks: a PDF breaks lines where it likes."""
    return re.sub(r"\s", "", text.replace("\u202f", ""))


def number(text):
    """Return the number that a paper says."""
    return float(text.replace("\u202f", "").replace("−", "-"))


@cache
def signed_of(method):
    """Return the papers of a method's kept jobs that were signed; they are only looked at."""
    return [said for said in map(paper, kept(method)) if said is not None]


class Papers:
    """One method's papers; a class each, so that they run side by side."""

    method = ""

    def papers(self):
        signed = signed_of(self.method)
        self.assertGreaterEqual(len(signed), 2)
        return signed

    def test_every_paper_follows_the_published_schema(self):
        for said in self.papers():
            with self.subTest(job=said["number"]):
                VALIDATOR.validate(said)

    def test_a_run_is_no_better_than_its_worst_point(self):
        for said in self.papers():
            for run in runs_of(said):
                with self.subTest(job=said["number"], run=run["title"]):
                    marks = [p["mark"] for p in run["points"]]
                    for mark in marks:
                        self.assertGreaterEqual(WORST[run["mark"]], WORST[mark])

    def test_each_mark_is_what_error_and_limit_say(self):
        for said in self.papers():
            for run in runs_of(said):
                for p in run["points"]:
                    if p["mark"] == "none":
                        continue
                    with self.subTest(job=said["number"], run=run["title"], point=p["reading"]):
                        beyond = abs(p["error_exact"]) > p["limit_exact"] + 1e-9
                        # Inside by its output, it may be outside by what the control room shows.
                        shown = p["mark"] == "outside" and p["indicated"] != ""
                        self.assertEqual(p["mark"] == "outside", beyond or shown)

    def test_the_error_of_a_reading_is_that_of_what_it_counts_as(self):
        for said in self.papers():
            for run in runs_of(said):
                for p in run["points"]:
                    if p["error"] and run["output_unit"] == run["input_unit"] == run["error_unit"]:
                        judged = number(p.get("counts_as", p["reading"]))
                        with self.subTest(job=said["number"], run=run["title"], read=judged):
                            off = judged - number(p["ideal"])
                            half = 0.51 / 10 ** len(p["error"].partition(".")[2])
                            self.assertAlmostEqual(number(p["error"]), off, delta=half)

    def test_the_csv_holds_each_reading_once(self):
        for said in self.papers():
            rows = list(csv.DictReader(io.StringIO(as_csv(said))))
            points = [p for run in runs_of(said) for p in run["points"]]
            self.assertEqual(len(rows), len(points))
            reading = next(name for name in rows[0] if name.startswith("reading"))
            units = {run["output_unit"] for run in runs_of(said) if run["points"]}
            self.assertEqual(reading, f"reading_{units.pop()}" if len(units) == 1 else "reading")
            for row, p in zip(rows, points, strict=True):
                self.assertEqual((row["job"], row["mark"]), (said["number"], p["mark"]))
                self.assertTrue(row["source"])
                for column in (reading, "error_percent_of_span", "limit_percent_of_span"):
                    self.assertRegex(row[column], r"^(-?[0-9]+([.][0-9]+)?)?$")

    def test_the_pdf_holds_every_figure_and_every_word(self):
        for said in self.papers()[:EACH]:
            with self.subTest(job=said["number"]):
                pages = PdfReader(io.BytesIO(render(said))).pages
                text = words("".join(p.extract_text() for p in pages))
                for wanted in self.wanted(said):
                    self.assertIn(words(wanted), text)
                for page in pages:
                    self.assertIn(HEAD, page.extract_text())
                self.assertIn(f"page{len(pages)}of{len(pages)}", text)

    def wanted(self, said):
        """Yield what must be printed."""
        yield from (said["number"], said["instrument"]["tag"], said["performed"]["signed_by"])
        yield from (said["verdict"]["as_found"], said["verdict"]["as_left"])
        for reference in said["references"]:
            yield from (reference["asset"], reference["certificate"])
        yield from said["notes"]
        yield from said["judgement"]["causes"]
        for run in runs_of(said):
            for p in run["points"]:
                yield from (p["reading"], p["error"] or p["error_percent"])

    def test_every_sign_is_in_the_fonts(self):
        load_fonts()
        glyphs = {**getFont("Text").face.charToGlyph, **getFont("Wide").face.charToGlyph}
        for said in self.papers():
            missing = {c for c in clean(said) if ord(c) >= 32 and ord(c) not in glyphs}
            self.assertEqual(missing, set(), said["number"])
            self.assertNotIn("[", clean(str(said["instrument"]["description"])))


for _method in (m.id for m in newest_methods()):
    _name = "".join(word.capitalize() for word in _method.split("_"))
    _own = {"method": _method, "__module__": __name__}
    globals()[_name] = type(_name, (Papers, SimpleTestCase), _own)
