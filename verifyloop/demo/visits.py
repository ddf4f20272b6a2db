"""One visit to an instrument, played through the ordinary services."""

from __future__ import annotations

import uuid
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from calibration.procedure.state import JobState
from calibration.rounding import decimals_of
from calibration.simulate.commands import Command, Live
from calibration.simulate.loop import LoopModel, live
from verifyloop.accounts.models import User
from verifyloop.demo.works import SEED, Transmitter
from verifyloop.work.services import NewEvent, append_events, open_job

SETTLE_S = 25.0


@dataclass(frozen=True)
class Cart:
    """Who does the visit and with what."""

    who: User
    reference: str
    meter: str
    #: how much the reference reads too high [% of span]; known only afterwards
    reference_error: float = 0.0


class Visit:
    """A job on one instrument, event by event. Ids come from the seed, so runs repeat."""

    def __init__(
        self, spec: Transmitter, cart: Cart, model: LoopModel, start: datetime, seed: int
    ) -> None:
        self.spec, self.cart, self.model, self.seed = spec, cart, model, seed
        self.clock = start
        self.queue: list[NewEvent] = []
        self.commands: list[Command] = []
        self.t = 0.0
        self.job = open_job(actor=cart.who, tag=spec.tag, now=start)
        self.seq = self.job.seq
        self.count = 0

    def event(self, kind: str, /, minutes: float = 0.6, **data: Any) -> NewEvent:
        """Queue an event a little later than the one before."""
        self.clock += timedelta(minutes=minutes)
        self.count += 1
        name = f"{SEED}:{self.spec.tag}:{self.job.number}:{self.count}"
        sent = NewEvent(uuid.uuid5(uuid.NAMESPACE_URL, name), kind, data, "typed", self.clock)
        self.queue.append(sent)
        return sent

    def send(self) -> JobState:
        """Append what is queued."""
        state = append_events(
            actor=self.cart.who,
            number=self.job.number,
            expected_seq=self.seq,
            events=self.queue,
            now=self.clock,
            identity_proven=True,
        )
        self.queue, self.seq = [], state.seq
        return state

    def prepare(self) -> None:
        """Everything up to the as-found run, except the wait for the warm-up."""
        s = self.spec
        self.event("kit_chosen", role="pressure_reference", asset=self.cart.reference)
        self.event("kit_chosen", role="milliampere_meter", asset=self.cart.meter)
        self.event("recorded", step="operator", field="operator", value="Control room, shift B")
        self.event("put_on", 3, step="bypass", note="control room")
        for item in ("closed", "vented", "zero"):
            self.event("confirmed", step="isolate", item=item)
        self.event("recorded", step="identity", field="serial", value=serial_of(s))
        self.event("recorded", step="settings", field="lower", value=s.lower)
        self.event("recorded", step="settings", field="upper", value=s.upper)
        for item in ("alarms", "mode"):
            self.event("confirmed", step="state", item=item)
        self.event("put_on", 4, step="connect")
        temperature = 12 + 10 * ((self.clock.timetuple().tm_yday % 365) in range(120, 270))
        self.event("recorded", step="ambient", field="temperature", value=str(temperature))

    def warm(self) -> None:
        """Skip the wait: transmitter and references were powered."""
        self.event(
            "timer_waived", step="warm_up", reason="in service and powered; cart on for an hour"
        )

    def at(self, value: float) -> Live:
        """Bring the virtual loop to a pressure and read it when it has settled."""
        self.commands.append(Command(t=self.t, kind="apply", value=value))
        self.t += SETTLE_S
        return self.read()

    def read(self) -> Live:
        """Read the virtual loop, through the reference as it is."""
        return live(self.model, self.commands, self.t, self.seed)

    def run(self, name: str, points: int = 99) -> JobState:
        """Take the points of a run."""
        state = self.send()
        planned = state.as_found.points if name == "as_found" else state.as_left.points
        shift = self.cart.reference_error / 100 * (self.model.upper - self.model.lower)
        for point in planned[:points]:
            seen = self.at(float(point.target_value) - shift)
            self.event("reading_taken", run=name, point=point.index, **self.values(seen, shift))
        return self.send()

    def values(self, seen: Live, shift: float) -> dict[str, str]:
        """Return the values as they are typed in."""
        places = max(self.model.input_decimals, decimals_of(seen.applied))
        values = {
            "applied": f"{float(seen.applied) + shift:.{places}f}",
            "reading": str(seen.output),
        }
        if self.spec.smart:
            values["digital"] = str(seen.digital)
        if self.spec.indicated:
            values["indicated"] = str(seen.indicated)
        return values

    def judge(self, state: JobState) -> str:
        """Decide as advised; return the decision."""
        chosen = next(c for c in state.judgement.choices if c.recommended)
        reason = "hysteresis: to be replaced in the shutdown" if chosen.needs_reason else ""
        self.event("decided", step="judge", choice=chosen.id, reason=reason)
        return chosen.id

    def adjust(self) -> None:
        """Follow the advice until both ends are steady."""
        shift = self.cart.reference_error / 100 * (self.model.upper - self.model.lower)
        for _ in range(8):
            advice = self.send().adjustment
            if advice.action == "none":
                return
            before = self.at(float(advice.apply_value) - shift)
            hop = advice.hop if advice.hop != "transmitter" else "sensor"
            if advice.action == "trim":
                trim = Command(
                    t=self.t,
                    kind="trim",
                    hop=hop,  # type: ignore[arg-type]
                    end=advice.end,  # type: ignore[arg-type]
                    reference_offset=shift,
                )
                self.commands.append(trim)
                self.t += SETTLE_S
            values = self.values(self.read(), shift)
            if advice.action == "trim":
                values["before"] = str(before.digital if hop == "sensor" else before.output)
                if advice.hop == "transmitter":
                    values["before"] = str(before.output)
            self.event(
                "adjusted", 2, hop=advice.hop, end=advice.end, action=advice.action, **values
            )

    def give_back(self) -> None:
        """Return to service and sign."""
        self.event("taken_off", 3, step="disconnect")
        for item in ("valves", "covers", "settings"):
            self.event("confirmed", step="restore", item=item)
        self.event("taken_off", 2, step="unbypass", note="control room")
        self.event("signed", 2)
        self.send()


def serial_of(spec: Transmitter) -> str:
    """Return the made-up serial number of an instrument."""
    return f"KF-{sum(map(ord, spec.tag)) * 37 % 90000 + 10000}-{spec.tag[-2:]}"


def fresh_model(spec: Transmitter) -> LoopModel:
    """Return the loop as new: only noise and, for some, hysteresis."""
    span = float(spec.upper) - float(spec.lower)
    decimals = 1 if span >= 1000 else 2 if span >= 90 else 3 if span >= 5 else 4
    return LoopModel(
        lower=float(spec.lower),
        upper=float(spec.upper),
        input_decimals=decimals,
        indicated_decimals=max(0, decimals - 1),
        hysteresis_percent=spec.hysteresis,
    )
