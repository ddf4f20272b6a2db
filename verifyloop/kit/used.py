"""References that are used up, and the list of all references with what is to be known of each."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from django.db.models import Sum

from calibration.engine.family import Drawn, asset_kind
from calibration.engine.view.blocks import Row
from calibration.kernel.rounding import show
from verifyloop.kit.models import Reference, Use
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


def book(job: str, tag: str, drawn: Sequence[Drawn]) -> None:
    """Write down anew what a job took from references that are used up."""
    Use.objects.filter(job=job).delete()
    kept = {
        r.asset: r
        for r in Reference.objects.filter(asset__in={d.asset for d in drawn}, amount__isnull=False)
    }
    Use.objects.bulk_create(
        Use(reference=kept[d.asset], job=job, tag=tag, at=d.at, amount=d.amount)
        for d in drawn
        if d.asset in kept
    )


def listed(today: date) -> list[Listed]:
    """Return every reference; the database is asked once, however many there are."""
    every = Reference.objects.annotate(taken=Sum("uses__amount")).order_by("quantity", "asset")
    return [_listed(r, float(r.taken or 0.0), today) for r in every]


def _listed(reference: Reference, taken: float, today: date) -> Listed:
    asset, kind = asset_facts(reference), asset_kind(reference.quantity)
    refused = refusal_of(asset, today)
    left, share, remark = "", 0.0, refused
    if reference.amount:
        rest = max(0.0, reference.amount - taken)
        share = rest / reference.amount
        left = f"{show(rest, 0)} {kind.unit if kind is not None else ''}".strip()
        if not refused and share < NEARLY_EMPTY:
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
