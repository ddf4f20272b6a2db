"""Changes of many plans at once: all of them or none."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, datetime, timedelta

from calibration.engine.method.family import fitting, newest
from calibration.kernel.errors import InputError
from verifyloop.accounts.models import User
from verifyloop.accounts.permissions import require
from verifyloop.plant.facts import facts_of
from verifyloop.plant.models import Change, Instrument, Plan
from verifyloop.plant.plans import noted
from verifyloop.plant.services import not_past
from verifyloop.register.write_lock import writing

#: So many rows at once.
STEP = 200


def days_between(count: int, first: date, last: date) -> list[date]:
    """Return a day for each of so many, spread evenly from the first to the last."""
    whole = (last - first).days
    return [first + timedelta(days=whole * n // max(1, count - 1)) for n in range(count)]


@writing()
def move_together(
    *,
    actor: User,
    instruments: Sequence[Instrument],
    first: date,
    last: date | None,
    reason: str,
    now: datetime,
) -> int:
    """Move the first plan of each, spread from the first to the last day in the order of a round.

    Raises
    ------
    InputError
        ``reason.missing``, ``due.*``, ``due.order``.
    """
    require(actor, "instrument.plan")
    why = _why(reason)
    not_past(first, now)
    if last is not None:
        not_past(last, now)
        if last < first:
            raise InputError("due.order", "last", "It is before the first day.", "Turn them round.")
    walked = sorted(instruments, key=lambda i: (i.area.order, i.area.name, i.tag))
    plans, changes = [], []
    for one, due in zip(walked, days_between(len(walked), first, last or first), strict=True):
        plan = one.plan
        changes.append(noted(one, actor, now, "next due", str(plan.next_due or ""), str(due), why))
        plan.next_due, plan.due_reason = due, f"moved by {actor.display_name}: {why}"[:160]
        plans.append(plan)
    Plan.objects.bulk_update(plans, ["next_due", "due_reason"], batch_size=100)
    Change.objects.bulk_create(changes, batch_size=STEP)
    return len(plans)


@writing()
def plan_together(
    *,
    actor: User,
    instruments: Sequence[Instrument],
    method: str,
    first: date,
    instead: str,
    reason: str,
    now: datetime,
) -> int:
    """Plan a method at each where it is not planned yet; instead of another, or beside it.

    Raises
    ------
    InputError
        ``reason.missing``, ``due.*``, ``method.does_not_fit`` naming the instruments.
    """
    require(actor, "method.change")
    why = _why(reason)
    not_past(first, now)
    wanted = [i for i in instruments if i.plan_of(method) is None]
    unfit = [i.tag for i in wanted if method not in dict(fitting(facts_of(i, rig=False)))]
    if unfit:
        named = ", ".join(unfit[:5]) + (f" and {len(unfit) - 5} more" if len(unfit) > 5 else "")
        said = f"That method does not fit {named}."
        raise InputError("method.does_not_fit", "method", said, "Leave those out.")
    if not wanted:
        raise InputError("plan.there", "method", "It is planned at all of them.", "Nothing to do.")
    said = f"planned by {actor.display_name}: {why}"[:160]
    Plan.objects.bulk_create(
        (Plan(instrument=i, method=method, next_due=first, due_reason=said) for i in wanted),
        batch_size=STEP,
    )
    title = newest(method).title
    changes = [noted(i, actor, now, "planned", "", title, why) for i in wanted]
    for one in wanted:
        old = one.plan_of(instead) if instead else None
        if old is not None:
            before = newest(instead).title
            changes.append(noted(one, actor, now, "planned", before, "no more", why))
            old.delete()
    Change.objects.bulk_create(changes, batch_size=STEP)
    return len(wanted)


def _why(reason: str) -> str:
    if not reason.strip():
        raise InputError("reason.missing", "reason", "A change takes a reason.", "Say why.")
    return reason.strip()[:400]
