"""Live values of simulated rigs as server-sent events, and commands to them."""

from __future__ import annotations

import asyncio
import json
import time
from collections.abc import AsyncIterator, Iterator
from dataclasses import replace
from typing import Literal

from asgiref.sync import sync_to_async
from django.core.handlers.asgi import ASGIRequest
from django.http import HttpRequest, HttpResponse, StreamingHttpResponse
from django.utils import timezone
from ninja import Router, Schema

from calibration.kernel.codec import encode
from calibration.kernel.numbers import exact
from verifyloop.api.problems import PROBLEMS, Problem
from verifyloop.rigs import services
from verifyloop.rigs.sources import Frame
from verifyloop.work.enrich import source_for
from verifyloop.work.folding import core_job, events_of
from verifyloop.work.groups import group_of
from verifyloop.work.services import job_by_number
from verifyloop.work.unattended import catch_up

router = Router(tags=["rigs"])
EVERY_S = 0.25
#: a stream ends after this many frames; the browser opens the next one by itself
FRAMES = 1200


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


def _frame(number: str) -> str:
    now = timezone.now()
    catch_up(now)
    job = job_by_number(number)
    source = source_for(job, core_job(job, events_of(job), now), now)
    with exact():
        frame = source.frame(source.time_at(now))
        if source.programme is not None:
            frame = replace(frame, group=group_of(number, now))
        return f"data: {json.dumps(encode(frame))}\n\n"


def _blocking(number: str) -> Iterator[str]:
    for _ in range(FRAMES):
        yield _frame(number)
        time.sleep(EVERY_S)


async def _waiting(number: str) -> AsyncIterator[str]:
    for _ in range(FRAMES):
        yield await sync_to_async(_frame)(number)
        await asyncio.sleep(EVERY_S)


@router.get("/{number}/stream", response={200: Frame, PROBLEMS: Problem}, operation_id="streamRig")
def stream(request: HttpRequest, number: str) -> HttpResponse:
    """Stream the live picture of a job's rig, four frames a second."""
    _frame(number)
    frames = _waiting(number) if isinstance(request, ASGIRequest) else _blocking(number)
    response = StreamingHttpResponse(frames, content_type="text/event-stream")
    response["Cache-Control"] = "no-cache"
    response["X-Accel-Buffering"] = "no"
    return response


@router.post("/{tag}/commands", response={200: Ack, PROBLEMS: Problem}, operation_id="commandRig")
def command(request: HttpRequest, tag: str, body: Order) -> Ack:
    """Send a command to a rig."""
    services.command(
        actor=request.user,  # type: ignore[arg-type]
        tag=tag,
        order=body.dict(exclude_defaults=True),
        now=timezone.now(),
    )
    return Ack(ok=True)
