"""A mass flow meter as it is: what flows, what vibrates, what is stored; faults included.

A pure function of its model, of what it was told, of the time and of a seed.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from calibration.kernel.codec import about
from calibration.kernel.rounding import fixed
from calibration.simulate.commands import NOISE_STEP_S, WRITE_DELAY_S, Command, Live
from calibration.simulate.machine import TAKEN, Machine
from calibration.simulate.noise import gaussian

#: A live zero is a mean over this. [s]
MEAN_S = 60.0
#: Samples of it are independent at this distance. [s]
APART_S = 1.0
#: Air over a scale and the mass of its weights: OIML D 28. [kg/m³]
AIR, WEIGHTS = 1.2, 8000.0


@dataclass(frozen=True, kw_only=True)
class MassFlowModel:
    """A meter in its line."""

    kind: Literal["massflow"] = about("which virtual rig", default="massflow")
    zero: float = about("its zero, away from the stored one", unit="kg/h", default=0.0)
    leak: float = about("flow through a shut valve", unit="kg/h", default=0.0)
    gas_percent: float = about("gas in the liquid", unit="% vol", default=0.0)
    empty_percent: float = about("part of it that is not full", unit="% vol", default=0.0)
    solids_percent: float = about("solids in the liquid", unit="% vol", default=0.0)
    solids_density: float = about("their density", unit="kg/m³", default=2000.0)
    coated_percent: float = about("density shown too high by a coating", unit="%", default=0.0)
    beat: float = about("swing by another vibration", unit="kg/h", default=0.0)
    beat_s: float = about("period of it", unit="s", default=9.0)
    noise: float = about("standard deviation of the live zero", unit="kg/h", default=0.3)
    gain: float = about("drive gain", unit="%", default=6.0)
    density: float = about("density of the liquid", unit="kg/m³", default=1320.0)
    flow: float = about("flow of the process", unit="kg/h", default=5400.0)
    cut_off: float = about("less than this is shown as 0", unit="kg/h", default=20.0)
    factor_percent: float = about("it counts too much", unit="%", default=0.0)
    scatter_percent: float = about("standard deviation of a run", unit="%", default=0.008)
    batch_kg: float = about("quantity of a run", unit="kg", default=1000.0)
    reference_percent: float = about("the reference says too much", unit="%", default=0.0)
    raised: float = about("the pressure can be raised by this factor", default=4.0)
    weighed: bool = about("the reference is a scale", default=True)


@dataclass
class _State:
    t: float = 0.0
    blocked: bool = False
    live: bool = False
    mended: bool = False
    zero: float = 0.0
    factor: float = 1.0
    #: since when it stands, or its run goes
    since: float = 0.0
    runs: int = 0
    proving: bool = False


def _begin(model: MassFlowModel) -> _State:
    return _State(zero=model.zero)


def _advance(model: MassFlowModel, state: _State, t: float) -> None:
    state.t = max(state.t, t)


def _tell(model: MassFlowModel, state: _State, command: Command) -> None:
    what = command.setting
    if command.kind == "write" and what == "meter_factor":
        state.factor = float(command.text)
        state.since = command.t + WRITE_DELAY_S
    elif what == "block":
        state.blocked, state.since = True, command.t
    elif what == "live":
        # Told again, what was wrong with the test was put right.
        state.mended = state.mended or state.live
        state.live, state.since = True, command.t
    elif what == "zero":
        state.zero -= _offset(model, state)
        state.since = command.t
    elif what == "batch":
        state.mended = state.mended or state.proving
        state.proving, state.since = True, command.t
    elif what == "open":
        state.blocked = state.live = False
    elif what == TAKEN:
        state.runs, state.since = state.runs + 1, command.t


def _damping(model: MassFlowModel, state: _State) -> tuple[float, float]:
    """Return drive gain and density as shown. [%, kg/m³]

    Gas and what is not full take the density down by their volume and the gain up; solids take
    both up.
    """
    if state.mended:
        return model.gain, model.density * (1 + model.coated_percent / 100)
    void = model.gas_percent + model.empty_percent
    gain = model.gain * (1 + 2.0 * math.sqrt(model.gas_percent) + 0.3 * model.empty_percent)
    gain *= 1 + 0.6 * math.sqrt(model.solids_percent)
    density = model.density * (1 - void / 100)
    density += (model.solids_density - model.density) * model.solids_percent / 100
    return gain, density * (1 + model.coated_percent / 100)


def _spread(model: MassFlowModel, state: _State) -> float:
    """Return the scatter of the live zero. [kg/h]"""
    if state.mended:
        return model.noise
    noise = model.noise * (1 + 1.5 * math.sqrt(model.gas_percent + model.solids_percent))
    return math.hypot(noise, model.beat / math.sqrt(2))


def _offset(model: MassFlowModel, state: _State, pressure: float = 1.0) -> float:
    """Return what it measures while it stands, without noise. [kg/h]

    Through an opening the flow grows with the root of the pressure across it; gas, solids and an
    empty part load the tubes unevenly, which moves the zero.
    """
    leak = 0.0 if state.mended else model.leak * math.sqrt(pressure)
    uneven = model.gas_percent + 0.3 * model.solids_percent + 0.5 * model.empty_percent
    return state.zero + leak + (0.0 if state.mended else 2.0 * model.noise * uneven)


def _mean(model: MassFlowModel, state: _State, seed: int, pressure: float = 1.0) -> float:
    """Return the mean of the live zero over the last minute. [kg/h]"""
    noise = math.sqrt(max(0.0, _spread(model, state) ** 2 - _beat(model, state) ** 2 / 2))
    scatter = noise / math.sqrt(MEAN_S / APART_S) * gaussian(seed, "mean", round(state.t))
    # What is left of a swing after a minute, at worst: A·T/(π·60 s).
    phase = math.sin(2 * math.pi * state.t / model.beat_s)
    left = _beat(model, state) * min(1.0, model.beat_s / (math.pi * MEAN_S)) * phase
    return _offset(model, state, pressure) + scatter + left


def _beat(model: MassFlowModel, state: _State) -> float:
    return 0.0 if state.mended else model.beat


def _batch(model: MassFlowModel, state: _State, seed: int) -> tuple[float, float]:
    """Return what the reference says of a run, and what the meter counted. [kg]"""
    true = model.batch_kg * (1 + 0.02 * gaussian(seed, "batch", state.runs))
    air = (1 - AIR / model.density) / (1 - AIR / WEIGHTS) if model.weighed else 1.0
    said = true * air * (1 + (0.0 if state.mended else model.reference_percent) / 100)
    off = model.factor_percent + 100 * state.zero / model.flow
    off += (0.008 if state.mended else model.scatter_percent) * gaussian(seed, "run", state.runs)
    return said, true * (1 + off / 100) * state.factor


def batch_s(model: MassFlowModel) -> float:
    """Return how long a run takes. [s]"""
    return 3600 * model.batch_kg / model.flow


def _held(model: MassFlowModel, state: _State) -> float:
    whole = batch_s(model) if state.proving else MEAN_S
    return min(1.0, (state.t - state.since) / whole)


def _shows(model: MassFlowModel, state: _State, seed: int) -> Live:
    if state.proving:
        said, counted = _batch(model, state, seed)
        share = _held(model, state)
        applied, value = fixed(said * share, 2), fixed(counted * share, 2)
    else:
        step = math.floor(state.t / NOISE_STEP_S + 1e-6)
        flow = _offset(model, state) if state.blocked else model.flow
        shown = flow + _spread(model, state) * gaussian(seed, "flow", step)
        hidden = not state.live and abs(shown) < model.cut_off
        applied, value = fixed(0.0, 2), fixed(0.0 if hidden else shown, 2)
    return Live(
        t=state.t, target=applied, applied=applied, digital=value, output=value, indicated=value
    )


def _seen(model: MassFlowModel, state: _State, seed: int) -> dict[str, str]:
    if state.proving:
        return {}
    gain, density = _damping(model, state)
    found = {
        "mean_s": f"{MEAN_S:.0f}",
        "drive_gain": f"{gain:.1f}",
        "density": f"{density:.1f}",
    }
    if not state.live:
        return {**found, "spread": "0", "reading": "0.00"}
    return {
        **found,
        "reading": f"{_mean(model, state, seed):.2f}",
        "spread": f"{_spread(model, state):.2f}",
    }


def _settings(model: MassFlowModel, state: _State) -> dict[str, str]:
    gain, density = _damping(model, state)
    later = density
    if not state.mended:
        later += 0.6 * model.density * model.gas_percent / 100
        later -= 0.4 * model.solids_percent / 100 * (model.solids_density - model.density)
    coated = model.density * (1 + model.coated_percent / 100)
    seed = round(state.t)
    return {
        "stored_zero": f"{3.142 - state.zero / 100:.3f}",
        "stored_now": f"{3.142 - state.zero / 100:.3f}",
        "meter_factor": f"{state.factor:.5f}",
        "cut_off": f"{model.cut_off:g}",
        "drive_gain": f"{model.gain if not state.blocked else gain:.1f}",
        "density": f"{density if state.blocked else coated:.1f}",
        "flow_shown": f"{model.flow:.0f}",
        "zero_at_pressure": f"{_mean(model, state, seed, 4.0):.2f}",
        "pressure_before": "2.0",
        "pressure_other": f"{2.0 * model.raised:.2f}",
        "zero_at_other": f"{_mean(model, state, seed, model.raised):.2f}",
        "density_later": f"{later:.1f}",
        "sample_density": f"{model.density:.1f}",
        "reference_off": f"{0.0 if state.mended else model.reference_percent:.2f}",
    }


def _said(model: MassFlowModel, state: _State) -> str:
    if state.proving:
        return f"run {state.runs + 1}"
    if not state.blocked:
        return ""
    gain, density = _damping(model, state)
    return f"drive gain {gain:.1f} %, density {density:.1f} kg/m³"


MACHINE = Machine(
    kind="massflow",
    model=MassFlowModel,
    begin=_begin,
    advance=_advance,
    tell=_tell,
    shows=_shows,
    settings=_settings,
    held=_held,
    seen=_seen,
    said=_said,
)
