"""The gas shelf: what is in date, how much is left, and what each cylinder serves."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from calibration.engine.job.sealing import canonical
from calibration.gas import cylinder as core
from calibration.gas.cylinder import Channel, Purpose, fits, in_words
from calibration.gas.table import LelSet
from calibration.kernel.codec import decode
from calibration.kernel.rounding import show, trimmed
from verifyloop.kit.gas import Amounts, amounts, holds, site_lel_set
from verifyloop.kit.models import Cylinder
from verifyloop.plant.models import Instrument

#: A cylinder with less than this is changed soon. [L]
NEARLY_EMPTY_L = 5
#: So many of those that it serves are named.
NAMED = 12


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
    serves_more: int


def on_shelf(words: str = "") -> list[Cylinder]:
    """Return the cylinders in which each word stands: number, contents, lot or certificate."""
    every, wanted = list(Cylinder.objects.order_by("asset")), words.casefold().split()
    if not wanted:
        return every
    lel_set, known = site_lel_set(), amounts()

    def said(c: Cylinder) -> str:
        inside = in_words(holds(c, known=known), lel_set)
        return f"{c.asset} {inside} {c.description} {c.lot} {c.certificate}".casefold()

    return [c for c in every if all(w in said(c) for w in wanted)]


def in_full(cylinders: Sequence[Cylinder], today: date) -> list[OnShelf]:
    """Say of cylinders what is in them and whom they serve, in a fixed number of questions."""
    if not cylinders:
        return []
    lel_set, known, channels = site_lel_set(), amounts(), _channels()
    return [_cylinder(c, channels, lel_set, today, known) for c in cylinders]


def _channels() -> list[tuple[Channel, list[str]]]:
    """Return every kind of channel that there is, each with the tags of those that have it."""
    tags: dict[str, list[str]] = {}
    rows = (
        Instrument.objects.filter(own__has_key="channels").order_by("tag").values_list("tag", "own")
    )
    for tag, own in rows:
        for raw in own.get("channels", ()):
            tags.setdefault(canonical(raw), []).append(tag)
    return [(decode(Channel, json.loads(raw)), found) for raw, found in tags.items()]


def _cylinder(
    c: Cylinder,
    channels: Sequence[tuple[Channel, list[str]]],
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
    serves = [] if remark else _serves(inside, channels, lel_set)
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
        serves=serves[:NAMED],
        serves_more=max(0, len(serves) - NAMED),
    )


def _serves(
    inside: core.Cylinder, channels: Sequence[tuple[Channel, list[str]]], lel_set: LelSet
) -> list[str]:
    purpose: Purpose = "span" if inside.parts else "zero"
    fit = [tags for channel, tags in channels if fits(inside, channel, purpose, lel_set).usable]
    return sorted({tag for tags in fit for tag in tags})
