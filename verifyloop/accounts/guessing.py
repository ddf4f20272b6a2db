"""How often a password may be guessed: by name and address together, and by each alone.

Together is counted by django-axes, and locks for a growing time. A device on which somebody
signed in before is known for that name: it is never locked, since locks at machines must come
off; it only waits between two tries. All of this is asked before a password is hashed.
"""

from __future__ import annotations

import hashlib
import re
import secrets
from datetime import datetime, timedelta
from typing import Any

from axes.handlers.proxy import AxesProxyHandler
from axes.models import AccessAttempt, AccessFailureLog, AccessLog
from django.conf import settings
from django.contrib.auth.signals import user_login_failed
from django.db.models import Count, Sum
from django.dispatch import receiver
from django.http import HttpRequest, HttpResponse
from django.utils import timezone

from verifyloop.accounts.models import KnownDevice, User
from verifyloop.errors import NotAllowed

#: So many wrong ones of a name and an address together lock, for a time that grows.
FAILURES = 5
FIRST, LONGEST = timedelta(minutes=5), timedelta(hours=4)
#: So many within an hour of one name from anywhere, of any names from one address.
OF_NAME, OF_ADDRESS, WITHIN = 30, 60, timedelta(hours=1)
#: How long a known device waits between two tries, once so many were wrong.
WAIT = timedelta(seconds=20)
COOKIE, GIVEN = "device", re.compile(r"[\w-]{40,60}", re.ASCII)
#: How long a device is remembered. [s]
REMEMBERED = 400 * 24 * 3600


def _digest(request: HttpRequest) -> str:
    said = request.COOKIES.get(COOKIE, "")
    return hashlib.sha256(said.encode()).hexdigest() if GIVEN.fullmatch(said) else ""


def known(request: HttpRequest | None, username: str) -> KnownDevice | None:
    """Return the device that asks, where this name signed in on it before."""
    digest = _digest(request) if request is not None else ""
    if not digest:
        return None
    return KnownDevice.objects.filter(digest=digest, user__username=username).first()


def is_known(request: HttpRequest, credentials: dict[str, Any] | None = None) -> bool:
    """Tell whether a device is known for the name that is tried; axes asks it."""
    return known(request, getattr(request, "proving", "")) is not None


def remember(request: HttpRequest, response: HttpResponse, user: User) -> None:
    """Know this device for somebody who just signed in with all that is asked of them."""
    token = request.COOKIES.get(COOKIE, "") if _digest(request) else secrets.token_urlsafe(32)
    digest = hashlib.sha256(token.encode()).hexdigest()
    KnownDevice.objects.update_or_create(
        user=user, digest=digest, defaults={"seen_at": timezone.now(), "wrong": 0}
    )
    response.set_cookie(
        COOKIE,
        token,
        max_age=REMEMBERED,
        path=settings.BASE_PATH,
        secure=settings.SECURE,
        httponly=True,
        samesite="Lax",
    )


def look(request: HttpRequest, username: str, field: str) -> None:
    """Refuse another try where there were too many wrong ones.

    Raises
    ------
    NotAllowed
        ``password.wait``, ``password.locked``.
    """
    request.proving, request.proving_field = username, field  # type: ignore[attr-defined]
    now = timezone.now()
    if (device := known(request, username)) is not None:
        _may_go_on(device, now, field)
        return
    if not AxesProxyHandler.is_allowed(request, {"username": username}):
        raise locked(request, username, field)
    recent = AccessFailureLog.objects.filter(attempt_time__gt=now - WITHIN)
    if recent.filter(username=username).count() >= OF_NAME:
        raise _elsewhere("this name, from several devices", field)
    if recent.filter(ip_address=_address(request)).count() >= OF_ADDRESS:
        raise _elsewhere("several names, from this address", field)


def _address(request: HttpRequest) -> str:
    return str(request.META.get("REMOTE_ADDR", ""))


def _may_go_on(device: KnownDevice, now: datetime, field: str) -> None:
    if device.wrong < FAILURES or device.wrong_at is None or now >= device.wrong_at + WAIT:
        return
    left = int((device.wrong_at + WAIT - now).total_seconds()) + 1
    raise NotAllowed(
        "password.wait",
        f"{device.wrong} wrong ones in a row on this device.",
        f"Wait {left} s, then type it again. It is not locked.",
        field,
    )


def _elsewhere(what: str, field: str) -> NotAllowed:
    return NotAllowed(
        "password.locked",
        f"Too many wrong passwords of {what}, within an hour.",
        "Use a device on which you signed in before, wait an hour, or let a planner lift it at "
        "Site, People.",
        field,
    )


def locked(request: HttpRequest, username: str, field: str = "password") -> NotAllowed:
    """Return the refusal of a name that is locked on this device for a while."""
    request.proving = username  # type: ignore[attr-defined]
    left = int(cool_off(request) / timedelta(minutes=1))
    return NotAllowed(
        "password.locked",
        "Too many wrong passwords: this name is locked on this device.",
        f"Wait {left} min. A planner lifts it sooner at Site, People; where there is none: "
        "manage.py unlock at the server.",
        field,
    )


def cool_off(request: HttpRequest | None) -> timedelta:
    """Return how long a lock lasts: it doubles with every further five wrong passwords."""
    username = getattr(request, "proving", "")
    since = timezone.now() - timedelta(days=1)
    last = AccessLog.objects.filter(username=username).order_by("-attempt_time").first()
    since = max(since, last.attempt_time) if last else since
    wrong = AccessFailureLog.objects.filter(username=username, attempt_time__gt=since).count()
    lasts: timedelta = FIRST * 2 ** min(10, max(0, wrong // FAILURES - 1))
    return min(LONGEST, lasts)


@receiver(user_login_failed, dispatch_uid="wrong on a known device")
def wrong(sender: Any, request: HttpRequest | None = None, **more: Any) -> None:
    """Count a wrong password on a device that is known for its name."""
    device = known(request, getattr(request, "proving", ""))
    if device is not None:
        device.wrong, device.wrong_at = min(device.wrong + 1, 9999), timezone.now()
        device.save(update_fields=["wrong", "wrong_at"])


def right(request: HttpRequest | None, user: User) -> None:
    """Count from the beginning again: the password was right."""
    KnownDevice.objects.filter(user=user, digest=_digest(request) if request else "").exclude(
        wrong=0
    ).update(wrong=0)


def locked_names() -> set[str]:
    """Return the names that are kept out of some device now."""
    now = timezone.now()
    since = now - LONGEST
    tried = AccessAttempt.objects.filter(attempt_time__gt=since).values("username", "ip_address")
    together = tried.annotate(wrong=Sum("failures_since_start")).filter(wrong__gte=FAILURES)
    recent = AccessFailureLog.objects.filter(attempt_time__gt=now - WITHIN).values("username")
    of_name = recent.annotate(wrong=Count("pk")).filter(wrong__gte=OF_NAME)
    return {row["username"] for row in (*together, *of_name)}
