"""What a family may ask of a job. The job itself has all of it; a family never imports the job."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date, datetime
from typing import Protocol, TypeVar

from calibration.engine.job.events import Event
from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.job.ledger import Ledger
from calibration.engine.job.parameters import Settings
from calibration.engine.judging.evaluation import RunFigures
from calibration.engine.method.method import Field, KitRole, SetItem, Step
from calibration.engine.view.state import StepStatus
from calibration.runs.points import PlannedPoint

T = TypeVar("T")


class Reads(Protocol):
    """A job, as far as families read it."""

    ledger: Ledger
    settings: Settings
    now: datetime

    @property
    def statuses(self) -> dict[str, StepStatus]:
        """Return the status of every step."""

    @property
    def current(self) -> Step | None:
        """Return the present step; none when the job is signed."""

    @property
    def lacks(self) -> tuple[str, ...]:
        """Return what keeps the result from being within, beside its runs and lines."""

    @property
    def untested(self) -> tuple[str, ...]:
        """Return what was not tested, as what it takes was not here."""

    @property
    def test_in_doubt(self) -> bool:
        """Tell whether the test was wrong, and not the instrument: nothing was set by it."""

    @property
    def as_found(self) -> RunFigures:
        """Return the first as-found run."""

    @property
    def as_left(self) -> RunFigures | None:
        """Return the first as-left run; none where nothing is adjusted."""

    @property
    def base(self) -> RunFigures:
        """Return the run that is adjusted from: as found, or the last as-left that failed."""

    @property
    def put_right(self) -> bool:
        """Tell whether settings were brought back, so that the run is due before any trim."""

    def once(self, name: str, ask: Callable[[], T]) -> T:
        """Return what a family works out of the job, worked out once."""

    @property
    def differs(self) -> bool:
        """Tell whether a setting found differs from the record and is to be brought back."""

    @property
    def differences(self) -> str:
        """Return the settings that differ from the record, in words."""

    def day_of(self, event: Event) -> date:
        """Return the day at the site of an entry."""

    def figures(self, run: str) -> RunFigures:
        """Return an evaluated run by its name."""

    def facts_of(self, run: str) -> InstrumentFacts:
        """Return the instrument as a run sees it."""

    def possible(self, step: Step) -> bool:
        """Tell whether a step may come in this job, whatever is found."""

    def plan_of(self, run: str) -> tuple[PlannedPoint, ...]:
        """Return the test points of a run."""

    def choice(self, step: str) -> str:
        """Return what was decided at a step; empty when nothing."""

    def chosen(self) -> str:
        """Return what was decided about the as-found runs; empty when nothing."""

    def step(self, step_id: str, field: str = "data.step") -> Step:
        """Return a step of the method, or refuse."""

    def step_of(self, kind: str, field: str = "data.step") -> Step:
        """Return the first step of a kind, or refuse."""

    def status_of(self, step: Step) -> StepStatus:
        """Return the status of a step of the method."""

    def first_open_before(self, step: Step) -> Step | None:
        """Return the step that must be done before this one, if any."""

    def roles(self, step: Step) -> tuple[KitRole, ...]:
        """Return the references that a step asks for in this job."""

    def fields(self, step: Step) -> tuple[Field, ...]:
        """Return the values that a step asks for in this job."""

    def to_write(self, step: Step, item: SetItem) -> str | None:
        """Return what a set step writes for one setting; none when there is nothing to write."""

    def expected(self, field: Field) -> str:
        """Return what the instrument's record says for a field; empty when nothing."""
