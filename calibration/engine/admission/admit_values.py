"""Whether a reading may be added now, and which values are asked about."""

from __future__ import annotations

import copy

from calibration.engine.admission.entry_checks import off_target, point_beside
from calibration.engine.job.events import Event
from calibration.engine.job.job import Job
from calibration.engine.job.reads import Reads
from calibration.engine.method.method import Step
from calibration.kernel.errors import InputError


def refuse_thawing(job: Job, event: Event) -> None:
    """Refuse to write down anew what readings that stand were taken by.

    Unit, how it is read and what is ideal are frozen with a run.

    Raises
    ------
    InputError
        ``recorded.frozen``.
    """
    ledger, key = job.ledger, (event.content.step, event.content.field)
    was = ledger.recorded.get(key)
    if was is None or was[0] == event.content.value:
        return
    after = copy.copy(ledger)
    after.recorded = {**ledger.recorded, key: (event.content.value, event)}
    for spec in ledger.method.runs:
        if not ledger.readings[spec.id]:
            continue
        kind = job.kind_of(spec)
        facts = kind.facts(after, spec).in_run(spec.id)
        same = facts == job.facts_of(spec.id)
        points = kind.plan(after, job.settings, spec, facts) if same else ()
        held = job.plan_of(spec.id)
        if same and all(points[i] == held[i] for i in ledger.readings[spec.id] if i < len(points)):
            continue
        raise InputError(
            "recorded.frozen",
            "data.value",
            f"'{spec.title}' was read by what stands here: it would count as something else.",
            "Take its readings back first, or repeat the test.",
        )


def not_blocked(job: Reads, step: Step) -> None:
    """Refuse a step that has to wait or is not part of the job.

    Raises
    ------
    InputError
        ``step.blocked``, ``step.not_needed``.
    """
    status = job.status_of(step)
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
    if content.beside:
        _beside(job, event, step)
        return
    plan = job.plan_of(content.run)
    if not 0 <= content.point < len(plan):
        raise InputError(
            "reading.unknown_point",
            "data.point",
            f"The run has points 0 to {len(plan) - 1}.",
            "Choose one of them.",
        )
    spec = job.ledger.method.run(content.run)
    _as_found_still(job, content.run)
    job.kind_of(spec).admit(job, event, spec, plan[content.point])


def _beside(job: Job, event: Event, step: Step) -> None:
    """Refuse a reading beside a target where it is at the target, or where there is none."""
    content, spec = event.content, job.ledger.method.run(event.content.run)
    figures, kind = job.figures(content.run), job.kind_of(spec)
    if kind.applies_point or figures.current < 0 or content.point != len(figures.plan):
        raise InputError(
            "reading.unknown_point",
            "data.point",
            f"The next point beside the targets is {len(figures.plan)}.",
            "Reload the job, then take it again.",
        )
    if not off_target(job, content, figures.plan[figures.current].nominal):
        raise InputError(
            "reading.on_target", "data.beside", "It is at the target.", "Take it as this point."
        )
    _as_found_still(job, content.run)
    kind.admit(job, event, spec, point_beside(content, figures.plan, figures.facts))


def left_out(job: Job, event: Event, known: dict[str, Event]) -> None:
    """Refuse to leave out a point that has a reading, the last one of all, or without a reason.

    Raises
    ------
    InputError
        ``reading.unknown_point``, ``point.taken``, ``point.only_one``, ``reason.missing``.
    """
    content = event.content
    step = job.step(content.run, "data.run")
    not_blocked(job, step)
    figures, spec = job.figures(content.run), job.ledger.method.run(content.run)
    if not 0 <= content.point < len(figures.plan) or job.kind_of(spec).applies_point:
        raise InputError(
            "reading.unknown_point", "data.point", "No such point is left out here.", "Take it."
        )
    if content.point in figures.taken:
        raise InputError(
            "point.taken", "data.point", "That point has a reading.", "Take the reading back first."
        )
    if len(figures.plan) - len(figures.left_out) < 2:
        raise InputError(
            "point.only_one",
            "data.point",
            "Without a single reading nothing is judged.",
            "Take one point, or stop with a reason.",
        )
    if not content.reason.strip():
        raise InputError(
            "reason.missing", "data.reason", "Leaving out a point takes a reason.", "Say why."
        )
    _as_found_still(job, content.run)


def _as_found_still(job: Job, run: str) -> None:
    if job.ledger.method.run(run).before and job.ledger.changes:
        raise InputError(
            "reading.after_adjusting",
            "data.run",
            "The instrument was adjusted: as found cannot be taken any more.",
            "Take it in the as-left run.",
        )


def noted(job: Job, event: Event, known: dict[str, Event]) -> None:
    """Refuse a note that says nothing.

    Raises
    ------
    InputError
        ``note.empty``.
    """
    if not event.content.text.strip():
        raise InputError("note.empty", "data.text", "The note is empty.", "Write it, or cancel.")
