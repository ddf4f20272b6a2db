"""What a request says, read strictly: no text that no file could hold, no number that is none."""

from __future__ import annotations

from typing import Any

import orjson
from django.http import HttpRequest
from ninja.parser import Parser


class StrictParser(Parser):
    """JSON by its standard: NaN and halves of characters are refused."""

    def parse_body(self, request: HttpRequest) -> Any:
        """Return the body as plain values; what is no JSON is refused by the caller."""
        return orjson.loads(request.body)
