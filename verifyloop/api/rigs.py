"""Live values of simulated rigs, and commands to them."""

from __future__ import annotations

from dataclasses import replace
from typing import Literal

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Router, Schema

from calibration.engine.job.job import Job as CoreJob
from calibration.kernel.numbers import exact
from verifyloop.api.answers import answer
from verifyloop.rigs import services
from verifyloop.rigs.sources import Frame
from verifyloop.work.at_hand import at_hand
from verifyloop.work.block_autorun import catch_up
from verifyloop.work.enrich import shown_together, source_for
from verifyloop.work.groups import group_of

router = Router(tags=["rigs"])


class Order(Schema):
    """A command: apply a value, trim, fix or release the current, or write a setting."""

    kind: Literal["apply", "trim", "fix", "release", "write"]
    value: float = 0.0
    scale: Literal["input", "percent"] = "input"
    hop: Literal["sensor", "output", "receiver", "transmitter"] = "output"
    end: Literal["zero", "span"] = "zero"
    to: float | None = None
    setting: str = ""
    text: str = ""


class Ack(Schema):
    """The device took the command."""

    ok: bool


@router.get("/{number}/frame", response=Frame, operation_id="rigFrame")
def frame(request: HttpRequest, number: str) -> HttpResponse:
    """Return the live picture of a job's rig now. A page asks again while it shows it."""
    now = timezone.now()
    catch_up(now)
    with at_hand(number) as here, exact():
        before = CoreJob(here.ledger, timezone.localtime(now))
        source = source_for(here.job, before, now)
        found = source.frame(source.time_at(now))
        if source.programme is not None:
            found = replace(found, group=group_of(number, now))
        return answer(replace(found, shown=shown_together(here.job, before, now)))


@router.post("/{tag}/commands", response=Ack, operation_id="commandRig")
def command(request: HttpRequest, tag: str, body: Order) -> Ack:
    """Send a command to a rig."""
    services.command(
        actor=request.user,  # type: ignore[arg-type]
        tag=tag,
        order=body.dict(exclude_defaults=True),
        now=timezone.now(),
    )
    return Ack(ok=True)
