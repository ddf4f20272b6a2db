"""Labels with a QR code for instruments and kit: scanned, each opens its page."""

from __future__ import annotations

import io
from collections.abc import Iterable
from dataclasses import dataclass
from itertools import groupby

import segno
from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from verifyloop.paper import load_fonts, plain

#: Three beside each other, eight below each other, as sheets of 70 x 37 mm are sold everywhere.
COLUMNS, ROWS, WIDE, HIGH = 3, 8, 70 * mm, 37 * mm
CODE, MARGIN = 29 * mm, 4 * mm
#: Clear cells around a code.
QUIET = 4


@dataclass(frozen=True)
class Label:
    """What stands on a label, and the address that its code holds."""

    name: str
    text: str
    more: str
    address: str


def label_sheet(labels: Iterable[Label]) -> bytes:
    """Return sheets of labels as PDF, in the order given: as many pages as it takes."""
    load_fonts()
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=A4, invariant=1)
    top = (A4[1] - ROWS * HIGH) / 2
    for n, one in enumerate(labels):
        place = n % (COLUMNS * ROWS)
        if n and not place:
            canvas.showPage()
        x = (place % COLUMNS) * WIDE
        y = A4[1] - top - (place // COLUMNS + 1) * HIGH
        _label(canvas, one, x, y)
    canvas.save()
    return out.getvalue()


def _label(canvas: Canvas, one: Label, x: float, y: float) -> None:
    if one.address:
        _code(canvas, one, x, y)
    at = x + MARGIN + CODE + 2 * mm
    room = x + WIDE - MARGIN - at
    lines = (("Bold", 13, one.name), ("Text", 7.5, one.text), ("Text", 7.5, one.more))
    height = y + HIGH - 10 * mm
    for font, size, said in lines:
        for line in _folded(canvas, plain(said, font), font, size, room)[:3]:
            canvas.setFont(font, size)
            canvas.drawString(at, height, line)
            height -= size * 1.25


def _code(canvas: Canvas, one: Label, x: float, y: float) -> None:
    """Draw a QR code (ISO/IEC 18004): dark cells that touch in a row are one stroke."""
    rows = segno.make_qr(one.address, error="m").matrix
    cell = CODE / (len(rows) + 2 * QUIET)
    path = canvas.beginPath()
    for down, row in enumerate(rows):
        top = y + MARGIN + CODE - (QUIET + down + 1) * cell
        across = 0
        for dark, cells in groupby(row):
            wide = len(list(cells))
            if dark:
                path.rect(x + MARGIN + (QUIET + across) * cell, top, wide * cell, cell)
            across += wide
    canvas.drawPath(path, stroke=0, fill=1)


def _folded(canvas: Canvas, said: str, font: str, size: float, room: float) -> list[str]:
    """Return text in lines that fit."""
    lines: list[str] = [""]
    for word in said.split():
        wider = f"{lines[-1]} {word}".strip()
        if lines[-1] and canvas.stringWidth(wider, font, size) > room:
            lines.append(word)
        else:
            lines[-1] = wider
    return [line for line in lines if line]
