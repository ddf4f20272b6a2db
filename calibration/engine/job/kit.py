"""Whether a reference may be used in a job."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from decimal import Decimal

from calibration.decisions.reference import Adequacy, AdequacyIn, Candidate, adequacy, out_of_range
from calibration.decisions.tolerance import limit_at
from calibration.engine.job.events import AssetFacts, InstrumentFacts
from calibration.engine.method.method import KitRole
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import HUNDRED
from calibration.kernel.units import UNITS, convert
from calibration.signals.transfer import slope_at

#: What is read at the output; everything else is a reference of the input.
OUTPUT_QUANTITIES = ("current", "voltage", "resistance")


def quantity_of(unit: str) -> str:
    """Return what a unit measures, as references are sorted; empty for none."""
    return UNITS[unit].family if unit in UNITS else ""


def role_quantity(facts: InstrumentFacts, role: KitRole) -> str:
    """Return what the reference of a role must measure for an instrument."""
    if role.quantity == "input":
        return quantity_of(facts.input_unit)
    return quantity_of(facts.output_unit) if role.quantity == "output" else role.quantity


def scale_between(from_unit: str, to_unit: str) -> Decimal:
    """Return by what a difference in one unit is multiplied to have it in another.

    Raises
    ------
    InputError
        ``unit.unknown``, ``unit.family``.
    """
    zero = convert(Decimal(0), from_unit, to_unit)
    return convert(Decimal(1), from_unit, to_unit) - zero


def suits(facts: InstrumentFacts, asset: AssetFacts, minimum_ratio: Decimal) -> Adequacy:
    """Return the accuracy ratio of a reference at the worst end of the instrument's range.

    Raises
    ------
    InputError
        ``unit.unknown``, ``unit.family`` when the reference measures something else.
    """
    transfer = facts.transfer
    judged = []
    for end in (facts.input_lower, facts.input_upper):
        limit = limit_at(transfer, facts.tolerance, end)
        if asset.quantity in OUTPUT_QUANTITIES and asset.quantity == quantity_of(facts.output_unit):
            own = facts.output_lower if end == facts.input_lower else facts.output_upper
            at = convert(own, facts.output_unit, asset.unit)
            limit = limit * scale_between(facts.output_unit, asset.unit)
        else:
            at = convert(end, facts.input_unit, asset.unit)
            limit = limit / slope_at(transfer, end) * scale_between(facts.input_unit, asset.unit)
        result = adequacy(
            AdequacyIn(
                candidates=(Candidate(name=asset.asset, spec=asset.spec),),
                at=at,
                device_tolerance=limit,
                minimum_ratio=minimum_ratio,
            )
        )
        one = result.candidates[0]
        if out_of_range(one):
            one = replace(one, why_not=f"{one.why_not.removesuffix('.')} {asset.unit}.")
        judged.append(one)
    return min(judged, key=lambda a: (a.ok, a.ratio if a.ratio is not None else HUNDRED))


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
