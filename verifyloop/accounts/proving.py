"""Who somebody is, by their password: each wrong one is logged, several lock for a growing time.

The counting is done by django-axes, by name and device. Sign-in, signatures and second persons
count together. ``manage.py axes_reset_username NAME`` lifts a lock.
"""

from __future__ import annotations

from datetime import timedelta

from axes.handlers.proxy import AxesProxyHandler
from axes.models import AccessFailureLog, AccessLog
from django.contrib.auth.signals import user_login_failed
from django.http import HttpRequest
from django.utils import timezone

from verifyloop.accounts.models import User
from verifyloop.errors import NotAllowed
from verifyloop.register.who import request_now

#: So many wrong passwords in a row lock; the first lock lasts so long, and each next one double.
FAILURES = 5
FIRST, LONGEST = timedelta(minutes=5), timedelta(hours=4)


class WrongPassword(NotAllowed):
    """A password that is not right; it is counted once the work on it is rolled back."""

    def __init__(self, username: str, message: str, remedy: str, field: str) -> None:
        super().__init__("password.wrong", message, remedy, field)
        self.username = username


def cool_off(request: HttpRequest | None) -> timedelta:
    """Return how long a lock lasts: it doubles with every further five wrong passwords."""
    username = getattr(request, "proving", "")
    since = timezone.now() - timedelta(days=1)
    last = AccessLog.objects.filter(username=username).order_by("-attempt_time").first()
    wrong = AccessFailureLog.objects.filter(
        username=username, attempt_time__gt=max(since, last.attempt_time) if last else since
    ).count()
    return min(LONGEST, FIRST * 2 ** min(10, max(0, wrong // FAILURES - 1)))


def minutes_left(username: str) -> int:
    """Return how long a lock that stands now still lasts at most. [min]"""
    request = request_now()
    if request is not None:
        request.proving = username  # type: ignore[attr-defined]
    return int(cool_off(request) / timedelta(minutes=1))


def proven(username: str, password: str, wrong: tuple[str, str, str]) -> User:
    """Return the person whose name and password these are.

    ``wrong`` is message, remedy and field of the refusal.

    Raises
    ------
    NotAllowed
        ``password.locked``; ``token.signs_nothing`` for a script.
    WrongPassword
        ``password.wrong``.
    """
    username = username[:150]
    request = request_now()
    if getattr(request, "by_token", False):
        raise NotAllowed(
            "token.signs_nothing",
            "A script signs nothing: a person does.",
            "Sign in and do it yourself.",
            wrong[2],
        )
    if request is not None:
        request.proving, request.proving_field = username, wrong[2]  # type: ignore[attr-defined]
        if not AxesProxyHandler.is_allowed(request, {"username": username}):
            raise locked(username, wrong[2])
    user = User.objects.filter(username=username, is_active=True).first()
    if user is None:
        User().set_password(password)  # as long as for a name that exists
    if user is None or not user.check_password(password):
        raise WrongPassword(username, *wrong)
    return user


def locked(username: str, field: str = "password") -> NotAllowed:
    """Return the refusal of a name that is locked on this device for a while."""
    return NotAllowed(
        "password.locked",
        "Too many wrong passwords: this name is locked on this device.",
        f"Wait {minutes_left(username)} min. A planner lifts it sooner: "
        "manage.py axes_reset_username.",
        field,
    )


def count(wrong: WrongPassword, request: HttpRequest) -> None:
    """Write down a wrong password; to be called outside of the work that it ended."""
    request.proving = wrong.username  # type: ignore[attr-defined]
    AxesProxyHandler.update_request(request)
    user_login_failed.send(
        sender=__name__, credentials={"username": wrong.username}, request=request
    )
