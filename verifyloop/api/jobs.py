"""Jobs: opening, reading, and the one endpoint that writes."""

from __future__ import annotations

import uuid
from datetime import datetime
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Router, Schema
from pydantic import Field

from calibration.engine.admission.signing import account_note, statement
from calibration.engine.job.events import RunName
from calibration.engine.judging.explain import Explanation
from calibration.engine.view.lines import LogLine
from calibration.engine.view.state import JobState, Station
from verifyloop.api.methods import said_of
from verifyloop.api.parts import in_parts
from verifyloop.errors import NotAllowed
from verifyloop.kit.selectors import options
from verifyloop.kit.sources import offered_by
from verifyloop.plant.facts import parameters_of
from verifyloop.work import presence, services
from verifyloop.work.appending import Batch, append_events
from verifyloop.work.at_hand import at_hand, job_by_number
from verifyloop.work.block_autorun import catch_up
from verifyloop.work.block_queue import turns
from verifyloop.work.folding import (
    core_job,
    events_of,
    explain_figure,
    history_of,
    state_of_ledger,
    strip_at,
)
from verifyloop.work.selectors import connected_elsewhere
from verifyloop.work.sent import NewEvent

router = Router(tags=["jobs"])


class OpenJob(Schema):
    """Which instrument, and the signed job that is followed, if any."""

    tag: str
    follows: str = ""
    #: job of the same round: its kit and the operator told hold for this one as well
    like: str = ""
    #: by which method; by the plan that is due where none is given
    method: str = ""


class JobRef(Schema):
    """The number of a job."""

    job: str


class EventIn(Schema):
    """One event; the id is made by the client, so that sending twice is harmless."""

    id: uuid.UUID
    kind: str
    data: dict[str, Any] = Field(default_factory=dict)
    source: str = "typed"
    #: what the clock of the device showed when the entry was made
    at: datetime | None = None
    #: how long ago it was made, by the device's steady clock; none after a restart of it [s]
    age_s: float | None = Field(default=None, ge=0, allow_inf_nan=False)


class BatchIn(Schema):
    """Events for one job, on top of the state with this sequence number."""

    expected_seq: int
    events: list[EventIn]
    password: str = ""
    #: whose entries they are; refused where another person is signed in meanwhile
    account: str = ""


class KitOption(Schema):
    """A reference offered for a role."""

    asset: str
    description: str
    due_on: str
    ratio: str
    usable: bool
    adequate: bool
    remark: str
    #: where it is connected now, in another job; empty where it lies free
    elsewhere: str = ""


@router.post("", response=JobRef, operation_id="openJob")
def open_job(request: HttpRequest, body: OpenJob) -> JobRef:
    """Open a job, or return the one that is open already."""
    job = services.open_job(
        actor=request.user,  # type: ignore[arg-type]
        tag=body.tag,
        follows=body.follows,
        like=body.like,
        method_id=body.method,
        now=timezone.now(),
    )
    return JobRef(job=job.number)


@router.get("/{number}", response=JobState, operation_id="getJob")
def get_job(request: HttpRequest, number: str) -> HttpResponse:
    """Return everything that a screen shows of a job; only what is new with ``Parts-Held``."""
    catch_up(timezone.now())
    with at_hand(number) as here:
        return in_parts(request, state_of_ledger(here.ledger, here.events, timezone.now()))


@router.get("/{number}/here", response=list[str], operation_id="alsoHere")
def also_here(request: HttpRequest, number: str) -> list[str]:
    """Say that one looks at the job, and who else does."""
    job = job_by_number(number)
    return presence.also_here(job, request.user, timezone.now())  # type: ignore[arg-type]


class SignatureOut(Schema):
    """What one would state by signing, and what a reader must know of the accounts that signed."""

    statement: str
    account_note: str


@router.get("/{number}/signature", response=SignatureOut, operation_id="getSignature")
def get_signature(request: HttpRequest, number: str) -> SignatureOut:
    """Return what belongs to the signature of a job: to be given, or given."""
    with at_hand(number) as here:
        return SignatureOut(
            statement=statement(here.events, request.user.get_username()),
            account_note=account_note(here.ledger),
        )


class TurnOut(Schema):
    """Another sensor in the same block, read by hand in turn."""

    job: str
    tag: str
    waits_for: str
    same: bool


@router.get("/{number}/turns", response=list[TurnOut], operation_id="turns")
def turns_of(request: HttpRequest, number: str) -> list[TurnOut]:
    """Return the other sensors in the block of a job; those that wait for the same point first."""
    found = turns(job_by_number(number), timezone.now())
    return [TurnOut(**vars(turn)) for turn in found]


@router.post("/{number}/events", response=JobState, operation_id="addEvents")
def add_events(request: HttpRequest, number: str, body: BatchIn) -> HttpResponse:
    """Append a batch of events; answer with the new state, in parts as when it is asked for."""
    if body.account and body.account != request.user.get_username():
        raise NotAllowed(
            "account.other",
            f"These are entries of {body.account[:40]}, and somebody else is signed in.",
            "They are kept. Sign in as who made them.",
            "account",
        )
    sent = [NewEvent(e.id, e.kind, e.data, e.source, at=e.at, age_s=e.age_s) for e in body.events]
    state = append_events(
        Batch(
            actor=request.user,  # type: ignore[arg-type]
            number=number,
            expected_seq=body.expected_seq,
            events=sent,
            password=body.password,
            now=timezone.now(),
        )
    )
    return in_parts(request, state)


@router.get("/{number}/history", response=list[LogLine], operation_id="getHistory")
def get_history(request: HttpRequest, number: str) -> list[LogLine]:
    """Return every entry of a job in words, newest first; what was taken back stays."""
    with at_hand(number) as here:
        return list(history_of(here.ledger, here.events))


@router.get("/{number}/strip", response=list[Station], operation_id="getStrip")
def get_strip(request: HttpRequest, number: str, run: RunName, point: int) -> list[Station]:
    """Return the loop strip of one point."""
    with at_hand(number) as here:
        return list(strip_at(here.ledger, run, point, timezone.now()))


@router.get("/{number}/explain", response=Explanation, operation_id="explain")
def explain(request: HttpRequest, number: str, figure: str) -> Explanation:
    """Return how a figure was computed."""
    with at_hand(number) as here:
        return explain_figure(here.ledger, figure, timezone.now())


class ChangedSince(Schema):
    """A limit that says something else today than when the job was opened."""

    id: str
    now: str
    source: str


@router.get(
    "/{number}/changed",
    response=list[ChangedSince],
    operation_id="changedSince",
)
def changed_since(request: HttpRequest, number: str) -> list[ChangedSince]:
    """Return what has changed in the limits since the job was opened; it keeps its own."""
    with at_hand(number) as here:
        state = state_of_ledger(here.ledger, here.events, timezone.now())
        today = parameters_of(here.job.instrument, method=here.job.method)
        specs = {spec.id: spec for spec in here.ledger.method.parameters}
    return [
        ChangedSince(
            id=limit.id,
            now=f"{said_of(specs[limit.id], today[limit.id].value)} {limit.unit}".strip(),
            source=today[limit.id].source,
        )
        for limit in state.limits
        if limit.id in today and today[limit.id].value.replace("_", " ") != limit.value
    ]


@router.get("/{number}/kit", response=list[KitOption], operation_id="kitOptions")
def kit_options(
    request: HttpRequest, number: str, quantity: str, role: str = "", count: int = 1
) -> list[KitOption]:
    """Return the references offered for a quantity, the best usable first."""
    job = job_by_number(number)
    now = timezone.now()
    core, today = core_job(job, events_of(job), now), timezone.localdate(now)
    if quantity in core.family.assets:
        offered = offered_by(quantity)(core, role, job.number, today, max(1, count))
        return [KitOption(**vars(option)) for option in offered]
    found = options(core, quantity, today)
    where = connected_elsewhere({option.asset for option in found}, job)
    return [KitOption(**vars(o), elsewhere=where.get(o.asset, "")) for o in found]
