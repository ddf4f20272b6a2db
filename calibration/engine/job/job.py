"""One job at one moment: which steps are done, which one is next, and why others wait."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import date, datetime, timedelta
from decimal import Decimal
from functools import partial
from itertools import takewhile
from typing import Any, TypeVar

import calibration.desk.catalogue  # noqa: F401  # steps may compute with any operation
from calibration.decisions.reference import Adequacy
from calibration.engine.admission.entry_checks import beside
from calibration.engine.job.events import Event
from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.engine.job.job_records import Recording
from calibration.engine.job.kit import OUTPUT_QUANTITIES, quantity_of, suits
from calibration.engine.job.ledger import NOT_HERE, REPEAT_OTHER, Ledger
from calibration.engine.job.locks import HANG, TAKE_OFF
from calibration.engine.job.parameters import Settings
from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures, evaluate_run, only_told_by_one
from calibration.engine.method.family import family_of, kind_of
from calibration.engine.method.method import Field, KitRole, RunSpec, Step, may_be_early, quiet
from calibration.engine.method.run_kind import RunKind
from calibration.engine.view.state import StepStatus
from calibration.kernel.errors import InputError
from calibration.runs.points import PlannedPoint

T = TypeVar("T")


class Job(Recording):
    """A ledger, its settings and the time; everything else is worked out when asked for."""

    def __init__(self, ledger: Ledger, now: datetime) -> None:
        self.ledger = ledger
        self.now = now
        self.settings = Settings(ledger.method, ledger.opened)
        self.family = family_of(ledger.method)
        self._runs: dict[str, RunFigures] = {}
        self._attempts: dict[int, Job] = {}
        self._plans: dict[str, tuple[InstrumentFacts, tuple[PlannedPoint, ...]]] = {}
        self._possible: dict[str, bool] = {}
        self._statuses: dict[str, StepStatus] = {}
        #: steps that go on beside the present one, once that is worked out
        self.beside: list[Step] = []
        #: steps that nothing waits for, from their place on
        self.aside: list[Step] = []
        self._once: dict[str, Any] = {}
        self._steps = iter(ledger.method.steps)
        self._present: Step | None = None

    @property
    def _reads(self) -> Reads:
        return self

    def kind_of(self, spec: RunSpec) -> RunKind:
        """Return the kind of a run."""
        return kind_of(self.family, spec)

    def _seen_by(self, run: str) -> tuple[InstrumentFacts, tuple[PlannedPoint, ...]]:
        if run not in self._plans:
            spec = self.ledger.method.run(run)
            kind = self.kind_of(spec)
            facts = kind.facts(self.ledger, spec).in_run(spec.id)
            plan = kind.plan(self.ledger, self.settings, spec, facts)
            self._plans[run] = facts, plan + beside(self.ledger.readings[run], plan, facts)
        return self._plans[run]

    def facts_of(self, run: str) -> InstrumentFacts:
        """Return the instrument as a run sees it."""
        return self._seen_by(run)[0]

    @property
    def facts_found(self) -> InstrumentFacts:
        """Return the instrument as its as-found run sees it."""
        return self.facts_of(self.ledger.method.found.id)

    def plan_of(self, run: str) -> tuple[PlannedPoint, ...]:
        """Return the test points of a run."""
        return self._seen_by(run)[1]

    def at_attempt(self, number: int) -> Job:
        """Return the job as it stood when a test was taken again, from 1."""
        if number not in self._attempts:
            self._attempts[number] = Job(self.ledger.at_attempt(number), self.now)
        return self._attempts[number]

    def figures(self, run: str) -> RunFigures:
        """Return an evaluated run by its name; one that was taken again as ``as_found~1``."""
        run, _, attempt = run.partition("~")
        if attempt and self.ledger.attempts:
            return self.at_attempt(int(attempt)).figures(run)
        if run not in self._runs:
            facts, plan = self._seen_by(run)
            spec = self.ledger.method.run(run)
            kind = self.kind_of(spec)
            kit = kind.kit(self.ledger, spec)
            counts = partial(kind.counts, self.ledger, spec)
            found = evaluate_run(self.ledger, self.settings, run, facts, plan, kit, counts)
            if out := self.ledger.left_out.get(run):
                found = replace(found, left_out=frozenset(out))
            found = kind.judged(self, spec, run, found) if found.order else found
            self._runs[run] = found if found.complete else only_told_by_one(found)
        return self._runs[run]

    @property
    def power(self) -> str:
        """Return whether power is on or off, by what was said last; empty where nobody said."""
        ledger, found = self.ledger, (0, "")  # type: tuple[Ledger, tuple[int, str]]
        for step in ledger.method.steps:
            if not step.power:
                continue
            said = [e.seq for (id, _), e in ledger.confirmed.items() if id == step.id]
            # Off counts once every line of it is so; on counts from its first.
            if said and (step.power == "on" or self.done(step)):
                found = max(found, (max(said), step.power))
        return found[1]

    @property
    def output_read(self) -> bool:
        """Tell whether the output itself was read in any run, and not a display in its place."""
        unit = self.ledger.facts.output_unit
        return any(
            self.ledger.readings[spec.id] and self.facts_of(spec.id).output_unit == unit
            for spec in self.ledger.method.runs
        )

    @property
    def test_in_doubt(self) -> bool:
        """Tell whether the test was wrong, and not the instrument: nothing was set by it.

        So it is where every as-found run outside points to a reference; and to the test as well,
        where the job was ended as not done.
        """
        ledger = self.ledger
        if ledger.changes:
            return False
        not_done = ledger.ended is not None and ledger.ended[0].state == "not_done"
        runs = [self.figures(r.id) for r in ledger.method.runs_of("found")]
        outside = [f for f in runs if f.order and f.mark == "outside"]
        faults = [self.family.judge.test_at_fault(f) for f in outside]
        return bool(faults) and all(f == REPEAT_OTHER or (f and not_done) for f in faults)

    @property
    def lacks(self) -> tuple[str, ...]:
        """Return what keeps the result from being within, beside its runs and lines."""
        found = list(self.family.lacks(self))
        demanded = self.settings.says_yes("output_must") and self.ledger.facts.loop_role == "trip"
        read = any(self.ledger.readings[spec.id] for spec in self.ledger.method.runs)
        if demanded and read and not self.output_read:
            found.append("The output of a trip was not read, and this site demands it")
        return tuple(found)

    @property
    def as_found(self) -> RunFigures:
        """Return the first as-found run."""
        return self.figures(self.ledger.method.found.id)

    @property
    def as_left(self) -> RunFigures | None:
        """Return the first as-left run; none where nothing is adjusted."""
        left = self.ledger.method.left
        return self.figures(left.id) if left is not None else None

    @property
    def base(self) -> RunFigures:
        """Return the run that is adjusted from: as found, or the last as-left that failed."""
        again = self.ledger.method.found.again
        return self.figures(again) if self.ledger.readings[again] else self.as_found

    def once(self, name: str, ask: Callable[[], T]) -> T:
        """Return what a family works out of the job, worked out once."""
        if name not in self._once:
            self._once[name] = ask()
        found: T = self._once[name]
        return found

    def warning_for(self, asset: AssetFacts) -> Adequacy:
        """Return how well a reference suits the instrument of this job.

        A run may be read at a display; a meter is judged by the output all the same. One that
        measures something beside input and output has nothing here to be judged by.
        """
        facts = self.facts_found
        if asset.quantity in OUTPUT_QUANTITIES and asset.quantity != quantity_of(facts.output_unit):
            facts = self.ledger.facts
            if asset.quantity != quantity_of(facts.output_unit):
                none = Decimal(0)
                return Adequacy(
                    name=asset.asset, reference_limit=none, ratio=None, ok=True, why_not=""
                )
        return suits(facts, asset, self.settings.number("minimum_ratio"))

    def choice(self, step: str) -> str:
        """Return what was decided at a step; empty when nothing."""
        return self.ledger.decided[step][0].choice if step in self.ledger.decided else ""

    @property
    def alone(self) -> bool:
        """Tell whether the present run goes on by itself."""
        step = self.current
        return step is not None and step.kind == "capture" and step.run in self.ledger.placed

    def chosen(self) -> str:
        """Return what was decided about the as-found runs; empty when nothing."""
        step = self.ledger.method.judging("found")
        return self.choice(step.id) if step is not None else ""

    def timer_end(self, step: Step) -> datetime | None:
        """Return when a started timer ends."""
        started = self.ledger.timers.get(step.id)
        if started is None:
            return None
        return started.when + timedelta(minutes=float(self.settings.number(step.minutes)))

    def day_of(self, event: Event) -> date:
        """Return the day at the site of an entry: that of the zone in which the time is given."""
        return event.when.astimezone(self.now.tzinfo).date()

    def _still_due(self, step: Step) -> bool:
        """Tell whether a step of putting back is due of what is left: what is ours comes off."""
        begun = self.ledger.method.step(step.ends)
        ours = begun is not None and begun.on_kind != "bypass"
        return step.kind == "sign" or ours or self._makes_safe(step)

    def _makes_safe(self, step: Step) -> bool:
        """Tell whether hands still go in to take off what is on: then power is off first."""
        if step.stage != "return" or not (step.hands or step.power == "off"):
            return False
        ends = {s.ends for s in self.ledger.method.steps if s.ends and s.hands}
        return bool(ends & {on.id for on, _ in self.ledger.on_now()})

    def needed(self, step: Step) -> bool:
        """Tell whether the method asks for this step in this job."""
        if step.ends and self.choice(step.ends) == NOT_HERE:
            return False
        if step.stage == "return" and self.ledger.left_away and not self._still_due(step):
            return self.done(step)
        if not self.possible(step):
            return False
        wanted = step.only_if is None or step.only_if.test(self, step)
        return wanted if self.ledger.ended is None else self._still_needed(step, wanted)

    def _still_needed(self, step: Step, wanted: bool) -> bool:
        """Tell whether a step counts in a job that ended early: it was done, or it must be yet.

        What is on comes off; what was opened is put back, where the instrument stays in service.
        """
        if step.kind == "sign" or step.id in self.ledger.taken_off:
            return True
        if step.kind == TAKE_OFF:
            return bool(self.ledger.locks.on_step(step.ends))
        if self._makes_safe(step):
            return True
        if step.ends:
            return step.ends in {on.id for on, _ in self.ledger.on_now()}
        if not wanted or step.stage != "return":
            return wanted and self.done(step)
        return bool(self.ledger.put_on) and step.kind in ("checklist", "set", "capture")

    def possible(self, step: Step) -> bool:
        """Tell whether a step may come in this job, whatever is found."""
        if step.id not in self._possible:
            self._possible[step.id] = self.family.shape.possible(self, step)
        return self._possible[step.id]

    def roles(self, step: Step) -> tuple[KitRole, ...]:
        """Return the references that a step asks for in this job."""
        return self.family.shape.roles(self, step)

    def fields(self, step: Step) -> tuple[Field, ...]:
        """Return the values that a step asks for in this job."""
        return self.family.shape.fields(self, step)

    def done(self, step: Step) -> bool:
        """Tell whether a step has all that it asks for."""
        ledger = self.ledger
        if step.if_not and self.not_here(step):
            return True
        if step.kind == "kit":
            return all(r.id in ledger.kit or r.id in ledger.without for r in self.roles(step))
        if step.kind == "checklist":
            return self.gone_through(step)
        if step.kind == "record":
            return self.all_told(step)
        if step.kind == "put_on":
            return step.id in ledger.put_on
        if step.kind == "take_off":
            return step.id in ledger.taken_off
        if step.kind == "timer":
            end = self.timer_end(step)
            return step.id in ledger.waived or (end is not None and self.now >= end)
        if step.kind == "capture":
            kind = self.kind_of(ledger.method.run(step.run))
            read = ledger.gone_through(step.run, len(self.plan_of(step.run)))
            return read and kind.complete(self, step)
        if step.kind == "set":
            return all(self.written(step, item) for item in step.sets)
        if step.kind == "decide":
            return step.id in ledger.decided
        if step.kind in (HANG, TAKE_OFF):
            return self._locked(step)
        own = self.family.steps.get(step.kind)
        return own.done(self, step) if own is not None else ledger.signed is not None

    def _locked(self, step: Step) -> bool:
        """Tell whether a lock hangs for a step; for its end, whether the last one is off."""
        locks = self.ledger.locks
        if step.kind == TAKE_OFF:
            return step.ends in locks.closed
        return step.id in locks.closed or bool(locks.on_step(step.id))

    def _next_status(self) -> Step | None:
        """Work out the status of one step more, and return it; none after the last."""
        step = next(self._steps, None)
        if step is None:
            return None
        if not self.needed(step):
            self._statuses[step.id] = "skipped"
        elif self.done(step):
            self._statuses[step.id] = "done"
        elif self._present is None and step.meanwhile and step.id in self.ledger.timers:
            self._statuses[step.id] = "open"
            self.beside.append(step)
        elif self._present is None and step.aside:
            self._statuses[step.id] = "open"
            self.aside.append(step)
        elif self._present is None and self.beside and not quiet(step):
            # Nothing is read before the wait is over: now it is waited for.
            self._present = self.beside.pop(0)
            self._statuses |= {self._present.id: "now", step.id: "blocked"}
        elif self._present is None:
            self._statuses[step.id], self._present = "now", step
        elif may_be_early(step, self._present):
            self._statuses[step.id] = "open"
            self.aside.append(step)
        else:
            self._statuses[step.id] = "blocked"
        return step

    @property
    def statuses(self) -> dict[str, StepStatus]:
        """Return the status of every step; the first that is not done is the present one."""
        while self._next_status() is not None:
            pass
        return self._statuses

    def status_of(self, step: Step) -> StepStatus:
        """Return the status of a step of the method; steps behind it are not worked out."""
        while step.id not in self._statuses or (step.meanwhile and self._present is None):
            if self._next_status() is None:
                break
        return self._statuses[step.id]

    @property
    def current(self) -> Step | None:
        """Return the present step; none when the job is signed or voided."""
        if self.ledger.voided is not None:
            return None
        while self._present is None and self._next_status() is not None:
            pass
        return self._present

    def first_open_before(self, step: Step) -> Step | None:
        """Return the step that must be done before this one, if any."""
        earlier = takewhile(lambda s: s.id != step.id, self.ledger.method.steps)
        return next((s for s in earlier if self.status_of(s) in ("now", "blocked")), None)

    def step_of(self, kind: str, field: str = "data.step") -> Step:
        """Return the first step of a kind.

        Raises
        ------
        InputError
            ``step.unknown``.
        """
        found = next((s for s in self.ledger.method.steps if s.kind == kind), None)
        return self.step(found.id if found is not None else kind, field)

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
