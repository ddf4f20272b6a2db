"""The first sheet: whose paper, of what, with what result, and who stands for it."""

from __future__ import annotations

from typing import Any

from reportlab.platypus import Flowable, Paragraph, Spacer

from verifyloop.paper import MUTED, clean, style
from verifyloop.records.sheets.layout import Looks, pairs, paragraphs, table

NOT_SAID = "not recorded"
REVIEWED = {"accepted": "accepted", "redo": "to be done again"}


def front(c: dict[str, Any], looks: Looks) -> list[Flowable]:
    """Return title, laboratory, outcome, instrument, people and references."""
    i = c["instrument"]
    return [
        Paragraph(clean(c["title"]), style("title", 19, "Bold", spaceAfter=1)),
        Paragraph(clean(f"{c['number']} for {i['tag']}, {i['description']}"), style("s", 11)),
        Paragraph(clean(_laboratory(c["site"])), style("lab", 9, textColor=MUTED)),
        *_issue(c, looks),
        Spacer(1, 4),
        Paragraph(clean(came_to(c["verdict"]["outcome"])), style("o", 12, "Bold")),
        Spacer(1, 4),
        pairs(_what(c, looks)),
        *_people(c, looks),
        *_references(c, looks),
        *_around(c, looks),
    ]


def came_to(outcome: dict[str, str]) -> str:
    """Return what the job came to, with why."""
    words = outcome["words"][0].upper() + outcome["words"][1:]
    return f"{words}. {outcome['why']}".strip()


def _laboratory(site: dict[str, str]) -> str:
    named = [site.get(name, "") for name in ("laboratory", "name", "address")]
    return ", ".join(n for n in named if n) or "Laboratory: not on record"


def _issue(c: dict[str, Any], looks: Looks) -> list[Flowable]:
    issue = c["issue"]
    said = []
    if issue["number"] > 1:
        said.append(
            f"Issue {issue['number']} replaces issue {issue['replaces']}. Changed: "
            f"{issue['what']}. Why: {issue['reason']}."
        )
    if issue["late"]:
        said.append(f"Issued {looks.day(issue['issued_at'])}: {issue['reason']}.")
    if c.get("replaced_by"):
        said.append(f"This issue is replaced by issue {c['replaced_by']}.")
    return paragraphs(said, style("issue", 9.5, "Bold"))


def _what(c: dict[str, Any], looks: Looks) -> list[tuple[str, str]]:
    i, p, review = c["instrument"], c["performed"], c.get("review")
    days = list(dict.fromkeys((looks.day(p["opened_at"]), looks.day(p["signed_at"]))))
    reviewed = (
        f"{REVIEWED[review['outcome']]} by {review['by']}, {looks.when(review['at'])}"
        + (f": {review['comment']}" if review["comment"] else "")
        if review
        else "not reviewed"
    )
    made = " ".join(n for n in (i["maker"], i["model"]) if n) or NOT_SAID
    return [
        ("As found", c["verdict"]["as_found"]),
        ("As left", c["verdict"]["as_left"]),
        ("Adjusted", "yes" if c["verdict"]["adjusted"] else "no"),
        *((("Covers", " ".join(c["covers"])),) if c.get("covers") else ()),
        ("Tag and serial", f"{i['tag']}, {i['serial']}"),
        *((("Replaced", " · ".join(i["serials"])),) if i.get("serials") else ()),
        ("Maker, model", made),
        ("Condition", i["condition"] or NOT_SAID),
        ("Area, place", i["area"]),
        ("Customer", c["site"].get("customer") or c["site"].get("name") or NOT_SAID),
        ("Range", i["range"]),
        ("Output", i["output"]),
        ("Tolerance", f"{i['tolerance']} ({i['tolerance_source']})"),
        ("Procedure", f"{c['method']['title']}, version {c['method']['version']}"),
        ("Days of work", " to ".join(days)),
        ("Issued", f"issue {c['issue']['number']}, {looks.day(c['issue']['issued_at'])}"),
        ("Signed", f"{p['signed_by']}, {looks.when(p['signed_at'])}"),
        *((("Account signed by", p["account_note"]),) if p.get("account_note") else ()),
        ("Review", reviewed),
        *(
            (("Account reviewed by", review["account_note"]),)
            if review and review.get("account_note")
            else ()
        ),
        *((("Work order", c["work_order"]),) if c.get("work_order") else ()),
        ("Follows job", c["follows"] or "none"),
        ("Times", f"local, {looks.zone.key}"),
    ]


def _people(c: dict[str, Any], looks: Looks) -> list[Flowable]:
    people = c["performed"]["people"]
    if not people:
        return []
    return [
        Paragraph("Who did what", looks.head),
        *paragraphs([f"{p['name']} ({p['role']}): {p['did']}" for p in people], looks.normal),
    ]


def _references(c: dict[str, Any], looks: Looks) -> list[Flowable]:
    rows = [
        [
            r["role"],
            f"{r['asset']} {r['serial']}".strip(),
            r["description"],
            r["certificate"],
            r["issued_by"] or NOT_SAID,
            f"{r['calibrated_on']} to {r['due_on']}",
        ]
        for r in c["references"]
    ]
    header = ["Used for", "Asset, serial", "Description", "Certificate", "Issued by", "Valid"]
    return [
        Paragraph("References", looks.head),
        table(header, rows, [28, 24, 40, 24, 34, 24]),
        Spacer(1, 3),
        *paragraphs([c["traceability"]], looks.normal),
    ]


def _around(c: dict[str, Any], looks: Looks) -> list[Flowable]:
    story: list[Flowable] = []
    around = [(e["name"], f"{e['value']} {e['unit']}") for e in c["environment"]]
    found = [(e["name"], f"{e['value']} {e['unit']}") for e in c["settings_found"]]
    around = around or [("Conditions", NOT_SAID)]
    story += [Paragraph("Surroundings and settings found", looks.head), pairs(around + found)]
    record = c["instrument"]["record"]
    if record:
        said = [(e["name"], f"{e['value']} {e['unit']}".replace("_", " ")) for e in record]
        story += [Paragraph("On record of the instrument", looks.head), pairs(said)]
    if c["method"]["deviations"]:
        story.append(Paragraph("Deviations from the procedure", looks.head))
        story += paragraphs(c["method"]["deviations"], looks.normal)
    return story
