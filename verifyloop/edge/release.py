"""Which release answers: another one says to an open page that it is out of date."""

from __future__ import annotations

import hashlib
from functools import lru_cache

from django.conf import settings

#: They name every file that is served by its hash, the rules for the browser among them.
NAMING = ("index.html", "python/where.json")


@lru_cache(maxsize=1)
def release() -> str:
    """Return version and mark of the built files, as they were when this process began."""
    told = hashlib.sha256()
    for name in NAMING:
        place = settings.WEB_DIST / name
        told.update(place.read_bytes() if place.exists() else b"")
    return f"{settings.RELEASE}+{told.hexdigest()[:12]}"
