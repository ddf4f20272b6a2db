"""References that are used up, and the list of all references with what is to be known of each."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from django.db.models import Q, QuerySet, Sum

from calibration.engine.method.family import Drawn, asset_kind
from calibration.engine.view.blocks import Row
from calibration.kernel.rounding import show
from verifyloop.kit.models import Hold, Reference, Use
from verifyloop.kit.selectors import asset_facts, refusal_of

#: A reference is changed soon when less than this share of it is left.
NEARLY_EMPTY = 0.15


@dataclass(frozen=True)
class Listed:
    """One reference in words."""

    asset: str
    description: str
    serial: str
    certificate: str
    due_on: date
    lines: tuple[Row, ...]
    left: str
    left_share: float
    remark: str
    usable: bool


def bookings(
    job: str, tag: str, drawn: Sequence[Drawn], aside: Mapping[str, float]
) -> list[Use | Hold]:
    """Return the rows of what a job used up, and may still take; none is saved."""
    names = {*(d.asset for d in drawn), *aside}
    found = Reference.objects.filter(asset__in=names, amount__isnull=False)
    kept = {r.asset: r for r in found} if names else {}
    uses = (
        Use(reference=kept[d.asset], job=job, tag=tag, at=d.at, amount=d.amount)
        for d in drawn
        if d.asset in kept
    )
    holds = (
        Hold(reference=kept[asset], job=job, amount=amount)
        for asset, amount in aside.items()
        if asset in kept and amount > 0
    )
    return [*uses, *holds]


def found(words: str = "") -> QuerySet[Reference]:
    """Return the references in which each word stands, by quantity and number."""
    every = Reference.objects.annotate(taken=Sum("uses__amount")).order_by("quantity", "asset")
    for word in words.split():
        said = Q()
        for name in ("asset", "description", "serial", "certificate", "quantity"):
            said |= Q(**{f"{name}__icontains": word})
        every = every.filter(said)
    return every


def listed(references: QuerySet[Reference], today: date) -> list[Listed]:
    """Say of references that were found what is left of them: two questions, however many."""
    held: Counter[int] = Counter()
    for hold in Hold.objects.all():
        held[hold.reference_id] += hold.amount  # type: ignore[assignment]
    return [
        _listed(r, float(getattr(r, "taken", None) or 0.0), float(held[r.pk]), today)
        for r in references
    ]


def _listed(reference: Reference, taken: float, held: float, today: date) -> Listed:
    asset, kind = asset_facts(reference), asset_kind(reference.quantity)
    refused = refusal_of(asset, today)
    left, share, remark = "", 0.0, refused
    if reference.amount:
        rest, unit = max(0.0, reference.amount - taken), kind.unit if kind is not None else ""
        share = rest / reference.amount
        left = f"{show(rest, 0)} {unit}".strip()
        if held:
            left += f", {show(held, 1)} {unit} of it set aside"
        if not refused and rest - held < NEARLY_EMPTY * reference.amount:
            remark = "Nearly empty: open the next one."
    return Listed(
        asset=reference.asset,
        description=reference.description,
        serial=reference.serial,
        certificate=reference.certificate,
        due_on=reference.due_on,
        lines=kind.lines(asset) if kind is not None else (),
        left=left,
        left_share=share,
        remark=remark,
        usable=not refused,
    )
