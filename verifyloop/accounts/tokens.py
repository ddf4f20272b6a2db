"""Tokens for scripts: made by a person, for a purpose, until a day; kept only as a digest."""

from __future__ import annotations

import hashlib
import re
import secrets
from datetime import datetime, timedelta

from calibration.kernel.errors import InputError
from verifyloop.accounts.models import Token, User
from verifyloop.accounts.permissions import can, whole
from verifyloop.accounts.proving import proven
from verifyloop.errors import NotFound
from verifyloop.register.write_lock import writing

#: How a token begins, so that one that got lost is known for what it is.
BEGINS = "vl_"
LONGEST = 366
#: What a token may be made for, in words.
SCOPES = {
    "records": "read instruments, records and certificates",
    "read": "read everything that you may read",
    "write": "do what you may do, but sign nothing and manage nobody",
}
#: Ways of asking that change nothing.
READING = ("GET", "HEAD")
RECORDS = re.compile(r"^/api/v1/(records|instruments|safety|today)(/|$)")
#: What no script does: passwords, people, tokens and secret addresses of one's own.
NEVER = re.compile(r"^/api/v1/(people|tokens|calendar|session|views|mail|start)(/|$)")
NOT_MADE = ("The password is not right. No token was made.", "Type your own password.", "password")


def _digest(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


@writing()
def new_token(
    *, actor: User, name: str, scope: str, days: int, password: str, now: datetime
) -> tuple[Token, str]:
    """Make a token; what is returned beside it is shown once and not kept.

    Raises
    ------
    InputError
        ``name.missing``, ``scope.unknown``, ``days.range``.
    NotAllowed
        for a wrong password.
    """
    if not name.strip():
        raise InputError("name.missing", "name", "A token has a name.", "Say what it is for.")
    if scope not in SCOPES:
        raise InputError("scope.unknown", "scope", "There is no such purpose.", "Choose one.")
    if not 1 <= days <= LONGEST:
        said = f"{days} days are not possible."
        raise InputError("days.range", "days", said, f"Between 1 and {LONGEST}.")
    whole()
    proven(actor.username, password, NOT_MADE)
    token = BEGINS + secrets.token_urlsafe(32)
    kept = Token.objects.create(
        user=actor,
        name=name.strip()[:60],
        digest=_digest(token),
        scope=scope,
        made_at=now,
        expires_at=now + timedelta(days=days),
    )
    return kept, token


@writing()
def end_token(*, actor: User, id: int, now: datetime) -> None:
    """End a token of one's own; who manages people may end any.

    Raises
    ------
    NotFound
        ``token.unknown``.
    """
    every = Token.objects.all() if can(actor, "people.manage") else Token.objects.filter(user=actor)
    found = every.filter(pk=id, ended_at=None).first()
    if found is None:
        raise NotFound("token.unknown", "There is no such token.", "Look again.")
    found.ended_at = now
    found.save(update_fields=["ended_at"])


def person_of(token: str, method: str, path: str, now: datetime) -> User | None:
    """Return in whose name a token asks; none where it is not good for that."""
    if not token.startswith(BEGINS):
        return None
    found = Token.objects.select_related("user").filter(digest=_digest(token)).first()
    if found is None or found.ended_at is not None or found.expires_at <= now:
        return None
    if not found.user.is_active or not _good_for(found.scope, method, path):
        return None
    return found.user


def _good_for(scope: str, method: str, path: str) -> bool:
    if NEVER.match(path):
        return False
    if scope == "write":
        return True
    return method in READING and (scope == "read" or RECORDS.match(path) is not None)
