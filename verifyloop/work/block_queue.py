"""Sensors that stand in one block and are read by hand, one after the other."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from calibration.kernel.numbers import exact
from verifyloop.work.folding import events_of, state_of
from verifyloop.work.models import Job


@dataclass(frozen=True)
class Turn:
    """Another sensor in the block: its job, and what it waits for."""

    job: str
    tag: str
    waits_for: str
    #: it waits for the very point that this one waits for
    same: bool


def turns(job: Job, now: datetime) -> list[Turn]:
    """Return the other sensors in the block of a job that are read by hand; those ready first."""
    with exact():
        own = state_of(job, events_of(job), now)
        if not own.by_turns:
            return []
        found = []
        others = Job.objects.filter(status="open", in_block="").exclude(pk=job.pk)
        for other in others.select_related("instrument").order_by("opened_at"):
            if own.by_turns not in other.references:
                continue
            state = state_of(other, events_of(other), now)
            if state.by_turns != own.by_turns:
                continue
            found.append(
                Turn(
                    job=other.number,
                    tag=other.instrument.tag,
                    waits_for=state.task.title,
                    same=state.task.title == own.task.title,
                )
            )
    return sorted(found, key=lambda turn: not turn.same)
