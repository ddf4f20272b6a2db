"""What a job knows of a load-cell indicator."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.engine.job.ledger import Ledger
from calibration.families.shared.weights import ROLE
from calibration.kernel.codec import about, read
from calibration.kernel.numbers import parse_decimal


@dataclass(frozen=True, kw_only=True)
class Indicator:
    """What is particular to an indicator and its cell."""

    indicator_step: Decimal = about("step of the display", unit="kg")
    cell_kg: Decimal = about("rated load of the cell", unit="kg")
    sensitivity_mv_per_v: Decimal = about("sensitivity of the cell", unit="mV/V")
    never_adjusted: bool = about("the site only checks it", default=False)


def indicator(facts: InstrumentFacts) -> Indicator:
    """Return what is particular to the indicator."""
    return read(Indicator, facts.own, "instrument")


def weights(ledger: Ledger) -> AssetFacts | None:
    """Return the set of weights of the job; none while none is chosen."""
    chosen = ledger.kit.get(ROLE)
    return chosen.asset if chosen is not None else None


def noted(ledger: Ledger, step: str, field: str) -> Decimal | None:
    """Return a number written down in a step; none where it was not."""
    entry = ledger.recorded.get((step, field))
    return None if entry is None else parse_decimal(entry[0], f"data.{field}")


def factor_on_record(facts: InstrumentFacts) -> Decimal | None:
    """Return the factor on record; none where there is none."""
    value = facts.setting("cell_factor")
    return parse_decimal(value, "instrument.cell_factor") if value else None
