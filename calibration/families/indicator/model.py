"""An indicator and its cell as they are; faults included.

A pure function of its model, of what it was told, of the time and of a seed.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

from calibration.kernel.codec import about
from calibration.kernel.numbers import to_float
from calibration.kernel.rounding import fixed
from calibration.kernel.units import UNITS
from calibration.simulate.commands import NOISE_STEP_S, Command, Live
from calibration.simulate.machine import TAKEN, Machine
from calibration.simulate.noise import gaussian

#: How long a load swings. [s]
SWING_S = 6.0
PER_KG = {u: 1 / to_float(UNITS[u].factor) for u in ("kg", "lb", "t", "g")}


@dataclass(frozen=True, kw_only=True)
class IndicatorModel:
    """A platform and its indicator."""

    kind: Literal["indicator"] = about("which virtual rig", default="indicator")
    factor: float = about("factor on record", default=2.0375)
    factor_percent: float = about("factor typed too high", unit="%", default=0.0)
    cell_percent: float = about("signal of the cell, too high", unit="%", default=0.0)
    zero_kg: float = about("zero, too high", unit="kg", default=0.0)
    lies_kg: float = about("what lies on it", unit="kg", default=0.0)
    load_percent: float = about("the load is heavier than it says", unit="%", default=0.0)
    unit: Literal["kg", "lb", "t", "g"] = about("unit shown", default="kg")
    step_kg: float = about("step of the display", unit="kg", default=0.02)
    noise_kg: float = about("standard deviation", unit="kg", default=0.006)
    load_kg: float | None = about("load that is looked at", unit="kg", default=None)


@dataclass
class _State:
    t: float = 0.0
    since: float = 0.0
    load: float = 0.0
    looked: int = 0
    mended: bool = False
    zero: float = 0.0
    factor: float = 1.0


def _begin(model: IndicatorModel) -> _State:
    return _State(zero=model.zero_kg, factor=model.factor * (1 + model.factor_percent / 100))


def _advance(model: IndicatorModel, state: _State, t: float) -> None:
    state.t = max(state.t, t)


def _on(model: IndicatorModel, state: _State, load: float) -> float:
    """Return what the indicator would show without its zero. [kg]"""
    really = load if state.mended else load * (1 + model.load_percent / 100) + model.lies_kg
    return really * (1 + model.cell_percent / 100) * state.factor / model.factor


def _tell(model: IndicatorModel, state: _State, command: Command) -> None:
    what = command.setting
    if what == "zero":
        state.load, state.since = 0.0, command.t
        state.zero = -_on(model, state, 0.0)
    elif what == "span":
        state.load, state.since = command.value, command.t
        net = _on(model, state, command.value) + state.zero
        if command.value and net:
            state.factor *= command.value / net
            state.zero *= command.value / net
    elif what == "clear":
        # Told again, what was wrong with the test was put right.
        state.looked += 1
        state.mended = state.looked > 1
        state.since = command.t
    elif what == TAKEN:
        state.since = command.t


def _shown(model: IndicatorModel, state: _State, load: float) -> float:
    unit = "kg" if state.mended else model.unit
    return (_on(model, state, load) + state.zero) * PER_KG[unit]


def _load(model: IndicatorModel, state: _State) -> float:
    return state.load if model.load_kg is None else model.load_kg


def _shows(model: IndicatorModel, state: _State, seed: int) -> Live:
    load, step = _load(model, state), math.floor(state.t / NOISE_STEP_S + 1e-6)
    raw = _shown(model, state, load) + model.noise_kg * gaussian(seed, "weight", step)
    places = max(0, math.ceil(-math.log10(model.step_kg) - 1e-9))
    value = fixed(round(raw / model.step_kg) * model.step_kg, places)
    applied = fixed(load, places + 1)
    return Live(
        t=state.t, target=applied, applied=applied, digital=value, output=value, indicated=value
    )


def _settings(model: IndicatorModel, state: _State) -> dict[str, str]:
    cleared = replace(model, lies_kg=0.0)
    share = (1 + model.cell_percent / 100) * state.factor / model.factor
    return {
        "cell_factor": f"{state.factor:.4f}",
        "factor_now": f"{state.factor:.4f}",
        "unit": "kg" if state.mended else model.unit,
        "cleared": f"{_shown(cleared, state, 0.0):.2f}",
        "other_percent": f"{100 * (share - 1):.3f}",
    }


MACHINE = Machine(
    kind="indicator",
    model=IndicatorModel,
    begin=_begin,
    advance=_advance,
    tell=_tell,
    shows=_shows,
    settings=_settings,
    held=lambda model, state: min(1.0, (state.t - state.since) / SWING_S),
    at_point=lambda model, target, way, label: replace(model, load_kg=target),
    takes_s=20.0,
)
