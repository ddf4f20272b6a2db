"""What a simulated person looks at of a job: worked out only as far as it is looked at."""

from functools import cached_property

from calibration.engine.admission.follow_ups import asked
from calibration.engine.job.fold import on_states, view
from calibration.engine.view.run_view import run_state
from calibration.engine.view.step_view import step_state
from calibration.engine.view.tasks import tasks
from calibration.engine.view.verdict import judgement
from calibration.kernel.numbers import exact


class Glance:
    """A state whose present step, its run and its task stand alone; the rest if it is asked for."""

    def __init__(self, job, events):
        self._job, self._events = job, events

    def __getattr__(self, name):
        with exact():
            return getattr(self._whole, name)

    @cached_property
    def _whole(self):
        return view(self._job, self._events)

    @property
    def _present(self):
        with exact():
            return self._job.current

    @property
    def status(self):
        ledger = self._job.ledger
        return "open" if ledger.signed is None and ledger.voided is None else "closed"

    @property
    def current_step(self):
        return self._present.id if self._present else ""

    @cached_property
    def steps(self):
        with exact():
            return (step_state(self._job, self._present),)

    @cached_property
    def runs(self):
        run = self._present.run
        with exact():
            return (run_state(self._job, run, self._job.figures(run)),)

    @cached_property
    def task(self):
        with exact():
            return tasks(self._job)[0]

    @property
    def asked(self):
        with exact():
            return asked(self._job)

    @property
    def on(self):
        with exact():
            return on_states(self._job)

    @cached_property
    def judgement(self):
        with exact():
            return judgement(self._job)
