"""Whether a reading or an adjustment may be added now, and which values are asked about."""

from __future__ import annotations

from decimal import Decimal

from calibration.engine import events as ev
from calibration.engine.adjusting import hop_error
from calibration.engine.events import Event
from calibration.engine.job import Job
from calibration.engine.method import Step
from calibration.families.gas.admit import gas_reading
from calibration.kernel.errors import InputError
from calibration.runs.slips import DetectIn, detect
from calibration.signals.transfer import ideal_output, indicated_span, indication


def not_blocked(job: Job, step: Step) -> None:
    """Refuse a step that has to wait or is not part of the job.

    Raises
    ------
    InputError
        ``step.blocked``, ``step.not_needed``.
    """
    status = job.statuses[step.id]
    if status == "blocked":
        before = job.first_open_before(step)
        raise InputError(
            "step.blocked",
            "data.step",
            f"'{step.title}' has to wait.",
            f"Do this first: {before.title}." if before else "Do the steps before it first.",
        )
    if status == "skipped":
        raise InputError(
            "step.not_needed",
            "data.step",
            f"'{step.title}' is not part of this job.",
            "Go on with the present step.",
        )


def reading_taken(job: Job, event: Event, known: dict[str, Event]) -> None:
    """Refuse a reading that belongs nowhere; ask about one that looks like a slip.

    Raises
    ------
    InputError
        ``reading.*``, ``slip.suspected``.
    """
    content = event.content
    step = job.step(content.run, "data.run")
    not_blocked(job, step)
    plan, facts = job.plan_of(content.run), job.facts_of(content.run)
    if not 0 <= content.point < len(plan):
        raise InputError(
            "reading.unknown_point",
            "data.point",
            f"The run has points 0 to {len(plan) - 1}.",
            "Choose one of them.",
        )
    if content.run.startswith(("as_found", "air_found")) and job.ledger.trims():
        raise InputError(
            "reading.after_adjusting",
            "data.run",
            "The instrument was adjusted: as found cannot be taken any more.",
            "Take it in the as-left run.",
        )
    spec = job.ledger.method.run(content.run)
    if spec.input == "gas":
        gas_reading(job, event, spec)
        return
    if spec.input == "fixed_current" and content.applied != plan[content.point].nominal:
        raise InputError(
            "reading.fixed_current",
            "data.applied",
            "In this run the device gives fixed currents; nothing else is applied.",
            f"Send {plan[content.point].nominal}, which the current stands for.",
        )
    if not content.kept and event.source == "typed":
        _ask(job, content, plan[content.point].nominal, facts)


def _ask(job: Job, content: ev.ReadingTaken, nominal: Decimal, facts: ev.InstrumentFacts) -> None:
    """Ask about values that look like slips."""
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


def adjusted(job: Job, event: Event, known: dict[str, Event]) -> None:
    """Refuse an adjustment without its value; ask about one that is still far off.

    Raises
    ------
    InputError
        ``number.missing``, ``slip.suspected``.
    """
    content = event.content
    not_blocked(job, job.step("adjust", "kind"))
    error = hop_error(job.base.facts, content)
    if error is None:
        needed = {"sensor": "digital", "receiver": "indicated"}.get(content.hop, "reading")
        raise InputError(
            "number.missing",
            f"data.{needed}",
            "The value after the adjustment is missing.",
            "Type what it reads now.",
        )
    asked = event.source == "typed" and not content.kept
    if abs(error) > job.settings.number("suspect_percent") and asked:
        needed = {"sensor": "digital", "receiver": "indicated"}.get(content.hop, "reading")
        raise InputError(
            "slip.suspected",
            f"data.{needed}",
            f"After adjusting, that is still {abs(error):.1f} % of span off. Keep it?",
            "Correct it or keep it.",
        )
