"""A trace oxygen analyzer as it is: gas, regulator, tubing, sensor, output; faults included.

A pure function of its model, the commands given so far, the time and a seed.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from calibration.families.trace.coming_down import AIR_PPM, excess_ppm
from calibration.kernel.codec import about
from calibration.kernel.rounding import fixed
from calibration.simulate.commands import NOISE_STEP_S, Command, Live
from calibration.simulate.noise import gaussian

#: Air of one microlitre a minute into one litre a minute. [ppm]
PER_UL_MIN = 0.2095
VENT_BAR = 1.01325
#: A second cylinder, where one is read to tell causes apart. [ppm]
SECOND_PPM = 4.0
#: The device refuses a span that asks for more or less than this share of its factory gain.
GAIN_FROM, GAIN_TO = 0.4, 2.5


@dataclass(frozen=True, kw_only=True)
class TraceModel:
    """An analyzer, and what comes to it."""

    kind: Literal["trace"] = about("which virtual rig", default="trace")
    tag: str = about("tag in the device", default="")
    lower: float = about("at the lower end of the output", unit="ppm", default=0.0)
    upper: float = about("at the upper end of the output", unit="ppm", default=10.0)
    process_ppm: float = about("oxygen in the process", unit="ppm", default=2.0)
    gas_ppm: float = about("oxygen that is really in the span gas", unit="ppm", default=8.0)
    flow: float = about("flow through the sensor", unit="L/min", default=0.5)
    response: float = about("sensor, share of what it counts with", default=1.0)
    tau_s: float = about("time constant of the sensor", unit="s", default=12.0)
    weather_percent: float = about("air pressure since the last span", unit="%", default=0.0)
    zero_ppm: float = about("what it shows without oxygen", unit="ppm", default=0.02)
    leak_ul_min: float = about("air through a fitting of the span line", unit="µL/min", default=0.0)
    tubing_ul_min: float = about("air through its tubing", unit="µL/min", default=0.0)
    #: dead corners of the regulator: their share, how fast they empty, and air left in them
    dead_share: float = about("share of the regulator that is not flushed", default=0.004)
    dead_tau_s: float = about("time constant of its dead corners", unit="s", default=900.0)
    bled_before: float = about("air in the regulator before the job, as a share", default=1e-6)
    exposed_ppm: float = about("sensor that saw air reads high by", unit="ppm", default=0.0)
    exposed_tau_s: float = about("and comes down with", unit="s", default=5400.0)
    output_span_percent: float = about("error of the output", unit="%", default=0.0)
    noise_percent: float = about("standard deviation of a reading", unit="%", default=0.1)
    high_bar: float = about("cylinder pressure, by gauge", unit="bar", default=100.0)
    low_bar: float = about("low side, by gauge", unit="bar", default=5.0)
    gauge_found_bar: float = about("low side as found, by gauge", unit="bar", default=4.6)
    milliamps: bool = about("has a 4-20 mA output", default=True)


@dataclass
class _State:
    t: float = 0.0
    signal: float = 0.0
    gain: float = 1.0
    response: float = 1.0
    flow: float = 0.5
    on_span: bool = False
    #: oxygen in the gas that is on [ppm]
    gas: float = 0.0
    #: air in both sides of the regulator, as a share; how long its dead corners were flushed
    air_high: float = 0.0
    air_low: float = 0.0
    flushed_s: float = 0.0
    #: since when a new sensor is in gas, and how long it was in air
    fitted_at: float | None = None
    in_air_s: float = 0.0
    exposed: bool = True
    #: fittings were tightened, tubing replaced
    tight: bool = False


def begin(model: TraceModel) -> _State:
    """Return the analyzer at time 0: in the process, settled."""
    air = model.bled_before
    state = _State(response=model.response, flow=model.flow, air_high=air, air_low=air)
    state.signal = entering(model, state)
    return state


def entering(model: TraceModel, state: _State) -> float:
    """Return what comes to the sensor. [ppm]

    References
    ----------
    Mass balance: air that comes in at q into a flow Q adds 0.2095 q/Q. A dead corner empties with
    e^(−t/τ).
    """
    if not state.on_span:
        return model.process_ppm
    return state.gas + let_in_ppm(model, state) + dead_ppm(model, state)


def _advance(model: TraceModel, state: _State, t: float) -> None:
    """Let time pass in steps over which what comes in hardly changes."""
    while state.t < t - 1e-9:
        step = min(30.0, t - state.t)
        goal = entering(model, state)
        state.signal = goal + (state.signal - goal) * math.exp(-step / model.tau_s)
        state.t += step
        if state.on_span:
            state.flushed_s += step


def let_in_ppm(model: TraceModel, state: _State) -> float:
    """Return what leak and tubing add at the flow that is set. [ppm]"""
    if state.tight:
        return 0.0
    return PER_UL_MIN * (model.leak_ul_min + model.tubing_ul_min) / state.flow


def dead_ppm(model: TraceModel, state: _State) -> float:
    """Return what the dead corners of the regulator still give off. [ppm]"""
    air = AIR_PPM * (state.air_high + state.air_low) * model.dead_share
    return air * math.exp(-state.flushed_s / model.dead_tau_s)


def own_excess(model: TraceModel, state: _State) -> float:
    """Return by how much the sensor itself reads high, for it saw air. [ppm]"""
    if state.fitted_at is not None:
        return excess_ppm(state.t - state.fitted_at, state.in_air_s)
    if not state.exposed or not model.exposed_ppm:
        return 0.0
    return model.exposed_ppm * math.exp(-state.t / model.exposed_tau_s)


def shows(model: TraceModel, state: _State) -> float:
    """Return what it shows, without noise. [ppm]"""
    raw = (state.signal * state.response + own_excess(model, state)) * (
        1 + model.weather_percent / 100
    )
    return state.gain * raw + model.zero_ppm


def _order(model: TraceModel, state: _State, command: Command) -> None:
    if command.kind == "trim":
        gain = state.gain * (command.to or 0.0) / max(1e-6, shows(model, state))
        if GAIN_FROM <= gain <= GAIN_TO:
            state.gain = gain
        return
    if command.kind != "tell":
        return
    what, value = command.setting, command.value
    if what == "span":
        state.on_span, state.flow = True, model.flow
        state.gas = value or model.gas_ppm
    elif what == "process":
        state.on_span, state.flow = False, model.flow
    elif what == "flow":
        state.flow = value
    elif what in ("bled_high", "bled_low"):
        share = (VENT_BAR / (value + VENT_BAR)) ** int(command.text or "1")
        if what == "bled_high":
            state.air_high *= share
        else:
            state.air_low *= share
        state.flushed_s = 0.0
    elif what == "tighten":
        state.tight = True
    elif what == "fit":
        state.fitted_at, state.in_air_s = state.t, value
        state.gain, state.response, state.exposed = 1.0, 1.0 + 0.08, False


def _walk(
    model: TraceModel, commands: Sequence[Command], moments: Sequence[float]
) -> Iterator[_State]:
    state, given = begin(model), 0
    for moment in moments:
        while given < len(commands) and commands[given].t <= moment:
            _advance(model, state, commands[given].t)
            _order(model, state, commands[given])
            given += 1
        _advance(model, state, moment)
        yield state


def _noisy(model: TraceModel, state: _State, seed: int) -> float:
    step = math.floor(state.t / NOISE_STEP_S + 1e-6)
    value = shows(model, state)
    return value + (0.005 + value * model.noise_percent / 100) * gaussian(seed, "trace", step)


def _live(model: TraceModel, state: _State, seed: int) -> Live:
    value = max(0.0, _noisy(model, state, seed))
    share = (value - model.lower) / (model.upper - model.lower)
    current = max(3.6, min(20.5, 4 + 16 * share * (1 + model.output_span_percent / 100)))
    panel = model.lower + (model.upper - model.lower) * (current - 4) / 16
    return Live(
        t=state.t,
        target=fixed(state.gas if state.on_span else model.process_ppm, 2),
        applied=fixed(value, 2),
        digital=fixed(value, 2),
        output=fixed(current, 3) if model.milliamps else fixed(value, 2),
        indicated=fixed(panel if model.milliamps else value, 2),
        flow=fixed(state.flow, 2),
    )


def live(model: TraceModel, commands: Sequence[Command], t: float, seed: int) -> Live:
    """Return what display, output and control room show at ``t`` seconds."""
    return _live(model, next(_walk(model, commands, [t])), seed)


def window(
    model: TraceModel, commands: Sequence[Command], t: float, seed: int, seconds: float
) -> list[Live]:
    """Return the readings of the last ``seconds``, oldest first."""
    count = int(seconds / NOISE_STEP_S) + 1
    moments = [m for i in reversed(range(count)) if (m := t - i * NOISE_STEP_S) >= 0]
    return [_live(model, s, seed) for s in _walk(model, commands, moments)]


def curve(
    model: TraceModel, commands: Sequence[Command], start: float, end: float, seed: int, n: int
) -> list[tuple[float, float]]:
    """Return ``n`` samples since ``start``: seconds, and the value shown. [ppm]"""
    step = (end - start) / max(1, n - 1)
    moments = [start + i * step for i in range(n)]
    return [(s.t - start, _noisy(model, s, seed)) for s in _walk(model, commands, moments)]


def turned_at(commands: Sequence[Command], t: float) -> float | None:
    """Return since when the valve stands as it does, or a sensor is in gas; none at first. [s]"""
    turns = ("span", "process", "fit")
    last = next((c for c in reversed(commands) if c.t <= t and c.setting in turns), None)
    return last.t if last is not None else None


def settings_at(model: TraceModel, commands: Sequence[Command], t: float) -> dict[str, str]:
    """Return what is read off analyzer and regulator, and of what tells causes apart."""
    state = next(_walk(model, commands, [t]))
    now = shows(model, state)
    leak, flow = 0.0 if state.tight else model.leak_ul_min, state.flow
    into = let_in_ppm(model, state)
    factor = state.gain * state.response * (1 + model.weather_percent / 100)

    def again(value: float, what: str) -> str:
        scatter = 0.005 + value * model.noise_percent / 100
        return f"{value + scatter * gaussian(round(t), what, 0):.2f}"

    bled = (VENT_BAR / (model.low_bar + VENT_BAR)) ** 2
    found = {
        "process_shown": f"{now:.2f}",
        "flow": f"{flow:.2f}",
        "gauge_found": f"{model.gauge_found_bar:.1f}",
        "high_bar": f"{model.high_bar:.0f}",
        "left_bar": f"{model.low_bar - 0.2:.1f}",
        "at_double_flow": again(now - factor * into / 2, "flow"),
        "after_bleeding": again(now - factor * dead_ppm(model, state) * (1 - bled), "bleeding"),
        "wetted": f"{factor * PER_UL_MIN * leak * 0.6 / flow:.2f}",
        "second_value": f"{SECOND_PPM:.1f}",
        "second_shows": again(
            factor * (SECOND_PPM + into + dead_ppm(model, state))
            + state.gain * own_excess(model, state)
            + model.zero_ppm,
            "second",
        ),
    }
    if model.tag:
        found["tag"] = model.tag
    return found
