"""A pH loop as it is: electrode, temperature sensor, analyzer, output; faults included.

A pure function of its model, the commands given so far, the time and a seed. Between commands the
electrode follows what it stands in with a first-order lag.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from typing import Literal

from calibration.analyzers.ph import nernst_slope
from calibration.analyzers.ph.buffers import SHIPPED, find_table, value_at
from calibration.kernel.codec import about
from calibration.kernel.rounding import fixed
from calibration.simulate.commands import NOISE_STEP_S, Command, Live, written
from calibration.simulate.noise import gaussian

#: Glass resists half as much for every so many degrees. [°C]
HALVES_EVERY_C = 8.0
#: An analyzer looks for a buffer of its set this near to what it measures. [pH]
FINDS_WITHIN = 1.2
#: It refuses a slope outside these. [%]
SLOPE_FROM, SLOPE_TO = 70.0, 110.0
#: A new electrode.
NEW_SLOPE, NEW_OFFSET_MV, CLEAN_S = 0.99, -2.0, 5.0
ZERO_C = 273.15


@dataclass(frozen=True, kw_only=True)
class ElectrodeModel:
    """A pH loop, and what it stands in."""

    kind: Literal["electrode"] = about("which virtual rig", default="electrode")
    tag: str = about("tag in the device", default="")
    lower: float = about("pH at the lower end of the output", default=0.0)
    upper: float = about("pH at the upper end of the output", default=14.0)
    slope: float = about("share of the theoretical slope", default=0.98)
    offset_mv: float = about("electrode at pH 7", unit="mV", default=-3.0)
    tau_s: float = about("time constant of the answer", unit="s", default=CLEAN_S)
    clean_tau_s: float = about("the same once it is clean", unit="s", default=CLEAN_S)
    reference_mv: float = about("shift of the reference", unit="mV", default=0.0)
    drift_mv_per_h: float = about("drift of the reference", unit="mV/h", default=0.0)
    glass_mohm: float = about("resistance of the glass at 25 °C", unit="MΩ", default=100.0)
    shunt_mohm: float | None = about("moisture across plug or cable", unit="MΩ", default=None)
    cracked: bool = about("the glass is cracked through", default=False)
    shorted: bool = about("plug or cable is short", default=False)
    loop_mv: float = about("earth current, in the process only", unit="mV", default=0.0)
    sensor_off_c: float = about("temperature sensor reads high by", unit="°C", default=0.0)
    room_c: float = about("buffers and room", unit="°C", default=21.5)
    process_ph: float = about("what the process is", default=7.0)
    process_c: float = about("how warm it is", unit="°C", default=25.0)
    grab_off: float = about("a grab sample is off by", default=0.0)
    programmed: str = about("buffer set that it counts by", default="technical")
    stored_slope: float = about("slope that it counts with, as a share", default=0.98)
    stored_offset_mv: float = about("offset that it counts with", unit="mV", default=-3.0)
    noise_mv: float = about("standard deviation of a sample", unit="mV", default=0.15)
    junction_mv: float = about("scatter from one immersion to the next", unit="mV", default=0.4)
    milliamps: bool = about("has a 4-20 mA output", default=True)


@dataclass
class _State:
    t: float = 0.0
    mv: float = 0.0
    ph: float = 7.0
    warm_c: float = 25.0
    process: bool = True
    #: how much lower the present buffer is than its bottle says; what it read last near 7
    low: float = 0.0
    near_mv: float = 0.0
    immersions: int = 0
    tau_s: float = CLEAN_S
    slope: float = 1.0
    offset_mv: float = 0.0
    reference_mv: float = 0.0
    cracked: bool = False
    programmed: str = ""
    stored_slope: float = 1.0
    stored_offset_mv: float = 0.0
    #: reported by the last calibration, kept or refused
    reported: tuple[float, float] | None = None
    #: points taken so far: what it counted as pH, millivolts, theoretical mV a pH
    points: list[tuple[float, float, float]] = field(default_factory=list)


def begin(model: ElectrodeModel) -> _State:
    """Return the loop at time 0: in the process, settled."""
    state = _State(
        ph=model.process_ph,
        warm_c=model.process_c,
        tau_s=model.tau_s,
        slope=model.slope,
        offset_mv=model.offset_mv,
        reference_mv=model.reference_mv,
        cracked=model.cracked,
        programmed=model.programmed,
        stored_slope=model.stored_slope,
        stored_offset_mv=model.stored_offset_mv,
    )
    state.mv = source_mv(model, state, 0)
    return state


def source_mv(model: ElectrodeModel, state: _State, seed: int, dry: bool = False) -> float:
    """Return what the input would come to in what it stands in. [mV]

    References
    ----------
    Nernst equation; a shunt as a divider of the glass resistance, which halves every 8 °C.
    """
    if state.cracked or model.shorted:
        return 1.5 * gaussian(seed, "dead", state.immersions)
    ideal = state.slope * nernst_slope(state.warm_c) * (state.ph - 7)
    drift = model.drift_mv_per_h * state.t / 3600 if state.reference_mv else 0.0
    junction = model.junction_mv * gaussian(seed, "junction", state.immersions)
    mv = ideal + state.offset_mv + state.reference_mv + drift + junction
    if model.shunt_mohm is not None and not dry:
        glass = model.glass_mohm * 2 ** ((25.0 - state.warm_c) / HALVES_EVERY_C)
        mv *= model.shunt_mohm / (model.shunt_mohm + glass)
    return mv + (model.loop_mv if state.process else 0.0)


def shown_c(model: ElectrodeModel, state: _State) -> float:
    """Return the temperature as the analyzer has it. [°C]"""
    return state.warm_c + model.sensor_off_c


def shown_ph(model: ElectrodeModel, state: _State, mv: float) -> float:
    """Return what the analyzer makes of millivolts at the temperature that it has."""
    per_ph = state.stored_slope * nernst_slope(shown_c(model, state))
    return max(-1.0, min(15.0, 7 + (mv - state.stored_offset_mv) / per_ph))


def _advance(model: ElectrodeModel, state: _State, t: float, seed: int) -> None:
    end = source_mv(model, state, seed)
    elapsed = max(0.0, t - state.t)
    state.mv = end + (state.mv - end) * math.exp(-elapsed / state.tau_s)
    state.t = t


def _take(model: ElectrodeModel, state: _State) -> None:
    """Take the present millivolts as a point: of the buffer of its own set that is nearest."""
    theory = nernst_slope(shown_c(model, state))
    sees = 7 + (state.mv - state.stored_offset_mv) / theory
    warm = max(5.0, min(40.0, shown_c(model, state)))
    known = [value_at(t, warm, "set") for t in SHIPPED if t.set == state.programmed]
    value = min(known, key=lambda v: abs(v - sees), default=sees)
    state.points = [] if len(state.points) >= 2 else state.points
    state.points.append((value, state.mv, theory))
    if len(state.points) == 1:
        per_ph = state.stored_slope * theory
        if abs(value - sees) <= FINDS_WITHIN:
            state.stored_offset_mv = state.mv - per_ph * (value - 7)
        return
    (a, mv_a, theory), (b, mv_b, _) = state.points
    if abs(a - b) < 1:
        return
    per_ph = (mv_b - mv_a) / (b - a)
    offset = mv_a + per_ph * (7 - a)
    state.reported = (100 * per_ph / theory, offset)
    if SLOPE_FROM <= state.reported[0] <= SLOPE_TO:
        state.stored_slope, state.stored_offset_mv = per_ph / theory, offset


def _order(model: ElectrodeModel, state: _State, command: Command) -> None:
    if command.kind != "tell":
        return
    more = {g.name: g.value for g in command.more}
    if not state.process and abs(state.ph - 7) < 0.7:
        state.near_mv = state.mv
    if command.setting == "buffer":
        set_, _, nominal = command.text.partition(":")
        table = find_table(set_, nominal, (), "buffer")
        state.warm_c = model.room_c
        state.low = more.get("low", 0.0)
        state.ph = value_at(table, model.room_c, "buffer") - state.low
        state.process = False
        state.immersions += 1
    elif command.setting == "process":
        state.ph, state.warm_c, state.process = model.process_ph, model.process_c, True
        state.immersions += 1
    elif command.setting == "take":
        _take(model, state)
    elif command.setting == "program":
        state.programmed = command.text
    elif command.setting == "clean":
        state.tau_s = model.clean_tau_s
    elif command.setting == "replace":
        state.tau_s, state.slope, state.offset_mv = CLEAN_S, NEW_SLOPE, NEW_OFFSET_MV
        state.reference_mv, state.cracked = 0.0, False


def _walk(
    model: ElectrodeModel, commands: Sequence[Command], moments: Sequence[float], seed: int
) -> Iterator[_State]:
    state, given = begin(model), 0
    for moment in moments:
        while given < len(commands) and commands[given].t <= moment:
            _advance(model, state, commands[given].t, seed)
            _order(model, state, commands[given])
            given += 1
        _advance(model, state, moment, seed)
        yield state


def _noisy_mv(model: ElectrodeModel, state: _State, seed: int) -> float:
    step = math.floor(state.t / NOISE_STEP_S + 1e-6)
    return state.mv + model.noise_mv * gaussian(seed, "mv", step)


def _live(model: ElectrodeModel, state: _State, seed: int) -> Live:
    shows = shown_ph(model, state, _noisy_mv(model, state, seed))
    share = (shows - model.lower) / (model.upper - model.lower)
    current = max(3.6, min(20.5, 4 + 16 * share))
    panel = model.lower + (model.upper - model.lower) * (current - 4) / 16
    return Live(
        t=state.t,
        target=fixed(state.ph, 2),
        applied=fixed(shows, 2),
        digital=fixed(shows, 2),
        output=fixed(current, 3) if model.milliamps else fixed(shows, 2),
        indicated=fixed(panel if model.milliamps else shows, 2),
    )


def live(model: ElectrodeModel, commands: Sequence[Command], t: float, seed: int) -> Live:
    """Return what analyzer, output and control room show at ``t`` seconds."""
    return _live(model, next(_walk(model, commands, [t], seed)), seed)


def window(
    model: ElectrodeModel, commands: Sequence[Command], t: float, seed: int, seconds: float
) -> list[Live]:
    """Return the readings of the last ``seconds``, oldest first."""
    moments = _moments(t, seconds)
    return [_live(model, s, seed) for s in _walk(model, commands, moments, seed)]


def _moments(t: float, seconds: float) -> list[float]:
    count = int(seconds / NOISE_STEP_S) + 1
    return [m for i in reversed(range(count)) if (m := t - i * NOISE_STEP_S) >= 0]


def millivolts(
    model: ElectrodeModel, commands: Sequence[Command], t: float, seed: int, seconds: float
) -> list[tuple[float, float]]:
    """Return the millivolts of the last ``seconds``: pairs of time and value, oldest first."""
    moments = _moments(t, seconds)
    return [
        (s.t, round(_noisy_mv(model, s, seed), 2)) for s in _walk(model, commands, moments, seed)
    ]


def curve(
    model: ElectrodeModel, commands: Sequence[Command], start: float, end: float, seed: int, n: int
) -> list[tuple[float, float]]:
    """Return ``n`` samples since ``start``: seconds, and the pH shown."""
    step = (end - start) / max(1, n - 1)
    moments = [start + i * step for i in range(n)]
    return [
        (s.t - start, float(_live(model, s, seed).digital))
        for s in _walk(model, commands, moments, seed)
    ]


def immersed_at(commands: Sequence[Command], t: float) -> float | None:
    """Return since when it stands in a buffer; none while it does not. [s]"""
    last = next(
        (c for c in reversed(commands) if c.t <= t and c.setting in ("buffer", "process")), None
    )
    return last.t if last is not None and last.setting == "buffer" else None


def settings_at(model: ElectrodeModel, commands: Sequence[Command], t: float) -> dict[str, str]:
    """Return what is read off analyzer and thermometer at a time, and of what tells twins apart."""
    state = next(_walk(model, commands, [t], 0))
    shows = shown_ph(model, state, state.mv)
    found = {
        "buffer_c": f"{model.room_c:.1f}",
        "shown_c": f"{model.room_c + model.sensor_off_c:.1f}",
        "process_shown": f"{shows:.2f}",
        "grab": f"{model.process_ph + model.grab_off:.2f}",
        "slope_found": f"{100 * state.stored_slope:.1f}",
        "offset_found": f"{state.stored_offset_mv:.1f}",
    }
    if model.tag:
        found["tag"] = model.tag
    if state.reported is not None:
        found["slope"] = f"{state.reported[0]:.1f}"
        found["offset"] = f"{state.reported[1]:.1f}"
    found |= _apart(model, state)
    return {**found, **written(commands, t)}


def _apart(model: ElectrodeModel, state: _State) -> dict[str, str]:
    """Return what each measurement that tells twins apart would give now."""
    unplugged = 0.0 if model.shorted else 312.0
    dry = source_mv(model, state, 0, dry=True)
    near = state.mv if not state.process and abs(state.ph - 7) < 0.7 else state.near_mv
    later = near + model.drift_mv_per_h / 6
    fresh = state.mv + state.slope * nernst_slope(state.warm_c) * state.low
    return {
        "unplugged_mv": f"{unplugged:.1f}",
        "dry_mv": f"{dry:.1f}",
        "again_mv": f"{later:.1f}",
        "fresh_mv": f"{fresh:.1f}",
        "second_grab": f"{model.process_ph:.2f}",
    }
