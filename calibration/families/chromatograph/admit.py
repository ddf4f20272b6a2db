"""Which gas and which trap may serve a chromatograph."""

from __future__ import annotations

from datetime import date
from decimal import Decimal

from calibration.engine.job.facts import AssetFacts
from calibration.engine.job.reads import Reads
from calibration.engine.method.method import KitRole
from calibration.families.chromatograph.facts import peaks, syringe, trap
from calibration.families.shared.contents import value_of
from calibration.kernel.errors import InputError
from calibration.kernel.rounding import trimmed


def gas_doubt(job: Reads, asset: AssetFacts) -> str:
    """Return which components are not in a gas; empty where all are."""
    lacking = [p.gas for p in peaks(job.ledger.facts) if not value_of(asset, p.gas, "ppm")]
    return f"There is no {' and no '.join(lacking)} in it: that is not judged." if lacking else ""


def gas_chosen(job: Reads, role: KitRole, asset: AssetFacts, reason: str) -> None:
    """Refuse a gas past the range of a component; ask for a reason where it lacks one.

    Raises
    ------
    InputError
        ``gas.past_range``, ``gas.nothing_in_it``, ``reference.not_adequate``.
    """
    own = peaks(job.ledger.facts)
    values = {p.label: (value_of(asset, p.gas, "ppm"), p.upper) for p in own}
    if not any(value for value, _ in values.values()):
        raise InputError(
            "gas.nothing_in_it",
            "data.asset",
            f"{asset.asset} holds none of the components.",
            "Choose a gas with the components of the device.",
        )
    past = [label for label, (value, upper) in values.items() if value > upper]
    if past:
        value, upper = values[past[0]]
        raise InputError(
            "gas.past_range",
            "data.asset",
            f"{asset.asset}: {past[0]} {trimmed(value)} ppm is past its range of "
            f"{trimmed(upper)} ppm.",
            "Choose a weaker gas.",
        )
    _asked(asset, gas_doubt(job, asset), reason)


def trap_doubt(asset: AssetFacts, on: date) -> str:
    """Return what speaks against a trap: it was open for longer than it serves."""
    own = trap(asset)
    return _served("Opened", own.opened_on, own.days, on)


def syringe_doubt(asset: AssetFacts, on: date) -> str:
    """Return what speaks against a syringe: its seal is old, and an old seal leaks."""
    own = syringe(asset)
    return _served("Seal changed", own.seal_on, own.days, on)


def _served(what: str, since: str, days: Decimal, on: date) -> str:
    if not since or (on - date.fromisoformat(since)).days <= days:
        return ""
    return f"{what} on {since}: it serves for {trimmed(days)} days."


def trap_chosen(job: Reads, role: KitRole, asset: AssetFacts, reason: str) -> None:
    """Ask for a reason where a trap is spent.

    Raises
    ------
    InputError
        ``reference.not_adequate``.
    """
    _asked(asset, trap_doubt(asset, job.now.date()), reason)


def syringe_chosen(job: Reads, role: KitRole, asset: AssetFacts, reason: str) -> None:
    """Ask for a reason where the seal of a syringe is old.

    Raises
    ------
    InputError
        ``reference.not_adequate``.
    """
    _asked(asset, syringe_doubt(asset, job.now.date()), reason)


def _asked(asset: AssetFacts, against: str, reason: str) -> None:
    if against and not reason.strip():
        raise InputError(
            "reference.not_adequate",
            "data.reason",
            f"{asset.asset}: {against}",
            "Choose another one, or say why this one is used.",
        )


def to_close(job: Reads) -> tuple[str, ...]:
    """Return what stands before a signature: no two injections agreed, so nothing was judged."""
    ledger = job.ledger
    read = any(ledger.readings[run.id] for run in ledger.method.runs_of("found"))
    if ledger.ended is not None or read or not ledger.kit:
        return ()
    return ("No two injections agree: end the job here, as failed or not done.",)
