"""The runs, each with its table, its figures and its picture; and what a family adds."""

from __future__ import annotations

from typing import Any

from reportlab.platypus import Flowable, KeepTogether, Paragraph, Spacer

from verifyloop.paper import clean, style
from verifyloop.records.picture import OUT, picture
from verifyloop.records.sheets.layout import Looks, paragraphs, table

_ANSWER = ("run", "channel", "gas", "reading", "outcome", "response", "of_new", "t90")
MARKS = {"within": "within", "near": "near limit", "none": "not judged"}
#: Width that is left for the columns of a table. [mm]
TABLE_MM = 180


def results(c: dict[str, Any], looks: Looks) -> list[Flowable]:
    """Return every run, before and after adjusting, and the tables of the family."""
    story: list[Flowable] = []
    own = _own_tolerances(c)
    for run, name in (("as_found", "As found"), ("as_left", "As left")):
        if c[run]["points"]:
            story += _run(c[run], c[run]["title"] or name, looks, own)
        elif run == "as_left":
            story += [Paragraph("As left", looks.head), *paragraphs([_no_left(c)], looks.normal)]
    for extra in c["extra_runs"]:
        story += _run(extra, f"{extra['title']}: {extra['verdict']}", looks, own)
    return [*story, *_gas(c, looks), *_tables(c, looks)]


def _no_left(c: dict[str, Any]) -> str:
    """Return what stands where no as-left run was read; another run may say how it was left."""
    verdict = c["verdict"]
    if not verdict["adjusted"]:
        good = verdict["outcome"]["good"]
        return "Not adjusted: the as-found run stands as left." if good else "Not adjusted."
    stand = [r["title"] for r in verdict["runs"] if r["stands"] and r["role"] == "left"]
    if stand:
        return f"Adjusted. How it was left: {', '.join(stand)}."
    return "Adjusted, and not read afterwards."


def _own_tolerances(c: dict[str, Any]) -> dict[str, str]:
    """Return the tolerance of each run, where they are not all the same; by its title."""
    said = {r["title"]: r["tolerance"] for r in c["verdict"]["runs"]}
    return said if len(set(said.values())) > 1 else {}


def _run(run: dict[str, Any], name: str, looks: Looks, own: dict[str, str]) -> list[Flowable]:
    unit_in, unit_out = run["input_unit"], run["output_unit"]
    points = run["points"]
    # The points of a detector are its gases; one or two of them make no picture.
    gas = not any(p["nominal_percent"][:1].isdigit() for p in points)
    columns = [("Applied", "applied", unit_in)]
    # A display in the unit of what is applied ought to show just that.
    if unit_in != unit_out or not any("uncertainty" in p for p in points):
        columns.append(("Ideal", "ideal", unit_out))
    if any(p["digital"] for p in points):
        columns.append(("Digital", "digital", unit_in))
    columns.append(("Read", "reading", unit_out))
    if any(p.get("counts_as") for p in points):
        columns.append(("Counts as", "counts_as", unit_out))
    if any(p["indicated"] for p in points):
        columns.append(("Shown", "indicated", run["indicated_unit"]))
    errors = _errors(run)
    header = [
        "Point",
        *[f"{label}\n{unit}" for label, _, unit in columns],
        *[label for label, _, _ in errors],
        "k",
        "Verdict",
    ]
    rows = [
        [
            p["nominal_percent"] if gas else f"{p['nominal_percent']} % {p['direction']}",
            *[p.get(key, "") for _, key, _ in columns],
            *[p[key] for _, key, _ in errors],
            p["k"],
            MARKS.get(p["mark"], "OUTSIDE"),
        ]
        for p in points
    ]
    widths = [23, *([20] * len(columns)), *[width for _, _, width in errors], 12, 27]
    figures = "; ".join(f"{x['name']} {x['value']} {x['unit']}" for x in run["characteristics"])
    said = [figures] if figures else []
    if run["title"] in own:
        said.insert(0, f"Tolerance {own[run['title']]}.")
    if points:
        said.append(_decided(points))
    return [
        KeepTogether(
            [
                Paragraph(clean(name), looks.head),
                table(header, rows, widths, numbers_from=1),
                Spacer(1, 3),
                *paragraphs(said, looks.normal),
                *([] if gas else [Spacer(1, 3), picture(points)]),
            ]
        )
    ]


def _errors(run: dict[str, Any]) -> list[tuple[str, str, int]]:
    """Return the columns of error, limit and U: in % of span, the unit that is read, or both."""
    unit = run["error_unit"]
    if any("uncertainty" in p for p in run["points"]):
        names = (("Error", "error"), ("Limit ±", "limit"), ("U", "uncertainty"))
        return [(f"{name}\n{unit}", key, 21) for name, key in names]
    percent = [
        ("Error\n%", "error_percent", 16),
        ("Limit\n%", "limit_percent", 16),
        ("U\n%", "uncertainty_percent", 14),
    ]
    return [(f"Error\n{unit}", "error", 17), *percent] if unit != "%" else percent


def _decided(points: list[dict[str, Any]]) -> str:
    """Return which class of decision how many points came to."""
    counted: dict[str, int] = {}
    for p in points:
        counted[p["decision"]] = counted.get(p["decision"], 0) + 1
    said = "; ".join(f"{decision}: {count}" for decision, count in counted.items())
    return f"Decision per point, by U: {said}."


def _gas(c: dict[str, Any], looks: Looks) -> list[Flowable]:
    """What a detector was given and what it answered; what was forced stands out."""
    gas = c["gas"]
    if not gas["answers"]:
        return []
    title = "Gas" + (f"; %LEL by {gas['lel_table']}" if gas["lel_table"] else "")
    header = ["Run", "Channel", "Applied", "Read", "Answer", "Response", "Of new", "To 90 %"]
    answers = [[a[key] for key in _ANSWER] for a in gas["answers"]]
    story: list[Flowable] = [
        Paragraph(clean(title), looks.head),
        table(header, answers, [26, 22, 30, 20, 32, 18, 20, 14]),
    ]
    if gas["drawn"]:
        drawn = [
            [d["cylinder"], d["contents"], looks.when(d["from"]), d["litres"]] for d in gas["drawn"]
        ]
        header = ["Cylinder", "Contents", "Opened", "Drawn L"]
        story += [Spacer(1, 4), table(header, drawn, [24, 90, 40, 20])]
    loud = style("loud", 9.5, "Bold", textColor=OUT)
    return [*story, *paragraphs(gas["set"], looks.normal), *paragraphs(gas["forced"], loud)]


def _tables(c: dict[str, Any], looks: Looks) -> list[Flowable]:
    """What the family of the instrument adds, as it gives it."""
    story: list[Flowable] = []
    for given in c.get("tables", ()):
        count = len(given["columns"])
        widths = [TABLE_MM // count] * count
        story.append(Paragraph(clean(given["title"]), looks.head))
        if given["rows"]:
            story.append(table(given["columns"], given["rows"], widths))
        story += paragraphs(given["lines"], looks.normal)
    return story
