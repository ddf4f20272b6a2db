"""The one place where stored events are folded."""

from __future__ import annotations

import json
from datetime import datetime
from functools import lru_cache
from typing import Any

from django.utils import timezone

import calibration.families  # noqa: F401  # registers them
from calibration.engine.job import events as core
from calibration.engine.job.fold import history, view
from calibration.engine.job.job import Job as CoreJob
from calibration.engine.job.ledger import Ledger, build
from calibration.engine.job.sealing import canonical
from calibration.engine.judging.explain import Explanation, explain
from calibration.engine.method.family import method_for
from calibration.engine.view.lines import LogLine
from calibration.engine.view.run_view import strip_of
from calibration.engine.view.state import JobState, Station
from calibration.kernel.numbers import exact
from verifyloop.work.models import Event, Job


def payload_of(job_number: str, event: core.Event) -> str:
    """Return the text of an event that is stored and sealed."""
    beside = {"account": event.account, "arrived": event.arrived, "wall": event.wall}
    return canonical(
        {
            **{name: text for name, text in beside.items() if text},
            "job": job_number,
            "seq": event.seq,
            "id": event.id,
            "kind": event.kind,
            "at": event.at,
            "by": event.by,
            "role": event.role,
            "source": event.source,
            "data": event.data,
        }
    )


@lru_cache(maxsize=5_000)
def read_payload(payload: str) -> core.Event:
    """Return the event of a stored text; the same text is always the same event."""
    said: dict[str, Any] = json.loads(payload)
    said.pop("job")
    return core.make_event(**said)


def events_of(job: Job) -> list[core.Event]:
    """Return the events of a job in order."""
    stored = Event.objects.filter(job=job).order_by("seq").values_list("payload", flat=True)
    return [read_payload(payload) for payload in stored]


def core_job(job: Job, events: list[core.Event], now: datetime) -> CoreJob:
    """Return the job as the core sees it."""
    ledger = build(method_for(job.method, job.method_version), events)
    return CoreJob(ledger, timezone.localtime(now))


def projected_at(events: list[core.Event]) -> datetime:
    """Return until when the columns of lists say how a job stands: when its newest entry arrived.

    Whenever they are made anew they say the same; what runs out later is seen when it is looked at.
    """
    newest = events[-1]
    return datetime.fromisoformat(newest.arrived) if newest.arrived else newest.when


def state_of(job: Job, events: list[core.Event], now: datetime) -> JobState:
    """Return everything that a screen shows of a job."""
    return state_of_ledger(core_job(job, events, now).ledger, events, now)


def state_of_ledger(ledger: Ledger, events: list[core.Event], now: datetime) -> JobState:
    """Return the state of a job whose events are added up already."""
    with exact():
        return view(CoreJob(ledger, timezone.localtime(now)), events)


def history_of(ledger: Ledger, events: list[core.Event]) -> tuple[LogLine, ...]:
    """Return every entry of a job in words, newest first."""
    return history(ledger, events)


def strip_at(ledger: Ledger, run: str, point: int, now: datetime) -> tuple[Station, ...]:
    """Return the loop strip of one point."""
    core = CoreJob(ledger, timezone.localtime(now))
    with exact():
        return strip_of(core, run, core.figures(run), point)


def explain_figure(ledger: Ledger, figure: str, now: datetime) -> Explanation:
    """Return how a figure of a job was computed."""
    return explain(CoreJob(ledger, timezone.localtime(now)), figure)
