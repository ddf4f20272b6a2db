"""What is noted of a detector while gas is on: its curve, time to 90 %, flow, other channels."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from decimal import Decimal

from calibration.detector.visit import t90
from calibration.kernel.rounding import fixed
from calibration.signals.stability import Sample
from calibration.simulate.commands import Command
from calibration.simulate.detector import DetectorModel, curve, live

#: Samples kept of a curve; finer ones are used to find the time to 90 %.
KEPT, FINE = 40, 240


@dataclass(frozen=True)
class Exposure:
    """Beside the settled value. Times in seconds since gas on."""

    t90_s: Decimal | None
    peak: Decimal
    flow: Decimal
    other_percent: Decimal | None
    curve: tuple[Sample, ...]


def gas_on_at(commands: Sequence[Command], t: float) -> float | None:
    """Return when the gas that flows at ``t`` was opened; none when none flows. [s]"""
    last = next((c for c in reversed(commands) if c.t <= t and c.kind in ("gas", "shut")), None)
    return last.t if last is not None and last.kind == "gas" else None


def exposure(
    model: DetectorModel, commands: Sequence[Command], t: float, seed: int
) -> Exposure | None:
    """Return what was seen since gas was opened; none when none flows.

    References
    ----------
    :func:`calibration.detector.visit.t90`.
    """
    start = gas_on_at(commands, t)
    if start is None or t <= start:
        return None
    head = model.heads[model.shown]
    fine = curve(model, commands, start, t, seed, FINE)
    samples = [Sample(t=round(a, 2), value=b) for a, b in fine]
    tail = [s.value for s in samples[-FINE // 8 :]]
    settled = sum(tail) / len(tail)
    time = None
    if abs(settled - samples[0].value) > 0.03 * head.range:
        time = t90(samples, samples[0].value, settled)
    others = [
        abs(_moved(model, n, commands, start, t, seed))
        for n in range(len(model.heads))
        if n != model.shown
    ]
    now = live(model, commands, t, seed)
    return Exposure(
        t90_s=fixed(time, 1) if time is not None else None,
        peak=fixed(max(s.value for s in samples), head.decimals),
        flow=now.flow,
        other_percent=fixed(max(others), 1) if others else None,
        curve=tuple(samples[:: FINE // KEPT]),
    )


def _moved(
    model: DetectorModel, n: int, commands: Sequence[Command], start: float, t: float, seed: int
) -> float:
    """Return how far a channel moved since gas on. [% of its range]"""
    seen = replace(model, shown=n)
    before = live(seen, [c for c in commands if c.t < start], start, seed).digital
    after = live(seen, commands, t, seed).digital
    return 100 * float(after - before) / model.heads[n].range
