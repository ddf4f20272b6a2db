"""A table of the Bench as CSV and as PDF."""

from __future__ import annotations

import csv
import io
from typing import Any

from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.platypus import Paragraph, SimpleDocTemplate, Spacer, Table, TableStyle

from verifyloop.paper import INK, LINE, MUTED, clean, load_fonts, style

#: Rows that fit under each other before a second block of columns begins beside them.
ROWS_A_BLOCK = 46
WIDTH = A4[0] - 36 * mm
MINUS = "\u2212"


def csv_of(made: dict[str, Any]) -> bytes:
    """Return the table as CSV (RFC 4180), digits as a spreadsheet reads them."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(made["columns"])
    for row in made["rows"]:
        writer.writerow([c.replace(MINUS, "-").replace("\u202f", "") for c in row])
    return out.getvalue().encode()


def pdf_of(made: dict[str, Any]) -> bytes:
    """Return the table as PDF, in blocks beside each other where it is narrow."""
    load_fonts()
    out = io.BytesIO()
    document = SimpleDocTemplate(
        out,
        pagesize=A4,
        leftMargin=18 * mm,
        rightMargin=18 * mm,
        topMargin=16 * mm,
        bottomMargin=18 * mm,
        title=made["title"],
        author="Verify Loop",
        invariant=1,
    )
    small = style("s", 8.5, textColor=MUTED)
    story: list[Any] = [Paragraph(clean(made["title"]), style("t", 17))]
    if made["conditions"]:
        story.append(Paragraph(clean("; ".join(made["conditions"])), small))
    story += [Paragraph(clean(f"Source: {made['source']}"), small), Spacer(1, 8)]
    beside = max(1, min(4, 9 // len(made["columns"])))
    page = ROWS_A_BLOCK * beside
    for start in range(0, len(made["rows"]), page):
        story.append(_block(made["columns"], made["rows"][start : start + page], beside))
        story.append(Spacer(1, 6))

    def footer(canvas: Any, page: Any) -> None:
        canvas.setFont("Text", 8)
        canvas.setFillColor(MUTED)
        canvas.drawString(
            18 * mm, 10 * mm, "Computed by Verify Loop. The site's procedure decides."
        )
        canvas.drawRightString(A4[0] - 18 * mm, 10 * mm, f"page {page.page}")

    document.build(story, onFirstPage=footer, onLaterPages=footer)
    return out.getvalue()


def _block(columns: list[str], rows: list[list[str]], beside: int) -> Table:
    head, cell = style("h", 7.5, textColor=MUTED), style("c", 8.5, "Mono", alignment=2)
    tall = -(-len(rows) // beside)
    lines: list[list[Any]] = [[Paragraph(clean(c), head) for c in columns] * beside]
    for i in range(tall):
        line: list[Any] = []
        for block in range(beside):
            place = block * tall + i
            texts = rows[place] if place < len(rows) else [""] * len(columns)
            line += [Paragraph(clean(t), cell) for t in texts]
        lines.append(line)
    count = len(columns) * beside
    table = Table(lines, colWidths=[WIDTH / count] * count, repeatRows=1)
    look: list[Any] = [
        ("VALIGN", (0, 0), (-1, -1), "BOTTOM"),
        ("TOPPADDING", (0, 0), (-1, -1), 0.8),
        ("BOTTOMPADDING", (0, 0), (-1, -1), 0.8),
        ("LINEBELOW", (0, 0), (-1, 0), 0.6, INK),
    ]
    look += [("LINEBELOW", (0, i), (-1, i), 0.3, LINE) for i in range(5, tall, 5)]
    look += [
        ("LINEBEFORE", (b * len(columns), 0), (b * len(columns), -1), 0.6, INK)
        for b in range(1, beside)
    ]
    table.setStyle(TableStyle(look))
    return table
