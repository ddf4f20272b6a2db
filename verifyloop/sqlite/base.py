"""The connection: who writes waits in one line; a file on a read-only disk can be read."""

from __future__ import annotations

import sqlite3
from pathlib import Path
from typing import Any
from urllib.parse import quote

from django.db import OperationalError
from django.db.backends.sqlite3 import base
from django.db.backends.sqlite3.base import *  # noqa: F403

from verifyloop.sqlite.line import Line, line_of

#: How long somebody waits for those before them, as SQLite's own "timeout" says. [s]
WAITS_S = 20.0


class DatabaseWrapper(base.DatabaseWrapper):  # type: ignore[no-redef]
    """Waits in line before it writes.

    A file that nobody can write to is opened as one that does not change, for one request.
    """

    unchanging = False
    init_commands: list[str]
    #: the line in which this connection has its turn now
    _turn: Line | None = None

    def _start_transaction_under_autocommit(self) -> None:
        self._wait_in_line()
        try:
            super()._start_transaction_under_autocommit()  # type: ignore[misc]
        except BaseException:
            self._leave_line()
            raise

    def _commit(self) -> None:
        # Where it fails it is rolled back, and the turn ends there.
        super()._commit()  # type: ignore[misc]
        self._leave_line()

    def _rollback(self) -> None:
        try:
            super()._rollback()  # type: ignore[misc]
        finally:
            self._leave_line()

    def _close(self) -> None:
        try:
            super()._close()  # type: ignore[misc]
        finally:
            self._leave_line()

    def _wait_in_line(self) -> None:
        if self.is_in_memory_db() or self._turn is not None:
            return
        line = line_of(str(self.settings_dict["NAME"]))
        if not line.enter(WAITS_S):
            raise OperationalError("database is locked")
        self._turn = line

    def _leave_line(self) -> None:
        turn, self._turn = self._turn, None
        if turn is not None:
            turn.leave()

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
