"""Small mistakes that whole jobs did not notice: each is held here by a figure of its own."""

from decimal import Decimal
from types import SimpleNamespace

from django.test import SimpleTestCase

from calibration.engine.judging.outcome import outcome
from calibration.families.belt.naming import Turned, causes_of
from calibration.families.shared.judging import CauseJudge, Words
from calibration.runs.slips import DetectIn, detect
from tests.core.families import Visit
from tests.core.jobs import Jobs
from tests.core.test_outcome import ended

JUDGE_WORDS = Words(
    leave="Leave it", leave_why="It is right.", adjust="Set it", adjust_why="It can be set.",
    hides="It hides.", again="Set it again",
)  # fmt: skip


class Named(CauseJudge):
    """A judgement by causes with its words."""

    words = JUDGE_WORDS


class OnPaper(Jobs):
    def test_as_left_on_the_paper_is_what_was_read_as_left(self):
        visit = Visit("smart_transmitter", output_zero_percent=0.9)
        visit.until("")
        paper = self.paper(visit)
        read = [
            Decimal(e.data["reading"])
            for e in visit.events
            if e.kind == "reading_taken" and e.data["run"] == "as_left"
        ]
        self.assertEqual(len(read), 9)
        self.assertEqual([Decimal(p["reading"]) for p in paper["as_left"]["points"]], read)
        self.assertEqual(paper["verdict"]["as_left"], "within limits")
        self.assertEqual(paper["verdict"]["as_found"], "outside limits")
        found = [p["reading"] for p in paper["as_found"]["points"]]
        self.assertNotEqual(found, [p["reading"] for p in paper["as_left"]["points"]])


class Outcomes(SimpleTestCase):
    def test_a_line_that_is_not_so_and_a_stop_are_failed(self):
        lacking = {1: SimpleNamespace(said="No leak", item="leak", what="it drips")}
        how = {"choices": [("judge", "stop", "leaks")], "as_found": "within"}
        job = ended(**how)
        self.assertEqual(outcome(job).id, "stopped")
        job.ledger.lacking = lacking
        self.assertEqual(outcome(job).id, "failed")

    def test_what_is_near_its_limit_is_advised_to_be_set_where_causes_are_named(self):
        judge = Named()
        method = SimpleNamespace(left="as_left")
        job = SimpleNamespace(
            settings=SimpleNamespace(always_adjust=False),
            ledger=SimpleNamespace(method=method),
        )
        step = SimpleNamespace(judges="found")
        for mark, advised in (("within", "leave"), ("near", "adjust"), ("outside", "adjust")):
            figures = SimpleNamespace(mark=mark, causes=())
            found = [c.id for c in judge.choices(job, figures, step) if c.recommended]
            self.assertEqual(found, [advised], mark)


class Ranges(SimpleTestCase):
    def test_a_reversed_range_is_come_to_from_the_other_side(self):
        """Upscale of 4000 to 0 kPa goes down in pressure: each point is come to from above."""
        up = Visit("smart_transmitter")
        down = Visit(
            "smart_transmitter", facts={"input_lower": "4000", "input_upper": "0"},
            lower=4000, upper=0,
        )  # fmt: skip
        for visit, side in ((up, "below"), (down, "above")):
            visit.until("as_found")
            visit.step()
            self.assertIn(f"from {side} only", visit.state().task.caution)


class Slips(SimpleTestCase):
    def test_percent_typed_for_a_signal(self):
        """75 % of 4 to 20 mA is 16.00 mA: 4 + 16 × 0.75."""
        typed = DetectIn(
            reading=Decimal(75), expected=Decimal("16.01"), span=Decimal(16), lower=Decimal(4),
            unit="mA",
        )  # fmt: skip
        found = detect(typed)
        self.assertEqual((found.kind, found.suggestion), ("percent_for_signal", Decimal("16.00")))

    def test_a_belt_that_slips_counts_less_and_not_more(self):
        """Zero of half the weights' counts: both lose, or gain, one share."""
        seen = {
            "zero_limit": 0.2, "span_limit": 0.5, "zero_u": 0.05, "span_u": 0.1, "spread": 4.0,
            "usual_spread": 4.0,
        }  # fmt: skip
        less = causes_of(Turned(zero_percent=-0.75, span_percent=-1.5, **seen))
        more = causes_of(Turned(zero_percent=0.75, span_percent=1.5, **seen))
        self.assertEqual([c.cause for c in less], ["belt_slip"])
        self.assertNotIn("belt_slip", [c.cause for c in more])
        opposite = causes_of(Turned(zero_percent=0.75, span_percent=-1.5, **seen))
        self.assertNotIn("belt_slip", [c.cause for c in opposite])
