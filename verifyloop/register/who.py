"""Whose request is being worked on; the register writes it beside every change."""

from __future__ import annotations

from collections.abc import Callable
from contextvars import ContextVar

from django.http import HttpRequest, HttpResponseBase

_request: ContextVar[HttpRequest | None] = ContextVar("request", default=None)


def account() -> str:
    """Return the account that is signed in; empty for a command or the start of the product."""
    request = _request.get()
    user = getattr(request, "user", None)
    return user.get_username() if user is not None and user.is_authenticated else ""


def request_now() -> HttpRequest | None:
    """Return the request that is answered; none in a command or at the start."""
    return _request.get()


class WhoMiddleware:
    """Remembers the request while it is answered."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        """Answer a request."""
        token = _request.set(request)
        try:
            return self.get_response(request)
        finally:
            _request.reset(token)
