"""A virtual trace oxygen analyzer as it goes along with a job, and as a technician works at it."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from calibration.engine.job.events import Event
from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.job.reads import Reads
from calibration.engine.method.method import Step
from calibration.engine.view.state import Station
from calibration.families.trace import model as own
from calibration.families.trace.bleeding import noted, span_ppm
from calibration.families.trace.coming_down import excess_ppm
from calibration.families.trace.facts import analyzer, span_gas
from calibration.families.trace.model import TraceModel
from calibration.families.trace.strip import trace_stations
from calibration.families.trace.values import process, run_of
from calibration.families.trace.words import FITTED, GAS, SettingSpan
from calibration.kernel.codec import encode
from calibration.kernel.fits import least_squares
from calibration.kernel.numbers import exact
from calibration.kernel.rounding import fixed, show
from calibration.signals.stability import Sample
from calibration.simulate.alongside import (
    Alongside,
    Beside,
    CurvePoint,
    Truth,
    Watched,
    finishes,
)
from calibration.simulate.commands import Command, Live
from calibration.simulate.rigs import KINDS, Model, RigKind

POINTS = 60
#: The slope of a reading is seen over this; steady below this share of the gas a minute. [s, 1/min]
SLOPE_S, STEADY_SHARE = 60.0, 0.01
#: A technician waits at most so long for a steady reading, and for a sensor to come down. [s]
PATIENCE_S, DOWN_S = 300.0, 8 * 3600.0
#: A new sensor, not set yet, is down when it shows no more than this of the process. [share]
DOWN_WITHIN = 1.3
#: What a step tells the rig.
ORDERS = ("span", "process")
NEW_SENSOR = "new_sensor"


def moves(model: TraceModel, commands: Sequence[Command], t: float, seed: int) -> float:
    """Return how the reading moves over the last minute. [ppm/min]"""
    start = max(0.0, t - SLOPE_S, own.turned_at(commands, t) or 0.0)
    if t - start < 10:
        return math.inf
    seen = own.curve(model, commands, start, t, seed, POINTS)
    return least_squares([a / 60 for a, _ in seen], [v for _, v in seen]).slope


@dataclass(frozen=True)
class SpanWatched(Watched):
    """What the job expects of the gas that is on, or of a sensor that comes down."""

    value: float
    usual_t90_s: float
    cylinder: str
    #: seconds in air of a sensor that comes down; none in span gas
    in_air_s: float | None

    on_display = True

    def held(self, model: Model, commands: Sequence[Command], t: float, seed: int) -> float:
        """Return 1 once the reading holds still; half while it moves."""
        if not self.cylinder and self.in_air_s is None:
            return 1.0
        if self.in_air_s is not None:
            shown = own.live(model, commands, t, seed).digital
            if float(shown) > DOWN_WITHIN * self.value + 0.1:
                return 0.5
        most = max(0.02, STEADY_SHARE * self.value)
        return 1.0 if abs(moves(model, commands, t, seed)) <= most else 0.5

    def seen(
        self, model: Model, commands: Sequence[Command], t: float, seed: int
    ) -> Mapping[str, Any]:
        """Return the curve since the valve was turned."""
        start = own.turned_at(commands, t)
        if start is None or t - start < 1:
            return {}
        points = own.curve(model, commands, max(start, t - 240), t, seed, POINTS)
        samples = (Sample(t=round(a, 1), value=round(b, 3)) for a, b in points)
        return {"curve": [encode(s) for s in samples]}

    def stations(self, facts: InstrumentFacts, now: Live) -> tuple[Station, ...]:
        """Return the strip of what comes to the sensor."""
        return trace_stations(
            facts,
            self.cylinder,
            "",
            Decimal(str(self.value)),
            now.digital if facts.output_unit == "mA" else None,
            now.output,
            now.indicated if facts.indicated else None,
            "",
        )

    def beside(
        self, model: Model, commands: Sequence[Command], t: float, seed: int, pace: float
    ) -> Beside | None:
        """Return the curve since the valve was turned, beside the one that is expected."""
        start = own.turned_at(commands, t)
        if start is None or t - start < 1 or (not self.cylinder and self.in_air_s is None):
            return None
        points = own.curve(model, commands, start, t, seed, POINTS)
        slope = moves(model, commands, t, seed)
        said = f"{show(slope, 2, sign=True)} ppm/min" if math.isfinite(slope) else ""
        return Beside(
            title="Since the valve was turned" if self.cylinder else "Since gas flows over it",
            curve=tuple(CurvePoint(round(a, 1), round(b, 3)) for a, b in points),
            expected=self._expected(points[0][1], t - start),
            expected_label="dashed: a good one",
            level=self.value,
            level_label="the gas" if self.cylinder else "the process, usually",
            said=said,
            loud="",
            aside="",
        )

    def _expected(self, first: float, been: float) -> tuple[CurvePoint, ...]:
        tau = self.usual_t90_s / math.log(10)
        end = max(been, 4 * tau)
        times = [end * i / 40 for i in range(41)]
        if self.in_air_s is not None:
            air = self.in_air_s
            found = [self.value + excess_ppm(s, air) for s in times]
        else:
            found = [self.value + (first - self.value) * math.exp(-s / tau) for s in times]
        return tuple(CurvePoint(round(s, 1), v) for s, v in zip(times, found, strict=True))


class TraceRig(Alongside):
    """An analyzer, its gas and its regulator follow the entries of the job."""

    commanded = False

    def watched(self, job: Reads) -> SpanWatched:
        """Return what the job expects of what is on now."""
        spec = run_of(job, job.current)
        setting = isinstance(job.current, SettingSpan)
        chosen = job.ledger.kit.get(GAS)
        in_gas = (spec is not None and not spec.settles) or setting
        with exact():
            value = span_ppm(job.ledger) if in_gas else process(job.ledger).shown
            air = noted(job.ledger, FITTED, "air_seconds") if spec is not None else None
        return SpanWatched(
            value=float(value or 0),
            usual_t90_s=float(analyzer(job.ledger.facts).usual_t90_s),
            cylinder=chosen.asset.asset if chosen is not None and in_gas else "",
            in_air_s=float(air or 30) if spec is not None and spec.settles else None,
        )

    def order(
        self, job: Reads, event: Event, t: float, pace: float, truth: Truth
    ) -> Command | None:
        """Return what an entry does to analyzer or regulator."""
        content = event.content
        if event.kind == "bled":
            return bleeding(t, content.side, float(content.bar), content.times)
        if event.kind == "span_set":
            return self.sets(job, job.step(content.step), t)
        if event.kind in ("put_on", "taken_off"):
            step = job.ledger.method.step(content.step)
            if step is not None and step.order in ORDERS:
                return Command(t=t, kind="tell", setting=step.order, value=_inside(job, truth))
        if event.kind == "confirmed":
            step = job.ledger.method.step(content.step)
            ordered = step is not None and step.order == NEW_SENSOR
            if step is not None and ordered and finishes(job, step, event):
                seconds = float(analyzer(job.ledger.facts).air_seconds)
                return Command(t=t, kind="tell", setting="fit", value=seconds)
        return None

    def orders(
        self, job: Reads, event: Event, t: float, pace: float, truth: Truth
    ) -> tuple[Command, ...]:
        """Return all that an entry does; before a test is repeated, fittings are tightened."""
        found = super().orders(job, event, t, pace, truth)
        if event.kind == "bled" and job.ledger.attempts:
            return (*found, Command(t=t, kind="tell", setting="tighten"))
        return found

    def sets(self, job: Reads, step: Step, t: float) -> Command | None:
        """Return what the analyzer is told when its span is set."""
        value = span_ppm(job.ledger)
        if not isinstance(step, SettingSpan) or value is None:
            return None
        return Command(t=t, kind="trim", end="span", setting="span", to=float(value))


def _inside(job: Reads, truth: Truth) -> float:
    """Return what really is in the cylinder that was chosen: by its label, where nobody knows."""
    chosen = job.ledger.kit.get(GAS)
    if chosen is None:
        return 0.0
    share = float((truth(chosen.asset.asset) or {}).get("share", 1.0))
    return share * float(span_gas(chosen.asset).oxygen_ppm)


def bleeding(t: float, side: str, bar: float, times: int) -> Command:
    """Return the command that fills and vents one side so many times."""
    return Command(t=t, kind="tell", setting=f"bled_{side}", value=bar, text=str(times))


def _tell(person: Any, order: str) -> None:
    if order in ORDERS:
        person.commands.append(Command(t=person.t, kind="tell", setting=order))
        person.t += 60.0
    elif order == NEW_SENSOR:
        air = float(person.answers.get("air_seconds", "20"))
        person.commands.append(Command(t=person.t, kind="tell", setting="fit", value=air))
        person.t += 600.0


def _wait(person: Any, value: float) -> None:
    """Wait until the reading holds still, as long as the alarms may be held off."""
    until = person.t + PATIENCE_S
    while person.t < until:
        speed = moves(person.model, person.commands, person.t, person.seed)
        if abs(speed) <= max(0.02, STEADY_SHARE * value):
            return
        person.t += 15.0


def _wait_until_down(person: Any, value: float) -> None:
    """Wait until a sensor that saw air is down, for hours where it must be."""
    until = person.t + DOWN_S
    while person.t < until:
        shown = own.live(person.model, person.commands, person.t, person.seed).digital
        if float(shown) <= 1.1 * value + 0.05:
            return
        person.t += 300.0


def _task(person: Any, state: Any, ask: Any, todo: Any) -> list[tuple[str, dict[str, Any]]]:
    """Do what a step asks for: fill and vent, read in gas, set the span."""
    if ask.way == "state":
        sent = []
        for event in ask.others[0].events if ask.others else ask.also:
            d = event.data
            person.commands.append(bleeding(person.t, d["side"], float(d["bar"]), int(d["times"])))
            person.t += 20.0 * int(d["times"])
            sent.append((event.kind, dict(d)))
        return sent
    if ask.way == "set":
        before = own.live(person.model, person.commands, person.t, person.seed).digital
        to = float(ask.target.replace("\u202f", ""))
        person.commands.append(Command(t=person.t, kind="trim", end="span", setting="span", to=to))
        person.t += 10.0
        after = own.live(person.model, person.commands, person.t, person.seed).digital
        return [(ask.sends.kind, {"step": todo.step, "before": str(before), "after": str(after)})]
    run = next(r for r in state.runs if r.id == ask.sends.data["run"])
    point = run.points[ask.sends.data["point"]]
    if run.role == "check":
        _wait_until_down(person, float(point.target_value))
    _wait(person, float(point.target_value))
    slope = moves(person.model, person.commands, person.t, person.seed)
    data: dict[str, Any] = {"run": run.id, "point": ask.sends.data["point"]}
    data |= {**person.values(run), "applied": point.stands_for}
    shown = float(data.get("digital") or data["reading"])
    if math.isfinite(slope):
        data["minute_before"] = str(fixed(max(0.0, shown - slope), 2))
    return [(ask.sends.kind, data)]


KINDS["trace"] = RigKind(
    model=TraceModel,
    live=own.live,
    window=own.window,
    settings=own.settings_at,
    reach=lambda model: (0.0, model.upper),
    task=_task,
    tell=_tell,
)
