"""The judgement, what was changed, remarks, and the statement that closes the paper."""

from __future__ import annotations

from typing import Any

from reportlab.platypus import Flowable, Paragraph, Spacer

from verifyloop.paper import MUTED, clean, style
from verifyloop.records.sheets.layout import Looks, paragraphs


def judged(c: dict[str, Any], looks: Looks) -> list[Flowable]:
    """Return judgement, notes and record."""
    j = c["judgement"]
    story: list[Flowable] = [
        Paragraph("Judgement", looks.head),
        *paragraphs(_rule(j), looks.normal),
        *paragraphs(j["decisions"], looks.normal),
        *paragraphs(
            [f"Settings, not calibration. {line}." for line in c["settings_written"]], looks.normal
        ),
        *paragraphs(c["adjustments"], looks.normal),
    ]
    if j["causes"]:
        said = "Opinion, not a result: the as-found run points to " + ", ".join(j["causes"]) + "."
        story += paragraphs([said], looks.normal)
    story += _follows(c, looks)
    if c["notes"]:
        story += [Paragraph("Notes", looks.head), *paragraphs(c["notes"], looks.normal)]
    return [*story, *_record(c, looks)]


def _follows(c: dict[str, Any], looks: Looks) -> list[Flowable]:
    """Return what is to be looked into since it was found outside, and what became of that."""
    f, done = c["what_follows"], c.get("followed_up")
    said = [*f["left"], *f["limited"]]
    if f["affected"]:
        said += [
            f"Last known good: {f['last_good']}.",
            f"May have affected: {f['affected']}. Told: {f['told']}.",
            f"Followed up by {done['by']}, {looks.when(done['at'])}: {done['what']}"
            if done
            else "Not followed up yet.",
        ]
    return [Paragraph("What follows", looks.head), *paragraphs(said, looks.normal)] if said else []


def _rule(j: dict[str, Any]) -> list[str]:
    rule = f"Decision rule: {j['rule']}."
    if j["uncertainty"]:
        rule += (
            f" Expanded uncertainty at the most critical point U = {j['uncertainty']} (coverage "
            f"95.45 %), limit to U {j['accuracy_ratio']}, probability of being outside the limit "
            f"there: {j['probability_outside']}."
        )
    else:
        rule += " No uncertainty is known at the most critical point."
    return [rule, f"Adjusting: {j['adjusting']}."]


def _record(c: dict[str, Any], looks: Looks) -> list[Flowable]:
    chain, p = c["chain"], c["performed"]
    sealed = (
        f"{chain['events']} events; seal before this content {chain['seal']}; line "
        f"{chain['register_line']} of the register {chain['register_seal']}; rules {c['rules']}"
    )
    return [
        Paragraph("Record", looks.head),
        *paragraphs([f"{p['statement']} Signed by {p['signed_by']}."], looks.normal),
        Paragraph(clean(sealed, "Mono"), style("m", 7, "Mono")),
        Spacer(1, 4),
        *paragraphs(
            [f"{c['method']['sources']} {c['caution']} {c['only_in_full']}"],
            style("c", 8, textColor=MUTED),
        ),
    ]
