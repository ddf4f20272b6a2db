"""Whether a reference may be used in a job."""

from __future__ import annotations

from datetime import date
from decimal import Decimal

from calibration.errors import InputError
from calibration.numbers import HUNDRED
from calibration.procedure.events import AssetFacts, InstrumentFacts
from calibration.procedure.ledger import Ledger
from calibration.procedure.parameters import Settings
from calibration.reference import Adequacy, AdequacyIn, Candidate, adequacy
from calibration.tolerance import limit_at
from calibration.units import pressure_factor


def suits(facts: InstrumentFacts, asset: AssetFacts, minimum_ratio: Decimal) -> Adequacy:
    """Return the accuracy ratio of a reference at the worst end of the instrument's range.

    Raises
    ------
    InputError
        ``unit.unknown`` when the reference has no pressure unit that is known here.
    """
    transfer = facts.transfer
    judged = []
    for end in (facts.input_lower, facts.input_upper):
        limit = limit_at(transfer, facts.tolerance, end)
        if asset.quantity == "current":
            at = facts.output_lower if end == facts.input_lower else facts.output_upper
        else:
            factor = pressure_factor(facts.input_unit, asset.unit)
            at = end * factor
            limit = limit * abs(transfer.input_span / transfer.output_span) * factor
        result = adequacy(
            AdequacyIn(
                candidates=(Candidate(name=asset.asset, spec=asset.spec),),
                at=at,
                device_tolerance=limit,
                minimum_ratio=minimum_ratio,
            )
        )
        judged.append(result.candidates[0])
    return min(judged, key=lambda a: (a.ok, a.ratio if a.ratio is not None else HUNDRED))


def warning_for(ledger: Ledger, settings: Settings, asset: AssetFacts) -> Adequacy:
    """Return how well a reference suits the job's instrument."""
    return suits(ledger.facts, asset, settings.number("minimum_ratio"))


def refuse_unusable(asset: AssetFacts, on: date) -> None:
    """Refuse a reference that may not be used on a day.

    Raises
    ------
    InputError
        ``reference.withdrawn``, ``reference.expired``.
    """
    if asset.withdrawn:
        raise InputError(
            "reference.withdrawn",
            "data.asset",
            f"{asset.asset} is withdrawn: {asset.withdrawn}",
            "Choose another reference.",
        )
    if date.fromisoformat(asset.due_on) < on:
        raise InputError(
            "reference.expired",
            "data.asset",
            f"{asset.asset} was due for its own calibration on {asset.due_on}.",
            "Choose a reference that is in date.",
        )
