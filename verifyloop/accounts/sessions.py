"""Sessions in the store, remembered for some seconds."""

from __future__ import annotations

from copy import deepcopy
from typing import Any

from django.contrib.sessions.backends import db

from verifyloop.accounts import remembered


class SessionStore(db.SessionStore):
    """A session; Django's own, which is not read again at every request."""

    def load(self) -> dict[str, Any]:
        """Return what is in the session."""
        key = self.session_key or ""
        said = remembered.find("session", key) if key else None
        if said is None:
            since = remembered.begun()
            said = super().load()
            if said:
                remembered.keep("session", key, since, said)
        return deepcopy(said)
