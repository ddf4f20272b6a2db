"""What a request says, read strictly: no text that no file could hold, no number that is none."""

from __future__ import annotations

import re
from typing import Any

import orjson
from django.http import HttpRequest
from ninja.parser import Parser

from calibration.kernel.errors import InputError

#: The escape of a NUL character, and no backslash that is followed by its digits.
NUL = re.compile(rb"(?<!\\)(?:\\\\)*\\u0000")


class StrictParser(Parser):
    """JSON by its standard: NaN, NUL and halves of characters are refused."""

    def parse_body(self, request: HttpRequest) -> Any:
        """Return the body as plain values; what is no JSON is refused by the caller."""
        if NUL.search(request.body):
            raise InputError("text.nul", "body", "A text holds a NUL character.", "Leave it out.")
        return orjson.loads(request.body)
