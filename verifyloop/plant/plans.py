"""Plans of one instrument: one is made, moved or dropped, and noted with what people call it."""

from __future__ import annotations

from datetime import date, datetime

from calibration.engine.method.family import newest
from verifyloop.accounts.models import User
from verifyloop.plant.models import Change, Instrument, Plan

#: So many characters of what is noted, of a reason, and of why it is due then; the register holds
#: them whole.
NOTED, WHY, SAID = 120, 400, 160


def noted(
    instrument: Instrument,
    actor: User,
    now: datetime,
    field: str,
    before: str,
    after: str,
    why: str,
) -> Change:
    """Return a change of an instrument, not stored yet."""
    return Change(
        instrument=instrument,
        at=now,
        by=actor.display_name,
        field=field[:40],
        before=before[:NOTED],
        after=after[:NOTED],
        reason=why.strip()[:WHY],
    )


def added(
    instrument: Instrument,
    method: str,
    due: date | None,
    *,
    actor: User,
    now: datetime,
    why: str,
    said: str = "",
) -> Plan:
    """Plan one more method; ``said`` is why it is due then, where that is more than the reason."""
    noted(instrument, actor, now, "planned", "", newest(method).title, why).save()
    return Plan.objects.create(
        instrument=instrument, method=method, next_due=due, due_reason=(said or why)[:SAID]
    )


def dropped(plan: Plan, *, actor: User, now: datetime, why: str) -> None:
    """Plan a method no more."""
    title = newest(plan.method).title
    noted(plan.instrument, actor, now, "planned", title, "no more", why).save()
    plan.delete()


def moved(
    plan: Plan, due: date | None, *, actor: User, now: datetime, why: str, said: str = ""
) -> None:
    """Have it due on another day."""
    field = f"next due, {newest(plan.method).title}"
    before, after = str(plan.next_due or ""), str(due or "nothing")
    noted(plan.instrument, actor, now, field, before, after, why).save()
    plan.next_due, plan.due_reason = due, (said or why)[:SAID]
    plan.save(update_fields=["next_due", "due_reason"])
