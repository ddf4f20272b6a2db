"""Runs that go on by themselves: what has become due is stored when anybody looks."""

from __future__ import annotations

import uuid
from collections import Counter
from datetime import datetime, timedelta

from calibration.kernel.errors import InputError
from verifyloop.accounts.models import User
from verifyloop.errors import DomainError
from verifyloop.work.appending import Batch, append_events
from verifyloop.work.groups import Course, course_of
from verifyloop.work.models import Event, Job
from verifyloop.work.sent import NewEvent

#: Looked at again after this long at the latest.
LOOK_AGAIN = timedelta(seconds=60)


#: The sensors in blocks as they were last looked at, and from when on something is due again.
#: A place of working only: after a restart it is worked out anew.
_quiet: tuple[frozenset[tuple[str, str]], datetime, datetime] | None = None


def catch_up(now: datetime) -> None:
    """Store the readings of sensors in blocks that were due up to a moment."""
    global _quiet
    inside = frozenset(
        Job.objects.filter(status=Job.Status.OPEN)
        .filter(in_block__gt="")
        .values_list("number", "head")
    )
    if not inside or (_quiet is not None and _quiet[0] == inside and _quiet[1] <= now < _quiet[2]):
        return
    waiting = {number for number, _ in inside}
    until = now + LOOK_AGAIN
    while waiting:
        course = course_of(waiting.pop(), now)
        if course is not None:
            waiting -= set(course.members)
            if not _store(course, now):
                until = now
            due = course.line.next_at
            until = min(until, course.when(due)) if due is not None else until
    _quiet = (inside, now, until)


def _store(course: Course, now: datetime) -> bool:
    """Store what a course has taken and the jobs do not have yet; tell whether all of it is."""
    whole = True
    times: Counter[tuple[str, str, int]] = Counter()
    for taken in course.line.taken:
        member = course.members[taken.request.member]
        run = taken.request.run
        place = (member.job.number, run, taken.request.point)
        times[place] += 1
        name = f"{member.placed[run].id}:{taken.request.point}:{times[place]}"
        key = uuid.uuid5(uuid.NAMESPACE_URL, name)
        if not member.job.in_block or any(e.id == str(key) for e in member.events):
            continue
        data = {"run": run, "point": taken.request.point, "sample_at": repr(taken.t)}
        sent = NewEvent(key, "reading_taken", data, "simulated", course.when(taken.t))
        job = Job.objects.get(pk=member.job.pk)
        try:
            append_events(
                Batch(
                    actor=_who(member.placed[run].id),
                    number=job.number,
                    expected_seq=job.seq,
                    events=[sent],
                    now=now,
                )
            )
        except (InputError, DomainError):
            # Somebody wrote to the job in this moment, or closed the step: the next look decides.
            whole = False
    return whole


def _who(event_id: str) -> User:
    actor = Event.objects.select_related("actor").get(uuid=event_id).actor
    assert actor is not None
    return actor
