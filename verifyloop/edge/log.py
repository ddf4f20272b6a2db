"""The log: one line a request, with an id that the answer carries too."""

from __future__ import annotations

import logging
import re
import time
import uuid
from collections.abc import Callable
from contextvars import ContextVar
from typing import Any

from django.http import HttpRequest
from django.http.response import HttpResponseBase

log = logging.getLogger("verifyloop.request")
GIVEN = re.compile(r"[\w-]{8,64}", re.ASCII)
_id: ContextVar[str] = ContextVar("request_id", default="-")


class WithRequest(logging.Filter):
    """Puts the id of the request into every line that is written while it is answered."""

    def filter(self, record: logging.LogRecord) -> bool:
        """Let every line through."""
        record.request_id = _id.get()
        return True


def configured(form: str, syslog: str | tuple[str, int] = "") -> dict[str, Any]:
    """Return the settings of the log: lines of ``text``, or ``json``, one object a line.

    What happened to ways in, and the heads, go to the log system of the site too, as JSON.
    """
    plain = "%(asctime)s %(levelname)s %(name)s [%(request_id)s] %(message)s"
    objects = {"format": plain, "()": "pythonjsonlogger.json.JsonFormatter"}
    told = {"handlers": ["console"], "propagate": False}
    beside = {"handlers": ["console"], "propagate": False, "level": "INFO"}
    handlers: dict[str, Any] = {
        "console": {
            "class": "logging.StreamHandler",
            "formatter": "line",
            "filters": ["request"],
        }
    }
    if syslog:
        handlers["syslog"] = {
            "class": "logging.handlers.SysLogHandler",
            "address": syslog,
            "facility": "authpriv",
            "formatter": "object",
            "filters": ["request"],
        }
        beside["handlers"] = ["console", "syslog"]
    return {
        "version": 1,
        "disable_existing_loggers": False,
        "filters": {"request": {"()": "verifyloop.edge.log.WithRequest"}},
        "formatters": {"line": objects if form == "json" else {"format": plain}, "object": objects},
        "handlers": handlers,
        "loggers": {
            "gunicorn.error": {**told, "level": "INFO"},
            "django.request": {**told, "level": "ERROR"},
            "verifyloop": {**told, "level": "INFO" if form == "json" else "ERROR"},
            "verifyloop.security": beside,
            "verifyloop.heads": beside,
            # What axes says of a wrong password is said by verifyloop.security.
            "axes": {**told, "level": "ERROR"},
        },
    }


class LogMiddleware:
    """Gives each request an id, or keeps the proxy's, and writes one line when it is answered."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        """Answer a request."""
        given = request.headers.get("X-Request-ID", "")
        token = _id.set(given if GIVEN.fullmatch(given) else uuid.uuid4().hex)
        begun = time.perf_counter()
        try:
            response = self.get_response(request)
            response["X-Request-ID"] = _id.get()
            if request.resolver_match is not None:
                _write(request, response, 1000 * (time.perf_counter() - begun))
            return response
        finally:
            _id.reset(token)


def _write(request: HttpRequest, response: HttpResponseBase, took: float) -> None:
    # The route and not the path: some paths are secret.
    match = request.resolver_match
    assert match is not None
    route = match.view_name if match.route.startswith("^") else match.route
    # Who asked, where that was asked for; it is not looked up for the log.
    user = vars(request).get("_cached_user") or getattr(request, "token_user", None)
    more = {
        "method": request.method,
        "route": route,
        "status": response.status_code,
        "took_ms": round(took, 1),
        "account": user.get_username() if user is not None and user.is_authenticated else "",
        "remote": request.META.get("REMOTE_ADDR", ""),
    }
    said = "%(method)s %(route)s %(status)s %(took_ms)s ms"
    level = logging.ERROR if response.status_code >= 500 else logging.INFO
    log.log(level, said, more, extra=more)
