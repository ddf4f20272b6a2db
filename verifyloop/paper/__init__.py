"""What every printed page shares: fonts, colours, text that the fonts can print."""

from __future__ import annotations

from functools import cache
from pathlib import Path
from typing import Any

from reportlab.lib import colors
from reportlab.lib.styles import ParagraphStyle
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont

FONTS = Path(__file__).with_name("fonts")
INK, MUTED, LINE = (colors.HexColor(c) for c in ("#17201d", "#5c6762", "#c9cec4"))
#: Signs that the fonts do not have, and what is printed for them.
SPELLED = {
    "\u202f": "\u00a0",
    "▲": "up",
    "▼": "down",
    "√": "root of ",
    "²": "^2",
    "Ω": "ohm",
    "µ": "u",
    "≤": "<=",
}


@cache
def load_fonts() -> None:
    """Make the fonts known to the PDF writer."""
    for name, file in (("Text", "text-400"), ("Bold", "text-700"), ("Mono", "mono-400")):
        pdfmetrics.registerFont(TTFont(name, str(FONTS / f"{file}.ttf")))


def style(name: str, size: float, font: str = "Text", **more: Any) -> ParagraphStyle:
    """Return a paragraph style of the house."""
    more = {"textColor": INK, "leading": size * 1.35, **more}
    return ParagraphStyle(name, fontName=font, fontSize=size, **more)


def clean(text: object) -> str:
    """Return text that the fonts can print and the paragraph parser reads as text."""
    plain = str(text)
    for sign, spelled in SPELLED.items():
        plain = plain.replace(sign, spelled)
    return plain.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")
