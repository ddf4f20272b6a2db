"""Lifting what wrong passwords have locked; the register keeps who did."""

from __future__ import annotations

from axes.models import AccessFailureLog
from axes.utils import reset

from verifyloop.accounts import security
from verifyloop.accounts.models import KnownDevice, User
from verifyloop.accounts.people import by_username
from verifyloop.accounts.permissions import require
from verifyloop.register import book
from verifyloop.register.kept import subject_of
from verifyloop.register.write_lock import writing


@writing()
def lift(*, actor: User | None, username: str) -> User:
    """Forget the wrong passwords of a name; the register keeps who did. None: at the server."""
    if actor is not None:
        require(actor, "people.manage")
    user = by_username(username)
    reset(username=user.username)
    AccessFailureLog.objects.filter(username=user.username).delete()
    KnownDevice.objects.filter(user=user).update(wrong=0)
    book.write("lifted", subject_of(User, user.pk), {})
    security.say("lock lifted", user.username)
    return user
