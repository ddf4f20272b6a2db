"""When others open a way into an account: its person is told, and its signatures say so."""

from __future__ import annotations

import logging
from datetime import datetime, timedelta
from smtplib import SMTPException

from django.conf import settings
from django.core.mail import send_mail
from django.db import transaction
from django.utils import timezone

from verifyloop.accounts import security
from verifyloop.accounts.models import Notice, SignInRules, User

log = logging.getLogger("verifyloop.mail")
REMEDY = "If you did not ask for it, tell whoever leads the site, and take another password."


def rules() -> SignInRules:
    """Return what the site asks of ways into accounts."""
    return SignInRules.objects.order_by("pk").first() or SignInRules()


def named(user: User) -> str:
    """Return a person as others are told of them: the name shown, and the one signed in with."""
    return f"{user.display_name} ({user.username})"


def opened(user: User, how: str, now: datetime) -> None:
    """Note on an account, not stored yet, that others opened a way into it."""
    user.reset_at, user.reset_how = now, how[:240]


def mark(user: User, now: datetime) -> str:
    """Return what a reader of a signature is told of its account; empty where there is nothing."""
    if user.reset_at is None or now - user.reset_at > timedelta(days=rules().reset_days):
        return ""
    return f"{timezone.localdate(user.reset_at)}: {user.reset_how}"


def tell(user: User, text: str, now: datetime, address: str = "") -> None:
    """Tell somebody at their next sign-in, and by mail once all of it is stored."""
    Notice.objects.create(user=user, at=now, text=text[:400])
    security.say("told", user.username, text=text)
    to = address or user.email
    if to:
        transaction.on_commit(lambda: _mail(to, text), robust=True)


def _mail(to: str, text: str) -> None:
    body = f"{text}\n\n{REMEDY}\n"
    try:
        send_mail("Verify Loop: your account", body, settings.DEFAULT_FROM_EMAIL, [to])
    except (OSError, SMTPException) as failed:
        log.warning("a notice was not sent by mail: %s", failed)


def address_changed(user: User, address: str, actor: User, now: datetime) -> None:
    """Change the address of an account that is stored by the caller."""
    before, user.email = user.email, address
    if user.pk == actor.pk:
        return
    text = f"{named(actor)} changed the e-mail address of your account."
    tell(user, text, now, before)
    if settings.SINGLE_SIGN_ON:
        opened(user, f"{named(actor)} changed the address that the site's sign-in goes by.", now)


def unread(user: User) -> list[Notice]:
    """Return what somebody has not read yet, oldest first."""
    return list(user.notices.filter(read_at=None).order_by("at", "pk"))


def read(user: User, now: datetime) -> None:
    """Note that somebody has read what they were told until now."""
    user.notices.filter(read_at=None, at__lte=now).update(read_at=now)
