"""A virtual pH loop as it goes along with a job, and as a virtual technician works at it."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from calibration.engine.job.events import Event
from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.job.reads import Reads
from calibration.engine.view.state import Station
from calibration.families.ph import electrode
from calibration.families.ph.electrode import ElectrodeModel
from calibration.families.ph.facts import analyzer, bottle
from calibration.families.ph.strip import buffer_stations
from calibration.families.ph.values import in_it, next_role, run_of, table_for, value_of
from calibration.families.ph.words import NEAR
from calibration.kernel.fits import least_squares
from calibration.kernel.numbers import exact
from calibration.kernel.rounding import fixed, show
from calibration.simulate.alongside import (
    Alongside,
    Beside,
    CurvePoint,
    Truth,
    Watched,
    finishes,
)
from calibration.simulate.commands import Command, Given, Live
from calibration.simulate.rigs import KINDS, Model, RigKind

POINTS = 60
#: Millivolts are averaged, and their drift is seen, over this. [s]
MEAN_S, DRIFT_S = 5.0, 20.0
#: Changes smaller than this have no time to 90 %. [mV]
STEP_MV = 30.0
ORDERS = {
    "ph_clean": "clean",
    "ph_process": "process",
    "ph_replace": "replace",
    "ph_program": "program",
}


def mean_mv(model: ElectrodeModel, commands: Sequence[Command], t: float, seed: int) -> float:
    """Return the millivolts averaged over the last seconds. [mV]"""
    seen = electrode.millivolts(model, commands, t, seed, MEAN_S)
    return sum(v for _, v in seen) / len(seen)


def drift(model: ElectrodeModel, commands: Sequence[Command], t: float, seed: int) -> float:
    """Return how the millivolts move. [mV/min]"""
    start = electrode.immersed_at(commands, t)
    seconds = min(DRIFT_S, t - start) if start is not None else DRIFT_S
    seen = electrode.millivolts(model, commands, t, seed, max(2.0, seconds))
    if len(seen) < 4:
        return math.inf
    return least_squares([a / 60 for a, _ in seen], [v for _, v in seen]).slope


def t90(model: ElectrodeModel, commands: Sequence[Command], t: float, seed: int) -> float | None:
    """Return the time to 90 % of the change since it was immersed; none of a small change. [s]"""
    start = electrode.immersed_at(commands, t)
    if start is None or t - start < 1:
        return None
    end = mean_mv(model, commands, t, seed)
    first = electrode.millivolts(model, commands, max(0.0, start - 0.01), seed, 0.0)[-1][1]
    if abs(end - first) < STEP_MV:
        return None
    for at, value in electrode.millivolts(model, commands, t, seed, t - start):
        if abs(value - first) >= 0.9 * abs(end - first):
            return round(at - start, 1)
    return None


@dataclass(frozen=True)
class ElectrodeWatched(Watched):
    """What the job expects of the buffer that is due."""

    name: str
    value: float
    usual_t90_s: float
    steady_mv_min: float
    warm_c: str

    on_display = True

    def held(self, model: Model, commands: Sequence[Command], t: float, seed: int) -> float:
        """Return 1 once the millivolts hold still; half while they move."""
        if electrode.immersed_at(commands, t) is None:
            return 1.0
        return 1.0 if abs(drift(model, commands, t, seed)) <= self.steady_mv_min else 0.5

    def seen(
        self, model: Model, commands: Sequence[Command], t: float, seed: int
    ) -> Mapping[str, Any]:
        """Return millivolts and time to 90 % in the buffer."""
        took = t90(model, commands, t, seed)
        found = {"mv": str(fixed(mean_mv(model, commands, t, seed), 1))}
        return {**found, "t90_s": str(took)} if took is not None else found

    def stations(self, facts: InstrumentFacts, now: Live) -> tuple[Station, ...]:
        """Return the strip of what it stands in."""
        in_buffer = self.name != ""
        found = buffer_stations(
            facts,
            Decimal(str(self.value)) if in_buffer else now.applied,
            None,
            ("", ""),
            now.digital,
            now.output,
            now.indicated if facts.indicated else None,
            "",
        )
        # What is not known to be a buffer is compared with nothing.
        left_out = ("electrode",) if in_buffer else ("electrode", "applied", "whole")
        return tuple(s for s in found if s.id not in left_out)

    def beside(
        self, model: Model, commands: Sequence[Command], t: float, seed: int, pace: float
    ) -> Beside | None:
        """Return the curve since it was immersed, and millivolts with their drift."""
        start = electrode.immersed_at(commands, t)
        mv = mean_mv(model, commands, t, seed)
        if start is None or t - start < 0.5 or not self.name:
            return Beside(
                title="",
                curve=(),
                expected=(),
                expected_label="",
                level=None,
                level_label="",
                said=f"{show(mv, 1, sign=True)} mV",
                loud="",
                aside="",
            )
        points = electrode.curve(model, commands, start, t, seed, POINTS)
        moves = drift(model, commands, t, seed)
        said = f"{show(mv, 1, sign=True)} mV"
        if math.isfinite(moves):
            said += f", {show(moves, 1, sign=True)} mV/min"
        return Beside(
            title=f"Since it is in {self.name}",
            curve=tuple(CurvePoint(round(a, 1), b) for a, b in points),
            expected=self._expected(points[0][1], t - start),
            expected_label="dashed: a clean one",
            level=self.value,
            level_label="the buffer",
            said=said,
            loud="",
            aside=f"{self.warm_c} °C" if self.warm_c else "",
        )

    def _expected(self, first: float, been: float) -> tuple[CurvePoint, ...]:
        tau = self.usual_t90_s / math.log(10)
        end = max(been, 4 * tau)
        times = [end * i / 40 for i in range(41)]
        rise = self.value - first
        return tuple(
            CurvePoint(round(s, 1), first + rise * (1 - math.exp(-s / tau))) for s in times
        )


class ElectrodeRig(Alongside):
    """A pH loop follows the entries of the job."""

    commanded = False

    def watched(self, job: Reads) -> ElectrodeWatched:
        """Return what the job expects of the buffer that is due."""
        spec = run_of(job, job.current)
        role = next_role(job, spec) if spec is not None else ""
        name, value, warm = "", 7.0, ""
        if spec is not None and role and in_it(job, spec, role):
            with exact():
                value = float(value_of(job.ledger, spec, role))
            name = table_for(job.ledger, role).nominal
            warm = job.ledger.recorded.get((spec.poured, "buffer_c"), ("", None))[0]
        return ElectrodeWatched(
            name=name,
            value=value,
            usual_t90_s=float(analyzer(job.ledger.facts).usual_t90_s),
            steady_mv_min=float(job.settings.number("steady_mv_min")),
            warm_c=warm,
        )

    def order(
        self, job: Reads, event: Event, t: float, pace: float, truth: Truth
    ) -> Command | None:
        """Return what an entry does to the electrode or to the analyzer."""
        content = event.content
        if event.kind == "buffer_in":
            asset = job.ledger.kit[content.role].asset
            own, really = bottle(asset), truth(asset.asset) or {}
            return into(t, own.set, own.nominal, float(really.get("low", 0.0)))
        if event.kind == "buffer_accepted":
            return Command(t=t, kind="tell", setting="take")
        if event.kind in ("put_on", "taken_off", "confirmed"):
            step = job.ledger.method.step(content.step)
            if step is None or step.order not in ORDERS:
                return None
            if finishes(job, step, event):
                poured = bottle(job.ledger.kit[NEAR].asset).set
                return Command(t=t, kind="tell", setting=ORDERS[step.order], text=poured)
        return None


def into(t: float, set_: str, nominal: str, low: float) -> Command:
    """Return the command that puts the electrode into a buffer, which may really be low."""
    return Command(
        t=t,
        kind="tell",
        setting="buffer",
        text=f"{set_}:{nominal}",
        more=(Given(name="low", value=low),) if low else (),
    )


@dataclass(frozen=True)
class Poured:
    """What a technician really pours from the bottle of a role."""

    set: str
    nominal: str
    low: float = 0.0


def _tell(person: Any, order: str) -> None:
    if order in ORDERS:
        poured = person.bottles[NEAR].set
        person.commands.append(Command(t=person.t, kind="tell", setting=ORDERS[order], text=poured))
        person.t += 60.0
        _wait(person)


def _wait(person: Any) -> None:
    """Wait until the millivolts hold still, as a patient person does."""
    for _ in range(60):
        if abs(drift(person.model, person.commands, person.t, person.seed)) < 0.8:
            return
        person.t += 10.0


def _task(person: Any, state: Any, ask: Any, todo: Any) -> list[tuple[str, dict[str, Any]]]:
    """Do what a step with a buffer asks for: into it, then read it, then let it be taken."""
    sent: list[tuple[str, dict[str, Any]]] = []
    if ask.way == "read":
        _wait(person)
        run = next(r for r in state.runs if r.id == ask.sends.data["run"])
        data: dict[str, Any] = {"run": run.id, "point": ask.sends.data["point"]}
        data |= {**person.values(run), "applied": run.points[ask.sends.data["point"]].stands_for}
        data["mv"] = str(fixed(mean_mv(person.model, person.commands, person.t, person.seed), 1))
        took = t90(person.model, person.commands, person.t, person.seed)
        if took is not None:
            data["t90_s"] = str(took)
        sent.append((ask.sends.kind, data))
    for event in ask.also:
        if event.kind == "buffer_in":
            poured = person.bottles[event.data["role"]]
            person.commands.append(into(person.t, poured.set, poured.nominal, poured.low))
            person.t += 30.0
        else:
            person.commands.append(Command(t=person.t, kind="tell", setting="take"))
            person.t += 5.0
        sent.append((event.kind, dict(event.data)))
    return sent


KINDS["electrode"] = RigKind(
    model=ElectrodeModel,
    live=electrode.live,
    window=electrode.window,
    settings=electrode.settings_at,
    reach=lambda model: (0.0, 14.0),
    task=_task,
    tell=_tell,
)
