"""One waiting line of all who write: whoever waits is told, and does not ask again and again.

SQLite lets one write at a time; the others try again after a pause that grows, so that whoever
came first may wait longest. Here threads of a process wait for its lock, and the first of each
process for those of the others, by two locks on one file: who has the place at the door is next.
A process that dies leaves both at once.
"""

from __future__ import annotations

import fcntl
import os
import threading
from pathlib import Path

#: Bytes of the file that are locked; nothing is written into it.
DOOR, ROOM = 0, 1


class Line:
    """The waiting line before one database."""

    def __init__(self, path: str) -> None:
        self._path = path
        self._mine = threading.Lock()
        self._file: int | None = None

    def enter(self, seconds: float) -> bool:
        """Wait for one's turn; tell whether it came within so many seconds.

        The first of a process waits as long as another process has its turn.
        """
        if not self._mine.acquire(timeout=seconds):
            return False
        try:
            self._wait_for_others()
        except BaseException:
            self._mine.release()
            raise
        return True

    def _wait_for_others(self) -> None:
        place = self._opened()
        if place is None:
            return
        try:
            fcntl.lockf(place, fcntl.LOCK_EX, 1, DOOR)
            fcntl.lockf(place, fcntl.LOCK_EX, 1, ROOM)
            fcntl.lockf(place, fcntl.LOCK_UN, 1, DOOR)
        except OSError:
            # A disk that knows no locks: closing lets go of whatever was had.
            os.close(place)
            self._file = None

    def leave(self) -> None:
        """Let the next one in."""
        if self._file is not None:
            fcntl.lockf(self._file, fcntl.LOCK_UN, 1, ROOM)
        self._mine.release()

    def _opened(self) -> int | None:
        """Return the file; none where there is no place for one: then SQLite's own lock is all."""
        if self._file is None:
            try:
                self._file = os.open(self._path, os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600)
            except OSError:
                return None
        return self._file


_lines: dict[str, Line] = {}
_making = threading.Lock()


def line_of(database: str) -> Line:
    """Return the waiting line of a database file; each process has one a file."""
    path = str(Path(database).resolve())
    with _making:
        return _lines.setdefault(path, Line(f"{path}-line"))
