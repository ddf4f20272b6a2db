"""Who looks at a job right now. Nothing of it is kept: it is gone when nobody looks."""

from __future__ import annotations

from datetime import datetime, timedelta

from django.core.cache import cache

from verifyloop.accounts.models import User

#: Who was not heard of for so long has gone. A page asks every five seconds.
GONE_AFTER = timedelta(seconds=13)


def also_here(number: str, user: User, now: datetime) -> list[str]:
    """Note that a person looks at a job, and return the names of the others who do."""
    key = f"here:{number}"
    seen: dict[str, tuple[str, datetime]] = cache.get(key, {})
    seen = {who: (name, at) for who, (name, at) in seen.items() if now - at < GONE_AFTER}
    seen[user.username] = (user.display_name, now)
    cache.set(key, seen, timeout=60)
    return sorted(name for who, (name, _) in seen.items() if who != user.username)
