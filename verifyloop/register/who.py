"""Whose request is being worked on; the register writes it beside every change."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from datetime import tzinfo
from typing import TypeVar

from django.http import HttpRequest, HttpResponseBase
from django.utils import timezone

_request: ContextVar[HttpRequest | None] = ContextVar("request", default=None)
#: in whose name something is done that no session stands for; empty: that of the request
_name: ContextVar[str] = ContextVar("name", default="")


def account() -> str:
    """Return the account that is signed in; empty for a command or the start of the product."""
    if name := _name.get():
        return name[:150]
    request = _request.get()
    user = getattr(request, "user", None)
    return user.get_username() if user is not None and user.is_authenticated else ""


def request_now() -> HttpRequest | None:
    """Return the request that is answered; none in a command or at the start."""
    return _request.get()


@contextmanager
def in_the_name(of: str) -> Iterator[None]:
    """Write what is changed within it in this name, where nobody is signed in who does it."""
    token = _name.set(of)
    try:
        yield
    finally:
        _name.reset(token)


T = TypeVar("T")


def while_streamed(work: Iterator[T]) -> Iterator[T]:
    """Yield what work yields; it is done in the name and in the time zone of this request.

    An answer that comes bit by bit is made after the middleware has forgotten both.
    """
    request, zone = _request.get(), timezone.get_current_timezone()
    return _in_the_name(request, zone, work)


def _in_the_name(request: HttpRequest | None, zone: tzinfo, work: Iterator[T]) -> Iterator[T]:
    while True:
        token = _request.set(request)
        try:
            with timezone.override(zone):
                one = next(work)
        except StopIteration:
            return
        finally:
            _request.reset(token)
        yield one


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
