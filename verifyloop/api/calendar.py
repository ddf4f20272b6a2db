"""The round as a calendar that other programs subscribe to."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Router, Schema

from calibration.kernel.errors import InputError
from verifyloop.accounts.models import User
from verifyloop.api.described import file_of
from verifyloop.plant import calendar

router = Router(tags=["calendar"])


class FeedOut(Schema):
    """A secret address, shown once; empty where there is none any more."""

    path: str


class HasFeed(Schema):
    """Whether the person has a calendar that is read."""

    there: bool
    #: gets what is due by e-mail each morning, and where to
    mail: bool
    address: str


class MailIn(Schema):
    """Whether it is wanted."""

    on: bool


@router.get("", response=HasFeed, operation_id="hasCalendar")
def has_feed(request: HttpRequest) -> HasFeed:
    """Tell whether there is an address of one's own."""
    return _has(request.user)  # type: ignore[arg-type]


@router.put("/mail", response=HasFeed, operation_id="wantMail")
def want_mail(request: HttpRequest, body: MailIn) -> HasFeed:
    """Want what is due by e-mail each morning, or want it no more."""
    user: Any = request.user
    if body.on and not user.email:
        raise InputError(
            "email.missing",
            "on",
            "No e-mail address of yours is on record.",
            "Ask a planner.",
        )
    user.daily_mail = body.on
    user.save(update_fields=["daily_mail"])
    return _has(user)


def _has(user: User) -> HasFeed:
    there = user.feeds.filter(ended_at=None).exists()
    return HasFeed(there=there, mail=user.daily_mail, address=user.email)


@router.post("", response=FeedOut, operation_id="newCalendar")
def new_feed(request: HttpRequest) -> FeedOut:
    """Make a secret address; the one of before ends."""
    token = calendar.new_feed(request.user, timezone.now())  # type: ignore[arg-type]
    return FeedOut(path=f"/api/v1/calendar/{token}.ics")


@router.delete("", response=FeedOut, operation_id="endCalendar")
def end_feed(request: HttpRequest) -> FeedOut:
    """End one's address: nobody reads it any more."""
    calendar.end_feeds(request.user, timezone.now())  # type: ignore[arg-type]
    return FeedOut(path="")


@router.get(
    "/{token}.ics",
    response=str,
    auth=None,
    operation_id="getCalendar",
    openapi_extra=file_of("text/calendar"),
)
def get_calendar(request: HttpRequest, token: str) -> HttpResponse:
    """Return what is planned, as iCalendar."""
    calendar.feed_of(token[:100])
    content = calendar.as_calendar(request.build_absolute_uri(settings.BASE_PATH), timezone.now())
    return HttpResponse(content, content_type="text/calendar; charset=utf-8")
