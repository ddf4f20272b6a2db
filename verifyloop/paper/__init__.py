"""What every printed page shares: fonts, colours, text that the fonts can print."""

from __future__ import annotations

import unicodedata
from functools import cache
from itertools import groupby
from pathlib import Path
from typing import Any

from reportlab.lib import colors
from reportlab.lib.styles import ParagraphStyle
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont

FONTS = Path(__file__).with_name("fonts")
INK, MUTED, LINE = (colors.HexColor(c) for c in ("#17201d", "#5c6762", "#c9cec4"))
#: Said in words where only one font can be used, as in columns of figures.
SPELLED = {
    "\u202f": "\u00a0",
    "▲": "up",
    "▼": "down",
    "√": "root of ",
    "²": "^2",
    "Ω": "ohm",
    "µ": "u",
    "≤": "<=",
    "≥": ">=",
    "≈": "about ",
    "Δ": "delta ",
    "→": "to",
}


FILES = (
    ("Text", "text-400"),
    ("Bold", "text-700"),
    ("Mono", "mono-400"),
    ("Wide", "DejaVuSans"),
)


@cache
def load_fonts() -> None:
    """Make the fonts known to the PDF writer."""
    for name, file in FILES:
        pdfmetrics.registerFont(TTFont(name, str(FONTS / f"{file}.ttf")))


def style(name: str, size: float, font: str = "Text", **more: Any) -> ParagraphStyle:
    """Return a paragraph style of the house."""
    more = {"textColor": INK, "leading": size * 1.35, **more}
    return ParagraphStyle(name, fontName=font, fontSize=size, **more)


def clean(text: object, font: str = "Text") -> str:
    """Return text for a paragraph: each sign in a font that has it, or named in words."""
    load_fonts()
    said = str(text).replace("\u202f", "\u00a0")
    parts = []
    for wide, signs in groupby(said, key=lambda sign: not _has(font, sign)):
        run = "".join(signs)
        if wide:
            run = "".join(sign if _has("Wide", sign) else named(sign) for sign in run)
        run = run.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")
        parts.append(f'<font name="Wide">{run}</font>' if wide else run)
    return "".join(parts)


def plain(text: object, font: str = "Text") -> str:
    """Return text for one font alone: signs that it does not have are said in words."""
    load_fonts()
    said = str(text)
    for sign, spelled in SPELLED.items():
        if not _has(font, sign):
            said = said.replace(sign, spelled)
    return "".join(sign if _has(font, sign) else named(sign) for sign in said)


def named(sign: str) -> str:
    """Return the name of a sign that no font here can print."""
    if unicodedata.category(sign) in ("Cc", "Cf", "Mn"):
        return " " if sign in "\n\r\t" else ""
    return f"[{unicodedata.name(sign, f'sign {ord(sign):X}').lower()}]"


def _has(font: str, sign: str) -> bool:
    known: dict[int, int] = pdfmetrics.getFont(font).face.charToGlyph  # type: ignore[attr-defined]
    return ord(sign) in known
