"""The certificate as PDF."""

from __future__ import annotations

import io
from collections.abc import Sequence
from typing import Any

from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.platypus import (
    Flowable,
    KeepTogether,
    Paragraph,
    SimpleDocTemplate,
    Spacer,
    Table,
    TableStyle,
)

from verifyloop.paper import INK, LINE, MUTED, clean, load_fonts, style
from verifyloop.records.picture import OUT, picture

WIDTH = A4[0] - 36 * mm


def render(certificate: dict[str, Any]) -> bytes:
    """Return the PDF of a certificate."""
    load_fonts()
    out = io.BytesIO()
    document = SimpleDocTemplate(
        out,
        pagesize=A4,
        leftMargin=18 * mm,
        rightMargin=18 * mm,
        topMargin=16 * mm,
        bottomMargin=20 * mm,
        title=f"Calibration certificate {certificate['number']}",
        author="Verify Loop",
        invariant=1,
    )

    def footer(canvas: Any, page: Any) -> None:
        canvas.setFont("Mono", 7)
        canvas.setFillColor(MUTED)
        canvas.drawString(18 * mm, 11 * mm, f"seal {certificate['chain']['sha256']}")
        canvas.setFont("Text", 8)
        canvas.drawRightString(
            A4[0] - 18 * mm, 11 * mm, f"{certificate['number']}, page {page.page}"
        )

    document.build(_story(certificate), onFirstPage=footer, onLaterPages=footer)
    return out.getvalue()


def _story(c: dict[str, Any]) -> list[Flowable]:
    head, normal = style("head", 11.5, "Bold", spaceBefore=9, spaceAfter=3), style("n", 9)
    title = style("title", 19, "Bold", spaceAfter=1)
    i, p = c["instrument"], c["performed"]
    story: list[Flowable] = [
        Paragraph("Calibration certificate", title),
        Paragraph(clean(f"{c['number']} for {i['tag']}, {i['description']}"), style("s", 11)),
        Spacer(1, 4),
        Paragraph(clean(_came_to(c["verdict"]["outcome"])), style("o", 12, "Bold")),
        Spacer(1, 4),
        _pairs(
            [
                ("As found", c["verdict"]["as_found"]),
                ("As left", c["verdict"]["as_left"]),
                ("Adjusted", "yes" if c["verdict"]["adjusted"] else "no"),
                ("Tag and serial", f"{i['tag']}, {i['serial']}"),
                ("Area", i["area"]),
                ("Range", i["range"]),
                ("Output", i["output"]),
                ("Tolerance", f"{i['tolerance']} ({i['tolerance_source']})"),
                ("Method", f"{c['method']['title']}, version {c['method']['version']}"),
                ("Signed", f"{p['signed_by']}, {_when(p['signed_at'])}"),
                ("Review", p["review"] or "not reviewed"),
                ("Follows job", c["follows"] or "none"),
            ]
        ),
        Paragraph("References", head),
        _table(
            ["Used for", "Asset", "Description", "Certificate", "Calibrated", "Due"],
            [
                [
                    r["role"],
                    r["asset"],
                    r["description"],
                    r["certificate"],
                    r["calibrated_on"],
                    r["due_on"],
                ]
                for r in c["references"]
            ],
            [32, 22, 46, 30, 22, 22],
        ),
    ]
    story += [
        Paragraph(clean(f"{r['asset']} used in spite of a warning: {r['reason']}"), normal)
        for r in c["references"]
        if r["reason"]
    ]
    surroundings = [(e["name"], f"{e['value']} {e['unit']}") for e in c["environment"]]
    found = [(e["name"], f"{e['value']} {e['unit']}") for e in c["settings_found"]]
    story += [Paragraph("Surroundings and settings found", head), _pairs(surroundings + found)]
    record = [(e["name"], f"{e['value']} {e['unit']}".replace("_", " ")) for e in i["record"]]
    if record:
        story += [Paragraph("On record of the instrument", head), _pairs(record)]
    for run, name in (("as_found", "As found"), ("as_left", "As left")):
        if c[run]["points"]:
            story += _run(c[run], c[run]["title"] or name, head, normal)
        elif run == "as_left":
            story += [
                Paragraph("As left", head),
                Paragraph(
                    "Not adjusted: the as-found run stands as left."
                    if c["verdict"]["outcome"]["good"]
                    else "Adjusted, and not read afterwards."
                    if c["verdict"]["adjusted"]
                    else "Not adjusted.",
                    normal,
                ),
            ]
    for extra in c["extra_runs"]:
        story += _run(extra, f"{extra['title']}: {extra['verdict']}", head, normal)
    story += _gas(c, head, normal)
    story += _tables(c, head, normal)
    story += _judged(c, head, normal)
    return story


def _came_to(outcome: dict[str, str]) -> str:
    """Return what the job came to, with why."""
    words = outcome["words"][0].upper() + outcome["words"][1:]
    return f"{words}. {outcome['why']}".strip()


_ANSWER = ("run", "channel", "gas", "reading", "outcome", "response", "of_new", "t90")


def _gas(c: dict[str, Any], head: ParagraphStyle, normal: ParagraphStyle) -> list[Flowable]:
    """What a detector was given and what it answered; what was forced stands out."""
    gas = c["gas"]
    if not gas["answers"]:
        return []
    title = "Gas" + (f"; %LEL by {gas['lel_table']}" if gas["lel_table"] else "")
    story: list[Flowable] = [
        Paragraph(clean(title), head),
        _table(
            ["Run", "Channel", "Applied", "Read", "Answer", "Response", "Of new", "To 90 %"],
            [[a[key] for key in _ANSWER] for a in gas["answers"]],
            [26, 22, 30, 20, 32, 18, 20, 14],
        ),
    ]
    if gas["drawn"]:
        story += [
            Spacer(1, 4),
            _table(
                ["Cylinder", "Contents", "Opened", "Drawn L"],
                [
                    [d["cylinder"], d["contents"], _when(d["from"]), d["litres"]]
                    for d in gas["drawn"]
                ],
                [24, 90, 40, 20],
            ),
        ]
    loud = style("loud", 9.5, "Bold", textColor=OUT)
    story += [Paragraph(clean(line), normal) for line in gas["set"]]
    story += [Paragraph(clean(line), loud) for line in gas["forced"]]
    return story


#: Width that is left for the columns of a table. [mm]
TABLE_MM = 180


def _tables(c: dict[str, Any], head: ParagraphStyle, normal: ParagraphStyle) -> list[Flowable]:
    """What the family of the instrument adds, as it gives it."""
    story: list[Flowable] = []
    for table in c.get("tables", ()):
        count = len(table["columns"])
        widths = [TABLE_MM // count] * count
        story.append(Paragraph(clean(table["title"]), head))
        if table["rows"]:
            story.append(_table(table["columns"], table["rows"], widths))
        story += [Paragraph(clean(line), normal) for line in table["lines"]]
    return story


def _when(text: str) -> str:
    return text[:16].replace("T", " ") + " UTC"


def _run(
    run: dict[str, Any], name: str, head: ParagraphStyle, normal: ParagraphStyle
) -> list[Flowable]:
    unit_in, unit_out = run["input_unit"], run["output_unit"]
    points = run["points"]
    # The points of a detector are its gases; one or two of them make no picture.
    gas = not any(p["nominal_percent"][:1].isdigit() for p in points)
    columns = [("Applied", "applied", unit_in), ("Ideal", "ideal", unit_out)]
    if any(p["digital"] for p in points):
        columns.append(("Digital", "digital", unit_in))
    columns.append(("Read", "reading", unit_out))
    if any(p["indicated"] for p in points):
        columns.append(("Shown", "indicated", run["indicated_unit"]))
    header = [
        "Point",
        *[f"{label} {unit}" for label, _, unit in columns],
        *([f"Error {clean(run['error_unit'])}"] if run["error_unit"] != "%" else []),
        "Error %",
        "Limit %",
        "Verdict",
    ]
    rows = [
        [
            p["nominal_percent"] if gas else f"{p['nominal_percent']} % {p['direction']}",
            *[p[key] for _, key, _ in columns],
            *([p["error"]] if run["error_unit"] != "%" else []),
            p["error_percent"],
            p["limit_percent"],
            {"within": "within", "near": "near limit", "none": "not judged"}.get(
                p["mark"], "OUTSIDE"
            ),
        ]
        for p in points
    ]
    extra = [19] if run["error_unit"] != "%" else []
    widths = [24, *([23] * len(columns)), *extra, 19, 19, 22]
    figures = "; ".join(f"{x['name']} {x['value']} {x['unit']}" for x in run["characteristics"])
    return [
        KeepTogether(
            [
                Paragraph(name, head),
                _table(header, rows, widths, numbers_from=1),
                Spacer(1, 3),
                Paragraph(clean(figures), normal),
                *([] if gas else [Spacer(1, 3), picture(points)]),
            ]
        )
    ]


def _judged(c: dict[str, Any], head: ParagraphStyle, normal: ParagraphStyle) -> list[Flowable]:
    j = c["judgement"]
    lines = [
        f"Decision rule: {j['rule']}. Expanded uncertainty U = {j['uncertainty']} "
        "(coverage 95.45 %), "
        f"limit to U {j['accuracy_ratio']}, probability of being outside the limit at the most "
        f"critical point: {j['probability_outside']}.",
        f"Adjusting: {j['adjusting']}.",
    ]
    if j["causes"]:
        lines.append("Causes named from the as-found run: " + ", ".join(j["causes"]) + ".")
    lines += j["decisions"]
    lines += [f"Settings, not calibration. {line}." for line in c["settings_written"]]
    lines += c["adjustments"]
    story: list[Flowable] = [Paragraph("Judgement", head)]
    story += [Paragraph(clean(line), normal) for line in lines]
    if c["notes"]:
        story.append(Paragraph("Notes", head))
        story += [Paragraph(clean(note), normal) for note in c["notes"]]
    story += [
        Paragraph("Record", head),
        Paragraph(
            clean(f"{c['performed']['statement']} Signed by {c['performed']['signed_by']}."),
            normal,
        ),
        Paragraph(
            clean(f"{c['chain']['events']} events, sealed by SHA-256: {c['chain']['sha256']}"),
            style("m", 7.5, "Mono"),
        ),
        Spacer(1, 4),
        Paragraph(
            clean(f"{c['method']['sources']} {c['caution']}"), style("c", 8, textColor=MUTED)
        ),
    ]
    return story


def _pairs(pairs: Sequence[tuple[str, str]]) -> Table:
    label, value = style("l", 8, textColor=MUTED), style("v", 9)
    cells = [[Paragraph(clean(a), label), Paragraph(clean(b), value)] for a, b in pairs]
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


def _table(
    header: list[str], rows: list[list[str]], widths: list[float], numbers_from: int | None = None
) -> Table:
    small = style("t", 8)
    body = [
        [clean(cell) if numbers_from is not None else Paragraph(clean(cell), small) for cell in row]
        for row in rows
    ]
    total = sum(widths)
    table = Table(
        [[clean(h) for h in header], *body],
        colWidths=[w / total * WIDTH for w in widths],
        repeatRows=1,
        hAlign="LEFT",
        splitInRow=1,
    )
    look = [
        ("FONT", (0, 0), (-1, 0), "Text", 8),
        ("TEXTCOLOR", (0, 0), (-1, 0), MUTED),
        ("FONT", (0, 1), (-1, -1), "Mono" if numbers_from is not None else "Text", 8),
        ("LINEBELOW", (0, 0), (-1, 0), 0.6, INK),
        ("LINEBELOW", (0, 1), (-1, -1), 0.25, LINE),
        ("TOPPADDING", (0, 0), (-1, -1), 1.6),
        ("BOTTOMPADDING", (0, 0), (-1, -1), 1.6),
        ("LEFTPADDING", (0, 0), (0, -1), 0),
    ]
    if numbers_from is not None:
        look.append(("ALIGN", (numbers_from, 0), (-1, -1), "RIGHT"))
        for k, row in enumerate(rows, start=1):
            if row[-1] == "OUTSIDE":
                look.append(("TEXTCOLOR", (-3, k), (-1, k), OUT))
    table.setStyle(TableStyle(look))
    return table
