"""A vessel on load cells as it is: load, cells, summing, electronics; faults included.

A pure function of its model, of what it was told, of the time and of a seed.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

from calibration.kernel.codec import about
from calibration.kernel.rounding import fixed
from calibration.simulate.commands import NOISE_STEP_S, WRITE_DELAY_S, Command, Live
from calibration.simulate.machine import TAKEN, Machine
from calibration.simulate.noise import gaussian

#: A load over one support: that one carries so much of it, the others share the rest.
OVER = 0.7
#: Gravity under which the sensitivity of cells is said. [m/s²] ISO 80000-3.
STANDARD_GRAVITY = 9.80665
#: How long a load swings. [s]
SWING_S = 15.0
#: 10 MΩ move a bridge of 350 Ω by about 0.009 mV/V.
MOIST_MVV_MOHM = 0.09


@dataclass(frozen=True, kw_only=True)
class LoadCellModel:
    """A vessel and its electronics."""

    kind: Literal["loadcells"] = about("which virtual rig", default="loadcells")
    cells: int = about("supports", default=4)
    rated_kg: float = about("rated load of each", unit="kg", default=2200.0)
    sensitivity: float = about("mean sensitivity on record", unit="mV/V", default=2.0)
    dead_kg: float = about("empty vessel", unit="kg", default=1450.0)
    gravity: float = about("local gravity", unit="m/s²", default=9.81)
    step_kg: float = about("step of the display", unit="kg", default=0.2)
    noise_kg: float = about("standard deviation", unit="kg", default=0.05)
    zero_kg: float = about("zero of the electronics, too high", unit="kg", default=0.0)
    span_percent: float = about("span of the electronics, too high", unit="%", default=0.0)
    cell_percent: float = about("signal of the cells, too high", unit="%", default=0.0)
    pipe_percent: float = about("carried by pipes", unit="%", default=0.0)
    pipe_sticks: float = about("of that so much sticks", default=0.0)
    short_percent: float = about("of the weights is missing", unit="%", default=0.0)
    build_up_kg: float = about("what lies there", unit="kg", default=0.0)
    moisture_mohm: float = about("insulation; 0 is dry", unit="MΩ", default=0.0)
    creep_percent: float = about("more after ten minutes", unit="%", default=0.0)
    corner_percent: float = about("one cell gives more", unit="%", default=0.0)
    dead_cell: bool = about("one cell without supply", default=False)
    open_cell: bool = about("one cell whose signal is open", default=False)
    uneven: float = about("that cell carries more of the empty vessel", default=0.15)
    #: what stands on it now, and how
    load_kg: float | None = about("load that is looked at", unit="kg", default=None)
    corner: int = about("support that it stands over; 0 is the middle", default=0)
    falling: bool = about("on the way down", default=False)
    rested: bool = about("it stood for a while", default=False)


@dataclass
class _State:
    t: float = 0.0
    since: float = 0.0
    load: float = 0.0
    empty: int = 0
    mended: bool = False
    #: what the electronics take off, and by what they divide [mV/V]
    zero: float = 0.0
    span: float = 1.0


def _begin(model: LoadCellModel) -> _State:
    sound = replace(
        LoadCellModel(),
        cells=model.cells,
        rated_kg=model.rated_kg,
        sensitivity=model.sensitivity,
        dead_kg=model.dead_kg,
        gravity=model.gravity,
    )
    span = _per_kg(model) / (1 + model.span_percent / 100)
    return _State(zero=_signal(sound, _State(), 0.0, whole=True), span=span)


def _per_kg(model: LoadCellModel) -> float:
    """Return the signal of a kilogram, by the data of the cells. [mV/V per kg]"""
    pull = model.gravity / STANDARD_GRAVITY
    return model.sensitivity * pull / (model.cells * model.rated_kg)


def _advance(model: LoadCellModel, state: _State, t: float) -> None:
    state.t = max(state.t, t)


def _tell(model: LoadCellModel, state: _State, command: Command) -> None:
    what = command.setting
    if command.kind == "write" and what == "span_mvv":
        state.span = float(command.text) / _capacity(model)
        state.since = command.t + WRITE_DELAY_S
    elif what == "zero":
        state.load = 0.0
        state.zero += _shown(model, state, 0.0) * state.span
        state.since = command.t
    elif what == "span":
        state.load = command.value
        shown = _shown(model, state, command.value)
        if command.value:
            state.span *= shown / command.value
        state.since = command.t
    elif what == "empty":
        # Told again, what was wrong at the vessel was put right.
        state.empty += 1
        state.mended = state.empty > 1
        state.since = command.t
    elif what == TAKEN:
        state.since = command.t


def _capacity(model: LoadCellModel) -> float:
    """Return for what load the span is said. [kg]"""
    return 5000.0


def _shares(model: LoadCellModel, load: float, corner: int) -> list[float]:
    n = model.cells
    if not corner:
        return [load / n] * n
    rest = load * (1 - OVER) / (n - 1)
    return [load * OVER if i == corner - 1 else rest for i in range(n)]


def _signal(model: LoadCellModel, state: _State, load: float, whole: bool = False) -> float:
    """Return what the cells together give. [mV/V]

    Cells in parallel give the mean of their signals: one without supply gives nothing and counts,
    one whose signal is open does not count.
    """
    faulty = not (state.mended or whole)
    corner = 0 if whole else model.corner
    # A piece that is not there is missing from the load, whatever is typed as hung.
    carried = load if whole or state.mended else load * (1 - model.short_percent / 100)
    if faulty and model.pipe_percent:
        held = model.pipe_percent / 100 * carried
        sticks = held * model.pipe_sticks * (1.0 if model.falling and load else 0.0)
        carried += 2 * sticks - held
    if faulty and model.rested:
        carried += load * model.creep_percent / 100
    own = model.dead_kg + (0.0 if whole or state.mended else model.build_up_kg)
    n = model.cells
    dead = [own / n * (1 + (model.uneven if i == 0 else -model.uneven / (n - 1))) for i in range(n)]
    forces = [d + f for d, f in zip(dead, _shares(model, carried, corner), strict=True)]
    gains = [1 + (0.0 if whole else model.cell_percent / 100)] * n
    if faulty:
        gains[0] *= 1 + model.corner_percent / 100
        gains[0] *= 0.0 if model.dead_cell or model.open_cell else 1.0
    of_rated = model.gravity / STANDARD_GRAVITY / model.rated_kg
    each = [model.sensitivity * f * of_rated * g for f, g in zip(forces, gains, strict=True)]
    counted = n - 1 if faulty and model.open_cell else n
    wet = MOIST_MVV_MOHM / model.moisture_mohm if faulty and model.moisture_mohm else 0.0
    return sum(each) / counted + wet


def _shown(model: LoadCellModel, state: _State, load: float) -> float:
    """Return the gross weight as shown, without noise and step. [kg]"""
    return (_signal(model, state, load) - state.zero) / state.span + model.zero_kg


def _load(model: LoadCellModel, state: _State) -> float:
    return state.load if model.load_kg is None else model.load_kg


def _held(model: LoadCellModel, state: _State) -> float:
    return min(1.0, (state.t - state.since) / SWING_S)


def _shows(model: LoadCellModel, state: _State, seed: int) -> Live:
    load = _load(model, state)
    step = math.floor(state.t / NOISE_STEP_S + 1e-6)
    raw = _shown(model, state, load) + model.noise_kg * gaussian(seed, "weight", step)
    places = max(0, math.ceil(-math.log10(model.step_kg) - 1e-9))
    value = fixed(round(raw / model.step_kg) * model.step_kg, places)
    applied = fixed(load, places + 2)
    return Live(
        t=state.t, target=applied, applied=applied, digital=value, output=value, indicated=value
    )


def _seen(model: LoadCellModel, state: _State, seed: int) -> dict[str, str]:
    return {"mvv": f"{_signal(model, state, _load(model, state)):.5f}"}


def _settings(model: LoadCellModel, state: _State) -> dict[str, str]:
    free = replace(model, pipe_percent=0.0, load_kg=None)
    cleaned = replace(model, build_up_kg=0.0, load_kg=None)
    load = 500.0
    freed = _shown(free, state, load) - _shown(free, state, 0.0)
    counted = replace(model, short_percent=0.0, load_kg=None)
    all_there = _shown(counted, state, load) - _shown(counted, state, 0.0)
    capacity = _capacity(model)
    return {
        "zero_mvv": f"{state.zero:.5f}",
        "span_mvv": f"{state.span * capacity:.5f}",
        "zero_now": f"{state.zero:.5f}",
        "span_now": f"{state.span * capacity:.5f}",
        "after_cleaning": f"{_shown(cleaned, state, 0.0):.2f}",
        "insulation_mohm": f"{model.moisture_mohm or 20000:.0f}",
        "weights_percent": f"{100 * (all_there / load - 1):.3f}",
        "mvv_grown": f"{_grown(model, state):.5f}",
        "pipes_free_percent": f"{100 * (freed / load - 1):.3f}",
    }


def _grown(model: LoadCellModel, state: _State) -> float:
    """Return by how much the signal grows from empty to the load that hangs. [mV/V]"""
    hung = replace(model, load_kg=None, rested=False, falling=False)
    return _signal(hung, state, state.load or 1000.0) - _signal(hung, state, 0.0)


def _said(model: LoadCellModel, state: _State) -> str:
    return f"{_signal(model, state, _load(model, state)):.4f} mV/V"


def _at_point(model: LoadCellModel, target: float, way: str, label: str) -> LoadCellModel:
    corner = int(label.rpartition(" ")[2]) if label.startswith("Corner") else 0
    return replace(
        model, load_kg=target, corner=corner, falling=way == "down", rested="held" in label
    )


MACHINE = Machine(
    kind="loadcells",
    model=LoadCellModel,
    begin=_begin,
    advance=_advance,
    tell=_tell,
    shows=_shows,
    settings=_settings,
    held=_held,
    seen=_seen,
    said=_said,
    at_point=_at_point,
    takes_s=20.0,
)
