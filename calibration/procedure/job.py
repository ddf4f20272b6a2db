"""One job at one moment: which steps are done, which one is next, and why others wait."""

from __future__ import annotations

from datetime import datetime, timedelta
from functools import cached_property

from calibration.errors import InputError
from calibration.numbers import parse_decimal
from calibration.procedure.adjusting import AdjustProgress, progress
from calibration.procedure.evaluation import RunFigures, evaluate_run, plan_of
from calibration.procedure.ledger import Ledger
from calibration.procedure.method import Field, Step
from calibration.procedure.parameters import Settings
from calibration.procedure.state import StepStatus
from calibration.run import PlannedPoint


class Job:
    """A ledger, its settings and the time; everything else is worked out when asked for."""

    def __init__(self, ledger: Ledger, now: datetime) -> None:
        self.ledger = ledger
        self.now = now
        self.settings = Settings(ledger.method, ledger.opened)

    @cached_property
    def plan(self) -> tuple[PlannedPoint, ...]:
        """Return the test points."""
        return plan_of(self.ledger, self.settings)

    @cached_property
    def as_found(self) -> RunFigures:
        """Return the evaluated as-found run."""
        return evaluate_run(self.ledger, self.settings, "as_found")

    @cached_property
    def as_left(self) -> RunFigures:
        """Return the evaluated as-left run."""
        return evaluate_run(self.ledger, self.settings, "as_left")

    @cached_property
    def base(self) -> RunFigures:
        """Return the run that is adjusted from: as found, or the last as-left that failed."""
        if self.ledger.readings["base"]:
            return evaluate_run(self.ledger, self.settings, "base")
        return self.as_found

    @cached_property
    def adjusting(self) -> AdjustProgress:
        """Return how far the adjusting has come."""
        return progress(self.ledger, self.settings, self.base)

    def choice(self, step: str) -> str:
        """Return what was decided at a step; empty when nothing."""
        return self.ledger.decided[step][0].choice if step in self.ledger.decided else ""

    def timer_end(self, step: Step) -> datetime | None:
        """Return when a started timer ends."""
        started = self.ledger.timers.get(step.id)
        if started is None:
            return None
        return started.when + timedelta(minutes=float(self.settings.number(step.minutes)))

    def needed(self, step: Step) -> bool:
        """Tell whether the method asks for this step in this job."""
        if step.only_if == "adjusting":
            return self.choice("judge") == "adjust"
        if step.only_if == "left_outside":
            if self.choice("judge") != "adjust":
                return False
            return self.as_left.complete and self.as_left.mark == "outside"
        return True

    def done(self, step: Step) -> bool:
        """Tell whether a step has all that it asks for."""
        ledger = self.ledger
        if step.kind == "kit":
            return all(role.id in ledger.kit for role in step.roles)
        if step.kind == "checklist":
            return all((step.id, item.id) in ledger.confirmed for item in step.items)
        if step.kind == "record":
            return self._recorded(step)
        if step.kind == "put_on":
            return step.id in ledger.put_on
        if step.kind == "take_off":
            return step.id in ledger.taken_off
        if step.kind == "timer":
            end = self.timer_end(step)
            return step.id in ledger.waived or (end is not None and self.now >= end)
        if step.kind == "capture":
            return len(ledger.readings[step.run]) >= len(self.plan)
        if step.kind == "decide":
            return step.id in ledger.decided
        if step.kind == "adjust":
            return step.id in ledger.decided or self.adjusting.done
        return ledger.signed is not None

    def _recorded(self, step: Step) -> bool:
        for field in step.fields:
            if field.required and (step.id, field.id) not in self.ledger.recorded:
                return False
        accepted = step.id in self.ledger.decided
        return accepted or not any(self.mismatch(step, field) for field in step.fields)

    def expected(self, field: Field) -> str:
        """Return what the instrument's record says for a field; empty when nothing."""
        if not field.must_match:
            return ""
        return str(getattr(self.ledger.facts, field.must_match))

    def mismatch(self, step: Step, field: Field) -> str:
        """Return the question to ask when a recorded value differs from the instrument's record."""
        expected = self.expected(field)
        entry = self.ledger.recorded.get((step.id, field.id))
        if not expected or entry is None:
            return ""
        value = entry[0]
        if field.kind == "number":
            same = parse_decimal(value, field.id) == parse_decimal(expected, field.id)
        else:
            same = _plain(value) == _plain(expected)
        if same:
            return ""
        return f"The record says {expected}. Is this the right instrument, and read right?"

    @cached_property
    def statuses(self) -> dict[str, StepStatus]:
        """Return the status of every step; the first that is not done is the present one."""
        found: dict[str, StepStatus] = {}
        current = ""
        for step in self.ledger.method.steps:
            if not self.needed(step):
                found[step.id] = "skipped"
            elif self.done(step):
                found[step.id] = "done"
            elif not current:
                found[step.id], current = "now", step.id
            else:
                found[step.id] = "blocked"
        return found

    @cached_property
    def current(self) -> Step | None:
        """Return the present step; none when the job is signed."""
        return next((s for s in self.ledger.method.steps if self.statuses[s.id] == "now"), None)

    def first_open_before(self, step: Step) -> Step | None:
        """Return the step that must be done before this one, if any."""
        for earlier in self.ledger.method.steps:
            if earlier.id == step.id:
                return None
            if self.statuses[earlier.id] in ("now", "blocked"):
                return earlier
        return None

    def step(self, step_id: str, field: str = "data.step") -> Step:
        """Return a step of the method.

        Raises
        ------
        InputError
            ``step.unknown``.
        """
        step = self.ledger.method.step(step_id)
        if step is None:
            raise InputError(
                "step.unknown",
                field,
                f"This method has no step '{step_id[:60]}'.",
                "Use one of: " + ", ".join(s.id for s in self.ledger.method.steps) + ".",
            )
        return step


def _plain(text: str) -> str:
    return "".join(c for c in text.upper() if c.isalnum())
