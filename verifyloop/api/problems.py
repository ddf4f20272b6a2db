"""Every refusal has one body: code, message, field, remedy, suggestion."""

from __future__ import annotations

import errno
import logging
from typing import Any

from django.core.exceptions import RequestDataTooBig
from django.db import DatabaseError, DataError, IntegrityError
from django.http import HttpRequest, HttpResponse, JsonResponse
from ninja import NinjaAPI, Schema
from ninja.errors import AuthenticationError, HttpError, ValidationError

from calibration.kernel.errors import InputError
from verifyloop.accounts import guessing, proving
from verifyloop.accounts.proving import WrongPassword
from verifyloop.errors import Conflict, DomainError, NotAllowed, NotFound, TokenRefused

log = logging.getLogger("django.request")


class Problem(Schema):
    """A refusal."""

    code: str
    message: str
    field: str = ""
    remedy: str = ""
    suggestion: str = ""
    #: the other field, where two values look as if each stood in the other's place
    swap: str = ""


STATUS: dict[type[DomainError], int] = {
    NotFound: 404,
    NotAllowed: 403,
    WrongPassword: 403,
    TokenRefused: 401,
    Conflict: 409,
}


def problem(
    status: int,
    code: str,
    message: str,
    remedy: str = "",
    field: str = "",
    suggestion: str = "",
    swap: str = "",
) -> JsonResponse:
    """Return a refusal."""
    return JsonResponse(
        {
            "code": code,
            "message": message,
            "field": field,
            "remedy": remedy,
            "suggestion": suggestion,
            "swap": swap,
        },
        status=status,
    )


def csrf_failure(request: HttpRequest, reason: str = "") -> HttpResponse:
    """Answer a request without a valid token."""
    return problem(
        403, "csrf", "The page is out of date.", "Reload the page; what you typed is kept."
    )


#: What SQLite says, by a part of its sentence, and what is said of it here.
STORE = (
    (
        ("readonly", "read-only"),
        "storage.read_only",
        "The disk of the record store cannot be written to. Nothing was stored.",
        "Reading goes on. Tell who looks after the server; what you entered is kept here.",
    ),
    (
        ("full",),
        "storage.full",
        "The disk of the record store is full. Nothing was stored.",
        "Reading goes on. Tell who looks after the server; what you entered is kept here.",
    ),
    (
        ("malformed", "not a database", "disk I/O"),
        "storage.damaged",
        "A part of the record store cannot be read: its file is damaged.",
        "Tell who looks after the server: verify_records says which jobs can be read.",
    ),
)


#: What a disk says, by its number, as SQLite says it.
DISK = {
    errno.ENOSPC: "full",
    errno.EDQUOT: "full",
    errno.EFBIG: "full",
    errno.EROFS: "read-only",
    errno.EIO: "disk I/O",
}


def store_problem(said: str) -> tuple[str, str, str]:
    """Return code, message and remedy of what the record store could not do."""
    for parts, *problem_of in STORE:
        if any(part in said for part in parts):
            code, message, remedy = problem_of
            return code, message, remedy
    return "storage.busy", "The record store did not answer.", "It is tried again shortly."


def locked_out(
    request: HttpRequest, response: HttpResponse, credentials: dict[str, Any] | None
) -> HttpResponse:
    """Answer once a name is locked on a device."""
    field = getattr(request, "proving_field", "password")
    said = guessing.locked(request, getattr(request, "proving", ""), field)
    return problem(403, said.code, said.message, said.remedy, said.field)


def install(api: NinjaAPI) -> None:
    """Map every exception to a refusal."""

    @api.exception_handler(InputError)
    def on_input(request: HttpRequest, exc: InputError) -> HttpResponse:
        return problem(422, exc.code, exc.message, exc.remedy, exc.field, exc.suggestion, exc.swap)

    @api.exception_handler(DomainError)
    def on_domain(request: HttpRequest, exc: DomainError) -> HttpResponse:
        if isinstance(exc, WrongPassword):
            proving.count(exc, request)
        status = STATUS.get(type(exc), 422)
        return problem(status, exc.code, exc.message, exc.remedy, exc.field)

    @api.exception_handler(AuthenticationError)
    def on_nobody(request: HttpRequest, exc: AuthenticationError) -> HttpResponse:
        return problem(401, "session.none", "You are not signed in.", "Sign in; nothing is lost.")

    @api.exception_handler(ValidationError)
    def on_shape(request: HttpRequest, exc: ValidationError) -> HttpResponse:
        first: dict[str, Any] = exc.errors[0] if exc.errors else {}
        where = [str(part) for part in first.get("loc", ())]
        field = ".".join(part for part in where if part not in ("query", "path", "body"))
        return problem(
            422,
            "request.shape",
            f"{field or 'The request'}: {first.get('msg', 'not understood')}",
            "Send what the API description says.",
            field,
        )

    @api.exception_handler(HttpError)
    def on_http(request: HttpRequest, exc: HttpError) -> HttpResponse:
        if exc.status_code == 403:
            return csrf_failure(request)
        return problem(exc.status_code, "request.invalid", str(exc), "Check what is sent.")

    @api.exception_handler(RequestDataTooBig)
    def on_size(request: HttpRequest, exc: RequestDataTooBig) -> HttpResponse:
        return problem(
            413, "request.too_large", "That is too much at once.", "Send less than 4 MB."
        )

    @api.exception_handler(OSError)
    def on_disk(request: HttpRequest, exc: OSError) -> HttpResponse:
        if exc.errno not in DISK:
            raise exc
        log.error("disk: %s", exc)
        return problem(503, *store_problem(DISK[exc.errno]))

    @api.exception_handler(IntegrityError)
    def on_doubled(request: HttpRequest, exc: IntegrityError) -> HttpResponse:
        log.warning("database: %s", exc)
        return problem(
            409,
            "storage.at_once",
            "Somebody else stored the same at the same moment. Nothing was stored.",
            "Look again, then send it again; what you typed stays here.",
        )

    @api.exception_handler(DataError)
    def on_value(request: HttpRequest, exc: DataError) -> HttpResponse:
        log.warning("database: %s", exc)
        return problem(
            422,
            "value.unfit",
            "A value is too large or too long, or holds a character that cannot be kept.",
            "Make it smaller, or type it anew.",
        )

    @api.exception_handler(DatabaseError)
    def on_store(request: HttpRequest, exc: DatabaseError) -> HttpResponse:
        log.error("database: %s", exc)
        return problem(503, *store_problem(str(exc)))
