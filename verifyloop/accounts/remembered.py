"""Who is signed in, remembered for some seconds: not every request asks the store again.

Emptied in all processes of this machine at once by every change of a session or an account: each
looks at the time of one small file, which is set anew as soon as such a change is stored. Where
several machines serve one site, another machine learns of it within :data:`SECONDS`.
"""

from __future__ import annotations

import os
import threading
import time
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib import auth
from django.contrib.auth import middleware
from django.contrib.auth.models import AnonymousUser
from django.contrib.sessions.models import Session
from django.db import connection, transaction
from django.db.models.signals import post_delete, post_save
from django.http import HttpRequest
from django.utils.functional import SimpleLazyObject

from verifyloop.accounts.models import User
from verifyloop.register.kept import changed

SECONDS, MOST = 5.0, 2_000

_kept: dict[tuple[str, str], tuple[int, float, Any]] = {}
_lock = threading.Lock()


def _mark() -> Path:
    return Path(settings.DATA_DIR) / "signed-in.mark"


def _since() -> int | None:
    """Return when something was changed last; none where nothing may be remembered."""
    if connection.in_atomic_block:
        # What is not stored yet is of this transaction alone.
        return None
    try:
        return os.stat(_mark()).st_mtime_ns
    except OSError:
        return None


def find(kind: str, key: str) -> Any:
    """Return what is remembered of a session; none where it is to be asked for."""
    found = _kept.get((kind, key))
    if found is None or found[0] != _since() or found[1] < time.monotonic():
        return None
    return found[2]


def keep(kind: str, key: str, since: int | None, value: Any) -> None:
    """Remember something that was asked for after a moment of :func:`begun`."""
    if since is None:
        return
    with _lock:
        if len(_kept) >= MOST:
            _kept.clear()
        _kept[kind, key] = (since, time.monotonic() + SECONDS, value)


def begun() -> int | None:
    """Return the moment before something is asked for; it is kept only if it still counts."""
    if _since() is None and not connection.in_atomic_block:
        _emptied()
    return _since()


def forget(**told: Any) -> None:
    """Empty it everywhere once what was changed is stored."""
    transaction.on_commit(_emptied)


def _emptied() -> None:
    try:
        _mark().touch(mode=0o600)
        # Two changes within one tick of the clock are two.
        os.utime(_mark(), ns=(time.time_ns(), time.time_ns()))
    except OSError:
        _kept.clear()


def connect() -> None:
    """Have it emptied by whatever changes an account or a session, in commands as well."""
    for sender in (User, Session):
        post_save.connect(forget, sender, dispatch_uid=f"remembered {sender.__name__}")
        post_delete.connect(forget, sender, dispatch_uid=f"gone {sender.__name__}")
    changed.connect(forget, User, dispatch_uid="remembered, many at once")


def _user(request: HttpRequest) -> User | AnonymousUser:
    """Return who a session stands for, as :func:`django.contrib.auth.get_user` does."""
    key = request.session.session_key
    # Read now: within a transaction nothing is remembered, and others would wait for it.
    request.session.get(auth.SESSION_KEY)
    said = find("user", key) if key else None
    names = [f.attname for f in User._meta.concrete_fields]
    if said is not None:
        return User.from_db(connection.alias, names, said)
    since = begun()
    user = auth.get_user(request)
    if key and isinstance(user, User):
        keep("user", key, since, [getattr(user, name) for name in names])
    return user


class AuthenticationMiddleware(middleware.AuthenticationMiddleware):
    """Says who is signed in."""

    def process_request(self, request: HttpRequest) -> None:
        """Have the person looked up when somebody asks for them."""
        super().process_request(request)
        request.user = SimpleLazyObject(lambda: _once(request))  # type: ignore[assignment]


def _once(request: HttpRequest) -> User | AnonymousUser:
    if not hasattr(request, "_cached_user"):
        request._cached_user = _user(request)  # type: ignore[attr-defined]
    return request._cached_user  # type: ignore[attr-defined, no-any-return]
