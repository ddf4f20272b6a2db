"""A virtual analyzer of several components as it goes along with a job, and by a technician."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Any

from calibration.engine.job.events import Event
from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.engine.job.reads import Reads
from calibration.engine.method.method import Step
from calibration.engine.view.state import Station
from calibration.families.mixture import model as own
from calibration.families.mixture.causes import limit_of
from calibration.families.mixture.facts import components
from calibration.families.mixture.gases import AFTER, end_of, made, may_set, seen_of, value_of
from calibration.families.mixture.model import MixModel
from calibration.families.mixture.words import ROLES, SUFFIX, Gas, Together
from calibration.families.shared.contents import PPM_PER_PERCENT, holds
from calibration.families.shared.loop.strip import stations
from calibration.kernel.numbers import exact
from calibration.simulate.alongside import Alongside, Logged, Part, Truth, Watched
from calibration.simulate.commands import Command, Live, Share
from calibration.simulate.rigs import KINDS, Model, RigKind

SETTLE_S = 90.0
#: So far off a person sets what need not be set. [share of range]
SEEN_OFF = 0.008
GASES: tuple[Gas, ...] = ("zero", "span")


@dataclass(frozen=True)
class CellWatched(Watched):
    """One component as it is looked at."""

    cell: int
    #: what it should read in the gas that is due; none in the process
    value: Decimal | None = None

    on_display = True

    def model(self, model: Model) -> Model:
        """Return the analyzer with this component shown."""
        return replace(model, shown=self.cell) if isinstance(model, MixModel) else model

    def stations(self, facts: InstrumentFacts, now: Live) -> tuple[Station, ...] | None:
        """Return gas and display; in the process nothing is known to compare with."""
        if self.value is None:
            return None
        found = stations(facts, self.value, None, now.output, None, "")
        names = {"applied": "In the gas", "output": "Cell and display"}
        return tuple(replace(s, label=names.get(s.id, s.label)) for s in found)


def contents(asset: AssetFacts, really: Mapping[str, Any]) -> tuple[Share, ...]:
    """Return what comes out of a cylinder, by its label or by what it really holds. [% vol]"""
    found = []
    for part in holds(asset).parts:
        percent = part.value if part.unit == "% vol" else part.value / PPM_PER_PERCENT
        found.append(Share(gas=part.gas, percent=float(percent) * really.get(part.gas, 1.0)))
    return tuple(found)


class MixRig(Alongside):
    """An analyzer and its gases follow the entries of the job."""

    commanded = False

    def run(self, job: Reads) -> str:
        """Return the run as which the live signal is seen: that of the first component."""
        return job.ledger.method.found.id

    def watched(self, job: Reads) -> Watched:
        """Return the first component, in the gas that is due."""
        step = job.current
        with exact():
            value = value_of(job.ledger, step.gas, 0) if isinstance(step, Together) else None
        return CellWatched(cell=0, value=value)

    def order(
        self, job: Reads, event: Event, t: float, pace: float, truth: Truth
    ) -> Command | None:
        """Return what an entry does to the analyzer."""
        if event.kind not in ("put_on", "taken_off"):
            return None
        step = job.ledger.method.step(event.content.step)
        if step is None or step.order not in (*GASES, "process"):
            return None
        if step.order == "process":
            return Command(t=t, kind="tell", setting="process")
        asset = job.ledger.kit[ROLES[step.order]].asset  # type: ignore[index]
        mix = contents(asset, truth(asset.asset) or {})
        return Command(t=t, kind="tell", setting=step.order, mix=mix)

    def orders(
        self, job: Reads, event: Event, t: float, pace: float, truth: Truth
    ) -> tuple[Command, ...]:
        """Return what an entry does; one of all components sets several, a repeat more flow."""
        step = job.ledger.method.step(getattr(event.content, "step", ""))
        found = super().orders(job, event, t, pace, truth)
        if event.kind == "put_on" and job.ledger.attempts and found:
            return (*found, Command(t=t, kind="tell", setting="overflow"))
        if event.kind != "mixed" or not isinstance(step, Together):
            return found
        seen = seen_of(job.ledger, step, event.content)
        return tuple(self._trim(job, step, n, t) for n, s in seen.items() if s.after is not None)

    def log(
        self, model: Model, commands: Sequence[Command], after: float, until: float, seed: int
    ) -> tuple[Logged, ...]:
        """Return the automatic zeros, each with what every cell had moved to."""
        if not isinstance(model, MixModel):
            return ()
        found = own.corrections(model, commands, after, until, seed)
        return tuple(Logged(t, values) for t, values in found)

    def parts(self, job: Reads, step: Step, t: float) -> tuple[Part, ...]:
        """Return every component as it is shown."""
        if not isinstance(step, Together) or made(job, step):
            return ()
        found = []
        for n, c in enumerate(components(job.ledger.facts)):
            with exact():
                sets = may_set(job.ledger, step, n)
                order = self._trim(job, step, n, t) if sets else None
            found.append(
                Part(
                    name=c.id,
                    after=c.id + AFTER if sets else "",
                    label=c.label,
                    unit=c.unit,
                    run=f"as_found{SUFFIX[n]}",
                    watched=CellWatched(cell=n),
                    order=order,
                )
            )
        return tuple(found)

    def _trim(self, job: Reads, step: Together, n: int, t: float) -> Command:
        end = "zero" if end_of(job.ledger, step.gas, n) == "zero" else "span"
        with exact():
            to = float(value_of(job.ledger, step.gas, n))
        name = components(job.ledger.facts)[n].id
        return Command(t=t, kind="trim", end=end, setting=name, to=to)  # type: ignore[arg-type]

    def may_set(self, job: Reads, part: Part, shown: Decimal) -> bool:
        """Tell whether a component is to be set from what it shows, by the rule of the site."""
        if part.order is None:
            return False
        if job.settings.always_adjust:
            return True
        own = {c.id: c for c in components(job.ledger.facts)}[part.name]
        with exact():
            most = limit_of(own) * job.settings.share("adjust_share")
        return abs(float(shown) - (part.order.to or 0.0)) > float(most)


def _tell(person: Any, order: str) -> None:
    if order in (*GASES, "process"):
        mix = person.bottles.get(ROLES[order], ()) if order in ROLES else ()
        person.commands.append(Command(t=person.t, kind="tell", setting=order, mix=mix))
        person.t += SETTLE_S


def _task(person: Any, state: Any, ask: Any, todo: Any) -> list[tuple[str, dict[str, Any]]]:
    """Read every component, and set what is off, in the order of the rows."""
    always = any(p.id == "school" and p.value == "always" for p in state.limits)
    cells = [c.id for c in person.model.cells]
    found: dict[str, Any] = {"step": todo.step}
    shown: dict[str, float] = {}
    runs = (state.as_left, *state.extra_runs)
    judged = any(run is not None and run.role == "left" and run.taken for run in runs)
    hides = not judged and _not_to_be_set(person, ask)
    for column in ask.values:
        name = column.id.removesuffix(AFTER)
        n = cells.index(name)
        looked = replace(person.model, shown=n)
        if column.id.endswith(AFTER):
            to = float(column.label.split()[-1].replace("\u202f", ""))
            off = abs(shown[name] - to) > SEEN_OFF * looked.cells[n].upper
            if hides or not (off or always):
                continue
            end = "span" if to else "zero"
            order = Command(t=person.t, kind="trim", end=end, setting=name, to=to)  # type: ignore[arg-type]
            person.commands.append(order)
            person.t += 20.0
        value = own.live(looked, person.commands, person.t, person.seed).digital
        found[column.id] = str(value)
        shown.setdefault(name, float(value))
    return [(ask.sends.kind, found)]


def _not_to_be_set(person: Any, ask: Any) -> bool:
    """Tell whether a person who looks sees that setting would hide something: all off, or far."""
    shares = []
    for column in ask.values:
        to = float(column.label.split()[-1].replace("\u202f", "")) if AFTER in column.id else 0.0
        if to:
            n = [c.id for c in person.model.cells].index(column.id.removesuffix(AFTER))
            looked = replace(person.model, shown=n)
            now = own.live(looked, person.commands, person.t, person.seed).digital
            shares.append((float(now) / to - 1, looked.cells[n].infrared))
    cells = [s for s, infrared in shares if infrared]
    alike = len(cells) > 1 and max(cells) - min(cells) < 0.015 and abs(cells[0]) > 0.01
    return alike or any(abs(s) > 0.04 for s, _ in shares)


KINDS["mixture"] = RigKind(
    model=MixModel,
    live=own.live,
    window=own.window,
    settings=own.settings_at,
    reach=lambda model: (0.0, math.inf),
    task=_task,
    tell=_tell,
)
