"""Calculators of the Bench that the steps of an analyzer of several components lead to."""

from __future__ import annotations

from calibration.engine.job.reads import Reads
from calibration.engine.view.bench_links import link
from calibration.engine.view.blocks import BenchLink
from calibration.families.mixture.words import ROLES, Together
from calibration.families.shared.contents import holds
from calibration.gas.table import GASES

UNITS = {"% vol": "percent_volume", "ppm": "ppm"}


def bench(job: Reads) -> tuple[BenchLink, ...]:
    """Return what the mixture comes to in other units, while it is on."""
    chosen = job.ledger.kit.get(ROLES["span"])
    if chosen is None or not isinstance(job.current, Together):
        return ()
    own = holds(chosen.asset)
    given = {
        "components": [
            {"gas": part.gas, "value": part.value, "unit": UNITS[part.unit]}
            for part in own.parts
            if part.gas in GASES and part.unit in UNITS
        ],
        "balance": own.balance,
    }
    return (link("gas.mixture", "What the mixture comes to", given),)
