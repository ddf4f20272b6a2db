"""From the events of a job to everything that a screen shows of it."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime, timedelta

from calibration.decisions.tolerance import in_words as tolerance_words
from calibration.engine.admission.follow_ups import asked, may_void
from calibration.engine.admission.retracting import retractable
from calibration.engine.job.clocks import jumps, said_of
from calibration.engine.job.events import Event, in_order
from calibration.engine.job.history import in_words
from calibration.engine.job.job import Job
from calibration.engine.job.ledger import Ledger, build
from calibration.engine.job.parameters import Settings
from calibration.engine.judging.outcome import outcome
from calibration.engine.method.method import STAGES, Method
from calibration.engine.view.bench_links import links
from calibration.engine.view.forms import mishaps
from calibration.engine.view.lines import Limit, LogLine, OnState, StageState, TimerState
from calibration.engine.view.run_view import attempt_states, run_state
from calibration.engine.view.state import Instrument, JobState
from calibration.engine.view.step_view import step_state
from calibration.engine.view.tasks import tasks
from calibration.engine.view.verdict import judgement
from calibration.kernel.numbers import exact
from calibration.kernel.present import words
from calibration.kernel.rounding import fixed, trimmed


def fold(method: Method, events: Sequence[Event], now: datetime) -> JobState:
    """Return the state of a job.

    Parameters
    ----------
    method : Method
        In the version that the job began with.
    events : sequence of Event
        In any order; repeats of one id count once, retracted ones not at all.
    now : datetime
        With its zone; only running timers depend on it.

    Raises
    ------
    InputError
        ``job.not_opened``.
    """
    with exact():
        return view(Job(build(method, events), now), events)


def view(job: Job, events: Sequence[Event]) -> JobState:
    """Return the state of a job that is already added up."""
    ledger, method = job.ledger, job.ledger.method
    left = method.left
    steps = tuple(step_state(job, step) for step in ledger.method.steps)
    current = job.current
    signed, reviewed = ledger.signed, ledger.reviewed
    status = "reviewed" if reviewed else "signed" if signed else "open"
    status = "voided" if ledger.voided else status
    todo = tasks(job)
    return JobState(
        job=ledger.opened.job,
        seq=ledger.seq,
        status=status,  # type: ignore[arg-type]
        method=ledger.method.title,
        method_version=ledger.method.version,
        follows=ledger.opened.follows,
        instrument=_instrument(job),
        stages=_stages(job),
        steps=steps,
        current_step=current.id if current else "",
        tasks=todo,
        as_found=run_state(job, method.found.id, job.as_found),
        as_left=run_state(job, left.id, job.figures(left.id)) if left is not None else None,
        extra_runs=tuple(
            run_state(job, run.id, job.figures(run.id))
            for run in method.runs
            if run not in (method.found, left) and _wanted(job, run.id)
        )
        + attempt_states(job),
        in_block=_in_block(job),
        block=_block(job),
        by_turns=_by_turns(job),
        judgement=judgement(job),
        blocks=job.family.blocks(job),
        bench=links(job, todo[0]) if status == "open" else (),
        on=on_states(job),
        timers=timer_states(job),
        to_close=to_close(job),
        may_void=may_void(job),
        notes=tuple(text for text, _ in ledger.notes),
        limits=_limits(job),
        last_undoable=last_undoable(ledger, events),
        outcome=outcome(job),
        asked=asked(job),
        mishaps=mishaps(job),
        follow_up=ledger.follow_up,
        clocks=jumps(in_order(events)),
        signed_by=signed[0].name if signed else "",
        signed_at=signed[1].at if signed else "",
        review=_review(ledger),
        opened_by=ledger.opened_event.by,
        opened_at=ledger.opened_event.at,
    )


def _review(ledger: Ledger) -> str:
    if ledger.reviewed is None:
        return ""
    content = ledger.reviewed[0]
    outcome = "accepted" if content.outcome == "accepted" else "to be done again"
    return f"{outcome} by {content.name}" + (f": {content.comment}" if content.comment else "")


def _in_block(job: Job) -> str:
    current = job.current
    if current is None or current.kind != "capture" or current.run not in job.ledger.placed:
        return ""
    return job.ledger.placed[current.run][0].block


def _block(job: Job) -> str:
    """Return the block chosen, where a rig can heat it and the run may go on by itself."""
    return _source_of_run(job) if job.ledger.facts.rig else ""


def _by_turns(job: Job) -> str:
    """Return the block chosen, where a person reads in it, in turn with what else stands in it."""
    return "" if job.ledger.facts.rig else _source_of_run(job)


def _source_of_run(job: Job) -> str:
    alone = [r.id for s in job.ledger.method.steps for r in s.roles if r.alone]
    chosen, current = job.ledger.kit.get(next(iter(alone), "")), job.current
    if chosen is None or current is None:
        return ""
    return chosen.asset.asset if current.kind == "capture" else ""


def _wanted(job: Job, run: str) -> bool:
    step = job.ledger.method.step(run)
    if step is None:
        # Read in a step of another name, together with others.
        return bool(job.ledger.readings[run])
    return job.needed(step)


def school_of(settings: Settings) -> str:
    """Return by which school the site adjusts, with who says so."""
    if settings.always_adjust:
        return f"always trimmed to nominal ({settings.parameter('school').source})"
    share = settings.parameter("adjust_share")
    return f"only when past {share.value} % of the tolerance ({share.source})"


def _instrument(job: Job) -> Instrument:
    f, own, family = job.facts_found, job.ledger.facts, job.family
    adjusts = job.ledger.method.sets and job.settings.has("school")
    decimals = 3 if f.output_unit in ("Ω", "mV") else 30
    lower, upper = (trimmed(fixed(end, decimals)) for end in (f.output_lower, f.output_upper))
    return Instrument(
        tag=f.tag,
        serial=f.serial,
        description=f.description,
        area=f.area,
        range=family.said.range(job)
        if family.said.range
        else f"{trimmed(own.input_lower)} to {trimmed(own.input_upper)} {own.input_unit}",
        output=family.said.output(job)
        if family.said.output
        else f"{lower} to {upper} {f.output_unit}",
        tolerance=family.said.limit
        or tolerance_words(own.tolerance, own.input_unit, own.output_unit),
        tolerance_source=f.tolerance_source,
        input_unit=f.input_unit,
        output_unit=f.output_unit,
        smart=f.smart,
        indicated=f.indicated,
        rig=f.rig,
        school=school_of(job.settings) if adjusts else "not adjusted: replaced when outside",
    )


def _stages(job: Job) -> tuple[StageState, ...]:
    found = []
    current = job.current
    order = [id for id, _ in STAGES]
    reached = order.index(current.stage) if current else len(order)
    for id, title in STAGES:
        wanted = [
            s
            for s in job.ledger.method.steps
            if s.stage == id and not s.aside and job.statuses[s.id] != "skipped"
        ]
        done = sum(job.statuses[s.id] == "done" for s in wanted)
        passed = order.index(id) < reached
        share = done / len(wanted) if wanted else float(passed)
        here = current is not None and current.stage == id
        if here and current is not None and current.kind == "capture":
            run = job.figures(current.run)
            share = (done + len(run.order) / len(run.plan)) / len(wanted)
        found.append(
            StageState(
                id=id,
                title=title,
                status="now" if here else "done" if passed and done == len(wanted) else "open",
                done_share=share,
            )
        )
    return tuple(found)


def on_states(job: Job) -> tuple[OnState, ...]:
    """Return what is on: bypass, manual mode, connected references, gas."""
    found = [*job.family.on(job)]
    for step, event in job.ledger.on_now():
        endings = [s for s in job.ledger.method.steps if s.ends == step.id]
        ending = next((s for s in endings if job.statuses[s.id] != "skipped"), None)
        found.append(
            OnState(
                step=step.id,
                label=step.on_label,
                since=event.at,
                by=_holder(job, step.id),
                limit_minutes=job.settings.parameter("bypass_minutes").value
                if step.on_kind == "bypass"
                else "",
                ends_with=ending.title if ending else "",
                kind=step.on_kind,
            )
        )
    return (*found, *_locks(job))


def _locks(job: Job) -> tuple[OnState, ...]:
    """Return the lock of each person that hangs."""
    found = []
    for (id, account), event in job.ledger.locks.on.items():
        step = job.step(id)
        ending = next((s for s in job.ledger.method.steps if s.ends == id), None)
        found.append(
            OnState(
                step=id,
                label=f"{step.on_label}: lock of {event.by}",
                since=event.at,
                by=event.by,
                limit_minutes="",
                ends_with=ending.title if ending else "",
                kind="lock",
                account=account,
            )
        )
    return tuple(found)


def _holder(job: Job, step: str) -> str:
    """Return who has what is on: who put it on, who took it over, who it was left with."""
    left = job.ledger.left_as
    if job.ledger.left_away and left is not None and left[0].to:
        return left[0].to
    return job.ledger.holder(step).by


def timer_states(job: Job) -> tuple[TimerState, ...]:
    """Return the waits that still run."""
    found = []
    for step in job.ledger.method.steps:
        if step.kind != "timer" or step.id in job.ledger.waived:
            continue
        end = job.timer_end(step)
        if end is not None and job.now < end:
            found.append(TimerState(step=step.id, label=step.title, ends_at=end.isoformat()))
    return tuple(found)


def to_close(job: Job) -> tuple[str, ...]:
    """Return what stands between this job and its signature, one sentence each."""
    if job.ledger.signed or job.ledger.voided:
        return ()
    said = [*job.family.to_close(job)]
    said += [f"Not said yet: {a.title}" for a in asked(job)]
    for step, event in job.ledger.on_now():
        if job.ledger.left_away and step.on_kind == "bypass":
            continue
        minutes = (job.now - event.when) // timedelta(minutes=1)
        said.append(f"{step.on_label} is still on, for {minutes} min (set by {event.by}).")
    for (id, _), event in job.ledger.locks.on.items():
        label = job.step(id).on_label
        said.append(f"{label}: the lock of {event.by} is still on.")
    for step in job.ledger.method.steps:
        if step.aside or step.kind in ("sign", "take_off"):
            continue
        if job.statuses[step.id] in ("now", "open", "blocked"):
            said.append(f"Not done yet: {step.title.lower()}.")
    return tuple(said)


def _limits(job: Job) -> tuple[Limit, ...]:
    found = []
    for spec in job.ledger.method.parameters:
        p = job.settings.parameter(spec.id)
        found.append(
            Limit(
                id=spec.id,
                label=spec.label,
                value=p.value.replace("_", " "),
                said=words(p.value) if spec.kind == "choice" else p.value,
                unit=p.unit,
                source=p.source,
            )
        )
    return tuple(found)


def last_undoable(ledger: Ledger, events: Sequence[Event]) -> str:
    """Return the id of the newest entry that may be taken back; empty when there is none."""
    newest_first = reversed(in_order(events))
    return next((e.id for e in newest_first if not retractable(ledger, e)), "")


def history(ledger: Ledger, events: Sequence[Event]) -> tuple[LogLine, ...]:
    """Return every entry of a job in words, newest first; what was taken back stays."""
    lines = []
    for event in reversed(in_order(events)):
        taken_back = ledger.retracted.get(event.id)
        lines.append(
            LogLine(
                id=event.id,
                seq=event.seq,
                at=event.at,
                by=event.by,
                source=event.source,
                clock=said_of(event),
                text=in_words(ledger, event),
                retracted=taken_back.reason if taken_back else "",
                can_retract=not retractable(ledger, event),
            )
        )
    return tuple(lines)
