"""What the API says of itself, as whoever asks gets it."""

from __future__ import annotations

import json

from verifyloop.api.main import api

DOCUMENT = json.loads(json.dumps(api.get_openapi_schema(), default=str))


def endpoints():
    """Yield method, path and description of everything that can be asked."""
    for path, calls in DOCUMENT["paths"].items():
        for method, call in calls.items():
            yield method, path, call
