"""Where live values come from. A source is asked for a moment and answers with a frame.

Typing by hand needs no source.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import datetime
from decimal import Decimal
from typing import Any

from calibration.engine.job.events import InstrumentFacts, Steadiness
from calibration.engine.view.state import Station
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import from_float
from calibration.kernel.rounding import as_typed, decimals_of, fixed, show
from calibration.signals.stability import AssessIn, AssessOut, assess
from calibration.signals.transfer import input_for
from calibration.simulate.alongside import Beside, Watched
from calibration.simulate.block import BlockModel, as_trimmed
from calibration.simulate.commands import NOISE_STEP_S, Command, Live
from calibration.simulate.rigs import live, model_of, settings_at
from verifyloop.rigs.models import Rig
from verifyloop.rigs.reel import on_grid, reel, shown

SOURCE_NAME = "simulated"


@dataclass(frozen=True)
class Wanted:
    """When a signal counts as steady."""

    band: float
    dwell_s: float


@dataclass(frozen=True)
class BlockLine:
    """What one block of a group does."""

    block: str
    doing: str
    temperature: str
    ready_at: str
    waiting: tuple[str, ...]
    then: str


@dataclass(frozen=True)
class Group:
    """Sensors in blocks that are read one after the other, as each is ready."""

    blocks: tuple[BlockLine, ...]
    reading: str
    next: str
    ends_at: str


@dataclass(frozen=True)
class OnDisplay:
    """One of several values that are read at once, as it is shown now."""

    id: str
    label: str
    #: empty while there is none yet
    value: str
    unit: str
    steady: bool
    steady_text: str


@dataclass(frozen=True)
class Frame:
    """What a screen shows of a live signal at one moment."""

    t: float
    commanded: str
    applied: str
    digital: str
    output: str
    indicated: str
    steady: bool
    steady_share: float
    steady_text: str
    scatter: str
    settings: dict[str, str]
    stations: tuple[Station, ...]
    group: Group | None
    beside: Beside | None
    #: the display of the device is what is read, not its output
    on_display: bool
    #: values that are read at once; none where one is read
    shown: tuple[OnDisplay, ...] = ()


@dataclass(frozen=True)
class Captured:
    """Values for the record, averaged over the dwell, with the meter's decimals."""

    applied: Decimal
    digital: Decimal
    reading: Decimal
    indicated: Decimal
    steady: bool
    steadiness: Steadiness | None


@dataclass(frozen=True)
class Programme:
    """Commands that do not come from the rig's own list but from a group in blocks."""

    started_at: datetime
    commands: tuple[Command, ...]


def _unjudged(station: Station) -> Station:
    """Return a station while the signal moves: its lag is not an error."""
    remark = "" if station.remark == "enters here" else station.remark
    return replace(station, bad=False, error="", remark=remark)


class SimulatedLoop:
    """The reading source of a simulated rig."""

    def __init__(
        self,
        rig: Rig,
        facts: InstrumentFacts,
        wanted: Wanted,
        watched: Watched,
        programme: Programme | None = None,
    ) -> None:
        self.rig = rig
        self.facts = facts
        self.wanted = wanted
        self.watched = watched
        self.model = watched.model(model_of(rig.model))
        self.programme = programme
        self.started_at = rig.started_at
        self.commands = rig.commanded()
        if programme is not None:
            if isinstance(self.model, BlockModel):
                self.model = as_trimmed(self.model, self.commands, rig.seed)
            self.started_at, self.commands = programme.started_at, list(programme.commands)

    def time_at(self, now: datetime) -> float:
        """Return the rig's own time. [s since it was started]"""
        return max(0.0, (now - self.started_at).total_seconds() * self.rig.pace)

    def before_last_trim(self, hop: str) -> Decimal | None:
        """Return what the trimmed station showed just before the last trim of a hop."""
        trims = [c.t for c in self.commands if c.kind == "trim" and c.hop == hop]
        if not trims:
            return None
        earlier = [c for c in self.commands if c.t < trims[-1]]
        shown = live(self.model, earlier, trims[-1], self.rig.seed)
        return {"sensor": shown.digital, "receiver": shown.indicated}.get(hop, shown.output)

    def read_setting(self, name: str, now: datetime) -> str:
        """Return one setting as the device says it now; empty when it has none of that name."""
        return self.settings(self.time_at(now)).get(name, "")

    def _sampled(self, t: float) -> float:
        """Return when the newest sample was; the time itself where a command is newer."""
        sample = on_grid(t)
        return t if any(sample <= c.t <= t for c in self.commands) else sample

    def _assess(self, t: float) -> tuple[list[Live], AssessOut]:
        kept = reel(self.model, tuple(self.commands), self.rig.seed)
        changed = max((c.t for c in self.commands if c.t < t), default=0.0)
        recent = [s for s in kept.window(t, self.wanted.dwell_s + 2) if s.live.t > changed]
        if not recent:
            recent = [shown(live(self.model, self.commands, t, self.rig.seed))]
        judged = assess(
            AssessIn(
                samples=tuple(s.sample for s in recent),
                band=self.wanted.band,
                dwell_s=self.wanted.dwell_s,
            )
        )
        return [s.live for s in recent], judged

    def _commanded(self) -> str:
        """Return what was last asked for, as plain digits: a value, or a fixed current."""
        moves = [c for c in self.commands if c.kind in ("apply", "fix", "release")]
        if not moves or moves[-1].kind == "release":
            return "none"
        return format(moves[-1].value, ".10g")

    def settings(self, t: float) -> dict[str, str]:
        """Return what is read from the device at a time."""
        return settings_at(self.model, self.commands, t)

    def _held(self, t: float) -> float:
        """Return how much of the time that has to pass is over, as a share."""
        return self.watched.held(self.model, self.commands, t, self.rig.seed)

    def says(self, t: float) -> bool:
        """Tell whether there is a value yet."""
        return self.watched.says(self.model, self.commands, t)

    def seen(self, t: float) -> Mapping[str, Any]:
        """Return what the rig adds to a reading."""
        return self.watched.seen(self.model, self.commands, t, self.rig.seed)

    def after(self, order: Command) -> Decimal:
        """Return what the display shows just after an order; the device may refuse it."""
        return live(self.model, [*self.commands, order], order.t + 0.5, self.rig.seed).digital

    def frame(self, t: float) -> Frame:
        """Return the live picture of the newest sample up to a time of the rig."""
        t = self._sampled(t)
        recent, judged = self._assess(t)
        over = self._held(t)
        now = self._as_fixed(recent[-1])
        unit = self.facts.output_unit
        held = min(judged.since_s, self.wanted.dwell_s)
        return Frame(
            t=t,
            commanded=self._commanded(),
            applied=as_typed(now.applied),
            digital=as_typed(now.digital),
            output=as_typed(now.output),
            indicated=as_typed(now.indicated),
            steady=judged.stable and over >= 1,
            steady_share=min(held / self.wanted.dwell_s, over),
            steady_text=f"steady for {show(held, 0)} of {show(self.wanted.dwell_s, 0)} s",
            scatter="" if judged.std is None else f"±{show(judged.std, 3)} {unit}",
            settings=self.settings(t),
            stations=self._stations(now, judged.stable),
            group=None,
            beside=self.watched.beside(self.model, self.commands, t, self.rig.seed, self.rig.pace),
            on_display=self.watched.on_display,
        )

    def _as_fixed(self, now: Live) -> Live:
        """Return what a fixed current stands for in place of the input, which it does not show."""
        moves = [c for c in self.commands if c.kind in ("apply", "fix", "release") and c.t <= now.t]
        if not moves or moves[-1].kind != "fix":
            return now
        stands_for = input_for(self.facts.transfer, from_float(moves[-1].value))
        value = fixed(stands_for, decimals_of(now.applied))
        return replace(now, applied=value, digital=value)

    def _stations(self, now: Live, steady: bool) -> tuple[Station, ...]:
        """Return the loop strip; while the signal moves, its lag is not an error."""
        found = self.watched.stations(self.facts, now) or ()
        if steady:
            return found
        return tuple(_unjudged(s) for s in found)

    def capture(self, t: float) -> Captured:
        """Return the averages over the dwell that ends at ``t``.

        A moment before the newest command is never steady: the device has moved on since.
        """
        recent, judged = self._assess(t)
        overtaken = self.programme is None and any(c.t > t for c in self.commands)
        used = recent[-judged.samples_used :]
        last = used[-1]

        def mean(values: list[Decimal]) -> Decimal:
            places = -int(values[-1].as_tuple().exponent)
            return fixed(sum(values, Decimal(0)) / len(values), places)

        return Captured(
            applied=mean([v.applied for v in used]),
            digital=mean([v.digital for v in used]),
            reading=mean([v.output for v in used]),
            indicated=mean([v.indicated for v in used]),
            steady=judged.stable and not overtaken and self._held(t) >= 1,
            steadiness=None
            if judged.std is None
            else Steadiness(
                std=round(judged.std, 6),
                samples=judged.samples_used,
                seconds=round(last.t - used[0].t + NOISE_STEP_S, 2),
            ),
        )


def refuse_unsteady(captured: Captured, early_reason: str) -> None:
    """Refuse a value taken before it is steady, unless there is a reason for it."""
    if not captured.steady and not early_reason.strip():
        raise InputError(
            "reading.not_steady",
            "data.early_reason",
            "The reading is not steady yet.",
            "Wait until the bar is full, or say why it is taken now.",
        )
