"""The error picture of a run on paper."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

from reportlab.graphics.shapes import Drawing, Group, Line, Polygon, Rect, String
from reportlab.lib import colors
from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm

from verifyloop.paper import INK, MUTED

CORRIDOR, OUT = colors.HexColor("#eef0e8"), colors.HexColor("#b3261e")
WIDTH = A4[0] - 36 * mm


def picture(points: list[dict[str, Any]]) -> Drawing:
    """Return the error picture: error against range, corridor, up and down told apart."""
    width, height = WIDTH, 44 * mm
    left, right, top, bottom = 34.0, width - 8, height - 6, 16.0
    most = max(max(abs(p["error_exact"]), p["limit_exact"]) for p in points) * 1.15 or 1.0

    def x(percent: float) -> float:
        return left + (right - left) * (percent + 3) / 106

    def y(error: float) -> float:
        return bottom + (top - bottom) * (error + most) / (2 * most)

    drawing = Drawing(width, height)
    limit = min(p["limit_exact"] for p in points)
    drawing.add(
        Rect(
            left,
            y(-limit),
            right - left,
            y(limit) - y(-limit),
            fillColor=CORRIDOR,  # type: ignore[arg-type]
            strokeColor=None,  # type: ignore[arg-type]
        )
    )
    for level in (-limit, 0.0, limit):
        drawing.add(Line(left, y(level), right, y(level), strokeColor=INK, strokeWidth=0.6))
        label = f"{level:+.2f}".replace("-", "\u2212") if level else "0"
        drawing.add(
            String(
                left - 4,
                y(level) - 2.5,
                label,
                fontName="Mono",
                fontSize=7,
                textAnchor="end",
                fillColor=MUTED,
            )
        )
    for percent in (0, 25, 50, 75, 100):
        drawing.add(
            String(
                x(percent),
                4,
                f"{percent} %",
                fontName="Mono",
                fontSize=7,
                textAnchor="middle",
                fillColor=MUTED,
            )
        )
    for direction in ("up", "down"):
        chosen = sorted(
            (p for p in points if p["direction"] == direction), key=lambda p: p["at_percent"]
        )
        for a, b in pairwise(chosen):
            drawing.add(
                Line(
                    x(a["at_percent"]),
                    y(a["error_exact"]),
                    x(b["at_percent"]),
                    y(b["error_exact"]),
                    strokeColor=INK,
                    strokeWidth=0.7,
                    strokeDashArray=None if direction == "up" else [2, 2],  # type: ignore[arg-type]
                )
            )
    for p in points:
        drawing.add(_triangle(x(p["at_percent"]), y(p["error_exact"]), p))
    return drawing


def _triangle(x: float, y: float, point: dict[str, Any]) -> Group:
    tip = 3.6 if point["direction"] == "up" else -3.6
    outside = point["mark"] == "outside"
    return Group(
        Polygon(
            [x, y + tip, x + 3.4, y - tip, x - 3.4, y - tip],
            fillColor=colors.white if outside else INK,
            strokeColor=OUT if outside else INK,
            strokeWidth=1,
        )
    )
