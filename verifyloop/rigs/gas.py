"""The live picture of a detector under gas: curve, expected curve, alarm, seconds to wait."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from calibration.detector.back_to_service import ReturnIn, return_to_service
from calibration.kernel.errors import InputError
from calibration.kernel.rounding import show
from calibration.signals.stability import Sample
from calibration.simulate.commands import Command
from calibration.simulate.detector import DetectorModel, curve, settings_at, used_l
from calibration.simulate.exposure import gas_on_at

POINTS = 60


@dataclass(frozen=True)
class GasWanted:
    """What the job expects of the gas that is on."""

    channel: int
    value: float
    rest: float
    t90_s: float
    clear_percent: float
    #: cylinder that is due, and whether it is open; flow that is wanted [L/min]
    cylinder: str = ""
    open: bool = False
    #: a reading counts as steady only after gas was on for this long [s]
    hold_s: float = 0.0
    flow: float = 0.5


@dataclass(frozen=True)
class CurvePoint:
    """A point of a curve: seconds since gas went on or off, and the reading."""

    t: float
    value: float


@dataclass(frozen=True)
class GasFrame:
    """What a screen shows of the gas at one moment."""

    flow: str
    alarm: str
    mode: str
    drawn: str
    curve: tuple[CurvePoint, ...]
    expected: tuple[CurvePoint, ...]
    wait_text: str
    #: reading below which it is clear of gas; none while gas is on, or for oxygen
    clear_below: float | None


def gas_frame(
    model: DetectorModel,
    commands: Sequence[Command],
    t: float,
    seed: int,
    wanted: GasWanted,
    pace: float,
) -> GasFrame:
    """Return the gas picture at a moment of the rig."""
    said = settings_at(model, commands, t)
    start = gas_on_at(commands, t)
    if start is None:
        off = max((c.t for c in commands if c.kind in ("shut", "adapter") and c.t <= t), default=-1)
        points = _curve(model, commands, max(off, t - 300, 0.0), t, seed) if off >= 0 else ()
        return GasFrame(
            flow=said["flow"],
            alarm=said["alarm"],
            mode=said["mode"],
            drawn="",
            curve=points,
            expected=(),
            wait_text=_clear(points, wanted, pace),
            clear_below=None if wanted.rest else wanted.value * wanted.clear_percent / 100,
        )
    points = _curve(model, commands, start, t, seed)
    first = points[0].value if points else 0.0
    return GasFrame(
        flow=said["flow"],
        alarm=said["alarm"],
        mode=said["mode"],
        drawn=f"{used_l(model, commands, t) / max(1, round(pace)):.2f} L",
        curve=points,
        expected=_expected(first, wanted, t - start),
        wait_text=_steady_in(t - start, wanted, pace),
        clear_below=None,
    )


def _curve(
    model: DetectorModel, commands: Sequence[Command], start: float, end: float, seed: int
) -> tuple[CurvePoint, ...]:
    if end - start < 0.5:
        return ()
    return tuple(
        CurvePoint(round(a, 1), b) for a, b in curve(model, commands, start, end, seed, POINTS)
    )


def _expected(first: float, wanted: GasWanted, been: float) -> tuple[CurvePoint, ...]:
    """Return the exponential that a sensor with its usual time to 90 % would follow."""
    tau = wanted.t90_s / math.log(10)
    end = max(been, 4 * tau)
    times = [end * i / 40 for i in range(41)]
    rise = wanted.value - first
    return tuple(CurvePoint(round(s, 1), first + rise * (1 - math.exp(-s / tau))) for s in times)


def _steady_in(been: float, wanted: GasWanted, pace: float) -> str:
    """Return when it should be steady: within 1 % after two decades of its usual curve."""
    left = 2 * wanted.t90_s - been
    return f"steady in about {show(left / pace, 0)} s" if left > 0 else ""


def _clear(points: Sequence[CurvePoint], wanted: GasWanted, pace: float) -> str:
    if len(points) < 3 or wanted.value <= 0:
        return ""
    try:
        found = return_to_service(
            ReturnIn(
                samples=tuple(Sample(t=p.t, value=abs(p.value - wanted.rest)) for p in points),
                gas_value=wanted.value,
                threshold_percent=wanted.clear_percent,
            )
        )
    except InputError:
        return ""
    if found.clear:
        return "clear of gas"
    if found.seconds_to_clear is None:
        return "it does not fall: that may be real gas"
    return f"clear in about {show(found.seconds_to_clear / pace, 0)} s"
