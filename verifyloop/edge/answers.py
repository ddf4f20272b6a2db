"""What holds for every answer of the API: one body for every refusal, nothing kept in a cache."""

from __future__ import annotations

import sys
from collections.abc import Callable

from django.db import DatabaseError
from django.http import HttpRequest
from django.http.response import HttpResponseBase

from verifyloop.api.problems import DISK, problem, store_problem

#: Addresses and ways of asking that there are not.
UNKNOWN = {
    404: ("request.unknown", "There is no such address.", "Look it up in the API's description."),
    405: ("request.way", "That address is not asked in this way.", "Look up how it is asked."),
}


def failed(request: HttpRequest) -> HttpResponseBase:
    """Answer what nobody caught: a store that is away before the API is even asked, or a fault."""
    wrong = sys.exc_info()[1]
    if isinstance(wrong, DatabaseError):
        return problem(503, *store_problem(str(wrong)))
    if isinstance(wrong, OSError) and wrong.errno in DISK:
        return problem(503, *store_problem(DISK[wrong.errno]))
    said = "The server could not answer."
    return problem(500, "server.failed", said, "Tell who looks after it, with X-Request-ID.")


class EdgeMiddleware:
    """Says 404 and 405 in the body of every refusal; a shared tablet keeps nothing it was told."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        """Answer a request."""
        response = self.get_response(request)
        if not request.path_info.startswith("/api/"):
            return response
        told = response.headers.get("Content-Type", "").startswith("application/json")
        if response.status_code in UNKNOWN and not told:
            response = problem(response.status_code, *UNKNOWN[response.status_code])
        response["Cache-Control"] = "no-store"
        return response
