"""What holds of a job at every moment of it, whichever method it is done by."""

import uuid
from datetime import timedelta

from django.test import SimpleTestCase

from calibration.engine.admission.admit import admit
from calibration.engine.job.events import make_event
from calibration.engine.job.fold import history, view
from calibration.engine.job.job import Job
from calibration.engine.job.ledger import build
from calibration.engine.judging.evaluation import WORST
from calibration.engine.method.family import method_for, newest_methods
from calibration.kernel.codec import encode
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import exact
from tests.long import several
from tests.replay.adapter import flat
from tests.replay.play_again import kept, state_at

#: So many of a method's kept jobs are gone through.
JOBS = several(full=100, small=2)
#: Every so many entries are taken back.
EVERY = several(full=1, small=4)
#: What a taken-back entry leaves behind on purpose: the count of entries and what is written.
TRACES = (".seq", ".last_undoable", ".job")


class AtAnyMoment:
    """The kept jobs of one method; a class each, so that they run side by side."""

    method = ""

    def jobs(self):
        for job in kept(self.method)[:JOBS]:
            events = [make_event(**one) for one in job["events"]]
            yield job, method_for(job["method"], job["version"]), events

    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.moments = [
            (job["name"], place, state_at(method, events[:place], events[place - 1].when))
            for job, method, events in cls.jobs(cls)
            for place in range(1, len(events) + 1)
        ]

    def test_an_open_job_says_what_to_do_and_a_closed_one_has_nothing_left(self):
        for name, place, state in self.moments:
            with self.subTest(job=name, entry=place):
                self.assertEqual(state.seq, place)
                if state.status == "open":
                    self.assertTrue(any(not ask.said for ask in state.task.asks) or state.asked)
                    self.assertTrue(state.current_step)
                    self.assertEqual(state.task.step, state.current_step)
                    self.assertTrue(state.task.title)
                    self.assertTrue(state.task.why or state.task.kicker)
                else:
                    self.assertEqual((state.on, state.to_close), ((), ()))
                    self.assertTrue(state.signed_by and state.signed_at)

    def test_steps_say_why_they_wait_and_the_present_one_does_not(self):
        for name, place, state in self.moments:
            ids = [s.id for s in state.steps]
            self.assertEqual(len(ids), len(set(ids)), name)
            for step in state.steps:
                with self.subTest(job=name, entry=place, step=step.id):
                    if step.status == "blocked":
                        self.assertTrue(step.blocked_by)
                    self.assertTrue(step.title)
                    if step.id == state.current_step:
                        self.assertNotIn(step.status, ("blocked", "skipped", "done"))

    def test_stages_go_on_in_their_order(self):
        for name, place, state in self.moments:
            with self.subTest(job=name, entry=place):
                self.assertTrue(all(0 <= s.done_share <= 1 for s in state.stages))
                if state.status == "open":
                    self.assertEqual([s.status for s in state.stages].count("now"), 1)
                else:
                    self.assertEqual({s.status for s in state.stages}, {"done"})

    def test_a_run_says_nothing_before_it_was_read_and_no_better_than_it_was(self):
        for name, place, state in self.moments:
            for run in (state.as_found, state.as_left, *state.extra_runs):
                if run is None:
                    continue
                with self.subTest(job=name, entry=place, run=run.title):
                    read = [p for p in run.points if p.event]
                    self.assertEqual(run.taken, len(read))
                    if not read:
                        self.assertEqual((run.mark, run.causes, run.worst), ("none", (), ""))
                    for p in run.points:
                        self.assertLessEqual(WORST[p.mark], WORST[run.mark])
                        self.assertEqual(bool(p.event), bool(p.source))
                        if not p.event:
                            self.assertEqual((p.reading, p.error, p.mark), ("", "", "none"))

    def test_what_is_on_was_put_on_by_somebody_and_says_how_it_ends(self):
        for name, place, state in self.moments:
            for on in state.on:
                with self.subTest(job=name, entry=place, on=on.label):
                    self.assertTrue(on.label and on.by and on.since and on.ends_with)
            for timer in state.timers:
                self.assertTrue(timer.ends_at and timer.label)

    def test_history_has_a_line_for_every_entry(self):
        for job, method, events in self.jobs():
            lines = history(build(method, events), events)[::-1]
            self.assertEqual([line.seq for line in lines], [e.seq for e in events], job["name"])
            for line, event in zip(lines, events, strict=True):
                self.assertEqual((line.by, line.source), (event.by, event.source))
                self.assertTrue(line.text)

    def test_an_entry_taken_back_leaves_the_job_as_it_was(self):
        tried = 0
        for job, method, events in self.jobs():
            for place in range(2, len(events), EVERY):
                with self.subTest(job=job["name"], entry=place, kind=events[place].kind):
                    tried += self.taken_back(method, events[:place], events[place])
        self.assertGreater(tried, 3)

    def taken_back(self, method, before, event):
        """Add an entry and take it back; whatever the state says is what it said before."""
        now = event.when + timedelta(minutes=1)
        after = [*before, event]
        back = make_event(
            id=str(uuid.UUID(int=1)),
            seq=len(after) + 1,
            kind="retracted",
            at=now.isoformat(),
            by=event.by,
            role=event.role,
            source="typed",
            data={"event": event.id, "reason": "typed at the wrong place"},
        )
        with exact():
            try:
                admit(Job(build(method, after), now), back, {e.id: e for e in after})
            except InputError:
                return 0
            was = flat(encode(view(Job(build(method, before), now), before)))
            ledger = build(method, [*after, back])
            found = flat(encode(view(Job(ledger, now), [*after, back])))
        differs = {
            path: (was.get(path), found.get(path))
            for path in {*was, *found}
            if was.get(path) != found.get(path) and not path.endswith(TRACES)
        }
        self.assertEqual(differs, {})
        return 1


for _method in (m.id for m in newest_methods()):
    _name = "".join(word.capitalize() for word in _method.split("_"))
    _own = {"method": _method, "__module__": __name__}
    globals()[_name] = type(_name, (AtAnyMoment, SimpleTestCase), _own)
