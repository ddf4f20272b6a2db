"""Labels with a QR code for instruments and kit: scanned, each opens its page."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass

from reportlab.graphics.barcode.qr import QrCodeWidget
from reportlab.graphics.renderPDF import draw
from reportlab.graphics.shapes import Drawing
from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from verifyloop.paper import load_fonts, plain

#: Three beside each other, eight below each other, as sheets of 70 x 37 mm are sold everywhere.
COLUMNS, ROWS, WIDE, HIGH = 3, 8, 70 * mm, 37 * mm
CODE, MARGIN = 29 * mm, 4 * mm
#: No sheet of labels is longer.
MOST = 480


@dataclass(frozen=True)
class Label:
    """What stands on a label, and the address that its code holds."""

    name: str
    text: str
    more: str
    address: str


def label_sheet(labels: Sequence[Label], of: int = 0) -> bytes:
    """Return sheets of labels as PDF, in the order given; the first says where some are left out.

    ``of``: how many there are in all.
    """
    if of > MOST:
        said = f"These are the first {MOST - 1} of {of}."
        left = Label("Not all labels", said, "Choose fewer for the others.", "")
        labels = [left, *labels[: MOST - 1]]
    load_fonts()
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=A4, invariant=1)
    top = (A4[1] - ROWS * HIGH) / 2
    for n, one in enumerate(labels):
        place = n % (COLUMNS * ROWS)
        if n and not place:
            canvas.showPage()  # type: ignore[no-untyped-call]
        x = (place % COLUMNS) * WIDE
        y = A4[1] - top - (place // COLUMNS + 1) * HIGH
        _label(canvas, one, x, y)
    canvas.save()  # type: ignore[no-untyped-call]
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
            canvas.setFont(font, size)  # type: ignore[no-untyped-call]
            canvas.drawString(at, height, line)  # type: ignore[no-untyped-call]
            height -= size * 1.25


def _code(canvas: Canvas, one: Label, x: float, y: float) -> None:
    code = QrCodeWidget(one.address, barLevel="M")  # type: ignore[no-untyped-call]
    left, bottom, right, high = code.getBounds()  # type: ignore[no-untyped-call]
    scale = [CODE / (right - left), 0, 0, CODE / (high - bottom), 0, 0]
    drawing = Drawing(CODE, CODE, transform=scale)  # type: ignore[no-untyped-call]
    drawing.add(code)  # type: ignore[no-untyped-call]
    draw(drawing, canvas, x + MARGIN, y + MARGIN)  # type: ignore[no-untyped-call]


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
