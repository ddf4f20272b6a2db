"""Gas on the shelf, all other references, and which sensors are to be ordered."""

from __future__ import annotations

from datetime import date

from django.db.models import Min, Sum
from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Schema

from calibration.gas.cylinder import in_words, table_of
from calibration.kernel.rounding import show
from verifyloop.api.paging import PAGE, Page, PerPage, Words, place
from verifyloop.kit import used
from verifyloop.kit.gas import holds, needed_cylinder, site_lel_set
from verifyloop.kit.models import Cylinder
from verifyloop.kit.shelf import in_full, on_shelf
from verifyloop.work.sensors import to_order

router = Router(tags=["kit"])


class CylinderOut(Schema):
    """One cylinder."""

    asset: str
    contents: str
    lot: str
    certificate: str
    expires_on: date
    left: str
    left_share: float
    pressure: str
    aside: str
    regulator: str
    remark: str
    usable: bool
    serves: list[str]
    serves_more: int


class Paged(Schema):
    """A page of a list."""

    total: int
    page: int
    pages: int


class ShelfOut(Paged):
    """Cylinders, and the table of limits that the site counts by."""

    lel_table: str
    cylinders: list[CylinderOut]


class RowOut(Schema):
    """A name and what is said of it."""

    label: str
    value: str
    strong: bool


class ReferenceOut(Schema):
    """One reference, with what its kind adds."""

    asset: str
    description: str
    serial: str
    certificate: str
    due_on: date
    lines: list[RowOut]
    left: str
    left_share: float
    remark: str
    usable: bool


class ReferencesOut(Paged):
    """References, by quantity and number."""

    references: list[ReferenceOut]


class UseOut(Schema):
    """What one job drew from a cylinder."""

    job: str
    tag: str
    at: str
    litres: str


class UsedWithOut(Schema):
    """Everything that was ever checked with a cylinder, and with others of its lot."""

    asset: str
    lot: str
    contents: str
    total: str
    uses: list[UseOut]
    same_lot: list[str]


class SensorOut(Schema):
    """One sensor and how long it will last."""

    tag: str
    description: str
    channel: str
    gas: str
    status: str
    last: str
    last_on: str
    slope: str
    replace_about: str
    replace_from: str
    replace_to: str
    advice: str
    points: int
    history: list[PointOut]
    order_by: str
    course: list[CourseOut]
    weak: float
    replace: float


class CourseOut(Schema):
    """What the trend of a sensor expects on a day, with its 80 % limits."""

    day: date
    expected: float
    low: float
    high: float


class PointOut(Schema):
    """One past response."""

    day: date
    response: float
    replaced: bool


class SensorsOut(Paged):
    """Sensors, the most urgent first."""

    sensors: list[SensorOut]


SensorOut.model_rebuild()


@router.get("/cylinders", response=ShelfOut, operation_id="getCylinders")
def cylinders(
    request: HttpRequest, q: Words = "", page: Page = 1, per_page: PerPage = PAGE
) -> ShelfOut:
    """Return cylinders by words: what is in date, how much is left, and what each serves."""
    found = on_shelf(q)
    page, pages, here = place(len(found), page, per_page)
    return ShelfOut(
        total=len(found),
        page=page,
        pages=pages,
        lel_table=table_of(site_lel_set()),
        cylinders=[CylinderOut(**vars(c)) for c in in_full(found[here], timezone.localdate())],
    )


@router.get("/cylinders/{asset}", response=UsedWithOut, operation_id="getUsedWith")
def used_with(request: HttpRequest, asset: str) -> UsedWithOut:
    """Return what was checked with a cylinder, for a lot that is recalled."""
    c = needed_cylinder(asset)
    uses = list(
        c.uses.values("job", "tag").annotate(at=Min("at"), litres=Sum("litres")).order_by("-at")
    )
    return UsedWithOut(
        asset=c.asset,
        lot=c.lot,
        contents=in_words(holds(c), site_lel_set()),
        total=f"{show(sum(u['litres'] for u in uses), 1)} L",
        uses=[
            UseOut(
                job=u["job"],
                tag=u["tag"],
                at=u["at"].isoformat(),
                litres=f"{show(u['litres'], 2)} L",
            )
            for u in uses[:200]
        ],
        same_lot=[o.asset for o in Cylinder.objects.filter(lot=c.lot).exclude(pk=c.pk) if c.lot],
    )


@router.get("/references", response=ReferencesOut, operation_id="getReferences")
def references(
    request: HttpRequest, q: Words = "", page: Page = 1, per_page: PerPage = PAGE
) -> ReferencesOut:
    """Return references by words: until when each may be used, and what is left of it."""
    every = used.found(q)
    total = every.count()
    page, pages, here = place(total, page, per_page)
    shown = [ReferenceOut.from_orm(r) for r in used.listed(every[here], timezone.localdate())]
    return ReferencesOut(total=total, page=page, pages=pages, references=shown)


@router.get("/sensors", response=SensorsOut, operation_id="getSensors")
def sensors(request: HttpRequest, page: Page = 1, per_page: PerPage = PAGE) -> SensorsOut:
    """Return the sensors that are weak, spent, or will be within ninety days."""
    every = to_order(timezone.localdate())
    page, pages, here = place(len(every), page, per_page)
    shown = [SensorOut.from_orm(s) for s in every[here]]
    return SensorsOut(total=len(every), page=page, pages=pages, sensors=shown)
