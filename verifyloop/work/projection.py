"""What lists need of a job, kept in columns and made from its events alone."""

from __future__ import annotations

from datetime import date, datetime, timedelta
from typing import Any

from django.utils import timezone

from calibration.engine.job import events as core
from calibration.engine.job.history import LEFT_WORDS
from calibration.engine.job.job import Job as CoreJob
from calibration.engine.job.ledger import Ledger
from calibration.engine.judging.outcome import GOOD, words_of
from calibration.engine.judging.record_mismatch import accepted, new_device
from calibration.engine.method.family import method_for
from calibration.engine.method.method import Role
from calibration.engine.view.state import JobState
from calibration.kernel.codec import encode
from calibration.kernel.numbers import parse_decimal
from verifyloop.plant.facts import parameters_of
from verifyloop.plant.models import Instrument, Plan
from verifyloop.plant.proposals import propose
from verifyloop.work.folding import core_job
from verifyloop.work.models import Job

FIELDS = [
    "seq",
    "head",
    "tail",
    "status",
    "stage",
    "step_title",
    "opened_at",
    "opened_by",
    "changed_at",
    "mark_found",
    "mark_left",
    "outcome",
    "follow_up",
    "max_error_found",
    "zero_found",
    "span_found",
    "max_error_left",
    "limit_percent",
    "adjusted",
    "anew",
    "causes",
    "on",
    "timers",
    "has_on",
    "in_block",
    "signed_at",
    "signed_by",
    "references",
    "work_order",
    "learnt",
]


#: What a signature settles: kept with the paper, and read from there ever after.
SETTLED = (
    "opened_by",
    "mark_found",
    "mark_left",
    "outcome",
    "max_error_found",
    "zero_found",
    "span_found",
    "max_error_left",
    "limit_percent",
    "adjusted",
    "causes",
    "signed_by",
    "references",
    "learnt",
)


def projected(job: Job) -> dict[str, Any]:
    """Return what the lists show of a job that was just signed."""
    found: dict[str, Any] = encode({name: getattr(job, name) for name in SETTLED})
    return found


def project(
    job: Job, events: list[core.Event], state: JobState, ledger: Ledger | None = None
) -> None:
    """Set the projected fields of a job; nothing is saved. ``ledger``: its events added up."""
    current = next((s for s in state.steps if s.id == state.current_step), None)
    job.status = state.status
    job.stage = current.stage if current else ""
    job.step_title = current.title if current else ""
    job.opened_at = datetime.fromisoformat(state.opened_at)
    job.opened_by = state.opened_by
    job.changed_at = events[-1].when
    _project_runs(job, state)
    newest = events[-1].when
    now = CoreJob(ledger, timezone.localtime(newest)) if ledger else core_job(job, events, newest)
    job.work_order = now.ledger.opened.work_order
    job.adjusted = now.ledger.set_times > 0
    job.anew = new_device(now) if state.signed_at else ""
    found = [r for r in state.runs if r.role == "found"]
    job.causes = ", ".join(dict.fromkeys(c for run in found for c in run.causes))[:160]
    job.on = [
        {"label": o.label, "since": o.since, "kind": o.kind, "limit_minutes": o.limit_minutes}
        for o in state.on
    ]
    job.timers = encode(state.timers)
    job.in_block = state.in_block if state.status == "open" else ""
    job.has_on = bool(state.on or state.timers) and state.status == "open"
    job.signed_at = datetime.fromisoformat(state.signed_at) if state.signed_at else None
    job.signed_by = state.signed_by
    job.follow_up = state.follow_up
    if state.signed_at:
        job.learnt = now.family.learning.learnt(now)
    job.references = sorted({chosen.asset.asset for chosen in now.ledger.kit.values()})
    if now.ledger.issued:
        for name, value in now.ledger.issued[-1][0].projected.items():
            setattr(job, name, value)


def _worst(state: JobState, role: Role) -> str:
    """Return the worst mark of the runs of a role: of one run, or of one a channel."""
    marks = [r.mark for r in state.runs if r.role == role and r.complete and r.points]
    return next((m for m in ("outside", "near", "within") if m in marks), "none")


def _left_as(state: JobState, outcome: str) -> str:
    """Return the mark of how the instrument was left: never better than what the job came to."""
    worst = _worst(state, "left")
    if outcome in ("", *GOOD):
        return worst if worst != "none" else ""
    return "" if outcome == "stopped" else "outside"


def _project_runs(job: Job, state: JobState) -> None:
    found, left = state.as_found, state.as_left
    job.mark_found = _worst(state, "found") if found.complete else ""
    job.outcome = state.outcome.id if state.signed_at else ""
    job.mark_left = _left_as(state, job.outcome)
    read = [p for p in found.points if p.event and p.mark != "none"]
    job.max_error_found = max((p.error_percent for p in read), key=abs, default=None)
    job.zero_found = found.zero if read else None
    job.span_found = found.span if read else None
    job.limit_percent = min((p.limit_percent for p in read), default=None)
    job.max_error_left = max(
        (p.error_percent for p in (left.points if left else ()) if p.event and p.mark != "none"),
        key=abs,
        default=None,
    )


def update_instrument(job: Job, events: list[core.Event], now: datetime) -> None:
    """Set next due date, last result and service of the instrument when its job is signed."""
    if job.signed_at is None:
        return
    on, signed = timezone.localdate(job.signed_at), core_job(job, events, now)
    Instrument.objects.filter(pk=job.instrument_id).update(
        last_on=on,
        last_mark_found=job.mark_found,
        last_mark_left=left_mark(job),
        last_outcome=job.outcome,
        out_of_service=_out_of_service(job, signed),
    )
    _plan_next(job, signed, on)
    propose(job.instrument, job.number, accepted(signed), job.signed_by, job.signed_at)


def _out_of_service(job: Job, signed: CoreJob) -> dict[str, Any] | None:
    """Return how the instrument stands that is not in service; none where it is."""
    left = signed.ledger.left_as
    if job.outcome != "failed" and not signed.ledger.left_away:
        return None
    how = left[0] if left is not None else None
    assert job.signed_at is not None
    return {
        "since": job.signed_at.isoformat(),
        "job": job.number,
        "left": LEFT_WORDS[how.state] if how else "",
        "to": how.to if how else "",
        "tag": how.tag if how else "",
        "on": [step.on_label for step, _ in signed.ledger.on_now()],
    }


def due_again(job: Job, ledger: Ledger) -> None:
    """Put an instrument back on the list whose job a reviewer wants done again, unless it was."""
    assert ledger.reviewed is not None
    content, event = ledger.reviewed
    newer = Job.objects.filter(
        instrument=job.instrument_id,
        method=job.method,
        signed_at__gt=job.signed_at,
        outcome__in=GOOD,
    )
    if content.outcome != "redo" or newer.exists():
        return
    why = f": {content.comment}" if content.comment else ""
    again = Plan.objects.filter(instrument=job.instrument_id, method=job.method)
    if not again.exists():
        again = Plan.objects.filter(instrument=job.instrument_id)
    again.update(
        next_due=timezone.localdate(event.when),
        due_reason=f"to be done again, says {content.name}{why}"[:160],
    )


def left_mark(job: Job) -> str:
    """Return how an instrument was left: as it was found, where nothing came after it."""
    return job.mark_left or (job.mark_found if job.outcome in ("", *GOOD) else "")


def said_of(job: Job) -> str:
    """Return what a job came to in the words of its method; empty where the marks say it all."""
    if job.outcome in GOOD:
        return ""
    return words_of(method_for(job.method, job.method_version), job.outcome)


def _plan_next(job: Job, signed: CoreJob, on: date) -> None:
    """Within or limited takes the interval, stopped keeps its date, failed has none.

    A good job counts for every plan that it covers; one without a date is due at once.
    """
    plans = {p.method: p for p in Plan.objects.filter(instrument=job.instrument_id)}
    own = plans.pop(job.method, None)
    if own is not None:
        own.next_due, own.due_reason = _next_of(
            own, job.outcome, signed.settings.parameter("interval_days"), on
        )
        # The next job is done by another order.
        own.work_order = ""
        own.save(update_fields=["next_due", "due_reason", "work_order"])
    if job.outcome not in GOOD:
        return
    covered = signed.ledger.method.also_done(signed.ledger.set_times > 0)
    for plan in plans.values():
        if plan.method in covered:
            days = parameters_of(job.instrument, method=plan.method)["interval_days"]
            plan.next_due, why = _next_of(plan, job.outcome, days, on)
            plan.due_reason = f"{why}, done with: {signed.ledger.method.title}"
        elif plan.next_due is None:
            plan.next_due, plan.due_reason = on, "in service again: not done since it failed"
        else:
            continue
        plan.due_reason = plan.due_reason[:160]
        plan.save(update_fields=["next_due", "due_reason"])


def _next_of(plan: Plan, outcome: str, days: core.Parameter, on: date) -> tuple[date | None, str]:
    if outcome == "failed":
        return None, f"failed on {on}: out of service until it is repaired"
    if outcome == "stopped":
        return plan.next_due, f"stopped on {on}, not judged: due as before"
    due = on + timedelta(days=int(parse_decimal(days.value, "interval_days")))
    return due, f"{days.value} days after {on} ({days.source})"
