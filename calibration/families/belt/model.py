"""A belt scale as it is: belt, idlers, bridge, speed wheel, integrator; faults included.

A pure function of its model, of what it was told, of the time and of a seed.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field, replace
from typing import Literal

from calibration.kernel.codec import about
from calibration.kernel.rounding import fixed
from calibration.simulate.commands import WRITE_DELAY_S, Command, Live
from calibration.simulate.machine import TAKEN, Machine
from calibration.simulate.noise import gaussian


@dataclass(frozen=True, kw_only=True)
class BeltModel:
    """A belt and its scale."""

    kind: Literal["belt"] = about("which virtual rig", default="belt")
    length_m: float = about("length of the belt", unit="m", default=72.0)
    speed_m_s: float = about("speed of the belt", unit="m/s", default=1.6)
    weigh_length_m: float = about("weigh length", unit="m", default=2.4)
    weight_kg: float = about("weights that are hung", unit="kg", default=120.0)
    zero_count: float = about("zero on record, counts a revolution", default=20150.0)
    span_count: float = about("span on record, counts a revolution", default=41200.0)
    belt_kg_m: float = about("the belt itself", unit="kg/m", default=12.0)
    uneven_percent: float = about("its mass round the loop, either way", unit="%", default=3.0)
    spread: float = about("standard deviation of a revolution", unit="counts", default=2.0)
    build_up_kg_m: float = about("build-up", unit="kg/m", default=0.0)
    tension_kg: float = about("carried by tension, too heavy", unit="kg", default=0.0)
    misaligned_mm: float = about("idlers out of line", unit="mm", default=0.1)
    zero_percent: float = about("zero of the electronics", unit="% of span", default=0.0)
    slip_percent: float = about("the speed wheel slips", unit="%", default=0.0)
    stuck: float = about("an idler sticks, scatter of a revolution", unit="counts", default=0.0)
    span_percent: float = about("span, too high", unit="%", default=0.0)
    leans_percent: float = about("the weights lean, too light", unit="%", default=0.0)
    lost_percent: float = about("material lost on the way", unit="%", default=0.0)
    truck_kg: float = about("load of a truck", unit="kg", default=24000.0)
    rate_t_h: float = about("rate of the process", unit="t/h", default=240.0)
    of: Literal["", "zero", "span", "material"] = about("what is looked at", default="")


@dataclass
class _State:
    t: float = 0.0
    since: float = 0.0
    turns: int = 0
    cleared: int = 0
    mended: bool = False
    span_factor: float = 1.0
    #: counts that the integrator keeps
    kept: dict[str, str] = field(default_factory=dict)


def _begin(model: BeltModel) -> _State:
    kept = {"zero_count": f"{model.zero_count:.0f}", "span_count": f"{model.span_count:.0f}"}
    return _State(kept=kept)


def _advance(model: BeltModel, state: _State, t: float) -> None:
    state.t = max(state.t, t)


def _tell(model: BeltModel, state: _State, command: Command) -> None:
    what = command.setting
    if command.kind == "write" and what == "material_span":
        state.span_factor = float(command.text) / model.span_count
        state.since = command.t + WRITE_DELAY_S
    elif command.kind == "write":
        state.kept[what] = command.text
    elif what == "cleared":
        # Told again, what was wrong at the belt was put right.
        state.cleared += 1
        state.mended = state.cleared > 1
        state.since = command.t
    elif what in (TAKEN, "run"):
        state.since = command.t
        state.turns += what == TAKEN


def per_kg_m(model: BeltModel) -> float:
    """Return the counts of a revolution for a kilogram a metre."""
    return model.span_count * model.weigh_length_m / model.weight_kg


def revolution_s(model: BeltModel) -> float:
    """Return how long a revolution takes, by the mark on the belt. [s]"""
    return model.length_m / model.speed_m_s


def _zero(model: BeltModel, state: _State) -> float:
    """Return the counts of an empty revolution, without scatter.

    A speed wheel that slips makes the scale believe in less belt: everything counts less by one
    share. Tension and alignment push on the bridge like a load.
    """
    extra = 0.0 if state.mended else model.build_up_kg_m
    tension = 0.0 if state.mended else model.tension_kg / model.weigh_length_m
    slip = 0.0 if state.mended else model.slip_percent
    moved = per_kg_m(model) * (extra + tension) + model.span_count * model.zero_percent / 100
    return (model.zero_count + moved) * (1 - slip / 100)


def _span(model: BeltModel, state: _State) -> float:
    """Return the counts of a revolution with weights, without scatter."""
    leans = 0.0 if state.mended else model.leans_percent
    slip = 0.0 if state.mended else model.slip_percent
    net = model.span_count * (1 + model.span_percent / 100) * (1 - leans / 100)
    return _zero(model, state) + net * (1 - slip / 100)


def _scatter(model: BeltModel, state: _State, seed: int) -> float:
    size = model.spread if state.mended else math.hypot(model.spread, model.stuck)
    return size * gaussian(seed, "turn", state.turns)


def _counted(model: BeltModel, state: _State, seed: int) -> float:
    """Return what is counted so far in the present revolution, or load."""
    share = _held(model, state)
    if model.of == "material":
        off = model.span_percent - (0.0 if state.mended else model.slip_percent)
        off += model.tension_kg * (0.0 if state.mended else 100 / (model.rate_t_h / 3.6 * 1.5))
        load = _load(model, state, seed) * (1 + off / 100) * state.span_factor
        return load * (1 + 0.001 * gaussian(seed, "material", state.turns)) * share
    whole = _span(model, state) if model.of == "span" else _zero(model, state)
    # A belt is uneven: part of a revolution is not its share.
    uneven = model.uneven_percent / 100 * model.belt_kg_m * per_kg_m(model)
    wave = uneven * math.sin(2 * math.pi * share) / (2 * math.pi)
    return whole * share + wave + _scatter(model, state, seed) * share


def _load(model: BeltModel, state: _State, seed: int) -> float:
    """Return what a truck carries. [kg]"""
    return model.truck_kg * (1 + 0.03 * gaussian(seed, "truck", state.turns))


def _held(model: BeltModel, state: _State) -> float:
    if model.of == "material":
        whole = model.truck_kg / (model.rate_t_h / 3.6)
    else:
        whole = revolution_s(model)
    return min(1.0, (state.t - state.since) / whole)


def _shows(model: BeltModel, state: _State, seed: int) -> Live:
    applied = fixed(0.0, 0)
    if model.of == "material":
        lost = 0.0 if state.mended else model.lost_percent
        net = _load(model, state, seed) * (1 - lost / 100)
        applied = fixed(round((14000 + net) / 20) * 20, 0)
    value = fixed(_counted(model, state, seed), 0)
    if not model.of:
        value = fixed(model.rate_t_h, 0)
    return Live(
        t=state.t, target=applied, applied=applied, digital=value, output=value, indicated=value
    )


def _seen(model: BeltModel, state: _State, seed: int) -> dict[str, str]:
    reading = f"{_counted(model, state, seed):.0f}"
    if model.of == "material":
        return {"empty": "14000", "reading": reading}
    return {"seconds": f"{revolution_s(model):.1f}", "reading": reading}


def _settings(model: BeltModel, state: _State) -> dict[str, str]:
    cleaned = replace(model, build_up_kg_m=0.0)
    seated = replace(model, leans_percent=0.0)

    def zero_percent(of: BeltModel) -> float:
        return 100 * (_zero(of, state) / model.zero_count - 1) * model.zero_count / model.span_count

    net = _span(seated, state) - _zero(seated, state)
    return {
        **state.kept,
        "material_span": f"{model.span_count * state.span_factor:.0f}",
        "rate_shown": f"{model.rate_t_h:.0f}",
        "zero_cleaned": f"{zero_percent(cleaned):.3f}",
        "alignment_mm": f"{0.1 if state.mended else model.misaligned_mm:.1f}",
        "span_seated": f"{100 * (net / model.span_count - 1):.3f}",
        "other_route": f"{model.span_percent - model.slip_percent:.2f}",
    }


def _said(model: BeltModel, state: _State) -> str:
    if model.of in ("", "material"):
        return ""
    whole = revolution_s(model)
    gone = min(whole, state.t - state.since)
    return f"{gone:.0f} of {whole:.0f} s, {100 * gone / whole:.0f} % of the revolution"


def _at_point(model: BeltModel, target: float, way: str, label: str) -> BeltModel:
    kind = label.partition(" ")[0]
    looked = {"Empty": "zero", "Weights": "span", "Load": "material"}.get(kind, "")
    return replace(model, of=looked)  # type: ignore[arg-type]


MACHINE = Machine(
    kind="belt",
    model=BeltModel,
    begin=_begin,
    advance=_advance,
    tell=_tell,
    shows=_shows,
    settings=_settings,
    held=_held,
    seen=_seen,
    said=_said,
    at_point=_at_point,
    takes_s=60.0,
)
