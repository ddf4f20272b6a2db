"""What happened to ways in, for the log system of the site: one line each, never a secret.

It is no evidence: lines can be lost on the way. What evidence needs is in the register.
"""

from __future__ import annotations

import logging
from typing import Any

from axes.signals import user_locked_out
from django.contrib.auth.signals import user_logged_in, user_logged_out, user_login_failed
from django.dispatch import receiver
from django.http import HttpRequest

from verifyloop.register.who import account, request_now

log = logging.getLogger("verifyloop.security")


def say(what: str, of: str, request: HttpRequest | None = None, **more: Any) -> None:
    """Write a line: what happened, to whose account, by whom, from where."""
    asked = request or request_now()
    remote = asked.META.get("REMOTE_ADDR", "") if asked is not None else ""
    log.info(
        "%(event)s: %(subject)s",
        said := {"event": what, "subject": of, "account": account(), "remote": remote, **more},
        extra=said,
    )


@receiver(user_logged_in, dispatch_uid="security: in")
def _in(sender: Any, request: HttpRequest | None, user: Any, **more: Any) -> None:
    say("signed in", user.get_username(), request)


@receiver(user_logged_out, dispatch_uid="security: out")
def _out(sender: Any, request: HttpRequest | None, user: Any, **more: Any) -> None:
    if user is not None:
        say("signed out", user.get_username(), request)


@receiver(user_login_failed, dispatch_uid="security: failed")
def _failed(sender: Any, request: HttpRequest | None = None, **more: Any) -> None:
    say("wrong password", getattr(request, "proving", ""), request)


@receiver(user_locked_out, dispatch_uid="security: locked")
def _locked(sender: Any, request: HttpRequest, username: str, **more: Any) -> None:
    say("locked", username, request)
