"""Calculators of the Bench that a trace analyzer's steps lead to."""

from __future__ import annotations

from calibration.engine.job.reads import Reads
from calibration.engine.view.bench_links import link
from calibration.engine.view.blocks import BenchLink
from calibration.families.trace.bleeding import to_bleed
from calibration.families.trace.words import SIDES, Bleeding

NAMES = {"high": "high side", "low": "low side"}


def bench(job: Reads) -> tuple[BenchLink, ...]:
    """Return how often each side of the regulator is bled, while it is."""
    if not isinstance(job.current, Bleeding):
        return ()
    asked = {side: to_bleed(job.ledger, job.settings, side) for side in SIDES}
    return tuple(
        link("gas.bleed_cycles", f"How often, {NAMES[side]}", given)
        for side, given in asked.items()
        if given is not None
    )
