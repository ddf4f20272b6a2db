"""Which typed values of a reading are asked about, because they look like slips."""

from __future__ import annotations

from decimal import Decimal

from calibration.engine import events as ev
from calibration.engine.reads import Reads
from calibration.kernel.errors import InputError
from calibration.runs.slips import DetectIn, detect
from calibration.signals.transfer import ideal_output, indicated_span, indication


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
        if found.kind is not None:
            suggestion = "" if found.suggestion is None else format(found.suggestion, "f")
            raise InputError(
                "slip.suspected",
                f"data.{name}",
                found.question,
                "Correct it or keep it.",
                suggestion,
            )
