"""A dry block, a reference probe and a sensor in it, with or without its transmitter.

The block is a pure function of the targets it was given and the time: it ramps at a fixed rate
and settles exponentially. Probe and sensor follow it with a delay.
"""

from __future__ import annotations

import math
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


def block_at(block: Block, commands: Sequence[Command], t: float, seed: int) -> float:
    """Return the temperature of a block at ``t`` seconds. [°C]

    A constant rate up to the distance ``rate × settle_s``, then an exponential: value and slope
    go on without a step.
    """
    now, since = block.start_c, 0.0
    target = block.start_c
    for command in (c for c in commands if c.kind == "apply"):
        if command.t > t:
            break
        now = _towards(block, now, target, command.t - since)
        off = (2 * uniform(seed, f"block {command.value:g}", 0) - 1) * block.offset_c
        target, since = command.value + off, command.t
    return _towards(block, now, target, t - since)


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


def _trims(
    model: BlockModel, commands: Sequence[Command], t: float, seed: int
) -> tuple[float, float]:
    """Return shift and gain that the trims so far have set."""
    assert model.lower is not None and model.upper is not None
    shift, gain = 0.0, 1.0
    for trim in (c for c in commands if c.kind == "trim" and c.t <= t):
        felt = block_at(model.block, commands, max(0.0, trim.t - model.lag_s), seed)
        read = curves.temperature_of(model.sensor, _signal(model, felt), model.room_c)
        got = _share(model, read) * gain + shift
        wanted = (felt - model.lower) / (model.upper - model.lower)
        if trim.end == "zero":
            shift += wanted - got
        elif abs(got) > 0.2:
            gain, shift = gain * wanted / got, shift * wanted / got
    return shift, gain


def as_trimmed(model: BlockModel, commands: Sequence[Command], t: float, seed: int) -> BlockModel:
    """Return a model in which the trims made so far are part of it, for another block to heat."""
    if model.lower is None or model.upper is None:
        return model
    shift, gain = _trims(model, commands, t, seed)
    return replace(
        model,
        output_zero_percent=model.output_zero_percent * gain + 100 * shift,
        output_span_percent=100 * ((1 + model.output_span_percent / 100) * gain - 1),
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
    felt = block_at(model.block, commands, max(0.0, t - model.lag_s), seed)
    index = math.floor(t / NOISE_STEP_S + 1e-6)
    noise = gaussian(seed, "sensor", index) * model.noise_c
    applied = felt + gaussian(seed, "probe", index) * model.noise_c / 2
    signal = _signal(model, felt + noise)
    targets = [c.value for c in commands if c.kind == "apply" and c.t <= t]
    read = curves.temperature_of(model.sensor, signal, model.room_c)
    output = signal
    if model.lower is not None and model.upper is not None:
        shift, gain = _trims(model, commands, t, seed)
        share = _share(model, read) * gain + shift
        output = model.output_lower + share * (model.output_upper - model.output_lower)
        output = max(3.8, min(20.5, output))
    shown = max(-999.0, min(3000.0, read))
    return Live(
        t=t,
        target=fixed(targets[-1] if targets else model.block.start_c, 1),
        applied=fixed(applied, 2),
        digital=fixed(shown, 2),
        output=fixed(output, model.output_decimals),
        indicated=fixed(shown, 1),
    )


def window(
    model: BlockModel, commands: Sequence[Command], t: float, seed: int, seconds: float
) -> list[Live]:
    """Return the readings of the last ``seconds``, one every ``NOISE_STEP_S``, oldest first."""
    count = int(seconds / NOISE_STEP_S) + 1
    moments = [t - i * NOISE_STEP_S for i in reversed(range(count))]
    return [live(model, commands, m, seed) for m in moments if m >= 0]
