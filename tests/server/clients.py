"""One chain of middleware for all clients of a process.

Django builds one for each client; to look at every file of the page for each takes 30 ms.
"""

from __future__ import annotations

from typing import Any

from django.core.signals import setting_changed
from django.test.client import ClientHandler

_load = ClientHandler.load_middleware
_built: dict[str, Any] = {}


def _once(handler: ClientHandler, is_async: bool = False) -> None:
    if not _built:
        _load(handler, is_async)
        _built.update(vars(handler))
        del _built["enforce_csrf_checks"]
    vars(handler).update(_built)


def _anew(setting: str, **_: object) -> None:
    """Forget it when a test changes a setting, but for the one that every test changes."""
    if setting != "PASSWORD_HASHERS":
        _built.clear()


def share() -> None:
    """Let all clients that are made from now on share it."""
    ClientHandler.load_middleware = _once  # type: ignore[method-assign]
    setting_changed.connect(_anew)
