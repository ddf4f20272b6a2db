"""Which gases may serve an analyzer of several components."""

from __future__ import annotations

from decimal import Decimal

from calibration.engine.job.facts import AssetFacts
from calibration.engine.job.reads import Reads
from calibration.engine.method.method import KitRole
from calibration.families.mixture.causes import limit_of
from calibration.families.mixture.facts import Component, components, share_of_range, value_in
from calibration.families.mixture.words import ROLES
from calibration.kernel.errors import InputError
from calibration.kernel.rounding import show, trimmed


def _missing(job: Reads, asset: AssetFacts) -> list[Component]:
    return [c for c in components(job.ledger.facts) if not value_in(asset, c)]


def _left_in(job: Reads, asset: AssetFacts) -> list[Component]:
    """Return the components that a zero gas holds too much of to be a zero, too little to be set.

    A grade of zero air leaves so much of each; what stays below a tenth of a limit is not seen.
    """
    return [
        c
        for c in components(job.ledger.facts)
        if 10 * value_in(asset, c) > limit_of(c)
        and share_of_range(value_in(asset, c), c) < c.set_from
    ]


def _would_be_zero(c: Component, value: Decimal) -> str:
    return f"{c.label} {trimmed(value)} {c.unit} in it would be taken as zero."


def fits(job: Reads, role: KitRole, asset: AssetFacts) -> bool:
    """Tell whether a mixture holds any component at all."""
    return len(_missing(job, asset)) < len(components(job.ledger.facts))


def doubt_of(job: Reads, role: KitRole, asset: AssetFacts) -> str:
    """Return what speaks against a gas: a component it lacks, or one outside its window."""
    if role.id == ROLES["zero"]:
        return " ".join(_would_be_zero(c, value_in(asset, c)) for c in _left_in(job, asset))
    said = [f"There is no {c.gas} in it." for c in _missing(job, asset)]
    for c in components(job.ledger.facts):
        share = share_of_range(value_in(asset, c), c)
        if share and not c.set_from <= share <= c.set_to:
            said.append(
                f"{c.label}: {show(share, 0)} % of its range; it is set from "
                f"{trimmed(c.set_from)} to {trimmed(c.set_to)} %."
            )
    return " ".join(said)


def chosen_for(job: Reads, role: KitRole, asset: AssetFacts, reason: str) -> None:
    """Refuse a gas that holds nothing of use; ask for a reason where it lacks something.

    Raises
    ------
    InputError
        ``mixture.nothing_in_it``, ``mixture.past_range``, ``reference.not_adequate``.
    """
    if role.id == ROLES["zero"]:
        _asked(asset, doubt_of(job, role, asset), reason)
        return
    if not fits(job, role, asset):
        raise InputError(
            "mixture.nothing_in_it",
            "data.asset",
            f"{asset.asset} holds none of the components.",
            "Choose a mixture with the components of the analyzer.",
        )
    past = [c for c in components(job.ledger.facts) if share_of_range(value_in(asset, c), c) > 100]
    if past:
        raise InputError(
            "mixture.past_range",
            "data.asset",
            f"{asset.asset}: {past[0].label} would read past its range of "
            f"{trimmed(past[0].upper)} {past[0].unit}.",
            "Choose a weaker mixture, or another range.",
        )
    _asked(asset, doubt_of(job, role, asset), reason)


def _asked(asset: AssetFacts, against: str, reason: str) -> None:
    if against and not reason.strip():
        raise InputError(
            "reference.not_adequate",
            "data.reason",
            f"{asset.asset}: {against}",
            "Choose another one, or say why this one is used.",
        )
