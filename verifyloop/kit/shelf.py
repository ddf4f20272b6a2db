"""The gas shelf: what is in date, how much is left, and what each cylinder serves."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from calibration.gas import cylinder as core
from calibration.gas.cylinder import Channel, fits, in_words
from calibration.gas.table import LelSet
from calibration.kernel.codec import decode
from calibration.kernel.rounding import show, trimmed
from verifyloop.kit.gas import Amounts, amounts, holds, site_lel_set
from verifyloop.kit.models import Cylinder
from verifyloop.plant.models import Instrument

#: A cylinder with less than this is changed soon. [L]
NEARLY_EMPTY_L = 5


@dataclass(frozen=True)
class OnShelf:
    """One cylinder in words."""

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


def on_shelf(today: date) -> list[OnShelf]:
    """Return every cylinder; the database is asked a fixed number of times."""
    lel_set, known = site_lel_set(), amounts()
    detectors = list(Instrument.objects.exclude(own={}).order_by("tag"))
    return [
        _cylinder(c, detectors, lel_set, today, known) for c in Cylinder.objects.order_by("asset")
    ]


def _cylinder(
    c: Cylinder,
    detectors: Sequence[Instrument],
    lel_set: LelSet,
    today: date,
    known: Amounts,
) -> OnShelf:
    inside = holds(c, known=known)
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
    return OnShelf(
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


def _serves(inside: core.Cylinder, detectors: Sequence[Instrument], lel_set: LelSet) -> list[str]:
    found = []
    for i in detectors:
        for raw in i.own.get("channels", ()):
            channel = decode(Channel, raw)
            purpose = "span" if inside.parts else "zero"
            if fits(inside, channel, purpose, lel_set).usable:
                found.append(i.tag)
                break
    return found
