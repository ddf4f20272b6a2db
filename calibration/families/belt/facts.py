"""What a job knows of a belt scale."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.engine.job.ledger import Ledger
from calibration.kernel.codec import about, read
from calibration.kernel.numbers import parse_decimal
from calibration.measuring.belt import RevolutionsIn, RevolutionsOut, revolutions

#: Fewer revolutions show no scatter.
LEAST = 3


@dataclass(frozen=True, kw_only=True)
class BeltScale:
    """What is particular to a belt scale."""

    belt_length_m: Decimal = about("length of the belt", unit="m")
    belt_speed_m_s: Decimal = about("speed of the belt", unit="m/s")
    weigh_length_m: Decimal = about("weigh length", unit="m")
    test_weight_kg: Decimal = about("weights that are hung", unit="kg")
    target_minutes: Decimal = about("a run lasts about", unit="min", default=Decimal(3))
    zero_count: Decimal | None = about("last zero, counts a revolution", default=None)
    span_count: Decimal | None = about(
        "last span with weights, counts a revolution above zero", default=None
    )
    span_acts: Literal["multiplies", "divides"] = about(
        "how the span number of the integrator acts", default="multiplies"
    )
    usual_spread: Decimal | None = about(
        "usual range of the revolutions of a run, where it is known", unit="counts", default=None
    )
    zero_limit_percent: Decimal = about(
        "zero deviation accepted", unit="% of span", default=Decimal("0.25")
    )
    span_limit_percent: Decimal = about("span deviation accepted", unit="%", default=Decimal("0.5"))
    material_limit_percent: Decimal = about(
        "error accepted with material", unit="%", default=Decimal(1)
    )


#: What a truck scale is kept as.
TRUCK_SCALE = "truck_scale"


@dataclass(frozen=True, kw_only=True)
class TruckScale:
    """What is particular to a truck scale."""

    uncertainty_kg: Decimal = about("expanded uncertainty of one weighing", unit="kg")


def truck_scale(asset: AssetFacts) -> TruckScale:
    """Return what is particular to a truck scale."""
    return read(TruckScale, asset.own, "asset")


def belt(facts: InstrumentFacts) -> BeltScale:
    """Return what is particular to the scale."""
    return read(BeltScale, facts.own, "instrument")


def turns(facts: InstrumentFacts) -> RevolutionsOut:
    """Return the whole revolutions of a run: near the target minutes, and at least three."""
    own = belt(facts)
    asked = RevolutionsIn(
        length_m=own.belt_length_m,
        speed_m_s=own.belt_speed_m_s,
        target_minutes=own.target_minutes,
    )
    found = revolutions(asked)
    if found.revolutions >= LEAST:
        return found
    least = LEAST * found.one_revolution_s / 60
    return revolutions(RevolutionsIn(**{**vars(asked), "target_minutes": least}))


def load_t_h(facts: InstrumentFacts) -> Decimal:
    """Return the load that hung weights stand for: 3.6 · v · W / L. [t/h]"""
    own = belt(facts)
    return Decimal("3.6") * own.belt_speed_m_s * own.test_weight_kg / own.weigh_length_m


def noted(ledger: Ledger, step: str, field: str) -> Decimal | None:
    """Return a number written down in a step; none where it was not."""
    entry = ledger.recorded.get((step, field))
    return None if entry is None else parse_decimal(entry[0], f"data.{field}")
