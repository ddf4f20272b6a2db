"""Which references there are and what they are good for."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from calibration.decisions.reference import more_accurate, out_of_range
from calibration.engine.job.events import AssetFacts
from calibration.engine.job.job import Job as CoreJob
from calibration.engine.job.kit import refuse_unusable
from calibration.kernel.codec import decode
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import exact
from verifyloop.errors import NotFound
from verifyloop.kit.models import Cylinder, Reference


@dataclass(frozen=True)
class Option:
    """A reference offered for a role, with what speaks against it."""

    asset: str
    description: str
    due_on: str
    ratio: str
    usable: bool
    adequate: bool
    remark: str


def asset_facts(reference: Reference) -> AssetFacts:
    """Return a reference as it is now, for the record of a job."""
    return decode(
        AssetFacts,
        {
            "asset": reference.asset,
            "description": reference.description,
            "serial": reference.serial,
            "quantity": reference.quantity,
            "unit": reference.unit,
            "spec": reference.spec,
            "certificate": reference.certificate,
            "issued_by": reference.issued_by,
            "calibrated_on": str(reference.calibrated_on),
            "due_on": str(reference.due_on),
            "withdrawn": reference.withdrawn,
            **reference.own,
        },
    )


def options_of_kind(job: CoreJob, quantity: str, role_id: str, today: date) -> list[Option]:
    """Return the references of a kind that a family made its own, the best usable first."""
    kind = job.family.assets[quantity]
    role = next((r for s in job.ledger.method.steps for r in job.roles(s) if r.id == role_id), None)
    found = []
    for reference in Reference.objects.filter(quantity=quantity).order_by("due_on", "asset"):
        asset = asset_facts(reference)
        try:
            if role is None or not kind.fits(job, role, asset):
                continue
            with exact():
                detail, ratio, remark = kind.words(job, role, asset)
            refused = refusal_of(asset, today)
        except InputError as wrong:
            # One bad thing in the kit is named; it stops nobody from taking another.
            detail, ratio, remark = reference.description, "", ""
            refused = f"Its record is wrong: {wrong.message} {wrong.remedy}"
        found.append(
            Option(
                asset=reference.asset,
                description=detail,
                due_on=str(reference.due_on),
                ratio=ratio,
                usable=not refused,
                adequate=not remark,
                remark=refused or remark,
            )
        )
    found.sort(key=lambda o: (not o.usable, not o.adequate))
    return found


def refusal_of(asset: AssetFacts, today: date) -> str:
    """Return why a reference may not be used on a day; empty where it may."""
    try:
        refuse_unusable(asset, today)
    except InputError as refusal:
        return refusal.message
    return ""


def reference_by_asset(asset: str) -> Reference:
    """Return one reference."""
    found = Reference.objects.filter(asset=asset).first()
    if found is None:
        raise NotFound(
            "reference.unknown",
            f"There is no reference '{asset[:40]}'.",
            "Choose one from the list.",
            "data.asset",
        )
    return found


def options(job: CoreJob, quantity: str, today: date) -> list[Option]:
    """Return all references for a quantity, the best usable first."""
    judged = [
        _option(job, reference, today)
        for reference in Reference.objects.filter(quantity=quantity).order_by("asset")
    ]
    judged.sort(key=lambda pair: (not pair[0].usable, not pair[0].adequate, -pair[1]))
    return [option for option, _ in judged]


def _option(job: CoreJob, reference: Reference, today: date) -> tuple[Option, Decimal]:
    asset = asset_facts(reference)
    with exact():
        judged = job.warning_for(asset)
    refused = refusal_of(asset, today)
    usable, remark = not refused, refused or judged.why_not
    if out_of_range(judged):
        usable = False
    ratio = judged.ratio if judged.ratio is not None else Decimal(0)
    return Option(
        asset=reference.asset,
        description=reference.description,
        due_on=str(reference.due_on),
        ratio=more_accurate(judged.ratio),
        usable=usable,
        adequate=judged.ok,
        remark=remark,
    ), ratio


def in_kit(word: str) -> bool:
    """Tell whether a word stands in the number of anything in the kit, withdrawn or not."""
    named = [m.objects.filter(asset__icontains=word) for m in (Reference, Cylinder)]
    return any(found.exists() for found in named)
