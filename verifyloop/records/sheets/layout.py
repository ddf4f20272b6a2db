"""Pairs, tables and times, as every sheet of a certificate has them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Flowable, Paragraph, Table, TableStyle

from verifyloop.paper import INK, LINE, MUTED, clean, plain, style
from verifyloop.records.picture import OUT

WIDTH = A4[0] - 36 * mm


@dataclass(frozen=True)
class Looks:
    """The styles of a paper, and the zone whose days it tells."""

    head: ParagraphStyle
    normal: ParagraphStyle
    zone: ZoneInfo

    def when(self, text: str) -> str:
        """Return a moment as the clock at the site showed it."""
        return f"{self._local(text):%Y-%m-%d %H:%M}" if text else ""

    def day(self, text: str) -> str:
        """Return the day at the site of a moment."""
        return f"{self._local(text):%Y-%m-%d}" if text else ""

    def _local(self, text: str) -> datetime:
        return datetime.fromisoformat(text).astimezone(self.zone)


def looks(zone: str) -> Looks:
    """Return the styles, with the time zone of a paper; UTC where it is none that is known."""
    try:
        known = ZoneInfo(zone or "UTC")
    except (ZoneInfoNotFoundError, ValueError):
        known = ZoneInfo("UTC")
    return Looks(
        style("head", 11.5, "Bold", spaceBefore=9, spaceAfter=3, keepWithNext=1),
        style("n", 9),
        known,
    )


class Numbered(Canvas):
    """Writes "page n of m" and the end mark once it knows how many pages there are."""

    def __init__(
        self, *args: Any, foot: tuple[str, str], end: str = "End of the certificate", **kwargs: Any
    ) -> None:
        super().__init__(*args, **kwargs)
        self.foot, self.end = foot, end
        self.pages: list[dict[str, Any]] = []

    def showPage(self) -> None:
        """Keep the page until all are there."""
        self.pages.append(dict(self.__dict__))
        self._startPage()  # type: ignore[attr-defined]

    def save(self) -> None:
        """Write every page with its foot."""
        for page in self.pages:
            self.__dict__.update(page)
            self._foot(len(self.pages))
            super().showPage()
        super().save()

    def _foot(self, total: int) -> None:
        seal, number = self.foot
        here: int = self._pageNumber  # type: ignore[attr-defined]
        self.setFont("Mono", 6.5)
        self.setFillColor(MUTED)
        self.drawString(18 * mm, 11 * mm, seal)
        self.setFont("Text", 8)
        said = f"{number}, page {here} of {total}"
        self.drawRightString(A4[0] - 18 * mm, 11 * mm, said)
        if here == total:
            self.drawCentredString(A4[0] / 2, 15 * mm, self.end)


def paragraphs(lines: Sequence[str], look: ParagraphStyle) -> list[Flowable]:
    """Return lines of text, each as a paragraph."""
    return [Paragraph(clean(line), look) for line in lines]


def pairs(said: Sequence[tuple[str, str]]) -> Table:
    """Return what has a name and a value, two beside each other."""
    label, value = style("l", 8, textColor=MUTED), style("v", 9)
    cells = [[Paragraph(clean(a), label), Paragraph(clean(b), value)] for a, b in said]
    rows = []
    for k in range(0, len(cells), 2):
        second = cells[k + 1] if k + 1 < len(cells) else ["", ""]
        rows.append([*cells[k], *second])
    table = Table(
        rows or [[""]], colWidths=[26 * mm, WIDTH / 2 - 26 * mm] * 2, hAlign="LEFT", splitInRow=1
    )
    table.setStyle(
        TableStyle(
            [
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
                ("LEFTPADDING", (0, 0), (-1, -1), 0),
                ("TOPPADDING", (0, 0), (-1, -1), 1.5),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 1.5),
            ]
        )
    )
    return table


def table(
    header: Sequence[str],
    rows: Sequence[Sequence[str]],
    widths: Sequence[float],
    numbers_from: int | None = None,
) -> Table:
    """Return a table; from a column on it is of figures."""
    small, size = style("t", 8), 8 if len(header) < 10 else 7
    body = [
        [
            plain(cell, "Mono") if numbers_from is not None else Paragraph(clean(cell), small)
            for cell in row
        ]
        for row in rows
    ]
    total = sum(widths)
    made = Table(
        [["\n".join(plain(line) for line in h.split("\n")) for h in header], *body],
        colWidths=[w / total * WIDTH for w in widths],
        repeatRows=1,
        hAlign="LEFT",
        splitInRow=1,
    )
    look = [
        ("FONT", (0, 0), (-1, 0), "Text", 8),
        ("TEXTCOLOR", (0, 0), (-1, 0), MUTED),
        ("FONT", (0, 1), (-1, -1), "Mono" if numbers_from is not None else "Text", size),
        ("LINEBELOW", (0, 0), (-1, 0), 0.6, INK),
        ("LINEBELOW", (0, 1), (-1, -1), 0.25, LINE),
        ("TOPPADDING", (0, 0), (-1, -1), 1.6),
        ("BOTTOMPADDING", (0, 0), (-1, -1), 1.6),
        ("LEFTPADDING", (0, 0), (0, -1), 0),
        ("VALIGN", (0, 0), (-1, -1), "TOP"),
    ]
    if numbers_from is not None:
        look.append(("ALIGN", (numbers_from, 0), (-1, -1), "RIGHT"))
        for k, row in enumerate(rows, start=1):
            if "OUTSIDE" in row:
                look.append(("TEXTCOLOR", (-5, k), (-1, k), OUT))
    made.setStyle(TableStyle(look))  # type: ignore[arg-type]
    return made
