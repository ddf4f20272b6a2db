"""What every answer carries: what a browser may do with it, and how long it may keep it."""

from __future__ import annotations

import re
from collections.abc import Callable

from django.http import HttpRequest
from django.http.response import HttpResponseBase
from django.middleware.gzip import GZipMiddleware

from verifyloop.edge.release import release

#: Nothing is loaded, run or framed by what is no page.
NOTHING = "default-src 'none'; frame-ancestors 'none'"
#: The application: its own scripts, the camera's picture, photos that are looked at before sent.
PAGE = (
    "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; "
    "media-src 'self' blob:; object-src 'none'; frame-ancestors 'none'; base-uri 'self'; "
    "form-action 'self'"
)
#: A worker has the policy of its own file; the browser's own Python is compiled from its package.
WORKER = "default-src 'self'; object-src 'none'; frame-ancestors 'none'"
PYTHON = f"{WORKER}; script-src 'self' 'wasm-unsafe-eval'"
ALLOWED = "camera=(self), geolocation=(), microphone=(), payment=(), usb=()"
#: Their names change with what is in them.
BY_HASH = re.compile(r"^/(assets/[\w.-]+-[\w-]{8}\.\w+|python/[0-9a-f]{16}/.+)$")
#: Worth being made smaller on the way; streams and what is packed already go as they are.
TEXT = ("application/json", "text/csv", "text/html", "text/calendar")


def immutable(path: str, url: str) -> bool:
    """Tell whether a file may be kept for ever."""
    return BY_HASH.match(url) is not None


def policy_of(path: str, kind: str) -> str:
    """Return what a browser may do with an answer, by its path and its kind."""
    if path.startswith("/python/"):
        return PYTHON
    if kind.startswith("text/javascript"):
        return WORKER
    return PAGE if kind.startswith("text/html") else NOTHING


class HeadersMiddleware:
    """Says of every answer, of files too, what a browser may do with it and for how long."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        """Answer a request."""
        response = self.get_response(request)
        kind = response.headers.get("Content-Type", "")
        policy = policy_of(request.path_info, kind)
        response.headers.setdefault("Content-Security-Policy", policy)
        response.headers.setdefault("Permissions-Policy", ALLOWED)
        response.headers.setdefault("Cross-Origin-Resource-Policy", "same-origin")
        response.headers.setdefault("Cache-Control", "no-store")
        response.headers["Verify-Loop-Release"] = release()
        if request.method == "HEAD" and not response.streaming:
            # Its length is said, and nothing sent.
            response.content = b""  # type: ignore[attr-defined]
        return response


class TextGZipMiddleware(GZipMiddleware):
    """Packs text, and leaves streams and pictures alone."""

    def process_response(
        self, request: HttpRequest, response: HttpResponseBase
    ) -> HttpResponseBase:
        """Pack an answer where that makes it smaller."""
        if response.streaming or not response.headers.get("Content-Type", "").startswith(TEXT):
            return response
        return super().process_response(request, response)


def kept_for(headers: dict[str, str], path: str, url: str) -> None:
    """Say of a file without a hash in its name that it is asked for again each time."""
    if not immutable(path, url):
        headers["Cache-Control"] = "no-cache"
