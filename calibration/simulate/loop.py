"""A source, a transmitter, a receiver and a meter: the virtual loop.

The loop is a pure function of its model, the commands given so far, the time and a seed. It
answers like a device: what is asked is reached after a delay, a setting counts a moment after it
was written, and readings scatter. The stimulus may be a pressure, weights in place of a
displacer, a level, or the signal of a temperature sensor from a calibrator.
"""

from __future__ import annotations

import math
from bisect import bisect_right
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from decimal import Decimal
from typing import Literal

from calibration.kernel.codec import about
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import parse_decimal
from calibration.kernel.rounding import fixed
from calibration.sensors import curves
from calibration.simulate.commands import NOISE_STEP_S, WRITE_DELAY_S, Command, Live, written
from calibration.simulate.noise import gaussian, uniform

#: How far the input must come back before hysteresis has fully turned. [% of span]
TURN_PERCENT = 3.0
#: Below this share of the differential pressure, 8 % of flow, a root is replaced by a line.
ROOT_FROM = 0.0064
Shape = Literal["linear", "square_root"]


@dataclass(frozen=True, kw_only=True)
class LoopModel:
    """The loop as it is, faults included. Errors in percent of span."""

    kind: Literal["loop"] = about("which virtual rig", default="loop")
    tag: str = about("tag in the device; empty where it has none", default="")
    lower: float = about("lower range value on record", unit="input unit")
    upper: float = about("upper range value on record", unit="input unit")
    output_lower: float = about("output at the lower range value", unit="output unit", default=4.0)
    output_upper: float = about("output at the upper range value", unit="output unit", default=20.0)
    set_lower: float | None = about("range set in the device", unit="input unit", default=None)
    set_upper: float | None = about("range set in the device", unit="input unit", default=None)
    characteristic: Shape = about("root taken in the device", default="linear")
    damping_s: float = about("damping set in the device", unit="s", default=0.0)
    source_tau_s: float = about("time constant of the source", unit="s", default=1.2)
    source_offset_percent: float = about("how far the source may settle off", default=0.04)
    transmitter_tau_s: float = about("lag of the transmitter", unit="s", default=0.4)
    sensor_zero_percent: float = about("offset of the sensor", default=0.0)
    sensor_span_percent: float = about("gain error of the sensor", default=0.0)
    bow_percent: float = about("nonlinearity, largest at mid-range", default=0.0)
    hysteresis_percent: float = about("up/down gap at mid-range", default=0.0)
    friction_percent: float = about("up/down gap when the liquid moves it", default=0.0)
    output_zero_percent: float = about("offset of the output stage", default=0.0)
    output_span_percent: float = about("gain error of the output stage", default=0.0)
    zero_moves_span: float = about("share of a turn of the zero screw", default=0.0)
    span_moves_zero: float = about("share of a turn of the span screw", default=0.0)
    receiver_zero_percent: float = about("offset of the receiver scaling", default=0.0)
    receiver_span_percent: float = about("gain error of the receiver scaling", default=0.0)
    receiver_characteristic: Shape = about("root taken in the receiver", default="linear")
    indicated_lower: float | None = about("shown at the lower end", default=None)
    indicated_upper: float | None = about("shown at the upper end", default=None)
    cut_off_percent: float = about("flow below which nothing is shown", default=0.0)
    sensor: str = about("sensor that the calibrator simulates", default="")
    sensor_set: str = about("sensor set in the device; empty means the same", default="")
    swapped: bool = about("plus and minus crossed", default=False)
    lead_ohm: float = about("resistance of two wires", unit="Ω", default=0.0)
    junction_c: float = about("reference junction", unit="°C", default=23.0)
    noise_percent: float = about("standard deviation of one sample", default=0.012)
    low_limit: float = about("lowest measuring output", unit="output unit", default=3.8)
    high_limit: float = about("highest measuring output", unit="output unit", default=20.5)
    fault: Literal["none", "stuck", "inhibit"] = about("device fault", default="none")
    fixed_output: float = about("output while stuck or inhibited", unit="mA", default=2.0)
    input_decimals: int = about("decimals of reference and digital value", default=1)
    output_decimals: int = about("decimals of the meter", default=3)
    indicated_decimals: int = about("decimals of the control room", default=0)


def settings_at(model: LoopModel, commands: Sequence[Command], t: float) -> dict[str, str]:
    """Return what a reader finds set in the device at a time, as text."""
    low = model.lower if model.set_lower is None else model.set_lower
    high = model.upper if model.set_upper is None else model.set_upper
    found = {
        "lower": format(low, "g"),
        "upper": format(high, "g"),
        "damping": format(model.damping_s, "g"),
        "characteristic": model.characteristic.replace("_", " "),
    }
    if model.tag:
        found["tag"] = model.tag
    if model.sensor:
        found["sensor"] = model.sensor_set or model.sensor
    return {**found, **written(commands, t)}


@dataclass
class _Set:
    """The settings that count, as numbers."""

    lower: float
    upper: float
    damping_s: float
    root: bool
    sensor: str


def _set(model: LoopModel, commands: Sequence[Command], t: float) -> _Set:
    said = settings_at(model, commands, t)
    return _Set(
        lower=float(parse_decimal(said["lower"], "lower")),
        upper=float(parse_decimal(said["upper"], "upper")),
        damping_s=float(parse_decimal(said["damping"], "damping")),
        root=said["characteristic"] == "square root",
        sensor=said.get("sensor", ""),
    )


@dataclass
class _Hop:
    shift: float = 0.0
    gain: float = 1.0


@dataclass
class _State:
    """Continuous state between commands; inputs as fractions of the range on record."""

    t: float
    target: float
    source: float
    lagged: float
    play: float
    device: _Set
    hops: dict[str, _Hop] = field(
        default_factory=lambda: {h: _Hop() for h in ("sensor", "output", "receiver")}
    )
    #: zero and span screws, in fractions of the output span
    screw_zero: float = 0.0
    screw_span: float = 0.0
    fixed: float | None = None
    wet: bool = False


def _advance(model: LoopModel, state: _State, t: float) -> None:
    """Move source and transmitter lag on to ``t``: exact solution of two cascaded lags."""
    elapsed = max(0.0, t - state.t)
    ts, tx = model.source_tau_s, model.transmitter_tau_s + state.device.damping_s
    if abs(ts - tx) < 1e-6:
        tx = ts * 1.001
    away = state.source - state.target
    share = away * ts / (ts - tx)
    decay_s, decay_x = math.exp(-elapsed / ts), math.exp(-elapsed / tx)
    lagged = state.target + share * decay_s + (state.lagged - state.target - share) * decay_x
    state.source = state.target + away * decay_s
    turn = TURN_PERCENT / 200
    moved = (lagged - state.lagged) / turn
    state.play = max(-1.0, min(1.0, state.play - moved))
    state.lagged = lagged
    state.t = t


def _felt(model: LoopModel, state: _State) -> float:
    """Return what the device makes of the stimulus, as a fraction of the range on record."""
    if not model.sensor:
        return state.lagged
    span = model.upper - model.lower
    t = max(-195.0, model.lower + span * state.lagged)
    signal = curves.signal_of(model.sensor, t, model.junction_c)
    if model.sensor in curves.R0_OHM:
        signal += model.lead_ohm
    elif model.swapped:
        signal = -signal
    read = curves.temperature_of(state.device.sensor, signal, model.junction_c)
    return (read - model.lower) / span


def _unheld(model: LoopModel, state: _State, noise: float) -> tuple[float, float]:
    """Return digital fraction, and the output fraction as if no end held it back."""
    f = _felt(model, state)
    inside = max(0.0, f * (1 - f))
    fraction = (
        f * (1 + model.sensor_span_percent / 100)
        + model.sensor_zero_percent / 100
        + model.bow_percent / 100 * 4 * inside
        + state.play * model.hysteresis_percent / 200 * 4 * inside
        + (state.play * model.friction_percent / 200 if state.wet else 0.0)
        + noise * model.noise_percent / 100
    )
    sensor, output = state.hops["sensor"], state.hops["output"]
    digital = fraction * sensor.gain + sensor.shift
    ranged = _ranged(model, state, digital) + (
        noise * model.noise_percent / 100 if state.fixed is not None else 0.0
    )
    out = ranged * (1 + model.output_span_percent / 100) + model.output_zero_percent / 100
    out = out * output.gain + output.shift
    return digital, out + state.screw_zero + state.screw_span * ranged


def _values(model: LoopModel, state: _State, noise: float) -> tuple[float, float, float]:
    """Return digital fraction, output, and fraction of what the control room shows."""
    digital, out = _unheld(model, state, noise)
    receiver = state.hops["receiver"]
    signal_span = model.output_upper - model.output_lower
    signal = model.output_lower + signal_span * out
    signal = max(model.low_limit, min(model.high_limit, signal))
    if model.fault != "none":
        signal = model.fixed_output
    seen = (signal - model.output_lower) / signal_span
    return digital, signal, _received(model, seen) * receiver.gain + receiver.shift


def _root(share: float) -> float:
    """Return the root as devices take it: straight at the very bottom, where noise would rule."""
    if share < ROOT_FROM:
        return max(0.0, share) / math.sqrt(ROOT_FROM)
    return math.sqrt(share)


def _ranged(model: LoopModel, state: _State, digital: float) -> float:
    """Return what the output stage is told to give, as a fraction of its span."""
    if state.fixed is not None:
        return state.fixed
    device, span = state.device, model.upper - model.lower
    ranged = (model.lower + span * digital - device.lower) / (device.upper - device.lower)
    return _root(ranged) if device.root else ranged


def _received(model: LoopModel, seen: float) -> float:
    shown = seen
    if model.receiver_characteristic == "square_root":
        shown = math.sqrt(max(0.0, seen))
    if model.cut_off_percent and shown < model.cut_off_percent / 100:
        shown = 0.0
    return shown * (1 + model.receiver_span_percent / 100) + model.receiver_zero_percent / 100


def _trim(model: LoopModel, state: _State, command: Command) -> None:
    digital, signal, shown = _values(model, state, 0.0)
    span = model.output_upper - model.output_lower
    seen = (signal - model.output_lower) / span
    if command.hop == "transmitter":
        _turn(model, state, command, _unheld(model, state, 0.0)[1])
        return
    wanted, got = {
        "sensor": (
            state.source + command.reference_offset / (model.upper - model.lower),
            digital,
        ),
        "output": (_ranged(model, state, digital), seen),
        "receiver": (_wanted(model, seen), shown),
    }[command.hop]
    hop = state.hops[command.hop]
    if command.end == "zero":
        hop.shift += wanted - got
        return
    if abs(got) < 0.2 or not 0.5 < wanted / got < 2:
        raise InputError(
            "trim.out_of_range",
            "command",
            "The device refuses the span trim: the signal is too far from the upper end.",
            "Apply a value near the top of the range, wait until it is steady, then trim.",
        )
    factor = wanted / got
    hop.gain *= factor
    hop.shift *= factor


def _wanted(model: LoopModel, seen: float) -> float:
    return math.sqrt(max(0.0, seen)) if model.receiver_characteristic == "square_root" else seen


def _turn(model: LoopModel, state: _State, command: Command, seen: float) -> None:
    """Turn a screw until the output stands where it is wanted; the other end moves along."""
    span = model.output_upper - model.output_lower
    at = state.source
    ideal = math.sqrt(max(0.0, at)) if state.device.root else at
    wanted = ideal if command.to is None else (command.to - model.output_lower) / span
    needed = wanted - seen
    if command.end == "zero":
        turned = needed / (1 + model.zero_moves_span * at)
        state.screw_zero += turned
        state.screw_span += turned * model.zero_moves_span
        return
    if abs(at + model.span_moves_zero) < 0.2:
        raise InputError(
            "trim.out_of_range",
            "command",
            "So low in the range the span screw moves next to nothing.",
            "Go near the top of the range, wait until it is steady, then turn it.",
        )
    turned = needed / (at + model.span_moves_zero)
    state.screw_span += turned
    state.screw_zero += turned * model.span_moves_zero


def _order(model: LoopModel, state: _State, command: Command, number: int, seed: int) -> None:
    if command.kind == "apply":
        off = (2 * uniform(seed, "settle", number) - 1) * model.source_offset_percent / 100
        wanted = command.value / 100
        if command.scale == "input":
            wanted = (command.value - model.lower) / (model.upper - model.lower)
        state.target = wanted + (off if abs(wanted) > 1e-9 else 0.0)
        state.wet = command.scale == "percent"
    elif command.kind == "fix":
        state.fixed = (command.value - model.output_lower) / (
            model.output_upper - model.output_lower
        )
    elif command.kind == "release":
        state.fixed = None
    elif command.kind == "trim":
        _trim(model, state, command)


def _walk(
    model: LoopModel, commands: Sequence[Command], moments: Sequence[float], seed: int
) -> Iterator[_State]:
    """Yield the state at each moment, in order of time; the same object moves on."""
    state = _State(0.0, 0.0, 0.0, 0.0, -1.0, _set(model, (), 0.0))
    writes = [c for c in commands if c.kind == "write"]
    counted = [c.t + WRITE_DELAY_S for c in writes]
    given = count = 0

    def device(t: float) -> _Set:
        nonlocal count
        before, count = count, bisect_right(counted, t)
        return state.device if count == before else _set(model, writes[:count], t)

    for moment in moments:
        while given < len(commands) and commands[given].t <= moment:
            command = commands[given]
            _advance(model, state, command.t)
            state.device = device(command.t)
            _order(model, state, command, given, seed)
            given += 1
        _advance(model, state, moment)
        state.device = device(moment)
        yield state


def live(model: LoopModel, commands: Sequence[Command], t: float, seed: int) -> Live:
    """Return what reference, device, meter and control room show at ``t`` seconds.

    Parameters
    ----------
    model : LoopModel
    commands : sequence of Command
        In order of time; later ones than ``t`` do not count.
    t : float
        Time since the rig was started, >= 0. [s]
    seed : int

    Raises
    ------
    InputError
        ``trim.out_of_range`` when a command asks for a span trim far from the upper end.

    References
    ----------
    Two cascaded first-order lags; play operator for the turn of the hysteresis.
    """
    return _shown(model, next(_walk(model, commands, [t], seed)), seed)


def _shown(model: LoopModel, state: _State, seed: int) -> Live:
    noise = gaussian(seed, "output", math.floor(state.t / NOISE_STEP_S + 1e-6))
    digital, signal, shown = _values(model, state, noise)
    low = model.lower if model.indicated_lower is None else model.indicated_lower
    high = model.upper if model.indicated_upper is None else model.indicated_upper
    return Live(
        t=state.t,
        target=_input(model, state.target, state.wet),
        applied=_input(model, state.source, state.wet),
        digital=_input(model, digital, state.wet),
        output=fixed(signal, model.output_decimals),
        indicated=fixed(low + (high - low) * shown, model.indicated_decimals),
    )


def _input(model: LoopModel, fraction: float, percent: bool) -> Decimal:
    if percent:
        return fixed(100 * fraction, 1)
    return fixed(model.lower + (model.upper - model.lower) * fraction, model.input_decimals)


def window(
    model: LoopModel, commands: Sequence[Command], t: float, seed: int, seconds: float
) -> list[Live]:
    """Return the readings of the last ``seconds``, one every ``NOISE_STEP_S``, oldest first."""
    count = int(seconds / NOISE_STEP_S) + 1
    moments = [t - i * NOISE_STEP_S for i in reversed(range(count))]
    walked = _walk(model, commands, [m for m in moments if m >= 0], seed)
    return [_shown(model, state, seed) for state in walked]
