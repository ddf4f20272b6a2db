"""A chromatograph as it is: syringe, column, detector, trap; faults included.

A pure function of its model, the commands given so far, the time and a seed.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from calibration.kernel.codec import about
from calibration.kernel.rounding import fixed
from calibration.simulate.commands import Command, Live, Share
from calibration.simulate.noise import gaussian, uniform

#: What outdoor air holds, in ppm; a trap takes carbon dioxide and water, methane hardly.
AIR_PPM = {"methane": 1.9, "carbon dioxide": 420.0, "hydrogen": 0.5, "carbon monoxide": 0.2}
#: Share that a fresh trap lets through.
THROUGH = {"methane": 0.15, "carbon dioxide": 0.002, "hydrogen": 0.3, "carbon monoxide": 0.2}


@dataclass(frozen=True, kw_only=True)
class Line:
    """One component as it is measured."""

    id: str = about("short name")
    gas: str = about("gas")
    at_s: float = about("retention of a sound column", unit="s")
    response: float = about("share of the response that is stored", default=1.0)


@dataclass(frozen=True, kw_only=True)
class GcModel:
    """A chromatograph, and what is injected."""

    kind: Literal["chromatograph"] = about("which virtual rig", default="chromatograph")
    lines: tuple[Line, ...] = about("components", default=())
    shown: int = about("component that is looked at", default=0)
    repeat_percent: float = about("scatter of the volume", unit="%", default=0.6)
    peak_percent: float = about("scatter of a peak", unit="%", default=0.3)
    baseline_ppm: float = about("scatter of the baseline", unit="ppm", default=0.05)
    leak_percent: float = about("a leak loses up to", unit="%", default=0.0)
    steady_leak: bool = about("and always as much", default=False)
    aged_percent: float = about("detector weaker by", unit="%", default=0.0)
    moisture_percent: float = about("last peak late by", unit="%", default=0.0)
    carrier_percent: float = about("all peaks late by", unit="%", default=0.0)
    gas_percent: float = about("the gas is weaker than its label says by", unit="%", default=0.0)
    trap_share: float = about("a spent trap lets through", default=0.0)


def _injected(commands: Sequence[Command], t: float) -> tuple[int, Command | None]:
    """Return how many injections there were, and the newest."""
    done = [c for c in commands if c.kind == "tell" and c.setting == "inject" and c.t <= t]
    return len(done), done[-1] if done else None


def results(
    model: GcModel, commands: Sequence[Command], t: float, seed: int
) -> list[tuple[float, float]]:
    """Return of each component what the newest run shows, and when it came. [ppm, s]

    References
    ----------
    Area = response × concentration × volume. Moisture delays a peak in proportion to the square
    of its retention; a change of carrier flow all of them by one share.
    """
    number, newest = _injected(commands, t)
    stored = [c for c in commands if c.kind == "tell" and c.setting == "store" and c.t <= t]
    renewed = any(c.setting == "recondition" and c.t <= t for c in commands)
    if newest is None:
        return [(0.0, line.at_s) for line in model.lines]
    mix = {s.gas: s.percent * 10_000 for s in newest.mix}
    volume = 1 + model.repeat_percent / 100 * gaussian(seed, "volume", number)
    if model.leak_percent and not renewed:
        share = 1.0 if model.steady_leak else uniform(seed, "leak", number)
        volume *= 1 - model.leak_percent / 100 * share
    last = max((line.at_s for line in model.lines), default=1.0)
    found = []
    for line in model.lines:
        scatter = 1 + model.peak_percent / 100 * gaussian(seed, line.id, number)
        area = mix.get(line.gas, 0.0) * line.response * volume * scatter
        area *= (1 - model.aged_percent / 100) * (1 - model.gas_percent / 100)
        area += model.baseline_ppm * abs(gaussian(seed, f"base {line.id}", number))
        late = 1 + model.carrier_percent / 100
        if not renewed:
            late += model.moisture_percent / 100 * (line.at_s / last) ** 2
        at = line.at_s * late + 0.1 * gaussian(seed, f"at {line.id}", number)
        scale = line.response * (1 - model.aged_percent / 100) if stored else 1.0
        found.append((area / scale, at))
    return found


def live(model: GcModel, commands: Sequence[Command], t: float, seed: int) -> Live:
    """Return what the newest run shows of the component that is looked at."""
    value, _ = results(model, commands, t, seed)[model.shown]
    shown = fixed(value, 1)
    return Live(t=t, target=shown, applied=shown, digital=shown, output=shown, indicated=shown)


def window(
    model: GcModel, commands: Sequence[Command], t: float, seed: int, seconds: float
) -> list[Live]:
    """Return the result of the newest run; it stands."""
    count = int(seconds / 0.25) + 1
    moments = [m for i in reversed(range(count)) if (m := t - i * 0.25) >= 0]
    now = live(model, commands, t, seed)
    return [
        Live(
            t=m,
            target=now.target,
            applied=now.applied,
            digital=now.digital,
            output=now.output,
            indicated=now.indicated,
        )
        for m in moments
    ]


def air(model: GcModel, fresh: bool) -> tuple[Share, ...]:
    """Return clean air as it comes through the trap. [% vol]"""
    found = []
    for gas, ppm in AIR_PPM.items():
        share = THROUGH[gas] if fresh else max(THROUGH[gas], model.trap_share)
        found.append(Share(gas=gas, percent=ppm * share / 10_000))
    return tuple(found)


def settings_at(model: GcModel, commands: Sequence[Command], t: float) -> dict[str, str]:
    """Return what tells causes apart, as it would be read."""
    gas = next((c for c in reversed(commands) if c.setting == "inject" and c.text == "gas"), None)
    mix = {s.gas: s.percent * 10_000 for s in gas.mix} if gas is not None else {}
    first = model.lines[0] if model.lines else None
    found = {}
    if first is not None:
        sealed = mix.get(first.gas, 0.0) * first.response * (1 - model.aged_percent / 100)
        sealed *= 1 - model.gas_percent / 100
        found["other_syringe"] = f"{sealed:.1f}"
        right = first.response * (1 - model.aged_percent / 100)
        found["other_cylinder"] = f"{100 * right:.1f}"
        worst = max((line.response for line in model.lines), key=lambda r: abs(r - 1))
        found["other_gas"] = f"{100 * worst:.1f}"
    return found
