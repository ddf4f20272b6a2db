"""A virtual instrument written as a state that time and orders move: live values, and a helper.

A family says how its state begins, what an order does to it, how time moves it and what it shows;
the rest is the same for all: the live signal, a rig that follows its job, a technician at it.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from calibration.engine.job.events import Event
from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.job.reads import Reads
from calibration.engine.method.family import family_of, kind_of
from calibration.engine.method.method import Step
from calibration.engine.view.asks import Ask
from calibration.engine.view.state import Station
from calibration.kernel.rounding import as_typed, decimals_of, show
from calibration.signals.transfer import ideal_output
from calibration.simulate.alongside import Alongside, Beside, Truth, Watched, finishes
from calibration.simulate.commands import NOISE_STEP_S, Command, Live
from calibration.simulate.rigs import KINDS, Model, RigKind

#: A reading was taken: what follows in the rig.
TAKEN = "taken"
#: How long a virtual technician waits at most. [s]
PATIENCE_S = 4 * 3600.0
LOOK_S = 5.0


def nothing_seen(model: Any, state: Any, seed: int) -> Mapping[str, str]:
    """Return what is added to a reading: nothing."""
    return {}


@dataclass(frozen=True, kw_only=True)
class Machine:
    """How a virtual instrument works; each a function of its model and of its state.

    A state has a time ``t`` [s], which ``advance`` brings forward.
    """

    kind: str
    model: type
    begin: Callable[[Any], Any]
    advance: Callable[[Any, Any, float], None]
    tell: Callable[[Any, Any, Command], None]
    #: what it shows, with the noise of a seed
    shows: Callable[[Any, Any, int], Live]
    #: what is read off it besides, by the name of a field
    settings: Callable[[Any, Any], dict[str, str]]
    #: how much of what has to pass before a reading counts is over, as a share
    held: Callable[[Any, Any], float] = lambda model, state: 1.0
    #: what is added to a reading
    seen: Callable[[Any, Any, int], Mapping[str, str]] = nothing_seen
    #: what is said beside the live value
    said: Callable[[Any, Any], str] = lambda model, state: ""
    #: the machine with what a point of a run asks for: its target, direction and label
    at_point: Callable[[Any, float, str, str], Any] = lambda model, target, way, label: model
    reach: tuple[float, float] = (-math.inf, math.inf)
    #: how long an order takes a virtual technician [s]
    takes_s: float = 30.0

    def walk(
        self, model: Any, commands: Sequence[Command], moments: Sequence[float]
    ) -> Iterator[Any]:
        """Yield the state at each moment, in their order."""
        state, given = self.begin(model), 0
        for moment in moments:
            while given < len(commands) and commands[given].t <= moment:
                self.advance(model, state, commands[given].t)
                self.tell(model, state, commands[given])
                given += 1
            self.advance(model, state, moment)
            yield state

    def at(self, model: Any, commands: Sequence[Command], t: float) -> Any:
        """Return the state at a time. [s]"""
        return next(self.walk(model, commands, [t]))

    def live(self, model: Any, commands: Sequence[Command], t: float, seed: int) -> Live:
        """Return what it shows at a time."""
        return self.shows(model, self.at(model, commands, t), seed)

    def window(
        self, model: Any, commands: Sequence[Command], t: float, seed: int, seconds: float
    ) -> list[Live]:
        """Return what it showed in the last seconds, oldest first."""
        count = int(seconds / NOISE_STEP_S) + 1
        moments = [m for i in reversed(range(count)) if (m := t - i * NOISE_STEP_S) >= 0]
        return [self.shows(model, s, seed) for s in self.walk(model, commands, moments)]

    def settings_at(self, model: Any, commands: Sequence[Command], t: float) -> dict[str, str]:
        """Return what is read off it at a time."""
        return self.settings(model, self.at(model, commands, t))

    def register(self) -> None:
        """Make it known as a kind of rig."""
        KINDS[self.kind] = RigKind(
            model=self.model,
            live=self.live,
            window=self.window,
            settings=self.settings_at,
            reach=lambda model: self.reach,
            task=self._task,
            tell=self._told,
        )

    def _told(self, person: Any, order: str, value: float = 0.0) -> None:
        """Let a virtual technician do to it what a step orders."""
        if order:
            told = Command(t=person.t, kind="tell", setting=order, value=value)
            person.commands.append(told)
            person.t += self.takes_s

    def _task(
        self, person: Any, state: Any, ask: Any, todo: Any
    ) -> list[tuple[str, dict[str, Any]]]:
        """Read it once what has to pass is over, or do what the ask sends."""
        sent: list[tuple[str, dict[str, Any]]] = []
        if ask.way == "read":
            data = dict(ask.sends.data)
            run = next(r for r in state.runs if r.id == data["run"])
            point = run.points[data["point"]]
            to = float(point.target_value)
            person.model = self.at_point(person.model, to, point.direction, point.label)
            self.wait(person)
            data = {**person.values(run), **data}
            now = self.at(person.model, person.commands, person.t)
            known = {value.id for value in ask.values}
            seen = self.seen(person.model, now, person.seed)
            data |= {k: v for k, v in seen.items() if k in known}
            sent.append((ask.sends.kind, data))
            person.commands.append(taken(person.t, run.id, data["point"]))
        elif ask.way == "set":
            data = dict(ask.sends.data)
            shown = {"before": self._shown(person)}
            self._told(person, todo.order or todo.step, float(ask.target or 0))
            shown["after"] = self._shown(person)
            said = self.settings_at(person.model, person.commands, person.t)
            for value in ask.values:
                data[value.id] = said.get(value.id) or shown.get(value.id, "")
            sent.append((ask.sends.kind, data))
        for event in ask.also:
            self._told(person, event.kind)
            sent.append((event.kind, dict(event.data)))
        return sent

    def _shown(self, person: Any) -> str:
        """Return what a virtual technician sees on the display now."""
        return str(self.live(person.model, person.commands, person.t, person.seed).digital)

    def wait(self, person: Any) -> None:
        """Wait until what has to pass is over, as a patient person does."""
        end = person.t + PATIENCE_S
        person.t += LOOK_S
        while person.t < end:
            if self.held(person.model, self.at(person.model, person.commands, person.t)) >= 1:
                return
            person.t += LOOK_S


def taken(t: float, run: str, point: int) -> Command:
    """Return the order that tells a rig that a reading was taken."""
    return Command(t=t, kind="tell", setting=TAKEN, text=run, value=float(point))


@dataclass(frozen=True)
class MachineWatched(Watched):
    """A machine as its job looks at it: its display is what is read."""

    machine: Machine
    #: target, direction and label of the point that is due; none where none is
    point: tuple[float, str, str] | None = None

    on_display = True

    def model(self, model: Model) -> Model:
        """Return the machine with what the point that is due asks for."""
        return model if self.point is None else self.machine.at_point(model, *self.point)

    def held(self, model: Model, commands: Sequence[Command], t: float, seed: int) -> float:
        """Return how much of the time that has to pass is over."""
        return self.machine.held(model, self.machine.at(model, commands, t))

    def seen(
        self, model: Model, commands: Sequence[Command], t: float, seed: int
    ) -> Mapping[str, Any]:
        """Return what is added to a reading."""
        return self.machine.seen(model, self.machine.at(model, commands, t), seed)

    def beside(
        self, model: Model, commands: Sequence[Command], t: float, seed: int, pace: float
    ) -> Beside | None:
        """Return what is said beside the live value."""
        said = self.machine.said(model, self.machine.at(model, commands, t))
        if not said:
            return None
        return Beside(
            title="",
            curve=(),
            expected=(),
            expected_label="",
            level=None,
            level_label="",
            said=said,
            loud="",
            aside="",
        )

    def stations(self, facts: InstrumentFacts, now: Live) -> tuple[Station, ...] | None:
        """Return the display alone: while it moves nothing is compared with it."""
        value = as_typed(now.output)
        return (
            Station(
                id="output",
                label="Display",
                value=value,
                unit=facts.output_unit,
                expected=show(
                    ideal_output(facts.transfer, now.applied), max(3, decimals_of(now.output))
                ),
                error="",
                bad=False,
                remark="",
                figure="",
            ),
        )


class Follows(Alongside):
    """A rig that follows the entries of its job."""

    commanded = False

    def __init__(
        self,
        machine: Machine,
        tells: tuple[str, ...] = (),
        asks: Callable[[Reads], Ask | None] = lambda job: None,
    ) -> None:
        self.machine = machine
        #: what the present step of a job asks for
        self.asks = asks
        #: kinds of events of the family that tell the rig what their step orders
        self.tells = tells
        machine.register()

    def watched(self, job: Reads) -> Watched:
        """Return the display of the machine, at the point that is due."""
        step = job.current
        if step is None or step.kind != "capture":
            return MachineWatched(self.machine)
        spec, due = job.ledger.method.run(step.run), job.figures(step.run).current
        if due < 0:
            return MachineWatched(self.machine)
        planned = job.plan_of(step.run)[due]
        kind = kind_of(family_of(job.ledger.method), spec)
        target = float(kind.target(job.facts_of(step.run), planned))
        label = kind.label(job, spec, due)
        return MachineWatched(self.machine, (target, planned.direction, label))

    def order(
        self, job: Reads, event: Event, t: float, pace: float, truth: Truth
    ) -> Command | None:
        """Return what an entry tells the rig: what its step orders, or that it was read."""
        if event.kind == "reading_taken":
            return taken(t, event.content.run, event.content.point)
        if event.kind == "repaired":
            return Command(t=t, kind="tell", setting="repaired")
        if event.kind in self.tells:
            return self.sets(job, job.step(event.content.step), t)
        if event.kind in ("put_on", "taken_off", "confirmed"):
            step = job.ledger.method.step(event.content.step)
            if step is not None and step.order and finishes(job, step, event):
                return Command(t=t, kind="tell", setting=step.order)
        return None

    def sets(self, job: Reads, step: Step, t: float) -> Command | None:
        """Return what a step that sets something tells the machine: to which value."""
        task = self.asks(job)
        if task is None or task.way != "set" or job.current is not step:
            return None
        return Command(t=t, kind="tell", setting=step.order or step.id, value=float(task.target))
