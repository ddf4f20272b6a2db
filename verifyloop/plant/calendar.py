"""What is planned as a calendar (RFC 5545), under an address that only its person knows."""

from __future__ import annotations

import hashlib
import secrets
from datetime import datetime, timedelta

from django.utils import timezone
from icalendar import Calendar, Event

from calibration.engine.method.family import newest
from verifyloop.accounts.models import Feed, User
from verifyloop.errors import NotFound
from verifyloop.plant.models import Plan
from verifyloop.plant.selectors import site_facts
from verifyloop.register.write_lock import writing

#: So far ahead a calendar looks, and so far back for what is overdue.
AHEAD, BACK = timedelta(days=366), timedelta(days=366)
MOST = 5000


@writing()
def new_feed(actor: User, now: datetime) -> str:
    """Make a new secret address; every earlier one of the person ends."""
    end_feeds(actor, now)
    token = secrets.token_urlsafe(24)
    digest = hashlib.sha256(token.encode()).hexdigest()
    Feed.objects.create(user=actor, digest=digest, made_at=now)
    return token


@writing()
def end_feeds(actor: User, now: datetime) -> None:
    """End every secret address of a person."""
    actor.feeds.filter(ended_at=None).update(ended_at=now)


def feed_of(token: str) -> Feed:
    """Return a feed by what stands in its address.

    Raises
    ------
    NotFound
        ``calendar.ended``.
    """
    digest = hashlib.sha256(token.encode()).hexdigest()
    found = Feed.objects.select_related("user").filter(digest=digest, ended_at=None).first()
    if found is None or not found.user.is_active:
        raise NotFound("calendar.ended", "This calendar has ended.", "Make a new address.")
    return found


def as_calendar(base: str, now: datetime) -> bytes:
    """Return every planned day within a year as an all-day event, by area and tag."""
    today = timezone.localdate(now)
    site = site_facts()
    calendar = Calendar()
    calendar.add("prodid", "-//Verify Loop//calendar//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", f"Calibrations, {site['name']}"[:120])
    plans = (
        Plan.objects.filter(next_due__gte=today - BACK, next_due__lte=today + AHEAD)
        .select_related("instrument", "instrument__area")
        .order_by("next_due", "instrument__area__order", "instrument__tag", "method")[:MOST]
    )
    for plan in plans:
        one, event = plan.instrument, Event()
        assert plan.next_due is not None
        # The plan keeps its identity when its day moves.
        event.add("uid", f"plan-{plan.pk}@verifyloop")
        event.add("dtstamp", now)
        event.add("dtstart", plan.next_due)
        event.add("dtend", plan.next_due + timedelta(days=1))
        event.add("summary", f"{one.tag}: {newest(plan.method).short or newest(plan.method).title}")
        event.add("location", one.area.name)
        event.add("description", one.description)
        event.add("url", f"{base}instruments/{one.tag}")
        event.add("transp", "TRANSPARENT")
        calendar.add_component(event)
    found: bytes = calendar.to_ical()
    return found
