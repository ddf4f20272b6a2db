"""Photos behind a paper: beside the record, and not part of what is sealed."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.lib.utils import ImageReader
from reportlab.platypus import Flowable, Image, KeepTogether, PageBreak, Paragraph, Spacer

from verifyloop.paper import MUTED, clean, style
from verifyloop.records.sheets.layout import Looks

WIDE, HIGH = A4[0] - 36 * mm, 110 * mm
BESIDE = (
    "These photos lie beside the record. They are not part of what is sealed: each is named by the "
    "SHA-256 of its content, and the register knows who put it there."
)


@dataclass(frozen=True)
class Photo:
    """A photo as it is shown behind a paper."""

    name: str
    note: str
    by: str
    at: datetime
    digest: str
    #: empty where the disk has another content than was kept
    content: bytes


def photos(every: Sequence[Photo], looks: Looks) -> list[Flowable]:
    """Return a sheet with the photos; nothing where there is none."""
    if not every:
        return []
    told = style("photo", 9, textColor=MUTED)
    story: list[Flowable] = [PageBreak(), Paragraph("Photos", looks.head), Paragraph(BESIDE, told)]
    for one in every:
        said = f"{one.name}: {one.note}" if one.note else one.name
        put = f"put there by {one.by}, {looks.when(one.at.isoformat())}; SHA-256 {one.digest}"
        shown: list[Flowable] = [_image(one.content)] if one.content else []
        lost = [] if one.content else [Paragraph("It is not as it was kept.", looks.normal)]
        lines = [Paragraph(clean(said), looks.normal), Paragraph(clean(put), told)]
        story += [Spacer(1, 6), KeepTogether([*shown, *lost, *lines])]
    return story


def _image(content: bytes) -> Image:
    wide, high = ImageReader(io.BytesIO(content)).getSize()
    share = min(WIDE / wide, HIGH / high, 1.0)
    return Image(io.BytesIO(content), wide * share, high * share, hAlign="LEFT")
