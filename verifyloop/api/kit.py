"""Gas on the shelf, what it serves and was used with, and which sensors are to be ordered."""

from __future__ import annotations

from datetime import date, timedelta

from django.db.models import Min, Sum
from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Schema

from calibration.detector.life import LifeIn, life
from calibration.families.gas.learnt import past_of
from calibration.gas.cylinder import Channel, fits, in_words, table_of
from calibration.gas.table import LelSet
from calibration.kernel.codec import decode
from calibration.kernel.rounding import show, trimmed
from verifyloop.api.problems import PROBLEMS, Problem
from verifyloop.kit.gas import holds, needed_cylinder, site_lel_set
from verifyloop.kit.models import Cylinder
from verifyloop.plant.facts import parameters_of
from verifyloop.plant.models import Instrument
from verifyloop.work.along import learnt_of

router = Router(tags=["kit"])
#: Sensors that reach their band within this time are on the list. [days]
AHEAD_DAYS = 90
#: A cylinder with less than this is changed soon. [L]
NEARLY_EMPTY_L = 5


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


class ShelfOut(Schema):
    """All cylinders, and the table of limits that the site counts by."""

    lel_table: str
    cylinders: list[CylinderOut]


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
    weak: float
    replace: float


class PointOut(Schema):
    """One past response."""

    day: date
    response: float
    replaced: bool


SensorOut.model_rebuild()


@router.get("/cylinders", response=ShelfOut, operation_id="getCylinders")
def cylinders(request: HttpRequest) -> ShelfOut:
    """Return the shelf: what is in date, how much is left, and what each cylinder serves."""
    lel_set, today = site_lel_set(), timezone.localdate()
    detectors = list(Instrument.objects.exclude(own={}).order_by("tag"))
    return ShelfOut(
        lel_table=table_of(lel_set),
        cylinders=[
            _cylinder(c, detectors, lel_set, today) for c in Cylinder.objects.order_by("asset")
        ],
    )


def _cylinder(
    c: Cylinder, detectors: list[Instrument], lel_set: LelSet, today: date
) -> CylinderOut:
    inside = holds(c)
    remark = nearly = ""
    if c.withdrawn:
        remark = f"Withdrawn: {c.withdrawn}"
    elif c.expires_on < today:
        remark = "Past its date"
    elif inside.left_l <= 0:
        remark = "Empty, or all of it is set aside"
    elif inside.left_l < NEARLY_EMPTY_L:
        nearly = f"Nearly empty: bring the next one. {show(inside.left_l, 1)} L are left"
    flow = f"{trimmed(inside.flow_l_per_min)} L/min" if inside.flow_l_per_min else "adjustable"
    full = inside.water_l * 150
    return CylinderOut(
        asset=c.asset,
        contents=in_words(inside, lel_set),
        lot=c.lot,
        certificate=c.certificate,
        expires_on=c.expires_on,
        left=f"{show(inside.left_l, 0)} L",
        left_share=min(1.0, float(inside.left_l / full)) if full else 0.0,
        pressure=f"{show(inside.pressure_bar, 1)} bar",
        aside=f"{show(inside.set_aside_l, 1)} L" if inside.set_aside_l else "",
        regulator="demand flow" if c.demand else flow,
        remark=remark or nearly,
        usable=not remark,
        serves=[] if remark else _serves(inside, detectors, lel_set),
    )


def _serves(inside: object, detectors: list[Instrument], lel_set: LelSet) -> list[str]:
    found = []
    for i in detectors:
        for raw in i.own.get("channels", ()):
            channel = decode(Channel, raw)
            purpose = "span" if inside.parts else "zero"  # type: ignore[attr-defined]
            if fits(inside, channel, purpose, lel_set).usable:  # type: ignore[arg-type]
                found.append(i.tag)
                break
    return found


@router.get(
    "/cylinders/{asset}", response={200: UsedWithOut, PROBLEMS: Problem}, operation_id="getUsedWith"
)
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


@router.get("/sensors", response=list[SensorOut], operation_id="getSensors")
def sensors(request: HttpRequest) -> list[SensorOut]:
    """Return the sensors that are weak, spent, or will be within ninety days."""
    until = timezone.localdate() + timedelta(days=AHEAD_DAYS)
    found = []
    for i in Instrument.objects.exclude(own={}).order_by("tag"):
        for sensor in sensors_of(i):
            soon = sensor.replace_from and sensor.replace_from <= str(until)
            if sensor.status in ("weak", "replace") or soon:
                found.append(sensor)
    return sorted(found, key=lambda s: s.replace_about or "9999")


def sensors_of(i: Instrument) -> list[SensorOut]:
    """Return the life of every sensor of a detector."""
    parameters = parameters_of(i)
    weak = float(parameters["weak_percent"].value) if "weak_percent" in parameters else 60.0
    spent = float(parameters["replace_percent"].value) if "replace_percent" in parameters else 40.0
    return [_sensor(i, decode(Channel, raw), weak, spent) for raw in i.own.get("channels", ())]


def _sensor(i: Instrument, c: Channel, weak: float, spent: float) -> SensorOut:
    past = past_of(learnt_of(i), c.id)
    common = {
        "tag": i.tag,
        "description": i.description,
        "channel": c.id,
        "gas": c.label,
        "weak": weak,
        "replace": spent,
        "history": [
            PointOut(day=date.fromisoformat(p.date), response=p.response, replaced=p.replaced)
            for p in past
        ],
    }
    if not past:
        return SensorOut(
            **common,
            status="none",
            last="",
            last_on="",
            slope="",
            replace_about="",
            replace_from="",
            replace_to="",
            advice="No response is known yet: the first calibration gives one.",
            points=0,
        )
    judged = life(LifeIn(history=tuple(past), weak_percent=weak, replace_percent=spent))
    end = next((d for d in judged.dates if d.band == "replace"), None)
    return SensorOut(
        **common,
        status=judged.status,
        last=f"{show(past[-1].response, 0)} % of new",
        last_on=past[-1].date,
        slope=f"{show(judged.slope_per_month, 2, sign=True)} % a month"
        if judged.slope_per_month is not None
        else "",
        replace_about=end.expected or "" if end else "",
        replace_from=end.early_80 or "" if end else "",
        replace_to=end.late_80 or "" if end else "",
        advice=judged.advice,
        points=judged.points_used,
    )
