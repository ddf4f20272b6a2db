"""A virtual technician: does the present step of a job on a virtual rig, as advised.

It plays the demo's history and the tests of whole jobs. It sees what a person sees, the state of
the job and the live values, and answers with the events that a person would send.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from decimal import Decimal
from typing import Any

from calibration.engine.view.blocks import Task
from calibration.engine.view.state import JobState, PointState, RoleState, RunState, StepState
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
        step = next(s for s in state.steps if s.id == state.current_step)
        if step.kind == "kit":
            return [self._chosen(r) for r in step.roles if not (r.chosen or r.without)]
        if step.kind == "record":
            return self._record(step)
        if step.kind == "checklist":
            self.tell(step.order)
            return [("confirmed", {"step": step.id, "item": i.id}) for i in step.items]
        if step.kind == "lock_on":
            proven = "start pressed: it stays still"
            return [("lock_hung", {"step": step.id, "proven": proven})]
        if step.kind == "lock_off":
            mine = next(o.step for o in state.on if o.kind == "lock")
            return [("lock_taken_off", {"step": mine})]
        if step.kind in ("put_on", "take_off"):
            return self._on_off(step)
        if step.kind == "timer":
            return [("timer_waived", {"step": step.id, "reason": "in service and powered"})]
        if state.task is not None:
            return self._task(state, state.task, step)
        if step.kind == "capture":
            return self._capture(state, step)
        if step.kind == "set":
            return self._write(step)
        if step.kind == "decide":
            return self._decide(state, step)
        return self._adjust(state) if step.kind == "adjust" else [("signed", {})]

    def _chosen(self, role: RoleState) -> Sent:
        """Take what is at hand for a role; go without where there is another way and none here."""
        asset = self.assets.get(role.id) or self.assets.get(role.quantity)
        if asset is None and role.instead:
            return "went_without", {"role": role.id}
        if asset is None:
            raise KeyError(role.quantity)
        return "kit_chosen", {"role": role.id, "asset": asset, "reason": self.reason}

    def _record(self, step: StepState) -> list[Sent]:
        device = settings_at(self.model, self.commands, self.t)
        sent: list[Sent] = []
        for entry in step.fields:
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
            if value and not entry.value:
                data = {"step": step.id, "field": entry.id, "value": value}
                sent.append(("recorded", data))
        if not sent and step.may_wait:
            return [("decided", {"step": step.id, "choice": "later"})]
        if not sent:
            reason = "record is out of date"
            return [("decided", {"step": step.id, "choice": "accept", "reason": reason})]
        return sent

    def _on_off(self, step: StepState) -> list[Sent]:
        self.tell(step.order if step.order != "release" else "")
        if step.order == "release":
            self.commands.append(Command(t=self.t, kind="release"))
            self.t += 20
        return [("put_on" if step.kind == "put_on" else "taken_off", {"step": step.id})]

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

    def _task(self, state: JobState, task: Task, step: StepState) -> list[Sent]:
        """Do what a family's own step asks for: open or shut, read, or set."""
        own = kind_of(self.model).task
        if own is not None:
            return own(self, state, task, step)
        assert isinstance(self.model, DetectorModel)
        if task.way == "send":
            for event in task.events:
                self._feel(event.kind, event.data, float(task.minutes))
            return [(event.kind, dict(event.data)) for event in task.events]
        if any(column.row for column in task.columns):
            every = any(p.id == "school" and p.value == "always" for p in state.limits)
            return [(task.kind, {"step": step.id, **self._together(task, every)})]
        self.model = looked_at(self.model, task.channel)
        if task.way == "set":
            return [(task.kind, {"step": step.id, **self._set(task)})]
        run = next(r for r in state.runs if r.id == step.run)
        return [(task.kind, self.gas_reading(run, run.points[run.current]))]

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

    def _together(self, task: Task, every: bool) -> dict[str, str]:
        """Read several gases at once, beside a proven instrument; set all, or what is off."""
        assert isinstance(self.model, DetectorModel)
        found: dict[str, str] = {}
        if all("_" not in column.id for column in task.columns):
            self.t += 300.0  # nothing is set: it is the last look, when all gas is gone
        for column in task.columns:
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

    def _set(self, task: Task) -> dict[str, str]:
        before = window(self.model, self.commands, self.t, self.seed, DWELL_S)[-1].digital
        self.commands.append(
            Command(
                t=self.t,
                kind="trim",
                end=task.end,  # type: ignore[arg-type]
                setting="abcd"[task.channel],
                to=float(task.target.replace("\u202f", "").replace("\u2212", "-")),
                forced=task.refusal is not None,
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

    def _write(self, step: StepState) -> list[Sent]:
        sent: list[Sent] = []
        for item in step.sets:
            if item.to_write and not item.done:
                order = Command(t=self.t, kind="write", setting=item.id, text=item.to_write)
                self.commands.append(order)
                self.t += WRITE_S
                said = settings_at(self.model, self.commands, self.t).get(item.id, "")
                data = {"step": step.id, "setting": item.id, "value": item.to_write}
                sent.append(("written", {**data, "read_back": said}))
        return sent

    def _decide(self, state: JobState, step: StepState) -> list[Sent]:
        chosen = next(c for c in state.judgement.choices if c.recommended)
        reason = "repair or replacement ordered" if chosen.needs_reason else ""
        return [("decided", {"step": step.id, "choice": chosen.id, "reason": reason})]

    def _capture(self, state: JobState, step: StepState) -> list[Sent]:
        run = next(r for r in state.runs if r.id == step.run)
        return [("reading_taken", self.reading(run, run.points[run.current]))]

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

    def _adjust(self, state: JobState) -> list[Sent]:
        advice, run = state.adjustment, state.as_found
        if advice.order == "fix":
            self.go(float(advice.apply_value), "fix")
        else:
            self.go(float(advice.apply_value) - self._shift(run))
        before = self.values(run)
        data: dict[str, Any] = {"hop": advice.hop, "end": advice.end, "action": advice.action}
        if advice.stands_for:
            data["applied"] = advice.stands_for
        if advice.action == "check":
            return [("adjusted", {**data, **self._columns(advice.fields, before)})]
        self.trim(advice.rig_hop, advice.end, float(advice.aim) if advice.aim else None)
        after = self.values(run)
        column = {"sensor": "digital", "receiver": "indicated"}.get(advice.hop, "reading")
        data["before"] = before.get(column, before["reading"])
        return [("adjusted", {**data, **self._columns(advice.fields, after)})]

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

    def _columns(self, fields: tuple[str, ...], values: Mapping[str, str]) -> dict[str, str]:
        return {name: values[name] for name in fields if name in values}
