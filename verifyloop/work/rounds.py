"""A round: which instruments, where it stands, one signature for all. Anybody may take it over."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from django.utils import timezone

from calibration.engine.method.family import newest
from calibration.kernel.errors import InputError
from verifyloop.accounts.models import User
from verifyloop.accounts.permissions import require
from verifyloop.accounts.proving import proven
from verifyloop.errors import NotFound
from verifyloop.plant.selectors import instrument_by_tag
from verifyloop.register.write_lock import writing
from verifyloop.work.appending import NOT_SIGNED, Batch, append_events
from verifyloop.work.folding import core_job, events_of
from verifyloop.work.models import Job, Round, RoundPlace
from verifyloop.work.sent import NewEvent
from verifyloop.work.services import open_job

MOST = 200


@dataclass(frozen=True)
class Standing:
    """Where a round stands, as seen from one of its jobs."""

    id: int
    place: int
    total: int
    job: str
    next: str
    jobs: list[str]
    area: str
    opened_by: str


@dataclass(frozen=True)
class SignedRound:
    """What one signature signed, and what it left open with why."""

    signed: list[str]
    left: list[str]


@writing()
def start(*, actor: User, tags: Sequence[str], now: datetime) -> Job:
    """Begin a round and open the job of its first instrument."""
    require(actor, "job.open")
    if not 2 <= len(tags) <= MOST:
        raise InputError("round.tags", "tags", f"{len(tags)} instruments.", "Take two or more.")
    instruments = [instrument_by_tag(tag) for tag in dict.fromkeys(tags)]
    for i in instruments:
        if not newest(i.due_plans(timezone.localdate(now))[0].method).rounds:
            raise InputError(
                "round.not_fit",
                "tags",
                f"{i.tag} is not checked in rounds.",
                "Check it by itself.",
            )
    busy = RoundPlace.objects.filter(round__ended_at=None, instrument__in=instruments).first()
    if busy is not None:
        raise InputError(
            "round.open",
            "tags",
            f"{busy.instrument.tag} is in a round that {busy.round.opened_by} began.",
            "Go on with that round: it stands on Today.",
        )
    found = Round.objects.create(opened_at=now, opened_by=actor.display_name)
    RoundPlace.objects.bulk_create(
        RoundPlace(round=found, place=n, instrument=i) for n, i in enumerate(instruments)
    )
    return go_on(actor=actor, round_id=found.pk, now=now)


@writing()
def go_on(*, actor: User, round_id: int, now: datetime) -> Job:
    """Open the job of the next instrument; what holds for the round is taken over from the last."""
    places = list(_round(round_id).places.select_related("instrument", "job").order_by("place"))
    waiting = next((p for p in places if p.job is None), None)
    reached = [p.job for p in places if p.job is not None]
    if waiting is None:
        return reached[-1]
    like = reached[-1].number if reached else ""
    waiting.job = open_job(actor=actor, tag=waiting.instrument.tag, now=now, like=like)
    waiting.save(update_fields=["job"])
    return waiting.job


@writing()
def sign(*, actor: User, round_id: int, password: str, now: datetime) -> SignedRound:
    """Sign every job of a round that is ready and that the signer recorded in: all or nothing."""
    require(actor, "job.sign")
    proven(actor.username, password, NOT_SIGNED, quick=True)
    found = _round(round_id)
    signed, left = [], []
    for place in found.places.select_related("instrument", "job").order_by("place"):
        job = place.job
        if job is None:
            left.append(f"{place.instrument.tag} was not reached.")
        elif job.status == Job.Status.OPEN:
            why = _not_ready(job, actor, now)
            if why:
                left.append(f"{place.instrument.tag}: {why}")
                continue
            _sign(job, actor, now)
            signed.append(job.number)
    if not left:
        found.ended_at = now
        found.save(update_fields=["ended_at"])
    return SignedRound(signed, left)


def _not_ready(job: Job, actor: User, now: datetime) -> str:
    """Return why a job of a round cannot be signed by somebody; empty when it can."""
    events = events_of(job)
    step = core_job(job, events, now).current
    if step is None or step.kind != "sign":
        return "it is not done yet." if step is None else f"'{step.title}' is still open."
    recorded = job.events.filter(actor=actor).exclude(kind="opened").exists()
    return "" if recorded else f"{events[-1].by} recorded in it, and signs it."


def _sign(job: Job, actor: User, now: datetime) -> None:
    event = NewEvent(uuid.uuid4(), "signed", {}, "typed", None)
    append_events(
        Batch(
            actor=actor,
            number=job.number,
            expected_seq=job.seq,
            events=[event],
            now=now,
            identity_proven=True,
        )
    )


def _round(round_id: int) -> Round:
    found = Round.objects.filter(pk=round_id).first()
    if found is None:
        raise NotFound("round.unknown", "There is no such round.", "Start from Today.")
    return found


def standing_of(number: str) -> Standing | None:
    """Return the round that is under way and that a job belongs to; none where there is none."""
    here = RoundPlace.objects.filter(job__number=number, round__ended_at=None).first()
    return _standing(here.round_id, here.place) if here is not None else None


def under_way() -> list[Standing]:
    """Return the rounds that nobody has ended, each where it stands."""
    places = RoundPlace.objects.filter(round__ended_at=None).order_by("round_id", "place")
    reached: dict[int, int] = {}
    for p in places:
        reached[p.round_id] = p.place if p.job_id else reached.get(p.round_id, 0)
    return [_standing(round_id, place) for round_id, place in reached.items()]


def _standing(round_id: int, place: int) -> Standing:
    places = list(
        RoundPlace.objects.select_related("round", "job", "instrument__area")
        .filter(round_id=round_id)
        .order_by("place")
    )
    job = places[place].job
    following = places[place + 1] if place + 1 < len(places) else None
    return Standing(
        id=round_id,
        place=place + 1,
        total=len(places),
        job=job.number if job is not None else "",
        next=following.instrument.tag if following is not None else "",
        jobs=[p.job.number for p in places if p.job is not None],
        area=places[0].instrument.area.name,
        opened_by=places[0].round.opened_by,
    )
