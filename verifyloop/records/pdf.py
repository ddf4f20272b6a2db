"""The certificate as PDF."""

from __future__ import annotations

import io
from collections.abc import Sequence
from functools import partial
from typing import Any

from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.platypus import SimpleDocTemplate

from verifyloop.paper import load_fonts, plain
from verifyloop.records.sheets.front import front
from verifyloop.records.sheets.judged import judged
from verifyloop.records.sheets.layout import Numbered, looks
from verifyloop.records.sheets.photos import Photo, photos
from verifyloop.records.sheets.results import results


def render(certificate: dict[str, Any], beside: Sequence[Photo] = ()) -> bytes:
    """Return the PDF of a certificate as it is given out; photos behind it."""
    load_fonts()
    out = io.BytesIO()
    document = SimpleDocTemplate(
        out,
        pagesize=A4,
        leftMargin=18 * mm,
        rightMargin=18 * mm,
        topMargin=16 * mm,
        bottomMargin=20 * mm,
        title=f"{certificate['title']} {certificate['number']}",
        author="Verify Loop",
        invariant=1,
    )
    look = looks(certificate["site"].get("time_zone", ""))
    story = [*front(certificate, look), *results(certificate, look), *judged(certificate, look)]
    story += photos(beside, look)
    seal = f"seal {certificate['chain']['seal']}"
    name = plain(f"{certificate['number']} issue {certificate['issue']['number']}")
    document.build(story, canvasmaker=partial(Numbered, foot=(seal, name)))
    return out.getvalue()
