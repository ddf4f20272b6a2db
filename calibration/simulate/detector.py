"""A gas detector with its gas train: cylinder, regulator, adapter, sensor, output.

A pure function of its model, the commands given so far, the time and a seed. Gas reaches the
sensor only while the adapter is on and gas flows; a cylinder empties as it flows; what is around
reaches it always. A calibration mode may hold the output at a low current.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from decimal import Decimal
from typing import Literal

from calibration.gas.concentration import ConvertIn, convert_gas
from calibration.gas.cylinder import UNIT, Principle, ShownUnit
from calibration.gas.mixture import BEAD_OXYGEN, OXYGEN_IN_AIR
from calibration.gas.table import GasName, LelSet
from calibration.kernel.codec import about
from calibration.kernel.errors import InputError
from calibration.kernel.rounding import fixed
from calibration.simulate.commands import NOISE_STEP_S, Command, Live, Share, written
from calibration.simulate.noise import gaussian

#: A sensor under its adapter hears this little of the air around once gas has stopped.
UNDER_ADAPTER = 3.0
#: An instrument refuses to set a span outside this share of its first response. [%]
SETS_FROM, SETS_TO = 50.0, 200.0
#: An instrument refuses to set a zero this far from it. [% of range]
ZERO_REACH = 10.0


@dataclass(frozen=True, kw_only=True)
class Head:
    """One sensor as it is, faults included."""

    id: str = about("channel")
    gas: GasName = about("target gas")
    unit: ShownUnit = about("unit that it shows")
    range: float = about("range", unit="gas unit")
    principle: Principle = about("how it senses", default="catalytic")
    flow_l_per_min: float = about("flow that it wants", unit="L/min", default=0.5)
    tau_s: float = about("time constant with gas", unit="s", default=8.0)
    response: float = about("share of what it should answer", default=1.0)
    zero: float = about("offset", unit="% of range", default=0.0)
    noise: float = about("standard deviation of a sample", unit="% of range", default=0.08)
    overshoot: float = about("share by which a fast rise passes its end", default=0.0)
    plugged: float = about("share of a plugged filter, 0 to 1", default=0.0)
    capped: bool = about("a cap is on", default=False)
    cold_percent: float = about("offset while cold, falling away", unit="% of range", default=0.0)
    cold_s: float = about("time constant of warming up", unit="s", default=400.0)
    humidity: float = about("share lost with dry gas", default=0.0)
    crosses: tuple[Share, ...] = about("answer to other gases, % of its own", default=())
    full_scale_v: float = about("reference voltage at range", unit="V", default=5.0)
    gas_value: float = about("span gas set in it", unit="gas unit", default=0.0)
    alarm: float = about("first alarm; 0 for none", unit="gas unit", default=0.0)
    decimals: int = about("decimals that it shows", default=1)
    stuck_high: bool = about("saturated whatever comes", default=False)


@dataclass(frozen=True, kw_only=True)
class DetectorModel:
    """The detector as it is, and the air around it."""

    kind: Literal["detector"] = about("which virtual rig", default="detector")
    tag: str = about("tag in the device", default="")
    heads: tuple[Head, ...] = about("sensors")
    #: the channel that is looked at
    shown: int = about("channel looked at", default=0)
    around: tuple[Share, ...] = about("gases in the air around", default=())
    lel_set: LelSet = about("table by which it counts %LEL", default="IEC")
    inhibit_ma: float = about("current in calibration mode", unit="mA", default=2.0)
    inhibited: bool = about("left in calibration mode", default=False)
    latching: bool = about("its alarm stays until it is reset", default=True)
    milliamps: bool = about("has a 4-20 mA output", default=True)
    blocked: bool = about("no gas comes through the train", default=False)
    dry: bool = about("gas comes without humidifier", default=False)


@dataclass
class _State:
    t: float = 0.0
    fast: list[float] = field(default_factory=list)
    slow: list[float] = field(default_factory=list)
    shift: list[float] = field(default_factory=list)
    gain: list[float] = field(default_factory=list)
    latched: bool = False
    adapter: bool = False
    mode: bool = False
    flow: float = 0.0
    mix: Mapping[str, float] = field(default_factory=dict)
    balance: str = "air"
    litres: float = math.inf
    used: float = 0.0
    dead: bool = False


def _shares(mix: Sequence[Share]) -> dict[str, float]:
    return {s.gas: s.percent for s in mix}


def _crosses(head: Head) -> dict[str, float]:
    return {s.gas: s.percent / 100 for s in head.crosses}


def _oxygen(model: DetectorModel, state: _State) -> float:
    """Return the oxygen that the sensor is in. [% vol]"""
    if state.adapter and state.flow > 0:
        other = sum(state.mix.values())
        share = OXYGEN_IN_AIR if state.balance == "air" else 0.0
        return state.mix.get("oxygen", share * (100 - other) / 100)
    return _shares(model.around).get("oxygen", OXYGEN_IN_AIR)


def _reaches(model: DetectorModel, state: _State, head: Head) -> float:
    """Return what a sensor would settle at, as a fraction of its range and before its own gain."""
    flowing = state.flow if state.adapter and not state.dead and not model.blocked else 0.0
    share = min(1.0, flowing / head.flow_l_per_min)
    around = {"oxygen": OXYGEN_IN_AIR, **_shares(model.around)}
    inside = dict(state.mix)
    inside.setdefault("oxygen", _oxygen(model, state))
    total = 0.0
    for gas, factor in {**_crosses(head), head.gas: 1.0}.items():
        volume = share * inside.get(gas, 0.0) + (1 - share) * around.get(gas, 0.0)
        if volume:
            total += factor * _in_unit(volume, head, gas, model.lel_set)
    answer = head.response * (1 - 0.35 * head.plugged)
    if head.capped:
        answer *= 0.02
    if share and model.dry and head.humidity:
        answer *= 1 - head.humidity
    if head.principle == "catalytic" and share and _oxygen(model, state) < BEAD_OXYGEN:
        answer *= 0.25
    return total * answer / head.range


def _in_unit(volume: float, head: Head, gas: str, lel_set: LelSet) -> float:
    if head.unit == "% vol":
        return volume
    if head.unit == "ppm":
        return volume * 1e4
    asked = ConvertIn(
        value=volume,
        from_unit="percent_volume",
        to_unit=UNIT[head.unit],
        gas=head.gas,
        lel_set=lel_set,
    )
    return convert_gas(asked).value


def _advance(model: DetectorModel, state: _State, t: float) -> None:
    """Move on to ``t``: the gas drawn, then exact first-order lags; a cylinder may end between."""
    flowing = state.flow > 0 and not state.dead and not model.blocked
    if flowing and state.litres < math.inf:
        ends = state.t + 60 * (state.litres - state.used) / state.flow
        if ends < t:
            _lag(model, state, max(ends, state.t))
            state.used, state.dead = state.litres, True
            flowing = False
    if flowing:
        state.used += state.flow * max(0.0, t - state.t) / 60
    _lag(model, state, t)


def _lag(model: DetectorModel, state: _State, t: float) -> None:
    elapsed = max(0.0, t - state.t)
    for n, head in enumerate(model.heads):
        tau = head.tau_s * (1 + 4 * head.plugged)
        if state.adapter and (state.flow <= 0 or state.dead or model.blocked):
            tau *= UNDER_ADAPTER
        end = _reaches(model, state, head)
        state.fast[n] = end + (state.fast[n] - end) * math.exp(-elapsed / tau)
        state.slow[n] = end + (state.slow[n] - end) * math.exp(-elapsed / (2.5 * tau))
    state.t = t
    if any(h.alarm and _shows(model, state, n, 0.0) >= h.alarm for n, h in enumerate(model.heads)):
        state.latched = True


def _raw(model: DetectorModel, state: _State, n: int, noise: float) -> float:
    """Return what a channel shows, in its unit and not held by an end."""
    head = model.heads[n]
    sensed = state.fast[n] + head.overshoot * (state.fast[n] - state.slow[n])
    cold = head.cold_percent * math.exp(-state.t / head.cold_s)
    fraction = sensed + (head.zero + cold + noise * head.noise) / 100
    return head.range * (fraction * state.gain[n] + state.shift[n])


def _shows(model: DetectorModel, state: _State, n: int, noise: float) -> float:
    head = model.heads[n]
    if head.stuck_high:
        return 1.05 * head.range
    return max(-0.1 * head.range, min(1.05 * head.range, _raw(model, state, n, noise)))


def _set(model: DetectorModel, state: _State, command: Command) -> None:
    """Set zero or span of the channel that is named; the instrument may refuse."""
    n = next((i for i, h in enumerate(model.heads) if h.id == command.setting), 0)
    head, seen = model.heads[n], _raw(model, state, n, 0.0)
    rest = 20.9 if head.gas == "oxygen" and command.to is None else 0.0
    if command.end == "zero":
        wanted = rest if command.to is None else command.to
        if abs(seen - wanted) > ZERO_REACH / 100 * head.range and not command.forced:
            raise InputError(
                "set.refused",
                "command",
                f"The instrument refuses the zero: it reads {seen:.3g} {head.unit} in zero gas.",
                "Look for gas around, for the wrong cylinder, or for a fault.",
            )
        state.shift[n] += (wanted - seen) / head.range
        return
    wanted = head.gas_value if command.to is None else command.to
    change = 100 * seen / wanted if wanted else 0.0
    if not SETS_FROM <= change <= SETS_TO and not command.forced:
        raise InputError(
            "set.refused",
            "command",
            f"The instrument refuses the span: it answers with {change:.0f} % of the gas.",
            "Look for the cause first: cylinder, flow, filter, sensor.",
        )
    if abs(seen) > 1e-6 * head.range:
        factor = wanted / seen
        state.gain[n] *= factor
        state.shift[n] *= factor


def _order(model: DetectorModel, state: _State, command: Command) -> None:
    if command.kind == "gas":
        state.flow, state.mix, state.balance = (
            command.value,
            _shares(command.mix),
            command.text or "air",
        )
        state.litres = math.inf if command.litres is None else command.litres
        state.used, state.dead = 0.0, False
        # The tube to the inlet of a portable comes and goes with its gas.
        state.adapter = state.adapter or not model.milliamps
    elif command.kind == "shut":
        state.flow = 0.0
        state.adapter = state.adapter and model.milliamps
    elif command.kind == "adapter":
        state.adapter = command.value > 0
    elif command.kind == "inhibit":
        state.mode = command.value > 0
    elif command.kind == "reset":
        state.latched = False
    elif command.kind == "trim":
        _set(model, state, command)


def _walk(
    model: DetectorModel, commands: Sequence[Command], moments: Sequence[float]
) -> Iterator[_State]:
    state = _State(mode=model.inhibited)
    for head in model.heads:
        settled = _reaches(model, state, head)
        state.fast.append(settled)
        state.slow.append(settled)
        state.shift.append(0.0)
        state.gain.append(1.0)
    given = 0
    for moment in moments:
        while given < len(commands) and commands[given].t <= moment:
            _advance(model, state, commands[given].t)
            _order(model, state, commands[given])
            given += 1
        _advance(model, state, moment)
        yield state


def _display(model: DetectorModel, state: _State, seed: int) -> float:
    """Return what the channel looked at shows, before it is rounded."""
    noise = gaussian(seed, model.heads[model.shown].id, math.floor(state.t / NOISE_STEP_S + 1e-6))
    return _shows(model, state, model.shown, noise)


def _live(model: DetectorModel, state: _State, seed: int) -> Live:
    head, shows = model.heads[model.shown], _display(model, state, seed)
    held = fixed(shows, head.decimals)
    current = 4 + 16 * shows / head.range
    current = max(3.6, min(20.5, current))
    if state.mode:
        current = model.inhibit_ma
    panel = head.range * (current - 4) / 16
    flowing = 0.0 if state.dead or model.blocked else state.flow
    return Live(
        t=state.t,
        target=fixed(state.flow, 2),
        applied=held,
        digital=held,
        output=fixed(current, 3) if model.milliamps else held,
        indicated=fixed(panel if model.milliamps else shows, head.decimals),
        flow=fixed(flowing, 2),
    )


def live(model: DetectorModel, commands: Sequence[Command], t: float, seed: int) -> Live:
    """Return what the detector, its output and the control room show at ``t`` seconds.

    Raises
    ------
    InputError
        ``set.refused`` when a command asks for a zero or span out of reach.

    References
    ----------
    First-order lag per sensor; Boyle's law for the cylinder.
    """
    return _live(model, next(_walk(model, commands, [t])), seed)


def window(
    model: DetectorModel, commands: Sequence[Command], t: float, seed: int, seconds: float
) -> list[Live]:
    """Return the readings of the last ``seconds``, oldest first."""
    count = int(seconds / NOISE_STEP_S) + 1
    moments = [t - i * NOISE_STEP_S for i in reversed(range(count))]
    return [_live(model, s, seed) for s in _walk(model, commands, [m for m in moments if m >= 0])]


def curve(
    model: DetectorModel, commands: Sequence[Command], start: float, end: float, seed: int, n: int
) -> list[tuple[float, float]]:
    """Return ``n`` samples (seconds since ``start``, reading in the channel's unit)."""
    step = (end - start) / max(1, n - 1)
    moments = [start + i * step for i in range(n)]
    decimals = model.heads[model.shown].decimals
    return [
        (state.t - start, float(fixed(_display(model, state, seed), decimals)))
        for state in _walk(model, commands, moments)
    ]


def settings_at(model: DetectorModel, commands: Sequence[Command], t: float) -> dict[str, str]:
    """Return what is read off the device and its surroundings at a time, as text."""
    state = next(_walk(model, commands, [t]))
    found = {
        "flow": format(fixed(0.0 if state.dead or model.blocked else state.flow, 2), "f"),
        "mode": "held" if state.mode else "measuring",
        "alarm": "none",
    }
    if model.tag:
        found["tag"] = model.tag
    for n, head in enumerate(model.heads):
        if head.alarm and _shows(model, state, n, 0.0) >= head.alarm:
            found["alarm"] = "live"
        # A second instrument in the same air, as it would show it.
        volume = _shares(model.around).get(head.gas, OXYGEN_IN_AIR if head.gas == "oxygen" else 0.0)
        seen = _in_unit(volume, head, head.gas, model.lel_set) if volume else 0.0
        found[f"air_{head.id}"] = format(fixed(seen, head.decimals), "f")
        volts = head.gas_value / head.range * head.full_scale_v
        found[f"reference_{head.id}"] = format(fixed(volts, 3), "f")
        found[f"span_{head.id}"] = format(head.gas_value, "g")
    if found["alarm"] == "none" and state.latched and model.latching:
        found["alarm"] = "latched"
    return {**found, **written(commands, t)}


def used_l(model: DetectorModel, commands: Sequence[Command], t: float) -> Decimal:
    """Return what has flowed since gas was last turned on. [L]"""
    return fixed(next(_walk(model, commands, [t])).used, 3)


def looked_at(model: DetectorModel, channel: int) -> DetectorModel:
    """Return the detector with another channel in view."""
    return replace(model, shown=channel)
