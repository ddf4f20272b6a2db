"""What a job came to, over the kept jobs of every method and by hand for each way to end."""

from types import SimpleNamespace

from django.test import SimpleTestCase

from calibration.engine.job.events import make_event
from calibration.engine.job.job import Job
from calibration.engine.job.ledger import build
from calibration.engine.judging.outcome import GOOD, WORDS, outcome, standing
from calibration.engine.method.family import method_for, newest_methods
from calibration.engine.method.method import RunSpec, Step
from calibration.engine.papers.certificate import certificate
from calibration.kernel.numbers import exact
from tests.replay.play_again import kept, state_at

FOUND = RunSpec(id="as_found", title="As found", role="found", before=True)
LEFT = RunSpec(id="as_left", title="As left", role="left")
LOOP = RunSpec(id="loop", title="Loop check")
OTHER = RunSpec(id="found_b", title="As found, b", role="found", before=True, channel=1)


def ended(choices=(), changes=0, signed=True, **marks):
    """A job that ended so: decisions with reasons, adjustments, and the mark of each run read."""
    steps = {
        name: Step(id=name, stage="found", kind="decide", title="Judge", instruction="")
        for name, _, _ in choices
    }
    runs = [spec for spec in (FOUND, LEFT, LOOP, OTHER) if spec.id in marks]
    method = SimpleNamespace(
        runs=runs,
        runs_of=lambda role: [r for r in runs if r.role == role],
        step=steps.get,
        lacks="limited",
        outcomes={},
    )
    decided = {
        name: (SimpleNamespace(choice=choice, reason=reason), None)
        for name, choice, reason in choices
    }
    return SimpleNamespace(
        ledger=SimpleNamespace(
            method=method,
            decided=decided,
            changes=changes,
            signed=("", "") if signed else None,
            issued=[],
            limited=None,
            left_as=None,
            attempts=[],
            left_out={},
            lacking={},
            ended=None,
            repaired=[],
            set_times=changes,
        ),
        current=SimpleNamespace(kind="decide"),
        lacks=(),
        untested=(),
        test_in_doubt=False,
        figures=lambda run: SimpleNamespace(mark=marks.get(run, "none"), order=(0,)),
    )


class EachWay(SimpleTestCase):
    def came_to(self, id, *has, **how):
        said = outcome(ended(**how))
        self.assertEqual(said.id, id)
        self.assertEqual(said.good, id in GOOD)
        self.assertEqual(said.words, WORDS[id])
        for words in has:
            self.assertIn(words, said.why)

    def test_left_as_it_was(self):
        self.came_to("within", choices=[("judge", "leave", "")], as_found="within")
        self.came_to("within", choices=[("judge", "leave", "")], as_found="near")

    def test_adjusted(self):
        how = {"choices": [("judge", "adjust", "")], "changes": 2, "as_found": "outside"}
        self.came_to("adjusted", as_left="within", **how)

    def test_adjusted_in_vain_and_stopped(self):
        choices = [("judge", "adjust", ""), ("left", "stop", "It drifts")]
        self.came_to(
            "failed", "as left", "It drifts", choices=choices, changes=3, as_found="outside",
            as_left="outside",
        )  # fmt: skip

    def test_kept_in_service_outside_limits_is_never_within(self):
        choices = [("judge", "leave", "until the stop in May")]
        self.came_to("limited", "as found", "until the stop", choices=choices, as_found="outside")

    def test_every_run_counts(self):
        """A check that was outside, after an as-found run within: stopped is failed."""
        how = {"as_found": "within", "loop": "outside"}
        self.came_to("failed", "loop check", choices=[("wet", "stop", "sticks")], **how)
        self.came_to("limited", "loop check", choices=[("wet", "leave", "")], **how)

    def test_a_channel_that_was_not_adjusted_still_counts(self):
        self.came_to(
            "limited", "as found, b", choices=[("judge", "adjust", "")], changes=1,
            as_found="outside", as_left="within", found_b="outside",
        )  # fmt: skip

    def test_stopped_before_anything_was_outside(self):
        self.came_to(
            "stopped", "Shift ended", choices=[("judge", "stop", "shift ended")], as_found="within"
        )

    def test_nothing_is_within_that_was_not_judged(self):
        self.came_to("stopped", "judged", choices=[("judge", "leave", "")], as_found="none")
        self.came_to("stopped", "judged", choices=[("judge", "leave", "")])

    def test_an_open_job_came_to_nothing_yet(self):
        self.came_to("", signed=False, as_found="within")


class KeptJobs(SimpleTestCase):
    def each(self):
        for method in newest_methods():
            for job in kept(method.id):
                events = [make_event(**one) for one in job["events"]]
                if any(e.kind == "signed" for e in events):
                    of = method_for(job["method"], job["version"])
                    with exact():
                        done = Job(build(of, events), events[-1].when)
                        yield method.id, job["name"], done, state_at(of, events, done.now)

    def test_none_that_ended_badly_says_that_it_was_good(self):
        ways = set()
        for method, name, job, state in self.each():
            with self.subTest(method=method, job=name):
                came = state.outcome
                ways.add(came.id)
                with exact():
                    marks = [f.mark for _, f in standing(job)]
                stopped = any(c.choice == "stop" for c, _ in job.ledger.decided.values())
                lacks = bool(job.lacks)
                self.assertEqual(came.good, "outside" not in marks and not stopped and not lacks)
                said = certificate(job, state, "")["verdict"]
                self.assertEqual(said["outcome"]["id"], came.id)
                if not came.good:
                    self.assertEqual(said["as_left"], came.words)
                    self.assertTrue(came.why)
        self.assertEqual(ways, {"within", "adjusted", "limited", "failed", "stopped"})

    def test_a_run_outside_and_stopped_is_not_printed_within(self):
        """Weights within, liquid outside at all points, stopped: printed within once."""
        found = {name: state for method, name, _, state in self.each() if method.startswith("dis")}
        came = found["sticks in liquid"].outcome
        self.assertEqual((came.id, came.good), ("failed", False))
        self.assertIn("wet run", came.why)
