"""Appending to a job: admitted by the rules of the core, sealed behind what stands there.

What a person types is looked at before anybody is kept waiting. Whoever was overtaken meanwhile,
and what takes from what others have too, is looked at while nobody else writes.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.db import IntegrityError, transaction
from django.utils import timezone

import calibration.families  # noqa: F401  # registers them
from calibration.engine.admission.admit import admit
from calibration.engine.job import events as core
from calibration.engine.job.job import Job as CoreJob
from calibration.engine.job.sealing import canonical
from calibration.engine.view.state import JobState
from calibration.kernel.codec import LONGEST_TEXT
from calibration.kernel.errors import InputError
from verifyloop.accounts.models import User
from verifyloop.accounts.permissions import require
from verifyloop.accounts.proving import proven
from verifyloop.errors import Conflict
from verifyloop.register import heads
from verifyloop.register.write_lock import take_turn
from verifyloop.work.at_hand import Standing, at_hand
from verifyloop.work.clocks import clocks_agree, time_of
from verifyloop.work.enrich import enrich
from verifyloop.work.folding import core_job, state_of_ledger
from verifyloop.work.issuing import first_issue
from verifyloop.work.models import Event, Job
from verifyloop.work.people import may_sign
from verifyloop.work.projection import due_again, project, update_instrument
from verifyloop.work.sent import NewEvent
from verifyloop.work.side_effects import book, follow
from verifyloop.work.storing import REGISTERED, put, sealed, store, subject_of, tail_of

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
#: Columns that say how far a job has come: always saved.
PLACE = ("seq", "head", "tail")
#: Locks come off by the hand of a person who proves who it is.
PROVEN = (*SIGNATURES, "lock_taken_off", "lock_ended")


class OvertakenError(Conflict):
    """Somebody wrote to the job since it was read; nothing was stored."""

    def __init__(self) -> None:
        super().__init__("job.changed", "The job changed meanwhile.", "Send it again.")


@dataclass(frozen=True, kw_only=True)
class Batch:
    """What somebody sends for a job, and when it came."""

    actor: User
    number: str
    expected_seq: int
    events: list[NewEvent]
    now: datetime
    password: str = ""
    #: the caller has proven who it is, or a signature asks for the password again
    identity_proven: bool = False

    @property
    def in_turn(self) -> bool:
        """Tell whether the register names it or the kit is taken from: then one at a time."""
        return any(e.kind in IN_TURN for e in self.events)

    @property
    def by_itself(self) -> bool:
        """Tell whether nothing but the job itself says what becomes of it."""
        return not any(
            e.kind in (*IN_TURN, *PROVEN) or e.source != "typed" or "way" in e.data
            for e in self.events
        )


def append_events(batch: Batch) -> JobState:
    """Append a batch: all of it or nothing. An event that is stored already counts as done.

    Order: load, sort out repeats, check the version, then for each event permission, facts
    from kit and rig, and the rules of the core; then store, project, and answer with the state.
    """
    if len(batch.events) > MOST_EVENTS:
        raise InputError(
            "batch.too_long",
            "events",
            f"{len(batch.events)} events.",
            f"Send {MOST_EVENTS} at most.",
        )
    if batch.by_itself and not transaction.get_connection().in_atomic_block:
        try:
            return _ahead(batch)
        except (OvertakenError, IntegrityError):
            # What is true now is seen with nobody else writing.
            pass
    with transaction.atomic():
        return _locked(batch)


def _ahead(batch: Batch) -> JobState:
    """Look at everything first; write only where the job is as it was read."""
    with at_hand(batch.number) as here:
        job, old_seq = here.job, here.job.seq
        if len(here.events) != old_seq:
            raise OvertakenError
        fresh = _fresh(batch, here)
        if fresh:
            _admit(batch, here, fresh)
        state = state_of_ledger(here.ledger, here.events, batch.now)
        if not fresh:
            return state
        rows = sealed(job, here.added, batch.actor)
        changed = come_to(here, state)
        with transaction.atomic():
            keep(job, changed, old_seq)
            put(job, rows)
            book(job, CoreJob(here.ledger, timezone.localtime(batch.now)))
    return state


def _locked(batch: Batch) -> JobState:
    """Look at everything and write, while nobody else writes to the job."""
    if batch.in_turn:
        take_turn()
    with at_hand(batch.number, to_write=True, anew=batch.in_turn) as here:
        fresh = _fresh(batch, here)
        if not fresh:
            return state_of_ledger(here.ledger, here.events, batch.now)
        _not_elsewhere(fresh)
        _admit(batch, here, fresh)
        return _store(here, batch)


def _fresh(batch: Batch, here: Standing) -> list[NewEvent]:
    """Return what is not stored yet, where it fits behind what stands there."""
    fresh = _not_yet_stored(here.events, batch.events)
    if fresh and batch.expected_seq != here.job.seq:
        raise Conflict(
            "job.changed",
            _who_was_faster(here.events, batch.expected_seq),
            "Your entry is kept. Look at what changed, then send it again.",
            "expected_seq",
        )
    return fresh


def _admit(batch: Batch, here: Standing, fresh: list[NewEvent]) -> None:
    """Admit event after event, each on top of those before."""
    actor, now = batch.actor, batch.now
    job, standing = here.job, here.events
    known = {e.id: e for e in standing}
    for sent in fresh:
        require(actor, PERMISSION.get(sent.kind, "job.record"))
        if sent.kind in PROVEN and not batch.identity_proven:
            proven(actor.username, batch.password, NOT_SIGNED, quick=True)
        if sent.kind in SIGNATURES:
            may_sign(job, actor, sent.kind, here.added)
        at = time_of(sent, now, standing[0].when)
        if sent.kind in SIGNATURES:
            clocks_agree(sent, now)
        before = CoreJob(here.ledger, timezone.localtime(at))
        known_better = enrich(sent, job, actor, before, at, standing)
        event = made(actor, len(standing) + 1, known_better, at, now)
        event = _kept_only_if_asked(before, event, known)
        follow(job, before, event)
        standing.append(event)
        known[event.id] = event
        here.added.append(event)
        if event.kind == "retracted":
            here.ledger = core_job(job, standing, now).ledger
        else:
            here.ledger.add(event)


def _store(here: Standing, batch: Batch) -> JobState:
    """Store what was admitted; a signature is stored with its paper, and ends in its own state."""
    job, now, old_seq = here.job, batch.now, here.job.seq
    store(job, here.added, batch.actor)
    if here.has("signed"):
        issued = first_issue(job, here.ledger, here.events, now)
        store(job, [issued], batch.actor)
        here.events.append(issued)
        here.ledger.add(issued)
    state = state_of_ledger(here.ledger, here.events, now)
    book(job, CoreJob(here.ledger, timezone.localtime(now)))
    keep(job, come_to(here, state), old_seq)
    if here.has("signed"):
        update_instrument(job, here.events, now)
    if here.has("reviewed"):
        due_again(job, here.ledger)
    return state


def come_to(here: Standing, state: JobState) -> dict[str, Any]:
    """Set on a job how far it has come and what lists show of it; return what that changes.

    Nothing is saved.
    """
    job, before = here.job, here.saved
    project(job, here.events, state, here.ledger)
    job.seq = here.events[-1].seq
    job.tail = tail_of(job)
    here.saved = here.columns()
    return {n: v for n, v in here.saved.items() if n in PLACE or n not in before or v != before[n]}


def keep(job: Job, changed: dict[str, Any], old_seq: int) -> None:
    """Save how far a job has come, on its row and in the register apart from it.

    Raises
    ------
    OvertakenError
        It is not at ``old_seq`` any more.
    """
    if not Job.objects.filter(pk=job.pk, seq=old_seq).update(**changed):
        raise OvertakenError
    heads.keep(subject_of(job), job.seq, job.head)


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


def _not_yet_stored(standing: list[core.Event], events: list[NewEvent]) -> list[NewEvent]:
    have = {e.id for e in standing}
    fresh: dict[str, NewEvent] = {}
    for sent in events:
        if str(sent.id) not in have:
            fresh.setdefault(str(sent.id), sent)
    return list(fresh.values())


def _not_elsewhere(fresh: list[NewEvent]) -> None:
    """Refuse an id that another job has; where it was not asked, the store itself says no."""
    if Event.objects.filter(uuid__in=[e.id for e in fresh]).exists():
        raise InputError(
            "event.elsewhere", "events", "An event with this id is in another job.", "Reload."
        )


def _who_was_faster(standing: list[core.Event], expected_seq: int) -> str:
    newer = [e for e in standing if e.seq > expected_seq]
    if not newer:
        return "The entry is numbered ahead of the job."
    people = " and ".join(dict.fromkeys(e.by for e in newer))
    entries = "an entry" if len(newer) == 1 else f"{len(newer)} entries"
    return f"{people} added {entries} to this job in the meantime."


def made(actor: User, seq: int, sent: NewEvent, at: datetime, now: datetime) -> core.Event:
    """Return an event with who made it and when it came."""
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
