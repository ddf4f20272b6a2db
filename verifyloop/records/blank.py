"""A paper form: a job as it would be, with room to write, for where no screen is."""

from __future__ import annotations

import io
from functools import partial
from typing import Any

from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.platypus import Flowable, Paragraph, SimpleDocTemplate, Spacer, TableStyle

from calibration.engine.job.job import Job as CoreJob
from calibration.engine.method.method import STAGES, RunSpec, Step
from calibration.kernel.errors import InputError
from calibration.setup.asking import will_ask
from verifyloop.paper import MUTED, clean, load_fonts, plain, style
from verifyloop.records.sheets.layout import Looks, Numbered, looks, pairs, paragraphs, table

#: Room to write in a line, and a box to tick.
LINE, BOX = "_" * 22, "[   ]"
CAUTION = (
    "This form is a help to write things down where no screen is. It is no record: type it into "
    "the job the same day. Site procedure, permits, local code and licensed practice come first."
)


def blank_form(job: CoreJob, site: dict[str, str], printed: str) -> bytes:
    """Return the paper form of a job as PDF.

    Parameters
    ----------
    job : Job
        A job in thought: nothing is done on it.
    site : dict
        What a paper says of the site.
    printed : str
        The day on which it is printed.
    """
    load_fonts()
    out, look = io.BytesIO(), looks(site.get("time_zone", ""))
    facts, method = job.ledger.facts, job.ledger.method
    document = SimpleDocTemplate(
        out,
        pagesize=A4,
        leftMargin=18 * mm,
        rightMargin=18 * mm,
        topMargin=14 * mm,
        bottomMargin=20 * mm,
        title=f"Form for {facts.tag}",
        author="Verify Loop",
        invariant=1,
    )
    story: list[Flowable] = [
        Paragraph(clean(f"{facts.tag}: {method.title}"), style("t", 16, "Bold", spaceAfter=2)),
        Paragraph(
            clean(", ".join(n for n in (site["laboratory"], site["name"]) if n)),
            style("lab", 9, textColor=MUTED),
        ),
        Spacer(1, 4),
        pairs(_head(job)),
    ]
    for stage, name in STAGES:
        steps = [s for s in method.steps if s.stage == stage]
        if steps:
            story += _stage(job, name, steps, look)
    story += [
        Spacer(1, 8),
        Paragraph(clean(f"Done by {LINE}  on {LINE}"), look.normal),
        Spacer(1, 6),
        *paragraphs([CAUTION], style("c", 8, textColor=MUTED)),
    ]
    foot = ("form, not a record", plain(f"{facts.tag}, printed {printed}"))
    document.build(story, canvasmaker=partial(Numbered, foot=foot, end="End of the form"))
    return out.getvalue()


def _head(job: CoreJob) -> list[tuple[str, str]]:
    facts = job.ledger.facts
    return [
        ("Measures", facts.description),
        ("Area", facts.area),
        ("Serial on record", facts.serial),
        ("Serial on the plate", LINE),
        ("Range", f"{facts.input_lower} to {facts.input_upper} {facts.input_unit}"),
        ("Output", f"{facts.output_lower} to {facts.output_upper} {facts.output_unit}"),
    ]


def _stage(job: CoreJob, name: str, steps: list[Step], look: Looks) -> list[Flowable]:
    story: list[Flowable] = []
    for step in steps:
        said = _lines(job, step)
        if step.caution:
            said.insert(0, f"Caution: {step.caution}")
        story += paragraphs(said, look.normal)
        for run in _runs(job, step):
            story += _run(job, job.ledger.method.run(run), name, look)
    return [Paragraph(clean(name), look.head), *story] if story else []


def _runs(job: CoreJob, step: Step) -> tuple[str, ...]:
    """Return the runs that are read at a step; a family's own may read several."""
    if step.kind == "decide":
        return ()
    own = job.family.steps.get(step.kind)
    return (*((step.run,) if step.run else ()), *(own.reads(step) if own is not None else ()))


def _lines(job: CoreJob, step: Step) -> list[str]:
    """Return what is written down at a step."""
    if step.kind == "kit":
        return [f"{role.label}: {LINE}" for role in job.roles(step)]
    if step.kind == "record":
        known = {"input": job.ledger.facts.input_unit}
        named = [(f.label, known.get(f.unit, f.unit)) for f in job.fields(step)]
        units = [(label, f" [{unit}]" if unit else "") for label, unit in named]
        return [f"{label}{unit}: {LINE}" for label, unit in units]
    if step.items:
        return [f"{BOX} {item.label}" for item in step.items]
    if step.kind == "decide":
        return [f"Decided: {LINE}{LINE}"]
    return [f"{BOX} {step.title}"] if not step.run and step.kind != "sign" else []


def _run(job: CoreJob, spec: RunSpec, stage: str, look: Looks) -> list[Flowable]:
    """Return the points of a run with room for what is read."""
    try:
        asked = will_ask(job, spec.id, whole=True)
    except InputError:
        return paragraphs([f"{spec.title}: its points depend on what is chosen."], look.normal)
    if not asked.rows:
        return []
    header = [
        "Point",
        f"Apply\n{asked.unit_in}",
        f"Ought\n{asked.unit_out}",
        f"±\n{asked.unit_out}",
        "Applied",
        "Read",
    ]
    rows = [[r.label, r.apply, r.ideal, r.limit, "", ""] for r in asked.rows]
    widths = [32, 26, 26, 22, 37, 37]
    made: Any = table(header, rows, widths, numbers_from=1)
    made.setStyle(TableStyle([("BOTTOMPADDING", (0, 1), (-1, -1), 6)]))
    head = [] if asked.run == stage else [Paragraph(clean(asked.run), look.head)]
    return [*head, made]
