"""Today, and the safety strip."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from datetime import date, datetime, timedelta
from typing import Any, Literal

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Router, Schema

from calibration.engine.method.family import newest
from verifyloop.api.answers import as_made
from verifyloop.api.paging import PAGE, Page, Words
from verifyloop.plant.facts import LOOP_ROLES, range_text, tolerance_text
from verifyloop.plant.models import Instrument
from verifyloop.plant.proposals import open_ones
from verifyloop.plant.selectors import out_of_service
from verifyloop.register.unchanged import place_of, unchanged
from verifyloop.rigs.models import Rig
from verifyloop.work.auto_checks import keep_up, troubled
from verifyloop.work.block_autorun import catch_up
from verifyloop.work.due import DueRow, Looked, due_rows, loaded, names_of, paged, undated
from verifyloop.work.models import Job
from verifyloop.work.result_validity import all_standing
from verifyloop.work.rounds import under_way
from verifyloop.work.selectors import running, with_something_on

router = Router(tags=["today"])
AHEAD_DAYS = 14
#: So many are named of which nothing was signed yet.
FRESH = 6


class DueOut(Schema):
    """An instrument that is due."""

    tag: str
    description: str
    range: str
    tolerance: str
    loop_role: str
    caution: str
    #: what is due, in a few words
    what: str
    due: date
    due_text: str
    group: str
    rig: bool
    open_job: str
    #: checked as one round with others of its area
    round: bool
    last_mark: str


class AreaOut(Schema):
    """The due instruments of one area."""

    name: str
    due: list[DueOut]


class RunningOut(Schema):
    """A job that is under way."""

    job: str
    tag: str
    description: str
    area: str
    stage: str
    step: str
    opened_by: str
    changed_at: str


class RoundLine(Schema):
    """A round that is under way; anybody may go on with it."""

    job: str
    area: str
    place: int
    total: int
    opened_by: str


class StandsLine(Schema):
    """An instrument whose results hold for a while only: whether they do now."""

    tag: str
    description: str
    good: bool
    text: str


class TodayOut(Schema):
    """The working day."""

    date: date
    overdue: int
    due_today: int
    soon: int
    areas: list[AreaOut]
    #: of what is looked at: how many, and which page of them is here
    total: int
    page: int
    pages: int
    #: by which it may be narrowed down
    area_names: list[str]
    kinds: list[str]
    #: instruments in service that nothing makes due: no plan of theirs has a day
    undated: int
    running: list[RunningOut]
    #: instruments whose record a job found to be wrong; a planner decides
    proposals: list[str]
    rounds: list[RoundLine]
    stands: list[StandsLine]
    #: so many more of which nothing was signed yet
    stands_more: int


class OnOut(Schema):
    """Something that is on, or a timer that runs."""

    job: str
    tag: str
    label: str
    kind: str
    since: str
    ends_at: str
    limit_minutes: str
    #: on for longer than the site allows
    urgent: bool = False
    #: its kind in a word or two, and whether people or plant are less guarded by it
    said: str = ""
    grave: bool = False
    #: how long it is on is counted
    timed: bool = True


class SafetyOut(Schema):
    """The safety strip."""

    now: str
    items: list[OnOut]


@router.get("/today", response=TodayOut, operation_id="getToday")
def get_today(
    request: HttpRequest,
    q: Words = "",
    area: Words = "",
    kind: Words = "",
    only: Literal["", "mine", "failed"] = "",
    page: Page = 1,
) -> HttpResponse:
    """Return what is due, as a round by area, and what is running."""
    now = timezone.now()
    keep_up(now)
    today = timezone.localdate()
    jobs = list(running())
    open_jobs = {j.instrument_id: j for j in jobs}
    rows, counts, (area_names, kinds), whole = unchanged("today", today, lambda: _round(today))
    me = request.user.display_name  # type: ignore[union-attr]
    mine = frozenset(pk for pk, j in open_jobs.items() if j.opened_by == me)
    looked = Looked(q, area, kind, only == "failed", mine if only == "mine" else None)
    fit = looked.among_all(rows)
    pages = whole if fit is rows else paged(fit, PAGE)
    page = min(max(1, page), len(pages))
    stands, more = _stands(now)
    return as_made(
        TodayOut.model_construct(
            date=today,
            overdue=counts["overdue"],
            due_today=counts["today"],
            soon=counts["soon"],
            areas=_areas(pages[page - 1], today, open_jobs),
            total=len(fit),
            page=page,
            pages=len(pages),
            area_names=area_names,
            kinds=kinds,
            undated=undated(),
            running=[_running(j) for j in jobs],
            proposals=list(dict.fromkeys(p.instrument.tag for p in open_ones())),
            rounds=[
                RoundLine(
                    job=r.job, area=r.area, place=r.place, total=r.total, opened_by=r.opened_by
                )
                for r in under_way()
            ],
            stands=stands,
            stands_more=more,
        )
    )


def _round(
    today: date,
) -> tuple[list[DueRow], Counter[str], tuple[list[str], list[str]], list[list[DueRow]]]:
    """Return what is due: its rows, how many of each group, what they are called, and by page."""
    rows = due_rows(today + timedelta(days=AHEAD_DAYS))
    return rows, Counter(r.group(today) for r in rows), names_of(rows), paged(rows, PAGE)


def _areas(rows: Sequence[DueRow], today: date, open_jobs: dict[int, Job]) -> list[AreaOut]:
    rigs = set(Rig.objects.values_list("instrument_id", flat=True))
    areas: dict[str, list[DueOut]] = {}
    known = place_of("due lines")
    missing = [row for row in rows if (today, row.pk) not in known]
    known.update(((today, i.pk), _due(i, today)) for i in (loaded(missing) if missing else ()))
    for row in rows:
        job, (said, rounds) = open_jobs.get(row.pk), known[today, row.pk]
        here: dict[str, Any] = {
            "rig": row.pk in rigs,
            "open_job": job.number if job else "",
            "round": rounds and job is None,
        }
        areas.setdefault(row.area, []).append(DueOut.model_construct(**said, **here))
    return [AreaOut.model_construct(name=name, due=due) for name, due in areas.items()]


def _stands(now: datetime) -> tuple[list[StandsLine], int]:
    """Return what holds for a while only; of what nothing was signed yet no more than a few."""
    shown, more = all_standing(now, FRESH)
    lines = [
        StandsLine.model_construct(
            tag=s.tag,
            description=s.description,
            good=s.standing.good,
            text=s.standing.short,
        )
        for s in shown
    ]
    lines += [
        StandsLine.model_construct(
            tag=act.instrument.tag,
            description=act.instrument.description,
            good=False,
            text=act.text,
        )
        for act in troubled()
    ]
    return lines, more


def _due(i: Instrument, today: date) -> tuple[dict[str, Any], bool]:
    """Return what is said of an instrument that is due, and whether it is checked in rounds."""
    plans = i.due_plans(today)
    method = newest(plans[0].method)
    due = min((p.next_due for p in plans if p.next_due is not None), default=today)
    days = (due - today).days
    if i.out_of_service is not None:
        group, text = "overdue", f"out of service since {i.last_on}"
    elif days < 0:
        group, text = "overdue", f"{-days} {'day' if days == -1 else 'days'} overdue"
    elif days == 0:
        group, text = "today", "today"
    else:
        group, text = "soon", "tomorrow" if days == 1 else f"in {days} days"
    said = {
        "tag": i.tag,
        "description": i.description,
        "range": range_text(i),
        "tolerance": tolerance_text(i),
        "loop_role": LOOP_ROLES.get(i.loop_role, i.loop_role),
        "caution": i.caution,
        "due": due,
        "due_text": text,
        "group": group,
        "what": ", ".join(newest(p.method).short for p in plans),
        "last_mark": i.last_mark_left,
    }
    return said, method.rounds and group != "soon"


def _running(j: Job) -> RunningOut:
    return RunningOut.model_construct(
        job=j.number,
        tag=j.instrument.tag,
        description=j.instrument.description,
        area=j.instrument.area.name,
        stage=j.stage,
        step=j.step_title,
        opened_by=j.opened_by,
        changed_at=j.changed_at.isoformat(),
    )


def _over(on: dict[str, str], now: str) -> bool:
    """Tell whether a bypass is on for longer than the site allows."""
    if not on["limit_minutes"]:
        return False
    end = datetime.fromisoformat(on["since"]) + timedelta(minutes=float(on["limit_minutes"]))
    return datetime.fromisoformat(now) > end


#: The kinds of things that are on, the gravest first: in words, grave, counted by the second.
KINDS = {
    "gas": ("gas open", True, True),
    "bypass": ("bypass", True, True),
    "fixed": ("fixed current", True, True),
    "adapter": ("connected", False, False),
    "connection": ("connected", False, False),
    "timer": ("waits", False, True),
    "out": ("out of service", False, False),
}


@router.get("/safety", response=SafetyOut, operation_id="getSafety")
def get_safety(request: HttpRequest) -> SafetyOut:
    """Return every bypass, connection and timer of the works."""
    catch_up(timezone.now())
    now = timezone.now().isoformat()
    items = _items(with_something_on(), now)
    items += [_out(instrument) for instrument in out_of_service()]
    return SafetyOut(now=now, items=by_gravity(items))


def by_gravity(items: list[OnOut]) -> list[OnOut]:
    """Return what is on, each instrument together, the gravest first; what is overdue before."""
    order = [*KINDS, *sorted({i.kind for i in items} - set(KINDS))]
    for item in items:
        item.said, item.grave, item.timed = KINDS.get(item.kind, (item.kind, True, True))
    worst = {
        tag: min((not i.urgent, order.index(i.kind)) for i in items if i.tag == tag)
        for tag in {i.tag for i in items}
    }
    first = {tag: n for n, tag in reversed(list(enumerate(i.tag for i in items)))}
    return sorted(items, key=lambda i: (worst[i.tag], first[i.tag], order.index(i.kind)))


@router.get("/safety/mine", response=SafetyOut, operation_id="getMineOn")
def get_mine_on(request: HttpRequest) -> SafetyOut:
    """Return what is on in jobs in which the person who asks has an entry."""
    now = timezone.now().isoformat()
    jobs = with_something_on().filter(events__actor=request.user.pk).distinct()
    return SafetyOut(now=now, items=[i for i in _items(jobs, now) if i.kind != "timer"])


def _items(jobs: Iterable[Job], now: str) -> list[OnOut]:
    items: list[OnOut] = []
    for job in jobs:
        common: dict[str, Any] = {"job": job.number, "tag": job.instrument.tag}
        items += [
            OnOut(
                **common,
                label=o["label"],
                kind=o["kind"],
                since=o["since"],
                ends_at="",
                limit_minutes=o["limit_minutes"],
                urgent=_over(o, now),
            )
            for o in job.on
        ]
        items += [
            OnOut(
                **common,
                label=t["label"],
                kind="timer",
                since="",
                ends_at=t["ends_at"],
                limit_minutes="",
            )
            for t in job.timers
            if t["ends_at"] > now
        ]
    return items


def _out(i: Instrument) -> OnOut:
    """Return an instrument out of service, with what is still on and who has it."""
    how = i.out_of_service or {}
    left = [*how.get("on", ()), how.get("left", "")]
    said = ", ".join(dict.fromkeys(w for w in left if w)) or "out of service"
    return OnOut(
        job=how.get("job", ""),
        tag=i.tag,
        label=said + (f", with {how['to']}" if how.get("to") else ""),
        kind="out",
        since=how.get("since", ""),
        ends_at="",
        limit_minutes="",
    )
