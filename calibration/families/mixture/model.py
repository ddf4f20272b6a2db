"""An analyzer of several components as it is: gas, tee, cells, display; faults included.

A pure function of its model, the commands given so far, the time and a seed.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from typing import Literal

from calibration.kernel.codec import about
from calibration.kernel.rounding import fixed
from calibration.simulate.commands import NOISE_STEP_S, Command, Live
from calibration.simulate.noise import gaussian

AIR_OXYGEN = 20.95
#: What a pressure in the cells does to all infrared ones. [%/hPa]
PERCENT_PER_HPA = 0.14
#: Shares of volume to the unit of a cell.
DAY_S = 86_400.0
PER_PERCENT = {"% vol": 1.0, "ppm": 10_000.0}


@dataclass(frozen=True, kw_only=True)
class Adds:
    """What another gas adds to a cell."""

    gas: str = about("other gas")
    percent: float = about("of its value, in the unit of the cell", unit="%")


@dataclass(frozen=True, kw_only=True)
class Cell:
    """One component as it is measured."""

    id: str = about("short name")
    gas: str = about("gas")
    unit: str = about("unit")
    upper: float = about("end of the range", unit="its unit")
    infrared: bool = about("measured by infrared", default=True)
    gain: float = about("answer, share of what it counts with", default=1.0)
    zero: float = about("what it shows without the gas", unit="its unit", default=0.0)
    zero_per_day: float = about("by how much that moves", unit="its unit a day", default=0.0)
    adds: tuple[Adds, ...] = about("what others add", default=())


@dataclass(frozen=True, kw_only=True)
class Inside:
    """One gas of what comes in."""

    gas: str = about("gas")
    percent: float = about("share", unit="% vol")


@dataclass(frozen=True, kw_only=True)
class MixModel:
    """An analyzer, and what comes to it."""

    kind: Literal["mixture"] = about("which virtual rig", default="mixture")
    cells: tuple[Cell, ...] = about("components", default=())
    process: tuple[Inside, ...] = about("the process", default=())
    shown: int = about("cell that is looked at", default=0)
    tau_s: float = about("time constant of the cells", unit="s", default=12.0)
    drawn_in: float = about("air drawn into the mixture, as a share", default=0.0)
    pressure_hpa: float = about("pressure in the cells, too high", unit="hPa", default=0.0)
    warm_percent: float = about("too high while it warms up", unit="%", default=0.0)
    zeroes_every_s: float = about("it zeroes by itself so often; 0 never", unit="s", default=0.0)
    held: bool = about("its test has ended, it is in hold", default=False)
    noise_percent: float = about("standard deviation", unit="% of range", default=0.03)


@dataclass
class _State:
    t: float = 0.0
    gases: dict[str, float] = field(default_factory=dict)
    drawn_in: float = 0.0
    test: bool = False
    shares: list[float] = field(default_factory=list)
    gains: list[float] = field(default_factory=list)
    zeros: list[float] = field(default_factory=list)


def _entering(model: MixModel, state: _State, cell: Cell) -> float:
    """Return what comes to a cell. [% vol]

    References
    ----------
    Mixing: air drawn in as a share f leaves (1 − f) of each part and brings 20.95 f of oxygen.
    """
    share = state.gases.get(cell.gas, 0.0)
    if state.test and state.drawn_in:
        share *= 1 - state.drawn_in
        if cell.gas == "oxygen":
            share += AIR_OXYGEN * state.drawn_in
    return share


def begin(model: MixModel) -> _State:
    """Return the analyzer at time 0: in the process, settled."""
    state = _State(gases={p.gas: p.percent for p in model.process}, drawn_in=model.drawn_in)
    state.shares = [_entering(model, state, c) for c in model.cells]
    state.gains = [c.gain for c in model.cells]
    state.zeros = [c.zero for c in model.cells]
    return state


def _advance(model: MixModel, state: _State, t: float) -> None:
    keep = math.exp(-max(0.0, t - state.t) / model.tau_s)
    for n, cell in enumerate(model.cells):
        goal = _entering(model, state, cell)
        state.shares[n] = goal + (state.shares[n] - goal) * keep
        state.zeros[n] += cell.zero_per_day * max(0.0, t - state.t) / DAY_S
    state.t = t


def shows(model: MixModel, state: _State, n: int) -> float:
    """Return what one component shows, without noise. [its unit]"""
    cell = model.cells[n]
    if model.held:
        gases = {p.gas: p.percent for p in model.process}
        return gases.get(cell.gas, 0.0) * PER_PERCENT[cell.unit]
    raw = state.shares[n] * PER_PERCENT[cell.unit]
    for other in cell.adds:
        m = next((i for i, o in enumerate(model.cells) if o.gas == other.gas), None)
        if m is not None:
            raw += other.percent / 100 * state.shares[m] * PER_PERCENT[model.cells[m].unit]
    if cell.infrared:
        raw *= 1 + PERCENT_PER_HPA / 100 * model.pressure_hpa
    warm = 1 + model.warm_percent / 100 * math.exp(-state.t / 600)
    return state.gains[n] * raw * warm + state.zeros[n]


def _order(model: MixModel, state: _State, command: Command) -> None:
    if command.kind == "tell" and command.setting in ("zero", "span"):
        state.gases = {s.gas: s.percent for s in command.mix}
        state.test = command.setting == "span"
    elif command.kind == "tell" and command.setting == "process":
        state.gases, state.test = {p.gas: p.percent for p in model.process}, False
    elif command.kind == "tell" and command.setting == "overflow":
        state.drawn_in = 0.0
    elif command.kind == "trim":
        n = next((i for i, c in enumerate(model.cells) if c.id == command.setting), None)
        if n is None or model.held:
            return
        now, to = shows(model, state, n), command.to or 0.0
        if command.end == "zero":
            state.zeros[n] += to - now
        elif now - state.zeros[n] > 1e-9:
            state.gains[n] *= (to - state.zeros[n]) / (now - state.zeros[n])


def _own_zero(model: MixModel, state: _State) -> None:
    """Zero what is measured by infrared on its own zero gas; oxygen has another zero."""
    for n, cell in enumerate(model.cells):
        if cell.infrared:
            state.zeros[n] = 0.0


def _in_test(commands: Sequence[Command], t: float) -> bool:
    """Tell whether gas of a test was on: it does not zero by itself then."""
    told = [c for c in commands if c.t <= t and c.setting in ("zero", "span", "process")]
    return bool(told) and told[-1].kind == "tell" and told[-1].setting != "process"


def own_zeros(
    model: MixModel, commands: Sequence[Command], after: float, until: float
) -> list[float]:
    """Return when it zeroed by itself after one moment, up to another. [s]"""
    every = model.zeroes_every_s
    if every <= 0 or model.held:
        return []
    first, last = math.floor(after / every) + 1, math.floor(until / every)
    moments = [every * k for k in range(max(1, first), last + 1)]
    return [t for t in moments if not _in_test(commands, t)]


def _walk(
    model: MixModel, commands: Sequence[Command], moments: Sequence[float]
) -> Iterator[_State]:
    state, given = begin(model), 0
    own = own_zeros(model, commands, 0.0, moments[-1] if moments else 0.0)
    zeroed = 0
    for moment in moments:
        while given < len(commands) and commands[given].t <= moment:
            zeroed = _until(model, state, own, zeroed, commands[given].t)
            _advance(model, state, commands[given].t)
            _order(model, state, commands[given])
            given += 1
        zeroed = _until(model, state, own, zeroed, moment)
        _advance(model, state, moment)
        yield state


def _until(model: MixModel, state: _State, own: Sequence[float], zeroed: int, t: float) -> int:
    """Let it zero by itself as often as was due up to a moment; return how often by then."""
    while zeroed < len(own) and own[zeroed] <= t:
        _advance(model, state, own[zeroed])
        _own_zero(model, state)
        zeroed += 1
    return zeroed


def corrections(
    model: MixModel, commands: Sequence[Command], after: float, until: float, seed: int
) -> list[tuple[float, dict[str, str]]]:
    """Return each time that it zeroed by itself, and what each cell showed just before. [s]"""
    found = []
    moments = own_zeros(model, commands, after, until)
    for state, t in zip(_walk(model, commands, [t - 1e-6 for t in moments]), moments, strict=True):
        shown = {}
        for n, cell in enumerate(model.cells):
            if cell.infrared:
                scatter = model.noise_percent / 100 * cell.upper
                noise = scatter * gaussian(seed, f"own {cell.id}", round(t))
                shown[cell.id] = str(fixed(state.zeros[n] + noise, decimals(cell)))
        found.append((t, shown))
    return found


def decimals(cell: Cell) -> int:
    """Return with how many decimals a component is shown."""
    return 0 if cell.upper >= 500 else 1 if cell.upper >= 50 else 2


def _live(model: MixModel, state: _State, seed: int) -> Live:
    n = model.shown
    cell = model.cells[n]
    step = math.floor(state.t / NOISE_STEP_S + 1e-6)
    scatter = 0.0 if model.held else model.noise_percent / 100 * cell.upper
    value = fixed(shows(model, state, n) + scatter * gaussian(seed, cell.id, step), decimals(cell))
    return Live(
        t=state.t, target=value, applied=value, digital=value, output=value, indicated=value
    )


def live(model: MixModel, commands: Sequence[Command], t: float, seed: int) -> Live:
    """Return what the component that is looked at shows at ``t`` seconds."""
    return _live(model, next(_walk(model, commands, [t])), seed)


def window(
    model: MixModel, commands: Sequence[Command], t: float, seed: int, seconds: float
) -> list[Live]:
    """Return the readings of the last ``seconds``, oldest first."""
    count = int(seconds / NOISE_STEP_S) + 1
    moments = [m for i in reversed(range(count)) if (m := t - i * NOISE_STEP_S) >= 0]
    return [_live(model, s, seed) for s in _walk(model, commands, moments)]


def settings_at(model: MixModel, commands: Sequence[Command], t: float) -> dict[str, str]:
    """Return what is read off the analyzer, and of what tells causes apart."""
    state = next(_walk(model, commands, [t]))
    found = {"minutes_to_zero": "90"}
    if model.zeroes_every_s:
        found["minutes_to_zero"] = f"{(-t % model.zeroes_every_s) / 60:.0f}"
    for n, (suffix, cell) in enumerate(zip(SUFFIXES, model.cells, strict=False)):
        value = f"{shows(model, state, n):.{decimals(cell)}f}"
        found[f"shown{suffix}"] = found[f"back{suffix}"] = value
    first = next((n for n, c in enumerate(model.cells) if c.infrared), 0)
    kept, state.drawn_in = state.drawn_in, 0.0
    state.shares = [_entering(model, state, c) for c in model.cells]
    if model.cells:
        found["with_overflow"] = f"{shows(model, state, first):.{decimals(model.cells[first])}f}"
    state.drawn_in = kept
    # Alone, and in another mixture, a cell shows its own answer and nothing else.
    worst = max(state.gains, key=lambda g: abs(g - 1), default=1.0)
    found["alone_share"] = found["other_share"] = f"{100 * worst:.1f}"
    found["air_beside"] = f"{AIR_OXYGEN:.1f}"
    return found


#: Ends of the fields of components, in their order.
SUFFIXES = ("", "_b", "_c", "_d", "_e", "_f")
