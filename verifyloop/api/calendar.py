"""The round as a calendar that other programs subscribe to."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Router, Schema

from verifyloop.api.problems import PROBLEMS, Problem
from verifyloop.plant import calendar

router = Router(tags=["calendar"])


class FeedOut(Schema):
    """A secret address, shown once; empty where there is none any more."""

    path: str


class HasFeed(Schema):
    """Whether the person has a calendar that is read."""

    there: bool


@router.get("", response={200: HasFeed, PROBLEMS: Problem}, operation_id="hasCalendar")
def has_feed(request: HttpRequest) -> HasFeed:
    """Tell whether there is an address of one's own."""
    return HasFeed(there=request.user.feeds.filter(ended_at=None).exists())  # type: ignore[union-attr]


@router.post("", response={200: FeedOut, PROBLEMS: Problem}, operation_id="newCalendar")
def new_feed(request: HttpRequest) -> FeedOut:
    """Make a secret address; the one of before ends."""
    token = calendar.new_feed(request.user, timezone.now())  # type: ignore[arg-type]
    return FeedOut(path=f"/api/calendar/{token}.ics")


@router.delete("", response={200: FeedOut, PROBLEMS: Problem}, operation_id="endCalendar")
def end_feed(request: HttpRequest) -> FeedOut:
    """End one's address: nobody reads it any more."""
    calendar.end_feeds(request.user, timezone.now())  # type: ignore[arg-type]
    return FeedOut(path="")


@router.get(
    "/{token}.ics", response={200: str, PROBLEMS: Problem}, auth=None, operation_id="getCalendar"
)
def get_calendar(request: HttpRequest, token: str) -> HttpResponse:
    """Return what is planned, as iCalendar."""
    calendar.feed_of(token[:100])
    content = calendar.as_calendar(request.build_absolute_uri("/"), timezone.now())
    return HttpResponse(content, content_type="text/calendar; charset=utf-8")
