"""Getting air out: block and bleed of a regulator, and purging a volume."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from calibration.kernel.checks import between, not_negative, positive
from calibration.kernel.codec import about
from calibration.kernel.errors import InputError
from calibration.kernel.pictures import Chart, Picture, Rule, Series, Spot, sampled, staircase
from calibration.kernel.registry import operation

MOST_CYCLES = 200


@dataclass(frozen=True, kw_only=True)
class BleedIn:
    """Pressurize, shut, vent, repeat; give a target or a number of cycles."""

    start_ppm: float = about("before the first cycle", unit="ppm", default=209476.0)
    fill_bar_abs: float = about("pressure when filled", unit="bar")
    fill_is: Literal["absolute", "gauge"] = about(
        "the fill pressure is read as; a gauge shows the pressure above that of the air",
        default="absolute",
    )
    vent_bar_abs: float = about("absolute pressure when vented", unit="bar", default=1.01325)
    fill_gas_ppm: float = about("what the fill gas itself carries", unit="ppm", default=0.0)
    target_ppm: float | None = about("wanted at most", unit="ppm", default=None)
    cycles: int | None = about("number of cycles", default=None)
    span_ppm: float | None = about("span gas that it is for", unit="ppm", default=None)


@dataclass(frozen=True, kw_only=True)
class BleedOut:
    """How many cycles, and what is left."""

    cycles: int = about("cycles")
    residual_ppm: float = about("left after them", unit="ppm")
    ratio: float = about("dilution by one cycle, vent over fill")
    residual_percent: float | None = about("left, of the span gas", unit="%", decimals=2)
    after_each_ppm: tuple[float, ...] = about("left after each cycle", unit="ppm")


def _bleed_picture(i: BleedIn, o: BleedOut) -> Picture:
    rules = (
        ()
        if i.target_ppm is None
        else (Rule(axis="y", at=i.target_ppm, label=f"target {i.target_ppm:g} ppm"),)
    )
    return Chart(
        alt=f"The residue falls cycle by cycle to {o.residual_ppm:.3g} ppm.",
        x_label="Cycles",
        y_label="Residue [ppm]",
        series=(Series(points=staircase((i.start_ppm, *o.after_each_ppm)), style="step"),),
        spots=(
            Spot(
                x=float(o.cycles),
                y=o.residual_ppm,
                label=f"{o.cycles} cycles: {o.residual_ppm:.3g} ppm",
            ),
        ),
        rules=rules,
        log_y=True,
    )


@operation(
    "gas.bleed_cycles",
    title="Block and bleed: how many cycles?",
    family="Gas",
    formula="c_n = c_fill + (c_0 − c_fill) × (p_vent / p_fill)ⁿ",
    source="ideal gas at constant temperature, complete mixing in each cycle",
    example={"fill_bar_abs": "6", "vent_bar_abs": "1.01325", "target_ppm": "1"},
    words="regulator air oxygen dilution trace pressurize vent dead leg",
    cautions=(
        "High side first, then low side; plain purging leaves air in dead legs.",
        "Vent to a safe place; follow the site's procedure for the gas.",
    ),
    worked=lambda i, o: [
        f"p_vent / p_fill = {i.vent_bar_abs:g} / {_fill(i):g} = {o.ratio:.4g}",
        f"c = {i.fill_gas_ppm:g} + ({i.start_ppm:g} − {i.fill_gas_ppm:g}) × {o.ratio:.4g}"
        f"^{o.cycles} = {o.residual_ppm:.4g} ppm",
    ],
    picture=_bleed_picture,
    one_of=("target_ppm", "cycles"),
)
def bleed_cycles(request: BleedIn) -> BleedOut:
    """Give the cycles for a residue, or the residue after a number of cycles.

    Raises
    ------
    InputError
        ``pressure.order``, ``target.unreachable``, ``cycles.out_of_range``,
        ``value.one_needed`` and negative values.

    References
    ----------
    Boyle's law; the share of old gas kept by each cycle is p_vent / p_fill.
    """
    not_negative(request.start_ppm, "start_ppm", "start concentration")
    not_negative(request.fill_gas_ppm, "fill_gas_ppm", "concentration in the fill gas")
    positive(request.vent_bar_abs, "vent_bar_abs", "absolute vent pressure", "bar")
    if request.span_ppm is not None:
        positive(request.span_ppm, "span_ppm", "span gas", "ppm")
    fill = _fill(request)
    if fill <= request.vent_bar_abs:
        raise InputError(
            "pressure.order",
            "fill_bar_abs",
            "The fill pressure must be above the vent pressure.",
            "Say whether it is read as absolute or as gauge: gauge is about 1 bar less.",
        )
    ratio = request.vent_bar_abs / fill
    start, carried = request.start_ppm, request.fill_gas_ppm
    cycles = _cycles(request, ratio)
    after = tuple(carried + (start - carried) * ratio**n for n in range(1, cycles + 1))
    return BleedOut(
        cycles=cycles,
        residual_ppm=after[-1] if after else start,
        ratio=ratio,
        residual_percent=None
        if request.span_ppm is None
        else 100 * (after[-1] if after else start) / request.span_ppm,
        after_each_ppm=after,
    )


def _fill(request: BleedIn) -> float:
    """Return the absolute fill pressure; a gauge starts at the pressure of the air. [bar]"""
    return request.fill_bar_abs + (request.vent_bar_abs if request.fill_is == "gauge" else 0.0)


def _cycles(request: BleedIn, ratio: float) -> int:
    if (request.target_ppm is None) == (request.cycles is None):
        raise InputError(
            "value.one_needed",
            "target_ppm",
            "Give either a target or a number of cycles.",
            "Fill in one of the two and leave the other empty.",
        )
    if request.cycles is not None:
        between(request.cycles, 0, MOST_CYCLES, "cycles", "number of cycles")
        return request.cycles
    assert request.target_ppm is not None
    excess, allowed = (
        request.start_ppm - request.fill_gas_ppm,
        request.target_ppm - request.fill_gas_ppm,
    )
    if request.start_ppm <= request.target_ppm:
        return 0
    if allowed <= 0:
        raise InputError(
            "target.unreachable",
            "target_ppm",
            f"The fill gas itself carries {request.fill_gas_ppm:g} ppm.",
            "Use a cleaner fill gas or a higher target.",
        )
    needed = math.ceil((math.log(allowed) - math.log(excess)) / math.log(ratio) - 1e-9)
    between(needed, 0, MOST_CYCLES, "target_ppm", "number of cycles needed")
    return needed


@dataclass(frozen=True, kw_only=True)
class PurgeIn:
    """A volume that is flushed; give the exchanges or the share that may stay."""

    dead_volume_l: float = about("volume to flush", unit="L")
    flow_l_per_min: float = about("flow", unit="L/min")
    exchanges: float | None = about("volume exchanges", default=None)
    target_fraction: float | None = about("share that may stay, 0 to 1", default=None)


@dataclass(frozen=True, kw_only=True)
class PurgeOut:
    """The time and what it does."""

    minutes: float = about("time", unit="min", decimals=2)
    exchanges: float = about("volume exchanges", decimals=2)
    fraction_left: float = about("share that stays")


def _purge_worked(i: PurgeIn, o: PurgeOut) -> Sequence[str]:
    return [
        f"t = {o.exchanges:.3g} × {i.dead_volume_l:g} L / {i.flow_l_per_min:g} L/min "
        f"= {o.minutes:.2f} min",
        f"left = e^(−{o.exchanges:.3g}) = {o.fraction_left:.3g}",
    ]


def _purge_picture(i: PurgeIn, o: PurgeOut) -> Picture:
    rate = i.flow_l_per_min / i.dead_volume_l
    return Chart(
        alt=f"After {o.minutes:.2f} min {100 * o.fraction_left:.3g} % is left.",
        x_label="Time [min]",
        y_label="Left [%]",
        series=(Series(points=sampled(lambda t: 100 * math.exp(-rate * t), 0, 1.5 * o.minutes)),),
        spots=(Spot(x=o.minutes, y=100 * o.fraction_left, label=f"{o.minutes:.2f} min"),),
    )


@operation(
    "gas.purge_time",
    title="How long to purge?",
    family="Gas",
    formula="left = e^(−Q t / V);  t = exchanges × V / Q",
    source="well-mixed volume; dead legs take longer than this",
    example={"dead_volume_l": "0.6", "flow_l_per_min": "0.5", "target_fraction": "0.01"},
    words="flush sample line volume exchanges dead",
    cautions=("Dead legs do not mix: there, block and bleed works and purging does not.",),
    worked=_purge_worked,
    picture=_purge_picture,
    one_of=("exchanges", "target_fraction"),
)
def purge_time(request: PurgeIn) -> PurgeOut:
    """Give the time to flush a well-mixed volume.

    Raises
    ------
    InputError
        ``dead_volume_l.not_positive``, ``flow_l_per_min.not_positive``, ``value.one_needed``,
        ``exchanges.not_positive``, ``target_fraction.out_of_range``.

    References
    ----------
    Mass balance of a well-mixed volume: V dc/dt = −Q c.
    """
    positive(request.dead_volume_l, "dead_volume_l", "volume", "L")
    positive(request.flow_l_per_min, "flow_l_per_min", "flow", "L/min")
    if (request.exchanges is None) == (request.target_fraction is None):
        raise InputError(
            "value.one_needed",
            "exchanges",
            "Give either exchanges or the share that may stay.",
            "Fill in one of the two and leave the other empty.",
        )
    if request.exchanges is not None:
        positive(request.exchanges, "exchanges", "number of exchanges")
        exchanges = request.exchanges
    else:
        assert request.target_fraction is not None
        if not 0 < request.target_fraction < 1:
            raise InputError(
                "target_fraction.out_of_range",
                "target_fraction",
                "The share that may stay lies between 0 and 1.",
                "For one percent write 0.01.",
            )
        exchanges = -math.log(request.target_fraction)
    return PurgeOut(
        minutes=exchanges * request.dead_volume_l / request.flow_l_per_min,
        exchanges=exchanges,
        fraction_left=math.exp(-exchanges),
    )
