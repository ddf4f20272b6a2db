"""Writing to jobs: opening one, and appending a batch of events."""

from __future__ import annotations

import uuid
from datetime import datetime

from django.db import transaction
from django.db.models.functions import Length
from django.utils import timezone

import calibration.families  # noqa: F401  # registers them
from calibration.engine import events as core
from calibration.engine.admit import admit
from calibration.engine.family import fitting, newest
from calibration.engine.job import Job as CoreJob
from calibration.engine.sealing import canonical
from calibration.engine.view.state import JobState
from calibration.kernel.codec import LONGEST_TEXT, encode
from calibration.kernel.errors import InputError
from verifyloop.accounts.models import User
from verifyloop.accounts.permissions import require
from verifyloop.accounts.proving import proven
from verifyloop.errors import Conflict, DomainError, NotFound
from verifyloop.plant.facts import facts_of, parameters_of
from verifyloop.plant.models import Instrument
from verifyloop.plant.selectors import instrument_by_tag
from verifyloop.register.turns import take_turn, writing
from verifyloop.rigs.models import Rig
from verifyloop.work.along import book, follow, own_now
from verifyloop.work.clocks import clocks_agree, time_of
from verifyloop.work.enrich import enrich
from verifyloop.work.folding import core_job, events_of, state_of, state_of_ledger
from verifyloop.work.issuing import first_issue
from verifyloop.work.models import Event, Job
from verifyloop.work.people import may_sign
from verifyloop.work.projection import FIELDS, due_again, project, update_instrument
from verifyloop.work.selectors import last_good
from verifyloop.work.sent import NewEvent
from verifyloop.work.storing import REGISTERED, settle, store

MOST_EVENTS = 200
#: by kind of event; all others are records of the work
PERMISSION = {
    "signed": "job.sign",
    "reviewed": "job.review",
    "followed_up": "job.follow",
    "voided": "job.open",
    "lock_ended": "lock.end",
}
NOT_SIGNED = (
    "The password is not right. Nothing was signed.",
    "Type the password you sign in with.",
    "password",
)
#: What the register names is written by one at a time, and so is what takes from the kit.
IN_TURN = {*REGISTERED, "kit_chosen"}
#: Names put under a job: the password is asked for again.
SIGNATURES = ("signed", "reviewed")
#: Locks come off by the hand of a person who proves who it is.
PROVEN = (*SIGNATURES, "lock_taken_off", "lock_ended")


def job_by_number(number: str, *, to_write: bool = False) -> Job:
    """Return one job; ``to_write``: nobody else writes to it until the transaction ends."""
    every = Job.objects.select_related("instrument__area")
    every = every.select_for_update(of=("self",)) if to_write else every
    found = every.filter(number=number).first()
    if found is None:
        raise NotFound("job.unknown", f"There is no job '{number[:40]}'.", "Start from Today.")
    return found


@writing()
def open_job(
    *,
    actor: User,
    tag: str,
    now: datetime,
    follows: str = "",
    like: str = "",
    method_id: str = "",
) -> Job:
    """Open a job on an instrument; one that is open already is returned instead.

    By the method given, where it fits or is planned; else by the plan that is due.
    """
    require(actor, "job.open")
    instrument = instrument_by_tag(tag)
    running = Job.objects.filter(instrument=instrument, status=Job.Status.OPEN).first()
    if running is not None:
        return running
    earlier = job_by_number(follows) if follows else None
    if earlier is not None and earlier.status == Job.Status.OPEN:
        raise InputError(
            "job.still_open", "follows", f"{follows} is not signed yet.", "Finish it instead."
        )
    method = newest(_method_of(instrument, method_id, now))
    plan = instrument.plan_of(method.id)
    order = plan.work_order if plan is not None else ""
    job = Job.objects.create(
        number=_next_number(now),
        instrument=instrument,
        method=method.id,
        method_version=method.version,
        follows=earlier,
        opened_at=now,
        opened_by=actor.display_name,
        changed_at=now,
        work_order=order,
    )
    rig = Rig.objects.filter(instrument=instrument).exists()
    opened = core.Opened(
        job=job.number,
        instrument=facts_of(instrument, rig=rig, own=own_now(instrument, timezone.localdate(now))),
        method=method.id,
        version=method.version,
        parameters=parameters_of(instrument, method=method.id),
        follows=earlier.number if earlier else "",
        last_good=last_good(instrument.pk),
        asks=True,
        work_order=order,
    )
    event = _make(actor, 1, NewEvent(uuid.uuid4(), "opened", encode(opened)), now, now)
    store(job, [event], actor)
    _finish(job, [event], state_of(job, [event], now), 0)
    if like:
        _carry_over(actor, job, job_by_number(like), now)
    return job


def _method_of(instrument: Instrument, wanted: str, now: datetime) -> str:
    """Return the method of a job: the one that is due, or the one wanted where it fits."""
    if not wanted:
        return instrument.due_plans(timezone.localdate(now))[0].method
    fits = [id for id, _ in fitting(facts_of(instrument, rig=False))]
    if wanted not in (*fits, *(p.method for p in instrument.plans.all())):
        raise InputError(
            "method.does_not_fit",
            "method",
            f"That method does not fit {instrument.tag}.",
            "Choose one of: " + ", ".join(newest(m).title for m in fits) + ".",
        )
    return wanted


def _carry_over(actor: User, job: Job, like: Job, now: datetime) -> None:
    """Take over from a job of the same round what holds for the whole round.

    Kit and the operator told are entered anew for this job; what does not fit is left open.
    """
    if like.method != job.method:
        return
    ledger = core_job(like, events_of(like), now).ledger
    kit = [
        NewEvent(
            uuid.uuid4(),
            "kit_chosen",
            {"role": role, "asset": chosen.asset.asset, "reason": chosen.reason},
        )
        for role, chosen in ledger.kit.items()
    ]
    told = [
        NewEvent(uuid.uuid4(), "recorded", {"step": step, "field": field, "value": value})
        for (step, field), (value, _) in ledger.recorded.items()
        if (told := ledger.method.step(step)) is not None and told.for_round
    ]
    for batch in ([e] for e in (*kit, *told)):
        try:
            append_events(
                actor=actor, number=job.number, expected_seq=job.seq, events=batch, now=now
            )
        except (InputError, DomainError):
            return
        job.refresh_from_db()


def _next_number(now: datetime) -> str:
    prefix = f"J{now:%y}-"
    of_year = Job.objects.filter(number__startswith=prefix)
    last = of_year.order_by(Length("number").desc(), "-number").first()
    return f"{prefix}{int(last.number[len(prefix) :]) + 1 if last else 1:05d}"


@transaction.atomic
def append_events(
    *,
    actor: User,
    number: str,
    expected_seq: int,
    events: list[NewEvent],
    now: datetime,
    password: str = "",
    identity_proven: bool = False,
) -> JobState:
    """Append a batch: all of it or nothing. An event that is stored already counts as done.

    Order: load, sort out repeats, check the version, then for each event permission, facts
    from kit and rig, and the rules of the core; then store, project, and answer with the state.
    A signature asks for the password again, unless the caller has proven the identity itself.
    """
    if len(events) > MOST_EVENTS:
        raise InputError(
            "batch.too_long", "events", f"{len(events)} events.", f"Send {MOST_EVENTS} at most."
        )
    if any(e.kind in IN_TURN for e in events):
        take_turn()
    job = job_by_number(number, to_write=True)
    standing = events_of(job)
    fresh = _not_yet_stored(job, standing, events)
    if not fresh:
        return state_of(job, standing, now)
    if expected_seq != job.seq:
        raise Conflict(
            "job.changed",
            _who_was_faster(standing, expected_seq),
            "Your entry is kept. Look at what changed, then send it again.",
            "expected_seq",
        )
    known = {e.id: e for e in standing}
    added: list[core.Event] = []
    ledger = core_job(job, standing, now).ledger
    for sent in fresh:
        require(actor, PERMISSION.get(sent.kind, "job.record"))
        if sent.kind in PROVEN and not identity_proven:
            proven(actor.username, password, NOT_SIGNED, quick=True)
        if sent.kind in SIGNATURES:
            may_sign(job, actor, sent.kind, added)
        at = time_of(sent, now, standing[0].when)
        if sent.kind in SIGNATURES:
            clocks_agree(sent, now)
        before = CoreJob(ledger, timezone.localtime(at))
        known_better = enrich(sent, job, actor, before, at, standing)
        event = _make(actor, len(standing) + 1, known_better, at, now)
        event = _kept_only_if_asked(before, event, known)
        follow(job, before, event)
        standing.append(event)
        known[event.id] = event
        added.append(event)
        if event.kind == "retracted":
            ledger = core_job(job, standing, now).ledger
        else:
            ledger.add(event)
    old_seq = job.seq
    store(job, added, actor)
    if any(e.kind == "signed" for e in added):
        issued = first_issue(job, ledger, standing, now)
        store(job, [issued], actor)
        standing.append(issued)
        ledger.add(issued)
    state = state_of_ledger(ledger, standing, now)
    book(job, CoreJob(ledger, timezone.localtime(now)))
    _finish(job, standing, state, old_seq)
    if any(e.kind == "signed" for e in added):
        update_instrument(job, standing, now)
    if any(e.kind == "reviewed" for e in added):
        due_again(job, ledger)
    return state


def _kept_only_if_asked(
    before: CoreJob, event: core.Event, known: dict[str, core.Event]
) -> core.Event:
    """Admit an event; that a value was kept when asked is stored only where it was asked about."""
    if event.data.get("kept"):
        bare = {name: value for name, value in event.data.items() if name != "kept"}
        said = {**vars(event), "data": bare}
        del said["content"]
        plain = core.make_event(**said)
        try:
            admit(before, plain, known)
        except InputError as refused:
            if refused.code != "slip.suspected":
                raise
        else:
            return plain
    admit(before, event, known)
    return event


def _not_yet_stored(job: Job, standing: list[core.Event], events: list[NewEvent]) -> list[NewEvent]:
    have = {e.id for e in standing}
    fresh: dict[str, NewEvent] = {}
    for sent in events:
        if str(sent.id) not in have:
            fresh.setdefault(str(sent.id), sent)
    if fresh and Event.objects.filter(uuid__in=[e.id for e in fresh.values()]).exists():
        raise InputError(
            "event.elsewhere", "events", "An event with this id is in another job.", "Reload."
        )
    return list(fresh.values())


def _who_was_faster(standing: list[core.Event], expected_seq: int) -> str:
    newer = [e for e in standing if e.seq > expected_seq]
    if not newer:
        return "The entry is numbered ahead of the job."
    people = " and ".join(dict.fromkeys(e.by for e in newer))
    entries = "an entry" if len(newer) == 1 else f"{len(newer)} entries"
    return f"{people} added {entries} to this job in the meantime."


def _make(actor: User, seq: int, sent: NewEvent, at: datetime, now: datetime) -> core.Event:
    if sent.source not in ("typed", "simulated"):
        raise InputError(
            "event.source", "source", f"'{sent.source[:30]}' is no source.", "Use typed."
        )
    text = canonical(sent.data)
    if len(text) > 4 * LONGEST_TEXT:
        raise InputError(
            "text.too_long",
            "data",
            f"The entry has {len(text)} characters.",
            f"Use at most {LONGEST_TEXT} characters in a text.",
        )
    return core.make_event(
        id=str(sent.id),
        seq=seq,
        kind=sent.kind,
        at=at.isoformat(timespec="milliseconds"),
        by=actor.display_name,
        role=actor.role,
        source=sent.source,
        data=sent.data,
        account=actor.username,
        arrived=now.isoformat(timespec="milliseconds"),
        wall=sent.at.isoformat(timespec="milliseconds") if sent.at else "",
    )


def _finish(job: Job, events: list[core.Event], state: JobState, old_seq: int) -> None:
    """Save the projection, provided nobody wrote to the job since it was loaded."""
    project(job, events, state)
    job.seq = events[-1].seq
    settle(job)
    values = {name: getattr(job, name) for name in FIELDS}
    if not Job.objects.filter(pk=job.pk, seq=old_seq).update(**values):
        raise Conflict("job.changed", "The job changed meanwhile.", "Send it again.")
