"""A state sent in parts: who says which parts are held already is sent only the others.

Each part is named by a digest over its name and its content, so whoever made an answer, in whatever
process or release, a part that is left out is the one that is held.
"""

from __future__ import annotations

import hashlib
from dataclasses import fields
from typing import Any

import orjson
from django.http import HttpRequest, HttpResponse

from calibration.kernel.codec import encode

#: What a page holds, as it was told in ``TOLD`` with the answer before.
HOLDS = "Parts-Held"
TOLD = "Parts"
#: letters of a part's digest
LENGTH = 12
#: Far more than a state has parts; the rest of a longer header is not read.
MOST = 100


def _name(part: str, content: bytes) -> str:
    said = hashlib.blake2b(part.encode() + b"\0" + content, digest_size=LENGTH // 2)
    return said.hexdigest()


def in_parts(request: HttpRequest, value: Any) -> HttpResponse:
    """Send a dataclass of the core: all of it, or what is not held of it."""
    held = request.headers.get(HOLDS, "")[: MOST * LENGTH]
    known = {held[n : n + LENGTH] for n in range(0, len(held), LENGTH)}
    names, sent = [], []
    for field in fields(value):
        content = orjson.dumps(getattr(value, field.name), default=encode)
        name = _name(field.name, content)
        names.append(name)
        if name not in known:
            sent.append(orjson.dumps(field.name) + b":" + content)
    found = HttpResponse(b"{" + b",".join(sent) + b"}", content_type="application/json")
    found[TOLD] = "".join(names)
    return found
