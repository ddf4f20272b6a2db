"""The connection: by itself SQLite cannot open a file with a journal beside it on such a disk."""

from __future__ import annotations

import sqlite3
from pathlib import Path
from typing import Any
from urllib.parse import quote

from django.db.backends.sqlite3 import base
from django.db.backends.sqlite3.base import *  # noqa: F403


class DatabaseWrapper(base.DatabaseWrapper):
    """Opens a file that nobody can write to as one that does not change, for one request."""

    unchanging = False

    def get_new_connection(self, conn_params: dict[str, Any]) -> Any:
        """Return a connection; where the disk is read-only, one that only reads."""
        self.unchanging = False
        try:
            return super().get_new_connection(conn_params)
        except sqlite3.OperationalError:
            path = Path(str(conn_params["database"]))
            # With a journal there is somebody who writes: then this is not the reason.
            if not path.exists() or path.with_name(f"{path.name}-wal").exists():
                raise
            plain = {k: v for k, v in conn_params.items() if k != "database"}
            self.unchanging = True
            commands, self.init_commands = self.init_commands, []
            try:
                address = f"file:{quote(str(path))}?immutable=1"
                return super().get_new_connection({**plain, "database": address, "uri": True})
            finally:
                self.init_commands = commands

    def close_if_unusable_or_obsolete(self) -> None:
        """Look again at the next request: the disk may be as it was."""
        if self.unchanging and not self.in_atomic_block:
            self.close()
        super().close_if_unusable_or_obsolete()
