"""Every step of every method takes "not" for an answer, or says why it cannot.

Nobody is made to invent a number, and no step is a dead end: what a person may not have, may not
do, or what refuses, has an answer that is true, and the paper says it.
"""

from django.test import SimpleTestCase

from calibration.engine.method.family import newest_methods
from calibration.engine.papers.certificate import certificate
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import exact
from tests.core.detectors import GasVisit
from tests.core.families import Visit
from tests.core.jobs import Jobs
from tests.replay.played import planned

KEPT = ("reading_taken", "adjusted", "gas_set", "gas_on", "exposed")
WHY = "not to be had here, reason "
MOST = 500


class Doubter:
    """Answers "not" once to everything that takes it, and does what cannot be answered so."""

    def __init__(self, visit):
        self.visit, self.said, self.count = visit, set(), 0

    def walk(self):
        """Go on to the end of the job; yield each state with what may be answered."""
        for _ in range(MOST):
            state = self.visit.state()
            if state.status != "open":
                return
            yield state
            if not self.refuse(state):
                self.do()
        raise AssertionError(f"{self.visit.method.id} does not end: {state.current_step}")

    def refuse(self, state):
        """Say once of each thing that it is not so; tell whether anything was said."""
        if state.asked:
            return False
        ask = next(a for a in state.task.asks if not a.said)
        for form in ask.if_not:
            for choice in [c.id for c in form.choices] or [""]:
                about = self.about(ask, form) | ({form.choice: choice} if choice else {})
                key = (form.kind, *sorted(map(str, {**form.data, **about}.values())))
                if key in self.said:
                    continue
                self.said.add(key)
                self.answer(form, about)
                return True
        return False

    def about(self, ask, form):
        """A line that is not so is one of those that are open."""
        if not form.line:
            return {}
        line = next((n for n in ask.lines if not (n.done or n.failed)), ask.lines[-1])
        return dict(line.sent.data)

    def answer(self, form, about):
        self.count += 1
        reason = f"{WHY}{self.count}"
        words = {f.id: reason for f in form.fields if f.required}
        self.visit.push(form.kind, **{**form.data, **about, **words})

    def do(self):
        """Do what cannot be answered otherwise; the lines that were not so are put right."""
        state = self.visit.state()
        try:
            for kind, data in self.visit.person.act(state):
                self.visit.push(kind, **data, **({"kept": True} if kind in KEPT else {}))
        except InputError as refused:
            # What cannot be goes on by ending the job, with the gas shut first.
            if any(o.kind == "gas" for o in state.on):
                self.visit.person.shut()
                self.visit.push("gas_off", step=state.current_step)
            self.visit.push("ended", state="not_done", reason=refused.message[:100])


def first_of(method):
    """Return a good instrument of a method, and one with something to find."""
    return [visit for _, visit in zip(range(2), planned(method.id), strict=False)]


class EveryStep(SimpleTestCase):
    """Each ask of each method, as it comes up in a whole job."""

    def test_takes_not_for_an_answer_or_says_why_it_cannot(self):
        for method in newest_methods():
            for _, visit in first_of(method):
                with self.subTest(method=method.id):
                    self.answered(visit)

    def answered(self, visit):
        doubter = Doubter(visit)
        for state in doubter.walk():
            for ask in state.task.asks:
                where = f"{visit.method.id}, {state.task.step}: {ask.way} {ask.id}"
                if ask.said or ask.if_not or state.asked:
                    continue
                refusable = any(m.kind == "refused" for m in state.mishaps)
                self.assertTrue(ask.barred or refusable, where)
        with exact():
            paper = certificate(visit.standing(), visit.state(), "")
        said = " ".join(paper["method"]["deviations"])
        ledger = visit.standing().ledger
        stands = [c.reason for c, _ in ledger.untold.values()]
        stands += [c.reason for c in ledger.waived.values()]
        stands += [c.what for c, _ in ledger.failed.values()]
        self.assertTrue(stands)
        for reason in stands:
            self.assertIn(reason, said, visit.method.id)


class Refused(SimpleTestCase):
    """A device may refuse at every setting: wherever it is set, that can be said instead."""

    def test_at_every_entry_that_sets_a_device(self):
        for method in newest_methods():
            for _, visit in first_of(method):
                with self.subTest(method=method.id):
                    self.told(visit)

    def told(self, visit):
        for _ in range(MOST):
            state = visit.state()
            if state.status != "open":
                return
            may = any(m.kind == "refused" for m in state.mishaps)
            for kind, data in visit.person.act(state):
                before = visit.standing().ledger.changes
                visit.push(kind, **data, **({"kept": True} if kind in KEPT else {}))
                if visit.standing().ledger.changes > before:
                    self.assertTrue(may, f"{visit.method.id}, {state.current_step}: {kind}")
        raise AssertionError(f"{visit.method.id} does not end")


class NotTold(Jobs):
    def test_a_value_that_is_not_there_is_said_so_and_may_come_later(self):
        visit = Visit("smart_transmitter", asks=True)
        visit.until("identity")
        self.refused(
            visit, "reason.missing", "not_told", step="identity", field="serial", reason=" "
        )
        visit.push("not_told", step="identity", field="serial", reason="plate is painted over")
        step = next(s for s in visit.state().steps if s.id == "identity")
        self.assertEqual(
            (step.status, step.summary), ("done", "serial number on the plate not told")
        )
        visit.push("recorded", step="identity", field="serial", value="S-77")
        step = next(s for s in visit.state().steps if s.id == "identity")
        self.assertEqual(step.summary, "S-77")

    def test_what_a_result_hangs_on_has_to_be_told(self):
        visit = Visit("displacer", asks=True)
        visit.until("weight_unit")
        field = visit.state().task.asks[0].values[0]
        refused = self.refused(
            visit, "value.needed", "not_told", step="weight_unit", field=field.id, reason="no idea"
        )
        self.assertIn("counts by it", refused.message)
        self.assertIn("counts by it", visit.state().task.asks[0].barred)

    def test_only_what_is_asked_for_can_be_not_told(self):
        visit = Visit("smart_transmitter", asks=True)
        visit.until("identity")
        for field in ("lower", "nothing"):
            self.refused(
                visit, "step.unknown_field", "not_told", step="identity", field=field, reason="x"
            )


class Meanwhile(Jobs):
    """What reads nothing is done while it warms up; a reading waits for it."""

    def test_a_wait_stands_open_beside_the_next_task_until_something_is_read(self):
        visit = GasVisit("gas_zero_span", asks=True)
        visit.until("warm_up")
        visit.push("timer_started", step="warm_up")
        state = visit.state()
        self.assertEqual(state.current_step, "bypass")
        self.assertEqual([t.step for t in state.tasks], ["bypass", "warm_up"])
        self.assertEqual({s.id: s.status for s in state.steps}["warm_up"], "open")
        while (state := visit.state()).current_step != "warm_up":
            self.assertIn("warm_up", [t.step for t in state.tasks])
            visit.step()
        read = [len(taken) for taken in visit.standing().ledger.readings.values()]
        self.assertEqual(sum(read), 0)
        self.assertEqual([t.step for t in state.tasks], ["warm_up"])
        self.refused(visit, "step.blocked", "decided", step="judge", choice="leave")
        visit.push("timer_waived", step="warm_up", reason="it was in service until now")
        self.assertNotEqual(visit.state().current_step, "warm_up")


class NothingToBypass(Jobs):
    def test_nothing_is_put_on_so_nothing_comes_off_and_the_paper_says_why(self):
        visit = Visit("smart_transmitter", asks=True)
        visit.until("bypass")
        form = visit.state().task.asks[0].if_not[0]
        with self.assertRaises(InputError):
            visit.push(form.kind, **form.data, reason="")
        visit.push(form.kind, **form.data, reason="a gauge only, no loop hangs on it")
        visit.until("")
        done = [s.id for s in visit.state().steps if s.status == "done"]
        self.assertNotIn("unbypass", done)
        said = " ".join(self.paper(visit)["method"]["deviations"])
        self.assertIn("nothing is to be bypassed here (a gauge only", said)
