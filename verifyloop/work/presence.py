"""Who looks at a job right now, in whatever process it is asked. It is gone when nobody looks."""

from __future__ import annotations

from datetime import datetime, timedelta

from django.db import OperationalError, transaction

from verifyloop.accounts.models import User
from verifyloop.work.models import Job, Presence

#: A page asks every five seconds; it is written down only so often.
EVERY = timedelta(seconds=9)
#: Who was not heard of for so long has gone; who has gone for a day is no longer kept.
GONE_AFTER, KEPT = timedelta(seconds=20), timedelta(days=1)


def also_here(job: Job, user: User, now: datetime) -> list[str]:
    """Note that a person looks at a job, and return the names of the others who do."""
    heard = Presence.objects.filter(job=job).select_related("user").order_by()
    seen = {one.user_id: one for one in heard}
    mine = seen.pop(user.pk, None)
    if mine is None or not now - EVERY < mine.heard_at <= now:
        _write(job, user, now)
    here = [s.user for s in seen.values() if now - GONE_AFTER < s.heard_at <= now + GONE_AFTER]
    return sorted(other.display_name for other in here)


def _write(job: Job, user: User, now: datetime) -> None:
    """Write down who is here; where the store refuses that, who looks is answered all the same."""
    try:
        with transaction.atomic():
            Presence.objects.update_or_create(job=job, user=user, defaults={"heard_at": now})
            Presence.objects.filter(job=job, heard_at__lt=now - KEPT).delete()
    except OperationalError:
        return
