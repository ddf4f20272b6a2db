"""Days and hours are those of the site, whatever the server's clock is set to."""

from __future__ import annotations

from collections.abc import Callable
from zoneinfo import ZoneInfo, available_timezones

from django.conf import settings
from django.core.cache import cache
from django.http import HttpRequest
from django.http.response import HttpResponseBase
from django.utils import timezone

from verifyloop.plant.models import Site

KEY, SECONDS = "site.time_zone", 5


def zones() -> list[str]:
    """Return the names of all time zones: places by region, and UTC."""
    places = sorted(z for z in available_timezones() if "/" in z and not z.startswith("Etc/"))
    return ["UTC", *places]


def zone_now() -> str:
    """Return the time zone of the site; asked of the store every few seconds."""
    found: str | None = cache.get(KEY)
    if found is None:
        said = Site.objects.order_by("pk").values_list("time_zone", flat=True).first()
        found = said or settings.TIME_ZONE
        cache.set(KEY, found, SECONDS)
    return found


def forget() -> None:
    """Ask anew: the site was changed."""
    cache.delete(KEY)


class ZoneMiddleware:
    """Answers in the time zone of the site."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        """Answer a request."""
        if not request.path_info.startswith("/api/"):
            return self.get_response(request)
        with timezone.override(ZoneInfo(zone_now())):
            return self.get_response(request)
