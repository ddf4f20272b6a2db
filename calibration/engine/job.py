"""One job at one moment: which steps are done, which one is next, and why others wait."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from datetime import date, datetime, timedelta
from decimal import Decimal
from functools import cached_property, partial
from itertools import takewhile

import calibration.desk.catalogue  # noqa: F401  # steps may compute with any operation
from calibration.decisions.reference import Adequacy
from calibration.engine.adjusting import AdjustProgress, progress
from calibration.engine.evaluation import RunFigures, evaluate_run
from calibration.engine.events import Event
from calibration.engine.facts import AssetFacts, InstrumentFacts
from calibration.engine.family import family_of, kind_of
from calibration.engine.kit import suits
from calibration.engine.ledger import Ledger
from calibration.engine.method import Field, KitRole, RunSpec, SetItem, Step
from calibration.engine.parameters import Settings
from calibration.engine.recorded import same_value, setting_on_record, worked_out
from calibration.engine.runkind import RunKind
from calibration.engine.slipping import beside
from calibration.engine.view.state import StepStatus
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import HUNDRED, parse_decimal
from calibration.runs.points import PlannedPoint

#: A range found may differ this much from the one computed. [% of span]
COMPUTED_WITHIN_PERCENT = Decimal("0.5")


class Job:
    """A ledger, its settings and the time; everything else is worked out when asked for."""

    def __init__(self, ledger: Ledger, now: datetime) -> None:
        self.ledger = ledger
        self.now = now
        self.settings = Settings(ledger.method, ledger.opened)
        self.family = family_of(ledger.method)
        self._runs: dict[str, RunFigures] = {}
        self._attempts: dict[int, Job] = {}
        self._plans: dict[str, tuple[InstrumentFacts, tuple[PlannedPoint, ...]]] = {}

    def kind_of(self, spec: RunSpec) -> RunKind:
        """Return the kind of a run."""
        return kind_of(self.family, spec)

    def _seen_by(self, run: str) -> tuple[InstrumentFacts, tuple[PlannedPoint, ...]]:
        if run not in self._plans:
            spec = self.ledger.method.run(run)
            kind = self.kind_of(spec)
            facts = kind.facts(self.ledger, spec)
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
            found = evaluate_run(self.ledger, self.settings, run, facts, plan, kit)
            if out := self.ledger.left_out.get(run):
                found = replace(found, left_out=frozenset(out))
            self._runs[run] = kind.judged(self, spec, run, found) if found.order else found
        return self._runs[run]

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

    @cached_property
    def adjusting(self) -> AdjustProgress:
        """Return how far the adjusting has come."""
        return progress(self.ledger, self.settings, self.base)

    def warning_for(self, asset: AssetFacts) -> Adequacy:
        """Return how well a reference suits the instrument of this job."""
        return suits(self.facts_found, asset, self.settings.number("minimum_ratio"))

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
        return step.kind == "sign" or (begun is not None and begun.on_kind != "bypass")

    def needed(self, step: Step) -> bool:
        """Tell whether the method asks for this step in this job."""
        if self.ledger.left_away and step.stage == "return" and not self._still_due(step):
            return self.done(step)
        if not self.family.shape.possible(self, step):
            return False
        return step.only_if is None or step.only_if.test(self, step)

    def possible(self, step: Step) -> bool:
        """Tell whether a step may come in this job, whatever is found."""
        return self.family.shape.possible(self, step)

    def roles(self, step: Step) -> tuple[KitRole, ...]:
        """Return the references that a step asks for in this job."""
        return self.family.shape.roles(self, step)

    def fields(self, step: Step) -> tuple[Field, ...]:
        """Return the values that a step asks for in this job."""
        return self.family.shape.fields(self, step)

    def _restored(self) -> Iterator[tuple[Step, SetItem]]:
        """Yield the settings that are brought back to what the record says."""
        for step in self.ledger.method.steps:
            for item in step.sets:
                if item.to == "record":
                    yield step, item

    @property
    def differs(self) -> bool:
        """Tell whether a setting found differs from the record and is to be brought back."""
        return any(self.to_write(step, item) is not None for step, item in self._restored())

    @property
    def differences(self) -> str:
        """Return the settings that differ from the record, in words."""
        return " and ".join(
            f"{item.label.lower()} is {self.found_setting(item.id)}, on record "
            f"{self.on_record(item.id)}"
            for step, item in self._restored()
            if self.to_write(step, item) is not None
        )

    @property
    def put_right(self) -> bool:
        """Tell whether settings were brought back, so that the run is due before any trim."""
        steps = {step.id for step, _ in self._restored()}
        back = any(step in steps for step, _ in self.ledger.written)
        again = self.ledger.method.found.again
        return back and not self.ledger.readings[again] and not self.ledger.changes

    def may_wait(self, step: Step) -> bool:
        """Tell whether a difference may stay until the as-found run is taken."""
        names = {item.id for _, item in self._restored()}
        return any(
            f.id in names
            and (step.id, f.id) in self.ledger.recorded
            and self.expected(f)
            and not same_value(self.ledger.recorded[step.id, f.id][0], self.expected(f))
            for f in step.fields
        )

    def found_setting(self, name: str) -> str:
        """Return a setting as it was found in the device; empty when it was not read."""
        for step in self.ledger.method.steps:
            if step.kind == "record" and (step.id, name) in self.ledger.recorded:
                return self.ledger.recorded[step.id, name][0]
        return ""

    def to_write(self, step: Step, item: SetItem) -> str | None:
        """Return what a set step writes for one setting; none when there is nothing to write.

        A difference from the record that was accepted is not written back.
        """
        found, target = self.found_setting(item.id), item.to
        if item.to == "record":
            target = self.on_record(item.id)
            accepted = any(
                self.choice(s.id) == "accept"
                for s in self.ledger.method.steps
                if s.kind == "record" and any(f.id == item.id for f in s.fields)
            )
            if not target or not found or accepted:
                return None
        elif item.to == "found":
            changed = any(name == item.id for s, name in self.ledger.written if s != step.id)
            return found if found and changed else None
        elif (own := self.family.shape.target(self, step, item)) is not None:
            target = own
            if not target:
                return None
        if not found:
            return None
        return None if same_value(found, target) else target

    def written(self, step: Step, item: SetItem) -> bool:
        """Tell whether a setting was written and read back as written."""
        entry = self.ledger.written.get((step.id, item.id))
        wanted = self.to_write(step, item)
        if wanted is None:
            return True
        return (
            entry is not None
            and same_value(entry[0].value, wanted)
            and same_value(entry[0].read_back, entry[0].value)
        )

    def done(self, step: Step) -> bool:
        """Tell whether a step has all that it asks for."""
        ledger = self.ledger
        if step.kind == "kit":
            return all(role.id in ledger.kit for role in self.roles(step))
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
            kind = self.kind_of(ledger.method.run(step.run))
            read = ledger.gone_through(step.run, len(self.plan_of(step.run)))
            return read and kind.complete(self, step)
        if step.kind == "set":
            return all(self.written(step, item) for item in step.sets)
        if step.kind == "decide":
            return step.id in ledger.decided
        if step.kind == "adjust":
            return step.id in ledger.decided or self.put_right or self.adjusting.done
        own = self.family.steps.get(step.kind)
        return own.done(self, step) if own is not None else ledger.signed is not None

    def _recorded(self, step: Step) -> bool:
        for field in self.fields(step):
            if field.required and (step.id, field.id) not in self.ledger.recorded:
                return False
        accepted = step.id in self.ledger.decided
        return accepted or not any(self.mismatch(step, field) for field in self.fields(step))

    def on_record(self, name: str) -> str:
        """Return a setting by the name under which it is found in the device."""
        return setting_on_record(self.ledger.facts, name)

    def expected(self, field: Field) -> str:
        """Return what the instrument's record says for a field; empty when nothing."""
        if not field.must_match:
            return ""
        found = getattr(self.ledger.facts, field.must_match, None)
        return self.on_record(field.must_match) if found is None else str(found)

    def mismatch(self, step: Step, field: Field) -> str:
        """Return the question to ask when a recorded value differs from what it should say."""
        if step.must_hold and field is step.fields[-1]:
            found = self.computed(step)
            for name, question in step.must_hold:
                if found.get(name) == "no":
                    return question.format(**found)
        entry = self.ledger.recorded.get((step.id, field.id))
        if entry is None:
            return ""
        expected = self.expected(field)
        if expected and not same_value(entry[0], expected):
            return field.question.format(expected=expected)
        if field.most:
            most = self.settings.number(field.most)
            if parse_decimal(entry[0], field.id) > most:
                return field.question.format(expected=f"{most} {field.unit}".strip())
        asked = self.family.shape.question(self, step, field, entry[0])
        return asked or self._off_worked_out(step, field, entry[0])

    def _off_worked_out(self, step: Step, field: Field, value: str) -> str:
        """Return the question when a value is far from the one that was worked out."""
        result = dict(step.computed).get(field.id)
        worked_out = self.computed(step).get(result, "") if result is not None else ""
        if not worked_out:
            return ""
        asked = self.family.shape.off_worked_out(self, field, value, worked_out)
        if asked is not None:
            return asked
        span = abs(self.ledger.facts.transfer.input_span)
        away = abs(parse_decimal(value, field.id) - parse_decimal(worked_out, field.id))
        if HUNDRED * away <= span * COMPUTED_WITHIN_PERCENT:
            return ""
        return f"From the vessel and its liquid it comes to {worked_out}. Is the range right?"

    def computed(self, step: Step) -> dict[str, str]:
        """Return the results of a step's operation as text; empty while an input is missing."""
        return worked_out(self.ledger, step, partial(self.family.shape.given, self, step))

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
        """Return the present step; none when the job is signed or voided."""
        if self.ledger.voided is not None:
            return None
        return next((s for s in self.ledger.method.steps if self.statuses[s.id] == "now"), None)

    def first_open_before(self, step: Step) -> Step | None:
        """Return the step that must be done before this one, if any."""
        earlier = takewhile(lambda s: s.id != step.id, self.ledger.method.steps)
        return next((s for s in earlier if self.statuses[s.id] in ("now", "blocked")), None)

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
