"""A virtual technician: does the present step of a job on a virtual rig, as advised.

It plays the demo's history and the tests of whole jobs. It sees what a person sees, the state of
the job and the live values, and answers with the events that a person would send.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from decimal import Decimal
from typing import Any

from calibration.engine.view.asks import Ask, Task
from calibration.engine.view.state import JobState, PointState, RunState
from calibration.kernel.codec import encode
from calibration.kernel.rounding import fixed
from calibration.simulate.answers import answer
from calibration.simulate.block import BlockModel, block_at, settling_s
from calibration.simulate.commands import Command, HopName, Share
from calibration.simulate.detector import SETS_FROM, SETS_TO, ZERO_REACH, DetectorModel, looked_at
from calibration.simulate.exposure import exposure
from calibration.simulate.loop import LoopModel
from calibration.simulate.rigs import Model, kind_of, settings_at, window

Sent = tuple[str, dict[str, Any]]


@dataclass(frozen=True)
class Bottle:
    """What really comes out of a cylinder."""

    mix: tuple[Share, ...] = ()
    balance: str = "air"
    litres: float | None = None


DWELL_S = 5.0
#: So far off a person sets what need not be set. [share of range]
SEEN_OFF = 0.02
WRITE_S = 2.0


@dataclass
class Technician:
    """One visit with its rig. ``assets`` are by what they measure, ``answers`` by field."""

    model: Model
    seed: int
    assets: Mapping[str, Any] = field(default_factory=dict)
    answers: Mapping[str, str] = field(default_factory=dict)
    serial: str = ""
    #: how much the input reference reads high; known only afterwards [input unit]
    shift: float = 0.0
    commands: list[Command] = field(default_factory=list)
    t: float = 0.0
    #: what really comes out of the cylinder of a role: mixture, balance, litres left
    bottles: Mapping[str, Any] = field(default_factory=dict)
    #: why a cylinder is used in spite of a doubt
    reason: str = ""
    #: flow that is really set, as a share of the one that is written down
    flow_share: float = 1.0

    def act(self, state: JobState) -> list[Sent]:
        """Return the events of the present step; a capture step is done point by point."""
        if state.asked:
            return [(state.asked[0].kind, answer(state.asked[0]))]
        todo = state.task
        asks = [ask for ask in todo.asks if not ask.said]
        ask = asks[0]
        if ask.key == "asset":
            return [self._chosen(one) for one in asks]
        by_kind = {"adjusted": self._adjust, "decided": self._decide, "recorded": self._record}
        own = by_kind.get(ask.sends.kind) if ask.sends is not None else None
        if own is not None:
            return own(state, ask)
        if ask.way == "wait":
            return [("timer_waived", {"step": todo.step, "reason": "in service and powered"})]
        if ask.way == "prove":
            return [self._proven(ask)]
        if ask.way == "state" and (ask.lines or ask.sends):
            return self._stated(ask, todo.order)
        if ask.alone:
            return self._capture(state, ask)
        return self._write(asks) if ask.order is not None else self._task(state, ask, todo)

    def _proven(self, ask: Ask) -> Sent:
        assert ask.sends is not None
        proven = {"proven": "start pressed: it stays still"} if ask.key == "proven" else {}
        return ask.sends.kind, {**ask.sends.data, **proven}

    def _stated(self, ask: Ask, order: str) -> list[Sent]:
        """Say that every line is so, or that something is on or off, and do it to the rig."""
        if ask.order is not None:
            self.commands.append(Command(t=self.t, kind=ask.order.kind))
            self.t += 20
        else:
            self.tell(order)
        every = (*(line.sent for line in ask.lines), ask.sends)
        return [(e.kind, dict(e.data)) for e in every if e is not None]

    def _chosen(self, ask: Ask) -> Sent:
        """Take what is at hand for a role; go without where there is another way and none here."""
        asset = self.assets.get(ask.id) or self.assets.get(ask.quantity)
        if asset is None and ask.if_not:
            return ask.if_not[0].kind, dict(ask.if_not[0].data)
        if asset is None:
            raise KeyError(ask.quantity)
        return "kit_chosen", {"role": ask.id, "asset": asset, "reason": self.reason}

    def _record(self, state: JobState, ask: Ask) -> list[Sent]:
        device = settings_at(self.model, self.commands, self.t)
        assert ask.sends is not None
        sent: list[Sent] = []
        for entry in ask.values:
            value = self.answers.get(entry.id) or device.get(entry.id, "")
            if entry.id == "serial":
                value = self.serial
            if not value and entry.choices:
                value = entry.choices[0]
            if not value and entry.required and entry.unit == "%":
                value = entry.usual or "0.5"
            value = value or (entry.usual if entry.required else "")
            if not value and entry.required:
                value = "23" if entry.number else "Control room, shift B"
            if value and not entry.value and not entry.untold:
                data = {**ask.sends.data, "field": entry.id, "value": value}
                sent.append((ask.sends.kind, data))
        if not sent and ask.others:
            return [(e.kind, dict(e.data)) for e in ask.others[0].events]
        if not sent:
            accept = ask.if_not[0]
            return [(accept.kind, {**accept.data, "reason": "record is out of date"})]
        return sent

    def tell(self, order: str) -> None:
        """Do to the rig what a step asks for: adapter, calibration mode, alarm."""
        own = kind_of(self.model).tell
        if own is not None:
            own(self, order)
            return
        kind, _, way = order.partition("_")
        if kind in ("adapter", "inhibit", "reset"):
            value = 1.0 if way == "on" else 0.0
            self.commands.append(Command(t=self.t, kind=kind, value=value))  # type: ignore[arg-type]
            self.t += 60.0 if way == "off" else 5.0

    def _task(self, state: JobState, ask: Ask, todo: Task) -> list[Sent]:
        """Do what a family's own step asks for: open or shut, read, or set."""
        own = kind_of(self.model).task
        if own is not None:
            return own(self, state, ask, todo)
        assert isinstance(self.model, DetectorModel)
        if ask.way == "state":
            for event in ask.also:
                self._feel(event.kind, event.data, float(ask.minutes))
            return [(event.kind, dict(event.data)) for event in ask.also]
        assert ask.sends is not None
        if any(value.row for value in ask.values):
            every = any(p.id == "school" and p.value == "always" for p in state.limits)
            return [(ask.sends.kind, {**ask.sends.data, **self._together(ask, every)})]
        self.model = looked_at(self.model, ask.channel)
        if ask.way == "set":
            return [(ask.sends.kind, {**ask.sends.data, **self._set(ask)})]
        run = next(r for r in state.runs if r.id == ask.sends.data["run"])
        return [(ask.sends.kind, self.gas_reading(run, run.points[run.current]))]

    def _feel(self, kind: str, data: Mapping[str, Any], minutes: float) -> None:
        """Let the detector feel what is opened or shut."""
        if kind == "gas_on":
            self.open(data["role"], float(data["flow"]))
            self.t += 60 * minutes
        else:
            self.shut()

    def open(self, role: str, flow: float) -> None:
        """Open the cylinder of a role."""
        bottle = self.bottles.get(role, Bottle())
        self.commands.append(
            Command(
                t=self.t,
                kind="gas",
                value=flow * self.flow_share,
                mix=bottle.mix,
                text=bottle.balance,
                litres=bottle.litres,
            )
        )

    def shut(self) -> None:
        """Shut the cylinder and let the hose empty."""
        self.commands.append(Command(t=self.t, kind="shut"))
        self.t += 20.0

    def _together(self, ask: Ask, every: bool) -> dict[str, str]:
        """Read several gases at once, beside a proven instrument; set all, or what is off."""
        assert isinstance(self.model, DetectorModel)
        found: dict[str, str] = {}
        if all("_" not in column.id for column in ask.values):
            self.t += 300.0  # nothing is set: it is the last look, when all gas is gone
        for column in ask.values:
            name, _, what = column.id.partition("_")
            self.model = looked_at(self.model, "abcd".index(name))
            if what == "other":
                # The proven instrument stands in good air.
                oxygen = self.model.heads[self.model.shown].gas == "oxygen"
                found[column.id] = "20.9" if oxygen else "0"
                continue
            if what == "t90":
                found |= self._answered(name)
                continue
            if what in ("word", "peak", "life"):
                continue  # it refuses nothing and says nothing of itself
            to = float(column.label.split()[-1]) if what == "after" else None
            if to is not None and not self._takes(float(found[name]), to, every):
                continue
            if to is not None:
                end = "span" if to else "zero"
                order = Command(t=self.t, kind="trim", end=end, setting=name, to=to)  # type: ignore[arg-type]
                self.commands.append(order)
                self.t += 20.0
            shown = window(self.model, self.commands, self.t, self.seed, DWELL_S)[-1].digital
            found[column.id] = str(shown)
        return found

    def _answered(self, name: str) -> dict[str, str]:
        """Return how fast one sensor answered, and what another one made of its gas."""
        assert isinstance(self.model, DetectorModel)
        seen = exposure(self.model, self.commands, self.t, self.seed)
        said = encode(seen) if seen is not None else {}
        names = {"t90_s": f"{name}_t90", "other_percent": f"{name}_across"}
        return {n: str(said[key]) for key, n in names.items() if said.get(key) is not None}

    def _takes(self, shown: float, to: float, every: bool) -> bool:
        """Tell whether a zero or span is to be set from what is shown, and the device takes it."""
        assert isinstance(self.model, DetectorModel)
        top = self.model.heads[self.model.shown].range
        if not every and abs(shown - to) <= SEEN_OFF * top:
            return False
        if to:
            return SETS_FROM <= 100 * shown / to <= SETS_TO
        return abs(shown) <= ZERO_REACH / 100 * top

    def _set(self, ask: Ask) -> dict[str, str]:
        before = window(self.model, self.commands, self.t, self.seed, DWELL_S)[-1].digital
        self.commands.append(
            Command(
                t=self.t,
                kind="trim",
                end=ask.end,  # type: ignore[arg-type]
                setting="abcd"[ask.channel],
                to=float(ask.target.replace("\u202f", "").replace("\u2212", "-")),
                forced=ask.refusal is not None,
            )
        )
        self.t += 20.0
        after = window(self.model, self.commands, self.t, self.seed, DWELL_S)[-1].digital
        return {"before": str(before), "after": str(after)}

    def gas_reading(self, run: RunState, point: PointState) -> dict[str, Any]:
        """Read what a detector shows with the gas that is on, or in the air around."""
        assert isinstance(self.model, DetectorModel)
        values = self.values(run)
        values["applied"] = point.stands_for
        data: dict[str, Any] = {"run": run.id, "point": point.index, **values}
        seen = exposure(self.model, self.commands, self.t, self.seed)
        if seen is not None:
            data |= {k: v for k, v in encode(seen).items() if v is not None}
        if "t90_s" in run.points_to_type and "t90_s" not in data:
            data["t90_s"] = None
        return {k: v for k, v in data.items() if v is not None}

    def _write(self, asks: list[Ask]) -> list[Sent]:
        sent: list[Sent] = []
        for ask in asks:
            assert ask.order is not None and ask.sends is not None
            order = Command(t=self.t, kind="write", setting=ask.id, text=ask.order.text)
            self.commands.append(order)
            self.t += WRITE_S
            said = settings_at(self.model, self.commands, self.t).get(ask.id, "")
            sent.append((ask.sends.kind, {**ask.sends.data, "read_back": said}))
        return sent

    def _decide(self, state: JobState, ask: Ask) -> list[Sent]:
        chosen = next(c for c in ask.options if c.recommended)
        reason = "repair or replacement ordered" if chosen.needs_reason else ""
        assert ask.sends is not None
        return [(ask.sends.kind, {**ask.sends.data, "choice": chosen.id, "reason": reason})]

    def _capture(self, state: JobState, ask: Ask) -> list[Sent]:
        assert ask.sends is not None
        run = next(r for r in state.runs if r.id == ask.sends.data["run"])
        return [(ask.sends.kind, self.reading(run, run.points[run.current]))]

    def reading(self, run: RunState, point: PointState) -> dict[str, Any]:
        """Go to a point of a run and read it when it is steady."""
        self.go(float(point.target_value) - self._shift(run), run.order, run.scale)
        values = self.values(run)
        if point.stands_for:
            values["applied"] = point.stands_for
        return {"run": run.id, "point": point.index, **values}

    def _shift(self, run: RunState) -> float:
        return self.shift if run.order == "apply" and run.scale == "input" else 0.0

    def go(self, value: float, order: str = "apply", scale: str = "input") -> None:
        """Bring the stimulus to a value and wait until it has settled."""
        wait = self._settling(value)
        kind = "fix" if order == "fix" else "apply"
        self.commands.append(
            Command(t=self.t, kind=kind, value=value, scale=scale)  # type: ignore[arg-type]
        )
        self.t += wait

    def _settling(self, value: float) -> float:
        if isinstance(self.model, LoopModel):
            device = float(settings_at(self.model, self.commands, self.t)["damping"])
            return 25.0 + 10 * device
        assert isinstance(self.model, BlockModel)
        block = self.model.block
        now = block_at(block, self.commands, self.t, self.seed)
        away = settling_s(block, now, value, 0.01) + self.model.lag_s
        return away + 60.0

    def values(self, run: RunState) -> dict[str, str]:
        """Return what is read now, averaged over a dwell, as it would be written down."""
        seen = window(self.model, self.commands, self.t, self.seed, DWELL_S)
        shift = self._shift(run)

        def mean(values: list[Decimal], offset: float = 0.0) -> str:
            places = -int(values[-1].as_tuple().exponent)
            return str(fixed(float(sum(values, Decimal(0))) / len(values) + offset, places))

        columns = {
            "applied": mean([v.applied for v in seen], shift),
            "digital": mean([v.digital for v in seen]),
            "reading": mean([v.output for v in seen]),
            "indicated": mean([v.indicated for v in seen]),
        }
        return {name: columns[name] for name in run.points_to_type if name in columns}

    def _adjust(self, state: JobState, ask: Ask) -> list[Sent]:
        run, known = state.as_found, [value.id for value in ask.values]
        assert ask.sends is not None and ask.go is not None
        away = self._shift(run) if ask.go.kind == "apply" else 0.0
        self.go(float(ask.go.value) - away, ask.go.kind)
        before, data = self.values(run), dict(ask.sends.data)
        if ask.order is None:
            return [(ask.sends.kind, self._known(before, known) | data)]
        to = float(ask.order.value) if ask.order.value else None
        self.trim(ask.order.hop, ask.order.end, to)
        column = {"sensor": "digital", "receiver": "indicated"}.get(str(data["hop"]), "reading")
        told = {"before": before.get(column, before["reading"])}
        return [(ask.sends.kind, {**self._known(self.values(run), known), **told, **data})]

    def trim(self, hop: str, end: str, to: float | None = None) -> None:
        """Trim a hop, or turn a screw until the output stands where it is wanted."""
        chosen: HopName = hop  # type: ignore[assignment]
        self.commands.append(
            Command(
                t=self.t,
                kind="trim",
                hop=chosen,
                end=end,  # type: ignore[arg-type]
                to=to,
                reference_offset=self.shift,
            )
        )
        self.t += self._settling(0.0) if isinstance(self.model, LoopModel) else 30.0

    @staticmethod
    def _known(values: Mapping[str, str], names: list[str]) -> dict[str, Any]:
        return {name: values[name] for name in names if name in values}
