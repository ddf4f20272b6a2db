"""Changes of many instruments at once: due days and methods, all of them or none."""

from __future__ import annotations

from collections import Counter
from datetime import date

from django.http import HttpRequest
from django.utils import timezone
from ninja import Field, Router, Schema

from calibration.engine.method.family import fitting, newest
from verifyloop.accounts.permissions import require
from verifyloop.plant import bulk_plans
from verifyloop.plant.facts import facts_of
from verifyloop.plant.finding import Sought, those
from verifyloop.plant.models import Instrument

router = Router(tags=["instruments"])


class SoughtIn(Schema):
    """What is looked for in the list of instruments."""

    q: str = Field("", max_length=200)
    area: str = Field("", max_length=200)
    kind: str = Field("", max_length=200)
    state: str = Field("", max_length=20)

    def sought(self) -> Sought:
        """Return it as the plant understands it."""
        return Sought(self.q, self.area, self.kind, self.state)


class ThoseIn(Schema):
    """Which instruments: by tag, or all that fit; and how many there were when they were chosen."""

    tags: list[str] = Field([], max_length=5000)
    find: SoughtIn | None = None
    count: int

    def instruments(self) -> list[Instrument]:
        """Return them."""
        find = self.find.sought() if self.find is not None else None
        return those(self.tags, find, self.count, timezone.localdate())


class MoveTogether(Schema):
    """A day for all, or days spread evenly from the first to the last; and why."""

    those: ThoseIn
    first: date
    last: date | None = None
    reason: str


class PlanTogether(Schema):
    """A method for all, due first on a day, beside or instead of another; and why."""

    those: ThoseIn
    method: str
    first: date
    #: method that is planned no more where it is planned now
    instead: str = ""
    reason: str


class FitsAll(Schema):
    """A method, at how many of the instruments it fits, and at how many it is planned."""

    id: str
    title: str
    fits: int
    planned: int


class ChangedOut(Schema):
    """How many were changed."""

    count: int


@router.post("/methods", response=list[FitsAll], operation_id="methodsOfThose")
def methods_of(request: HttpRequest, body: ThoseIn) -> list[FitsAll]:
    """Return the methods that fit some of the instruments, those that fit most first."""
    require(request.user, "method.change")  # type: ignore[arg-type]
    fits: Counter[str] = Counter()
    planned: Counter[str] = Counter()
    for one in body.instruments():
        fits.update(method for method, _ in fitting(facts_of(one, rig=False)))
        planned.update(p.method for p in one.plans.all())
    found = sorted(fits | planned, key=lambda m: (-fits[m], newest(m).title))
    return [FitsAll(id=m, title=newest(m).title, fits=fits[m], planned=planned[m]) for m in found]


@router.post("/due", response=ChangedOut, operation_id="moveTogether")
def move(request: HttpRequest, body: MoveTogether) -> ChangedOut:
    """Move the due day of many."""
    require(request.user, "instrument.plan")  # type: ignore[arg-type]
    count = bulk_plans.move_together(
        actor=request.user,  # type: ignore[arg-type]
        instruments=body.those.instruments(),
        first=body.first,
        last=body.last,
        reason=body.reason,
        now=timezone.now(),
    )
    return ChangedOut(count=count)


@router.post("/plans", response=ChangedOut, operation_id="planTogether")
def plan(request: HttpRequest, body: PlanTogether) -> ChangedOut:
    """Plan a method at many."""
    require(request.user, "method.change")  # type: ignore[arg-type]
    count = bulk_plans.plan_together(
        actor=request.user,  # type: ignore[arg-type]
        instruments=body.those.instruments(),
        method=body.method,
        first=body.first,
        instead=body.instead,
        reason=body.reason,
        now=timezone.now(),
    )
    return ChangedOut(count=count)
