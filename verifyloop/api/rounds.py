"""Rounds: beginning one, going on, and one signature for all of it."""

from __future__ import annotations

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Schema

from verifyloop.api.jobs import JobRef
from verifyloop.work import rounds

router = Router(tags=["rounds"])


class RoundIn(Schema):
    """The instruments of a round, in their order."""

    tags: list[str]


class RoundOut(Schema):
    """Where a round stands."""

    id: int
    place: int
    total: int
    job: str
    next: str
    jobs: list[str]
    area: str
    opened_by: str


class OfJob(Schema):
    """The round that a job belongs to; none where it is done by itself."""

    round: RoundOut | None


class Password(Schema):
    """The password of the person who signs."""

    password: str


class SignedOut(Schema):
    """What was signed, and what was left open with why."""

    signed: list[str]
    left: list[str]


@router.post("", response=JobRef, operation_id="startRound")
def start_round(request: HttpRequest, body: RoundIn) -> JobRef:
    """Begin a round; answers with its first job."""
    job = rounds.start(
        actor=request.user,  # type: ignore[arg-type]
        tags=body.tags,
        now=timezone.now(),
    )
    return JobRef(job=job.number)


@router.get("/of/{number}", response=OfJob, operation_id="roundOfJob")
def round_of_job(request: HttpRequest, number: str) -> OfJob:
    """Return the round that a job belongs to."""
    found = rounds.standing_of(number)
    return OfJob(round=RoundOut(**vars(found)) if found is not None else None)


@router.post("/{round_id}/next", response=JobRef, operation_id="nextOfRound")
def next_of_round(request: HttpRequest, round_id: int) -> JobRef:
    """Open the next job of a round."""
    job = rounds.go_on(
        actor=request.user,  # type: ignore[arg-type]
        round_id=round_id,
        now=timezone.now(),
    )
    return JobRef(job=job.number)


@router.post("/{round_id}/sign", response=SignedOut, operation_id="signRound")
def sign_round(request: HttpRequest, round_id: int, body: Password) -> SignedOut:
    """Sign every job of a round that is ready, all or nothing."""
    done = rounds.sign(
        actor=request.user,  # type: ignore[arg-type]
        round_id=round_id,
        password=body.password,
        now=timezone.now(),
    )
    return SignedOut(**vars(done))
