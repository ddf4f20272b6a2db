"""Answers of the core sent as they are: figures stay text with their decimals."""

from __future__ import annotations

import orjson
from django.http import HttpResponse
from ninja import Schema

from calibration.kernel.codec import encode


def answer(value: object) -> HttpResponse:
    """Send a dataclass of the core as :func:`encode` gives it, in a twentieth of the time."""
    return HttpResponse(orjson.dumps(value, default=encode), content_type="application/json")


def as_made(said: Schema) -> HttpResponse:
    """Send what was just made by its schema; it is not looked at line by line again.

    Made by ``model_construct`` where there are many lines: each look at one takes its time.
    """
    return HttpResponse(said.model_dump_json(), content_type="application/json")
