"""Which typed values of a reading are asked about, because they look like slips."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from decimal import Decimal

from calibration.engine.job import events as ev
from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.job.ledger import Taken
from calibration.engine.job.reads import Reads
from calibration.engine.view.columns import columns_of
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import HUNDRED
from calibration.kernel.rounding import trimmed
from calibration.runs.points import PlannedPoint
from calibration.runs.slips import DetectIn, detect, plain
from calibration.signals.transfer import ideal_output, indicated_span, indication


def off_target(job: Reads, content: ev.ReadingTaken, nominal: Decimal) -> bool:
    """Tell whether what was applied is so far from a point that it is another one."""
    span = abs(job.facts_of(content.run).transfer.input_span)
    away = abs(content.applied - nominal)
    return HUNDRED * away > span * job.settings.number("suspect_percent")


def refuse_off_target(job: Reads, content: ev.ReadingTaken, nominal: Decimal) -> None:
    """Refuse a reading far from its target; with a reason it counts beside it.

    Raises
    ------
    InputError
        ``reading.off_target``.
    """
    if not off_target(job, content, nominal):
        return
    unit = job.facts_of(content.run).input_unit
    raise InputError(
        "reading.off_target",
        "data.applied",
        f"Applied {plain(content.applied)} {unit} is far from the target, {trimmed(nominal)} "
        f"{unit}.",
        "Go to the target. Or say why it was taken here: it counts as a point of its own, and "
        "the target stays open.",
    )


def point_beside(
    content: ev.ReadingTaken, plan: Sequence[PlannedPoint], facts: InstrumentFacts
) -> PlannedPoint:
    """Return the point that a reading beside the targets stands for: where it was taken."""
    lower, span = facts.transfer.input_lower, facts.transfer.input_span
    return PlannedPoint(
        nominal_percent=HUNDRED * (content.applied - lower) / span,
        nominal=content.applied,
        direction=plan[-1].direction if plan else "up",
        cycle=1,
        approach=None,
    )


def beside(
    taken: Mapping[int, Taken], plan: tuple[PlannedPoint, ...], facts: InstrumentFacts
) -> tuple[PlannedPoint, ...]:
    """Return the points of readings that were taken beside the targets, in their order."""
    extra = [taken[i].content for i in sorted(taken) if i >= len(plan)]
    before = [p for i, p in enumerate(plan) if i in taken]
    return tuple(point_beside(content, before, facts) for content in extra if content.beside)


def ask_about_slips(job: Reads, content: ev.ReadingTaken, nominal: Decimal) -> None:
    """Ask about values that look like slips of the keyboard.

    Raises
    ------
    InputError
        ``slip.suspected``.
    """
    facts = job.facts_of(content.run)
    suspect = job.settings.number("suspect_percent")
    ideal = ideal_output(facts.transfer, nominal)
    applied = content.applied
    before = [
        t.content.reading
        for i, t in sorted(job.ledger.readings[content.run].items())
        if i < content.point
    ]
    columns = (
        ("applied", content.applied, nominal, facts.transfer.input_span, facts.input_unit),
        ("reading", content.reading, ideal, facts.transfer.output_span, facts.output_unit),
        ("digital", content.digital, content.applied, facts.transfer.input_span, facts.input_unit),
        (
            "indicated",
            content.indicated,
            indication(facts.transfer, facts.receiver, ideal_output(facts.transfer, applied)),
            indicated_span(facts.transfer, facts.receiver),
            facts.shown_unit,
        ),
    )
    labels = {c.id: c.label for c in columns_of((c[0] for c in columns), facts, {})}
    for name, value, expected, span, unit in columns:
        if value is None:
            continue
        swap = name == "applied"
        found = detect(
            DetectIn(
                reading=value,
                expected=expected,
                span=span,
                unit=unit,
                lower=facts.output_lower if name == "reading" else None,
                other=content.reading if swap else None,
                other_expected=ideal if swap else None,
                other_span=facts.transfer.output_span if swap else None,
                neighbours=tuple(before) if name == "reading" else (),
                suspect_percent=suspect,
            )
        )
        if found.kind is None:
            continue
        label = labels[name].partition(",")[0]
        if name == "applied" and found.kind == "swapped_columns":
            raise InputError(
                "slip.suspected",
                "data.applied",
                f"{label} {plain(value)} and {labels['reading'].lower()} {plain(content.reading)} "
                "look swapped. Swap them?",
                "Swap them, correct them or keep them.",
                swap="data.reading",
            )
        suggestion = "" if found.suggestion is None else plain(found.suggestion)
        if name == "applied" and not suggestion:
            refuse_off_target(job, content, nominal)
        raise InputError(
            "slip.suspected",
            f"data.{name}",
            f"{label}: {found.question}",
            "Correct it or keep it.",
            suggestion,
        )
