"""What a job knows of a tank or hopper on load cells."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.engine.job.ledger import Ledger
from calibration.families.shared.weights import ROLE
from calibration.kernel.codec import about, read
from calibration.kernel.numbers import parse_decimal

#: Gravity under which the sensitivity of cells is said. [m/s²] ISO 80000-3.
STANDARD_GRAVITY = Decimal("9.80665")


@dataclass(frozen=True, kw_only=True)
class LoadCells:
    """What is particular to a vessel on load cells."""

    cells: int = about("number of supports, cells or dummies")
    rated_kg: Decimal = about("rated load of each", unit="kg")
    sensitivity_mv_per_v: Decimal = about("mean sensitivity of the cells", unit="mV/V")
    dead_load_kg: Decimal = about("empty vessel", unit="kg")
    step_kg: Decimal = about("step of the display", unit="kg")
    excitation_v: Decimal = about("excitation", unit="V", default=Decimal(10))
    wires: Literal[4, 6] = about("wires to the electronics", default=6)
    gravity: Decimal = about("local gravity", unit="m/s²", default=Decimal("9.81"))
    corner_percent: Decimal = about(
        "corners may differ by", unit="% of the load", default=Decimal("0.3")
    )
    least_percent: Decimal = about(
        "least weight that the electronics accept", unit="% of the cells", default=Decimal(5)
    )


def vessel(facts: InstrumentFacts) -> LoadCells:
    """Return what is particular to the vessel."""
    return read(LoadCells, facts.own, "instrument")


def weights(ledger: Ledger) -> AssetFacts | None:
    """Return the set of weights of the job; none while none is chosen."""
    chosen = ledger.kit.get(ROLE)
    return chosen.asset if chosen is not None else None


def noted(ledger: Ledger, step: str, field: str) -> Decimal | None:
    """Return a number written down in a step; none where it was not."""
    entry = ledger.recorded.get((step, field))
    return None if entry is None else parse_decimal(entry[0], f"data.{field}")
