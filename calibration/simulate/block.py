"""A dry block, a reference probe and a sensor in it, with or without its transmitter.

The block is a pure function of the targets it was given and the time: it ramps at a fixed rate
and settles exponentially. Probe and sensor follow it with a delay.
"""

from __future__ import annotations

import math
from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

from calibration.kernel.codec import about
from calibration.kernel.rounding import fixed
from calibration.sensors import curves
from calibration.simulate.commands import NOISE_STEP_S, Command, Live, written
from calibration.simulate.noise import gaussian, uniform


@dataclass(frozen=True, kw_only=True)
class Block:
    """A dry block or bath."""

    start_c: float = about("temperature before its first target", unit="°C", default=23.0)
    heating_c_per_min: float = about("rate going up", unit="°C/min", default=8.0)
    cooling_c_per_min: float = about("rate coming down", unit="°C/min", default=4.0)
    settle_s: float = about("time constant near the target", unit="s", default=45.0)
    offset_c: float = about("how far it may settle off its target", unit="°C", default=0.06)


@dataclass(frozen=True, kw_only=True)
class BlockModel:
    """A sensor in a block, faults included."""

    kind: Literal["block"] = about("which virtual rig", default="block")
    block: Block = about("the block", default=Block())
    sensor: str = about("sensor on record")
    actual: str = about("sensor that is really there; empty means the same", default="")
    offset_c: float = about("drift of the sensor", unit="°C", default=0.0)
    gain_percent: float = about("drift that grows with temperature", unit="%", default=0.0)
    swapped: bool = about("plus and minus crossed", default=False)
    lead_ohm: float = about("resistance of two wires", unit="Ω", default=0.0)
    shunt_ohm: float | None = about("what lies in parallel", unit="Ω", default=None)
    immersion_share: float = about("share of the way to room temperature", default=0.0)
    room_c: float = about("room and reference junction", unit="°C", default=23.0)
    lag_s: float = about("delay of sensor and probe", unit="s", default=12.0)
    noise_c: float = about("standard deviation of one sample", unit="°C", default=0.004)
    lower: float | None = about("range of the transmitter; null without", unit="°C", default=None)
    upper: float | None = about("range of the transmitter; null without", unit="°C", default=None)
    output_lower: float = about("its output there", unit="mA", default=4.0)
    output_upper: float = about("its output there", unit="mA", default=20.0)
    output_zero_percent: float = about("offset of the output stage", default=0.0)
    output_span_percent: float = about("gain error of the output stage", default=0.0)
    output_decimals: int = about("decimals of the meter", default=3)


@dataclass(frozen=True)
class _Leg:
    """The way to one target: when it began, where, and what was asked for."""

    since: float
    start: float
    target: float
    asked: float


class Course:
    """Where a block is at any time; its targets are walked through once."""

    def __init__(self, block: Block, commands: Sequence[Command], seed: int) -> None:
        self.block = block
        here = block.start_c
        self.legs = [_Leg(0.0, here, here, here)]
        for command in (c for c in commands if c.kind == "apply"):
            off = (2 * uniform(seed, f"block {command.value:g}", 0) - 1) * block.offset_c
            here = self._along(self.legs[-1], command.t)
            self.legs.append(_Leg(command.t, here, command.value + off, command.value))
        self.begun = [leg.since for leg in self.legs]

    def leg_at(self, t: float) -> _Leg:
        """Return the way it is on at a time."""
        return self.legs[max(0, bisect_right(self.begun, t) - 1)]

    def at(self, t: float) -> float:
        """Return the temperature at a time. [°C]"""
        return self._along(self.leg_at(t), t)

    def _along(self, leg: _Leg, t: float) -> float:
        return _towards(self.block, leg.start, leg.target, t - leg.since)


def block_at(block: Block, commands: Sequence[Command], t: float, seed: int) -> float:
    """Return the temperature of a block at ``t`` seconds. [°C]

    A constant rate up to the distance ``rate × settle_s``, then an exponential: value and slope
    go on without a step.
    """
    return Course(block, commands, seed).at(t)


def _towards(block: Block, start: float, target: float, elapsed: float) -> float:
    away = target - start
    rate = (block.heating_c_per_min if away > 0 else block.cooling_c_per_min) / 60
    near = rate * block.settle_s
    ramp_s = max(0.0, (abs(away) - near) / rate)
    sign = 1.0 if away > 0 else -1.0
    if elapsed <= ramp_s:
        return start + sign * rate * max(0.0, elapsed)
    left = min(abs(away), near)
    return target - sign * left * math.exp(-(elapsed - ramp_s) / block.settle_s)


def settling_s(block: Block, start: float, target: float, within: float) -> float:
    """Return how long a block takes from one temperature to within a band of another. [s]"""
    away = abs(target - start)
    if away <= within:
        return 0.0
    rate = (block.heating_c_per_min if target > start else block.cooling_c_per_min) / 60
    near = rate * block.settle_s
    ramp_s = max(0.0, (away - near) / rate)
    return ramp_s + block.settle_s * max(0.0, math.log(min(away, near) / within))


def _signal(model: BlockModel, t_c: float) -> float:
    """Return the signal of the sensor at the temperature around it. [Ω or mV]"""
    felt = t_c - model.immersion_share * (t_c - model.room_c)
    felt += model.offset_c + model.gain_percent / 100 * felt
    name = model.actual or model.sensor
    signal = curves.signal_of(name, felt, model.room_c)
    if name not in curves.R0_OHM:
        return -signal if model.swapped else signal
    if model.shunt_ohm is not None:
        signal = signal * model.shunt_ohm / (signal + model.shunt_ohm)
    return signal + model.lead_ohm


def settings_at(model: BlockModel, commands: Sequence[Command], t: float) -> dict[str, str]:
    """Return what a reader finds set in the device at a time, as text."""
    if model.lower is None or model.upper is None:
        return {}
    found = {"lower": f"{model.lower:g}", "upper": f"{model.upper:g}", "sensor": model.sensor}
    return {**found, **written(commands, t)}


def _share(model: BlockModel, read: float) -> float:
    """Return the untrimmed output of the transmitter as a fraction of its span."""
    assert model.lower is not None and model.upper is not None
    share = (read - model.lower) / (model.upper - model.lower)
    return share * (1 + model.output_span_percent / 100) + model.output_zero_percent / 100


@dataclass(frozen=True)
class _Trim:
    """Shift and gain that count from a time on."""

    t: float
    shift: float = 0.0
    gain: float = 1.0


def _trims(model: BlockModel, commands: Sequence[Command], course: Course) -> list[_Trim]:
    """Return what each trim has set, in order of time; at first nothing is trimmed."""
    made = [_Trim(-math.inf)]
    if model.lower is None or model.upper is None:
        return made
    for trim in (c for c in commands if c.kind == "trim"):
        shift, gain = made[-1].shift, made[-1].gain
        felt = course.at(max(0.0, trim.t - model.lag_s))
        read = curves.temperature_of(model.sensor, _signal(model, felt), model.room_c)
        got = _share(model, read) * gain + shift
        wanted = (felt - model.lower) / (model.upper - model.lower)
        if trim.end == "zero":
            shift += wanted - got
        elif abs(got) > 0.2:
            gain, shift = gain * wanted / got, shift * wanted / got
        made.append(_Trim(trim.t, shift, gain))
    return made


def as_trimmed(model: BlockModel, commands: Sequence[Command], seed: int) -> BlockModel:
    """Return a model in which the trims made so far are part of it, for another block to heat."""
    if model.lower is None or model.upper is None:
        return model
    trim = _trims(model, commands, Course(model.block, commands, seed))[-1]
    return replace(
        model,
        output_zero_percent=model.output_zero_percent * trim.gain + 100 * trim.shift,
        output_span_percent=100 * ((1 + model.output_span_percent / 100) * trim.gain - 1),
    )


def live(model: BlockModel, commands: Sequence[Command], t: float, seed: int) -> Live:
    """Return what probe, sensor or transmitter and block show at ``t`` seconds.

    Parameters
    ----------
    model : BlockModel
    commands : sequence of Command
        Targets of the block in order of time.
    t : float
        Time since the rig was started, >= 0. [s]
    seed : int
    """
    return _Rig(model, commands, seed).at(t)


class _Rig:
    """A sensor in a block with everything that is done to it, asked at one time or several."""

    def __init__(self, model: BlockModel, commands: Sequence[Command], seed: int) -> None:
        self.model, self.seed = model, seed
        self.course = Course(model.block, commands, seed)
        self.trims = _trims(model, commands, self.course)
        self.trimmed = [trim.t for trim in self.trims]

    def at(self, t: float) -> Live:
        """Return what is shown at a time."""
        model = self.model
        felt = self.course.at(max(0.0, t - model.lag_s))
        index = math.floor(t / NOISE_STEP_S + 1e-6)
        noise = gaussian(self.seed, "sensor", index) * model.noise_c
        signal = _signal(model, felt + noise)
        read = curves.temperature_of(model.sensor, signal, model.room_c)
        shown = max(-999.0, min(3000.0, read))
        return Live(
            t=t,
            target=fixed(self.course.leg_at(t).asked, 1),
            applied=fixed(felt + gaussian(self.seed, "probe", index) * model.noise_c / 2, 2),
            digital=fixed(shown, 2),
            output=fixed(self._output(signal, read, t), model.output_decimals),
            indicated=fixed(shown, 1),
        )

    def _output(self, signal: float, read: float, t: float) -> float:
        """Return the output of the transmitter; without one, the signal of the sensor."""
        model = self.model
        if model.lower is None or model.upper is None:
            return signal
        trim = self.trims[bisect_right(self.trimmed, t) - 1]
        share = _share(model, read) * trim.gain + trim.shift
        output = model.output_lower + share * (model.output_upper - model.output_lower)
        return max(3.8, min(20.5, output))


def window(
    model: BlockModel, commands: Sequence[Command], t: float, seed: int, seconds: float
) -> list[Live]:
    """Return the readings of the last ``seconds``, one every ``NOISE_STEP_S``, oldest first."""
    count = int(seconds / NOISE_STEP_S) + 1
    moments = [t - i * NOISE_STEP_S for i in reversed(range(count))]
    rig = _Rig(model, commands, seed)
    return [rig.at(m) for m in moments if m >= 0]
