"""Files of strangers are opened in a process of their own, which may be killed.

A small file can ask for hours and gigabytes. Whatever it does there, it has so much time and
memory, one file at a time, and nothing of it is left when its process ends.
"""

from __future__ import annotations

import fcntl
import json
import subprocess
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from django.conf import settings

from calibration.kernel.errors import InputError
from verifyloop.errors import Conflict

#: How long one may take, and how long the next one waits for its turn. [s]
LONGEST, PATIENCE = 90, 20
ROOT = Path(__file__).resolve().parents[2]


def opened(what: str, name: str, content: bytes) -> tuple[Any, bytes]:
    """Return what a function of ``child`` makes of a file: plain values, and bytes.

    Raises
    ------
    InputError
        what the function refuses; ``file.too_heavy`` where it took too much.
    Conflict
        ``file.others_first``.
    """
    with _turn():
        try:
            done = subprocess.run(
                [sys.executable, "-m", "verifyloop.files.child", what, name],
                input=content,
                capture_output=True,
                timeout=LONGEST,
                cwd=ROOT,
                check=False,
            )
        except subprocess.TimeoutExpired:
            raise _too_heavy() from None
    head, _, body = done.stdout.partition(b"\n")
    if done.returncode or not head:
        raise _too_heavy()
    said = json.loads(head)
    if "refused" in said:
        raise InputError(**said["refused"])
    return said["is"], body


def _too_heavy() -> InputError:
    return InputError(
        "file.too_heavy",
        "file",
        "The file asks for more time or memory than any list, paper or photo needs.",
        "Save it anew, by itself; split a long list.",
    )


@contextmanager
def _turn() -> Iterator[None]:
    """Wait until no other file is being opened, in whichever process of the server."""
    with (Path(settings.DATA_DIR) / "opening.lock").open("w") as lock:
        until = time.monotonic() + PATIENCE
        while True:
            try:
                fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
                break
            except BlockingIOError:
                if time.monotonic() > until:
                    raise Conflict(
                        "file.others_first",
                        "Files of others are being opened.",
                        "Send it again in a minute.",
                        "file",
                    ) from None
                time.sleep(0.05)
        yield
