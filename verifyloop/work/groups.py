"""Sensors in blocks: whose points wait, and what the simulated blocks do about it.

Nothing of a group is stored but that each sensor was put into its block. The timeline is worked
out from those events, so it is the same after a restart.
"""

from __future__ import annotations

import threading
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta

from django.db.models import Q

from calibration.engine.job.events import Event as Entry
from calibration.engine.job.job import Job as CoreJob
from calibration.kernel.numbers import exact
from calibration.kernel.rounding import show
from calibration.simulate.block import Block, BlockModel
from calibration.simulate.group import BlockState, Request, Rules, Timeline, timeline
from calibration.simulate.rigs import model_of
from verifyloop.register.unchanged import line_now
from verifyloop.rigs.models import Rig
from verifyloop.rigs.sources import BlockLine, Group, Programme
from verifyloop.work.folding import core_job, events_of
from verifyloop.work.models import Event, Job

#: Blocks settle by the same number everywhere, so that a block does not depend on who is in it.
SEED = 1
#: How long before the first sensor that is still in a block others may have been touched last.
LONGEST = timedelta(hours=24)
#: Who looks again looks so far back: an entry may be stored a moment after its time.
OVERLAP = timedelta(seconds=60)


@dataclass(frozen=True)
class Member:
    """One sensor's job with all that its points depend on."""

    job: Job
    events: list[Entry]
    core: CoreJob
    rig: Rig
    model: BlockModel
    #: by run: when the sensor was put in
    placed: dict[str, Entry]


@dataclass(frozen=True)
class Course:
    """A group at a moment."""

    members: Mapping[str, Member]
    started_at: datetime
    pace: float
    line: Timeline

    def when(self, t: float) -> datetime:
        """Return the time of day of a moment of the rigs."""
        return self.started_at + timedelta(seconds=t / self.pace)


@dataclass
class _Kept:
    """The members as they were read, and the newest seal of every job that was looked at."""

    members: dict[str, Member]
    heads: dict[int, str]
    looked: datetime
    #: the newest line of the register: instruments and rigs are as they were then
    line: tuple[int, str]
    #: the course that was asked for last, by job and moment
    course: tuple[tuple[str, datetime], Course | None] | None = None


_kept: _Kept | None = None
_hands = threading.Lock()


def course_of(number: str, now: datetime) -> Course | None:
    """Return the group that a job belongs to; none when its sensor is in no block."""
    with _hands:
        kept = _at_hand(now)
        if kept.course is None or kept.course[0] != (number, now):
            kept.course = (number, now), _course(number, kept.members, now)
        return kept.course[1]


def _course(number: str, every: Mapping[str, Member], now: datetime) -> Course | None:
    if number not in every:
        return None
    inside = _together(number, every)
    first = min(e.when for m in inside.values() for e in m.placed.values())
    pace = next(iter(inside.values())).rig.pace
    requests = [r for m in inside.values() for r in _requests(m, first, pace)]
    blocks: dict[str, Block] = {}
    for member in inside.values():
        blocks.update(dict.fromkeys(_blocks_of(member), member.model.block))
    with exact():
        # One rule for the whole group, whoever of it is asked about.
        rules = Rules(
            dwell_s=max(float(m.core.settings.number("stable_dwell_s")) for m in inside.values()),
            lag_s=max(m.model.lag_s for m in inside.values()),
        )
        until = (now - first).total_seconds() * pace
        line = timeline(requests, blocks, until, SEED, rules)
    return Course(inside, first, pace, line)


def programme_of(number: str, now: datetime) -> Programme | None:
    """Return the commands of the block that a job's sensor is in."""
    course = course_of(number, now)
    if course is None:
        return None
    member = course.members[number]
    newest = max(member.placed.values(), key=lambda e: e.seq)
    return Programme(course.started_at, tuple(course.line.commands[newest.content.block]))


def group_of(number: str, now: datetime) -> Group | None:
    """Return what the blocks of a job's group do, for the screen."""
    course = course_of(number, now)
    if course is None or not any(m.job.in_block for m in course.members.values()):
        return None
    tags = {n: m.job.instrument.tag for n, m in course.members.items()}
    return Group(
        blocks=tuple(_line(course, state, tags) for state in course.line.blocks),
        reading=tags.get(course.line.reading, ""),
        next=tags.get(course.line.next, ""),
        ends_at=course.when(course.line.ends_at).isoformat(),
    )


def _line(course: Course, state: BlockState, tags: Mapping[str, str]) -> BlockLine:
    at = "" if state.target is None else f"{show(state.target, 1)} °C"
    if not state.waiting:
        doing = f"stays at {at}" if at else "waits"
    elif state.ready_in_s > 0:
        away = state.target is not None and abs(state.target - state.temperature) > 0.5
        rising = state.target is not None and state.target > state.temperature
        doing = f"{'heating' if rising else 'cooling'} to {at}" if away else f"settling at {at}"
    else:
        doing = f"ready at {at}"
    ready_at = course.when(course.line.at + state.ready_in_s)
    return BlockLine(
        block=state.block,
        doing=doing,
        temperature=show(state.temperature, 1),
        ready_at=ready_at.isoformat() if state.ready_in_s > 0 else "",
        waiting=tuple(tags[m] for m in state.waiting),
        then=", ".join(f"{show(x, 1)} °C" for x in state.then),
    )


def _at_hand(now: datetime) -> _Kept:
    """Return the members; they are read anew where one has an entry more, or is new in a block.

    A place of working only: after a restart they are read again.
    """
    global _kept
    line = line_now()
    if _kept is not None and (_kept.looked > now or _kept.line != line):
        _kept = None
    changed = Q(changed_at__gte=_kept.looked - OVERLAP) if _kept is not None else Q()
    # Greater than nothing, not other than nothing: that is a range of an index.
    heads = dict(Job.objects.filter(Q(in_block__gt="") | changed).values_list("pk", "head"))
    if _kept is None or not _unchanged(_kept, heads):
        members = _members(now)
        known = {m.job.pk: m.job.head for m in members.values()}
        _kept = _Kept(members, heads | known, now, line)
    _kept.looked = now
    return _kept


def _unchanged(kept: _Kept, heads: Mapping[int, str]) -> bool:
    """Tell whether no entry is new that the members depend on; remember what is not of them."""
    inside = {m.job.pk for m in kept.members.values() if m.job.in_block}
    if not inside <= heads.keys():
        # What was read of a transaction that was rolled back: it is in no block.
        return False
    new = {pk: head for pk, head in heads.items() if kept.heads.get(pk) != head}
    if not new:
        return True
    members = {m.job.pk for m in kept.members.values()}
    if members & new.keys() or Event.objects.filter(kind="placed", job__in=list(new)).exists():
        return False
    kept.heads |= new
    return True


def _members(now: datetime) -> dict[str, Member]:
    """Return the jobs whose sensor is in a block, and those of late, by number."""
    still_in = list(Job.objects.filter(in_block__gt="").values_list("pk", flat=True))
    if not still_in:
        return {}
    # By job, as events are indexed: the events of all other jobs are never looked at.
    put_in = Event.objects.filter(kind="placed", job__in=still_in)
    first = min((e.at for e in put_in), default=now)
    late = Job.objects.filter(changed_at__gte=min(first, now) - LONGEST)
    of_late = Event.objects.filter(kind="placed", job__in=late.values("pk"))
    numbers = {*still_in, *of_late.values_list("job_id", flat=True)}
    found = {}
    for job in Job.objects.select_related("instrument__rig").filter(pk__in=numbers):
        rig = getattr(job.instrument, "rig", None)
        model = model_of(rig.model) if rig is not None else None
        if rig is None or not isinstance(model, BlockModel):
            continue
        events = events_of(job)
        loaded = core_job(job, events, now)
        placed = {run: event for run, (_, event) in loaded.ledger.placed.items()}
        if placed:
            found[job.number] = Member(job, events, loaded, rig, model, placed)
    return found


def _blocks_of(member: Member) -> set[str]:
    return {e.content.block for e in member.placed.values()}


def _span(member: Member) -> tuple[datetime, datetime]:
    """Return from when to when a sensor was in its block; to the end of time while it is."""
    start = min(e.when for e in member.placed.values())
    if member.job.in_block:
        return start, datetime.max.replace(tzinfo=start.tzinfo)
    runs = member.core.ledger.readings
    ends = [t.event.when for run in member.placed for t in runs[run].values()]
    return start, max(ends, default=start)


def _together(number: str, every: Mapping[str, Member]) -> dict[str, Member]:
    """Return the members of one technician whose times in a block overlap, step by step."""
    by = {n: next(iter(m.placed.values())).by for n, m in every.items()}
    inside = {number}
    while True:
        first = min(_span(every[n])[0] for n in inside)
        last = max(_span(every[n])[1] for n in inside)
        more = {
            n
            for n, m in every.items()
            if n not in inside
            and by[n] == by[number]
            and _span(m)[0] <= last
            and _span(m)[1] >= first
        }
        if not more:
            return {n: every[n] for n in sorted(inside)}
        inside |= more


def _requests(member: Member, first: datetime, pace: float) -> list[Request]:
    """Return the points that wait or waited: from being put in, and again when taken back."""
    found: list[Request] = []
    for run, placed in member.placed.items():
        plan = member.core.plan_of(run)
        by_hand = {
            i for i, t in member.core.ledger.readings[run].items() if t.event.source == "typed"
        }

        asked = [(point, placed.when) for point in range(len(plan)) if point not in by_hand]
        asked += [(point, when) for point, when in _taken_back(member, run) if when >= placed.when]
        found += [
            Request(
                member=member.job.number,
                block=placed.content.block,
                point=point,
                target=float(plan[point].nominal),
                since=(when - first).total_seconds() * pace,
                run=run,
            )
            for point, when in asked
        ]
    return found


def _taken_back(member: Member, run: str) -> list[tuple[int, datetime]]:
    """Return the points of a run that were read and taken back, with when."""
    readings = {
        e.id: e.content.point
        for e in member.events
        if e.kind == "reading_taken" and e.content.run == run
    }
    return [
        (readings[e.content.event], e.when)
        for e in member.events
        if e.kind == "retracted" and e.content.event in readings
    ]
