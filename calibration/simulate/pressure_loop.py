"""A pressure source, a smart transmitter, a receiver and a milliampere meter.

The loop is a pure function of its model, the commands given so far, the time and a seed. It
answers like a device: what is asked is reached after a delay, and readings scatter.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from calibration.codec import about
from calibration.errors import InputError
from calibration.rounding import fixed
from calibration.simulate.noise import gaussian, uniform

HopName = Literal["sensor", "output", "receiver"]
End = Literal["zero", "span"]
#: Samples of the noise are independent at this distance. [s]
NOISE_STEP_S = 0.25
#: How far the input must come back before hysteresis has fully turned. [% of span]
TURN_PERCENT = 3.0


@dataclass(frozen=True, kw_only=True)
class LoopModel:
    """The loop as it is, faults included. Errors in percent of span."""

    lower: float = about("lower range value", unit="input unit")
    upper: float = about("upper range value", unit="input unit")
    output_lower: float = about("output at the lower range value", unit="mA", default=4.0)
    output_upper: float = about("output at the upper range value", unit="mA", default=20.0)
    source_tau_s: float = about("time constant of the pressure source", unit="s", default=1.2)
    source_offset_percent: float = about("how far the source may settle off", default=0.04)
    transmitter_tau_s: float = about("lag of the transmitter", unit="s", default=0.4)
    sensor_zero_percent: float = about("offset of the sensor", default=0.0)
    sensor_span_percent: float = about("gain error of the sensor", default=0.0)
    bow_percent: float = about("nonlinearity, largest at mid-range", default=0.0)
    hysteresis_percent: float = about("up/down gap at mid-range", default=0.0)
    output_zero_percent: float = about("offset of the output stage", default=0.0)
    output_span_percent: float = about("gain error of the output stage", default=0.0)
    receiver_zero_percent: float = about("offset of the receiver scaling", default=0.0)
    receiver_span_percent: float = about("gain error of the receiver scaling", default=0.0)
    noise_percent: float = about("standard deviation of one sample", default=0.012)
    low_limit: float = about("lowest measuring output", unit="mA", default=3.8)
    high_limit: float = about("highest measuring output", unit="mA", default=20.5)
    fault: Literal["none", "stuck", "inhibit"] = about("device fault", default="none")
    fixed_output: float = about("output while stuck or inhibited", unit="mA", default=2.0)
    input_decimals: int = about("decimals of reference and digital value", default=1)
    output_decimals: int = about("decimals of the milliampere meter", default=3)
    indicated_decimals: int = about("decimals of the control room", default=0)


@dataclass(frozen=True, kw_only=True)
class Command:
    """Something done to the loop at a time."""

    t: float = about("when", unit="s")
    kind: Literal["pressure", "trim"] = about("what")
    value: float = about("pressure to go to", unit="input unit", default=0.0)
    hop: HopName = about("what is trimmed", default="output")
    end: End = about("zero or span", default="zero")
    reference_offset: float = about(
        "how much the reference used for a sensor trim reads high", unit="input unit", default=0.0
    )


@dataclass(frozen=True, kw_only=True)
class Live:
    """What the instruments show at one moment, with the decimals they show."""

    t: float
    target: Decimal
    applied: Decimal
    digital: Decimal
    output: Decimal
    indicated: Decimal


@dataclass
class _Hop:
    shift: float = 0.0
    gain: float = 1.0


@dataclass
class _State:
    """Continuous state between commands; pressures as fractions of the span."""

    t: float
    target: float
    source: float
    lagged: float
    play: float
    hops: dict[str, _Hop]


def _advance(model: LoopModel, state: _State, t: float) -> None:
    """Move source and transmitter lag on to ``t``: exact solution of two cascaded lags."""
    elapsed = max(0.0, t - state.t)
    ts, tx = model.source_tau_s, model.transmitter_tau_s
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


def _values(model: LoopModel, state: _State, noise: float) -> tuple[float, float, float]:
    """Return digital fraction, output in mA, and indicated fraction."""
    f = state.lagged
    inside = max(0.0, f * (1 - f))
    fraction = (
        f * (1 + model.sensor_span_percent / 100)
        + model.sensor_zero_percent / 100
        + model.bow_percent / 100 * 4 * inside
        + state.play * model.hysteresis_percent / 200 * 4 * inside
        + noise * model.noise_percent / 100
    )
    sensor, output, receiver = (state.hops[h] for h in ("sensor", "output", "receiver"))
    digital = fraction * sensor.gain + sensor.shift
    out = digital * (1 + model.output_span_percent / 100) + model.output_zero_percent / 100
    out = out * output.gain + output.shift
    span = model.output_upper - model.output_lower
    milliamps = model.output_lower + span * out
    milliamps = max(model.low_limit, min(model.high_limit, milliamps))
    if model.fault != "none":
        milliamps = model.fixed_output
    seen = (milliamps - model.output_lower) / span
    shown = seen * (1 + model.receiver_span_percent / 100) + model.receiver_zero_percent / 100
    return digital, milliamps, shown * receiver.gain + receiver.shift


def _trim(model: LoopModel, state: _State, command: Command) -> None:
    digital, milliamps, shown = _values(model, state, 0.0)
    span = model.output_upper - model.output_lower
    seen = (milliamps - model.output_lower) / span
    wanted, got = {
        "sensor": (
            state.source + command.reference_offset / (model.upper - model.lower),
            digital,
        ),
        "output": (digital, seen),
        "receiver": (seen, shown),
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


def _walk(
    model: LoopModel, commands: Sequence[Command], moments: Sequence[float], seed: int
) -> Iterator[_State]:
    """Yield the state at each moment, in order of time; the same object moves on."""
    state = _State(0.0, 0.0, 0.0, 0.0, -1.0, {h: _Hop() for h in ("sensor", "output", "receiver")})
    given = 0
    for moment in moments:
        while given < len(commands) and commands[given].t <= moment:
            command = commands[given]
            _advance(model, state, command.t)
            if command.kind == "pressure":
                off = (2 * uniform(seed, "settle", given) - 1) * model.source_offset_percent / 100
                wanted = (command.value - model.lower) / (model.upper - model.lower)
                state.target = wanted + (off if abs(wanted) > 1e-9 else 0.0)
            else:
                _trim(model, state, command)
            given += 1
        _advance(model, state, moment)
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
    digital, milliamps, shown = _values(model, state, noise)
    span = model.upper - model.lower
    return Live(
        t=state.t,
        target=_pressure(model, state.target),
        applied=_pressure(model, state.source),
        digital=_pressure(model, digital),
        output=fixed(milliamps, model.output_decimals),
        indicated=fixed(model.lower + span * shown, model.indicated_decimals),
    )


def _pressure(model: LoopModel, fraction: float) -> Decimal:
    return fixed(model.lower + (model.upper - model.lower) * fraction, model.input_decimals)


def window(
    model: LoopModel, commands: Sequence[Command], t: float, seed: int, seconds: float
) -> list[Live]:
    """Return the readings of the last ``seconds``, one every ``NOISE_STEP_S``, oldest first."""
    count = int(seconds / NOISE_STEP_S) + 1
    moments = [t - i * NOISE_STEP_S for i in reversed(range(count))]
    walked = _walk(model, commands, [m for m in moments if m >= 0], seed)
    return [_shown(model, state, seed) for state in walked]
