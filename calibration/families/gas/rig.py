"""A virtual detector with its gas train, as it goes along with a job."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from calibration.detector.back_to_service import ReturnIn, return_to_service
from calibration.engine.job.events import Event
from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.job.reads import Reads
from calibration.engine.method.method import Step
from calibration.engine.view.state import Station
from calibration.families.gas.admit_set import refused, target_of
from calibration.families.gas.exposure import (
    ACROSS,
    AFTER,
    T90,
    as_set,
    made,
    may_set,
    seen_of,
    taking_part,
)
from calibration.families.gas.facts import channels
from calibration.families.gas.gases import found_of, minutes_for, present, role_for, value_of
from calibration.families.gas.ledger import gas_of
from calibration.families.gas.strip import gas_stations
from calibration.families.gas.words import Exposure, GasSet
from calibration.gas.cylinder import Purpose
from calibration.kernel.codec import decode, encode
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import exact, from_float
from calibration.kernel.rounding import show
from calibration.signals.stability import Sample
from calibration.simulate.alongside import (
    Alongside,
    Beside,
    CurvePoint,
    Part,
    Truth,
    Watched,
    finishes,
)
from calibration.simulate.commands import Command, Live
from calibration.simulate.detector import (
    DetectorModel,
    curve,
    looked_at,
    settings_at,
    used_l,
)
from calibration.simulate.exposure import exposure, gas_on_at
from calibration.simulate.rigs import Model

POINTS = 60
#: What a step tells the rig: kind of command and value.
ORDERS = {
    "adapter_on": ("adapter", 1.0),
    "adapter_off": ("adapter", 0.0),
    "inhibit_on": ("inhibit", 1.0),
    "inhibit_off": ("inhibit", 0.0),
    "reset": ("reset", 0.0),
}


@dataclass(frozen=True)
class GasWatched(Watched):
    """What the job expects of the gas that is on now."""

    channel: int
    value: float
    rest: float
    t90_s: float
    clear_percent: float
    #: cylinder that is due, and whether it is open; flow that is wanted [L/min]
    cylinder: str
    open: bool
    #: a reading counts as steady only after gas was on for this long [s]
    hold_s: float
    flow: float

    on_display = True

    def model(self, model: Model) -> Model:
        """Return the detector as its channel is looked at."""
        return looked_at(model, self.channel) if isinstance(model, DetectorModel) else model

    def held(self, model: Model, commands: Sequence[Command], t: float, seed: int) -> float:
        """Return how much of the time that gas has to be on is over, as a share."""
        start = gas_on_at(commands, t)
        if not self.hold_s or start is None:
            return 1.0
        return min(1.0, (t - start) / self.hold_s)

    def seen(
        self, model: Model, commands: Sequence[Command], t: float, seed: int
    ) -> Mapping[str, Any]:
        """Return what was seen of the detector since gas was opened."""
        if not isinstance(model, DetectorModel):
            return {}
        found = exposure(model, commands, t, seed)
        return {k: v for k, v in encode(found).items() if v is not None} if found else {}

    def stations(self, facts: InstrumentFacts, now: Live) -> tuple[Station, ...]:
        """Return the stations of the detector and its gas train."""
        return gas_stations(
            facts,
            self.cylinder if now.flow or self.open else "",
            from_float(self.value if self.cylinder else self.rest),
            now.flow,
            from_float(self.flow),
            now.digital if facts.smart else None,
            now.output,
            now.indicated if facts.indicated else None,
            "",
        )

    def beside(
        self, model: Model, commands: Sequence[Command], t: float, seed: int, pace: float
    ) -> Beside | None:
        """Return the curve since gas went on or off, and what the detector says of itself."""
        if not isinstance(model, DetectorModel):
            return None
        said = settings_at(model, commands, t)
        start = gas_on_at(commands, t)
        held = "Output held: it does not measure" if said["mode"] == "held" else ""
        alarm = {"live": "Alarm: live", "latched": "Alarm: left over, to be reset"}
        if start is None:
            orders = (c.t for c in commands if c.kind in ("shut", "adapter") and c.t <= t)
            off = max(orders, default=-1)
            since = max(off, t - 300, 0.0)
            points = _curve(model, commands, since, t, seed) if off >= 0 else ()
            wait, alarms = self._clear(points, pace), alarm.get(said["alarm"], "")
            return Beside(
                title="Since gas off",
                curve=points,
                expected=(),
                expected_label="",
                level=None if self.rest else self.value * self.clear_percent / 100,
                level_label="clear below",
                said=" · ".join(filter(None, (wait, alarms))),
                loud=held,
                aside="",
            )
        points = _curve(model, commands, start, t, seed)
        alarm["live"] = "alarm on, as it should"
        wait = self._steady_in(t - start, pace)
        return Beside(
            title="Since gas on",
            curve=points,
            expected=self._expected(points[0].value if points else 0.0, t - start),
            expected_label="dashed: as it answered last time",
            level=None,
            level_label="",
            said=" · ".join(filter(None, (wait, alarm.get(said["alarm"], "")))),
            loud=held,
            aside=f"{used_l(model, commands, t) / max(1, round(pace)):.2f} L drawn",
        )

    def _expected(self, first: float, been: float) -> tuple[CurvePoint, ...]:
        """Return the exponential that a sensor with its usual time to 90 % would follow."""
        tau = self.t90_s / math.log(10)
        end = max(been, 4 * tau)
        times = [end * i / 40 for i in range(41)]
        rise = self.value - first
        return tuple(
            CurvePoint(round(s, 1), first + rise * (1 - math.exp(-s / tau))) for s in times
        )

    def _steady_in(self, been: float, pace: float) -> str:
        """Return when it should be steady: within 1 % after two decades of its usual curve."""
        left = 2 * self.t90_s - been
        return f"steady in about {show(left / pace, 0)} s" if left > 0 else ""

    def _clear(self, points: Sequence[CurvePoint], pace: float) -> str:
        if len(points) < 3 or self.value <= 0:
            return ""
        samples = tuple(Sample(t=p.t, value=abs(p.value - self.rest)) for p in points)
        try:
            found = return_to_service(
                ReturnIn(
                    samples=samples,
                    gas_value=self.value,
                    threshold_percent=self.clear_percent,
                )
            )
        except InputError:
            return ""
        if found.clear:
            return "clear of gas"
        if found.seconds_to_clear is None:
            return "it does not fall: that may be real gas"
        return f"clear in about {show(found.seconds_to_clear / pace, 0)} s"


def _curve(
    model: DetectorModel, commands: Sequence[Command], start: float, end: float, seed: int
) -> tuple[CurvePoint, ...]:
    if end - start < 0.5:
        return ()
    return tuple(
        CurvePoint(round(a, 1), b) for a, b in curve(model, commands, start, end, seed, POINTS)
    )


class DetectorRig(Alongside):
    """A detector and its gas follow the entries of the job."""

    commanded = False

    def run(self, job: Reads) -> str:
        """Return the run as which the signal is seen: that of the channel which is set."""
        step = job.current
        if isinstance(step, GasSet | Exposure):
            return found_of(job, step.channel).id
        return super().run(job)

    def watched(self, job: Reads) -> GasWatched:
        """Return what the job expects of the gas that is on now."""
        wanted = present(job)
        purpose, channel = wanted[1:] if wanted is not None else ("air", 0)
        return self._watched(job, purpose, channel)

    def _watched(self, job: Reads, purpose: Purpose, channel: int) -> GasWatched:
        c = channels(job.ledger.facts)[channel]
        chosen = job.ledger.kit.get(role_for(job.ledger, purpose, channel))
        with exact():
            value = value_of(job.ledger, job.settings, purpose, channel)
            most = value_of(job.ledger, job.settings, "span", channel) or c.gas_value or c.range
        if purpose == "air":
            value = most
        return GasWatched(
            channel=channel,
            value=float(value if value is not None else 0),
            rest=float(c.rest),
            t90_s=float(c.usual_t90_s or c.t90_s),
            clear_percent=float(job.settings.number("clear_percent")),
            cylinder=chosen.asset.asset if chosen is not None and purpose != "air" else "",
            open=gas_of(job.ledger).flowing is not None,
            hold_s=30 * float(minutes_for(job.settings, purpose)),
            flow=float(c.flow_l_per_min),
        )

    def refuse(self, job: Reads, event: Event, settings: Mapping[str, str]) -> None:
        """Refuse to call an alarm reset while the detector still sees gas."""
        step = job.ledger.method.step(getattr(event.content, "step", ""))
        resets = event.kind == "confirmed" and step is not None and step.order == "reset"
        if resets and settings.get("alarm") == "live":
            raise InputError(
                "alarm.live",
                "data.item",
                "The alarm is live: the detector sees gas now.",
                "Leave the bypass on, leave the place, and follow the site's alarm procedure.",
            )

    def order(
        self, job: Reads, event: Event, t: float, pace: float, truth: Truth
    ) -> Command | None:
        """Return what an entry tells the detector or its gas train."""
        content = event.content
        if event.kind == "gas_on":
            inside = truth(job.ledger.kit[content.role].asset.asset)
            if inside is None:
                return None
            # The rig's clock may run faster than the one by which gas is booked.
            litres = inside["litres"] * pace
            given = {"t": t, "kind": "gas", "value": float(content.flow)}
            mix = {"mix": inside["mix"], "text": inside["balance"], "litres": litres}
            return decode(Command, {**given, **mix}, "command")
        if event.kind == "gas_off":
            return Command(t=t, kind="shut")
        if event.kind == "gas_set":
            return self.sets(job, job.step(content.step), t)
        if event.kind in ("put_on", "taken_off", "confirmed"):
            step = job.ledger.method.step(content.step)
            if step is not None and step.order in ORDERS and finishes(job, step, event):
                kind, value = ORDERS[step.order]
                return Command(t=t, kind=kind, value=value)  # type: ignore[arg-type]
        return None

    def orders(
        self, job: Reads, event: Event, t: float, pace: float, truth: Truth
    ) -> tuple[Command, ...]:
        """Return what an entry tells the detector; an exposure sets several gases."""
        step = job.ledger.method.step(getattr(event.content, "step", ""))
        if event.kind != "exposed" or not isinstance(step, Exposure):
            return super().orders(job, event, t, pace, truth)
        seen = seen_of(job.ledger, step, event.content)
        return tuple(self._trim(job, step, n, t) for n, s in seen.items() if s.after is not None)

    def parts(self, job: Reads, step: Step, t: float) -> tuple[Part, ...]:
        """Return the gases of an exposure, each as its channel shows it."""
        if not isinstance(step, Exposure) or made(job, step):
            return ()
        found = []
        for n in taking_part(job.ledger, step):
            c = channels(job.ledger.facts)[n]
            sets = may_set(job, step, n)
            with exact():
                found.append(
                    Part(
                        name=c.id,
                        after=c.id + AFTER if sets else "",
                        label=c.label,
                        unit=c.unit,
                        run=found_of(job, n).id,
                        watched=self._watched(job, step.gas, n),
                        order=self._trim(job, step, n, t) if sets else None,
                        also={"t90_s": c.id + T90, "other_percent": c.id + ACROSS}
                        if step.alone and step.gas == "span"
                        else {},
                    )
                )
        return tuple(found)

    def may_set(self, job: Reads, part: Part, shown: Decimal) -> bool:
        """Tell whether a gas may be set from what it shows."""
        step = job.current
        if not isinstance(step, Exposure):
            return False
        ids = [c.id for c in channels(job.ledger.facts)]
        with exact():
            why, _ = refused(job, as_set(job, step, ids.index(part.name)), shown)
        return not why

    def _trim(self, job: Reads, step: Exposure, channel: int, t: float) -> Command:
        one = as_set(job, step, channel)
        with exact():
            target = target_of(job, one)
        name = channels(job.ledger.facts)[channel].id
        return Command(t=t, kind="trim", end=one.end, setting=name, to=float(target))

    def sets(self, job: Reads, step: Step, t: float) -> Command | None:
        """Return what the detector is told when zero or span is set."""
        if not isinstance(step, GasSet):
            return None
        with exact():
            target = target_of(job, step)
        return Command(
            t=t,
            kind="trim",
            end=step.end,
            setting=channels(job.ledger.facts)[step.channel].id,
            to=float(target),
            forced=step.id in gas_of(job.ledger).agreed,
        )

    def refused(self, job: Reads, step: Step, shown: Decimal) -> bool:
        """Tell whether zero or span may not be set from what is shown, and nobody forced it."""
        if not isinstance(step, GasSet):
            return False
        with exact():
            why, _ = refused(job, step, shown)
        return bool(why) and step.id not in gas_of(job.ledger).agreed
