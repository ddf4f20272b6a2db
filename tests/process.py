"""The real server as its own process, on data of its own, to be killed and started again."""

from __future__ import annotations

import contextlib
import os
import shutil
import signal
import socket
import sqlite3
import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path
from typing import IO, Any
from unittest import TestCase

from tests import databases
from tests.databases import SEEDED

ROOT = Path(__file__).resolve().parent.parent
#: the server on which the tests run, where that is not SQLite
POSTGRES = os.environ.get("VERIFYLOOP_DATABASE", "")


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


class RealServer:
    """``manage.py`` and the server in a temporary data folder."""

    def __init__(self, folder: str = "", settings: str = "tests.settings") -> None:
        self.own = None if folder else tempfile.TemporaryDirectory(prefix="verifyloop-test-")
        self.folder = folder or self.own.name
        self.port = free_port()
        self.address = f"http://127.0.0.1:{self.port}"
        self.environment = {
            **os.environ,
            "VERIFYLOOP_DATA": self.folder,
            "DJANGO_SETTINGS_MODULE": settings,
            "VERIFYLOOP_JOURNAL": "WAL",
            "VERIFYLOOP_BIND": f"127.0.0.1:{self.port}",
            "VERIFYLOOP_WORKERS": "1",
            "VERIFYLOOP_THREADS": "6",
            # A worker more a server is wanted by those tests alone that are about it.
            "VERIFYLOOP_BACKGROUND": "request",
        }
        self.process: subprocess.Popen[bytes] | None = None
        if POSTGRES:
            self.environment["VERIFYLOOP_DATABASE"] = databases.fresh()

    @classmethod
    def of_class(cls, case: type[TestCase], log: IO[str] | None = None, **said: str) -> RealServer:
        """Start one with the works of the tests, until the tests of a class are done.

        ``said`` is of its environment.
        """
        server = cls()
        case.addClassCleanup(server.close)
        server.seed("tests.seed")
        server.environment |= said
        server.start(log)
        return server

    @property
    def database(self) -> Path:
        return Path(self.folder) / "verifyloop.sqlite3"

    @property
    def keys(self) -> Path:
        return Path(self.folder) / "seal.keys"

    def manage(self, *arguments: str) -> subprocess.CompletedProcess[str]:
        return self.python("manage.py", *arguments)

    def python(self, *arguments: str) -> subprocess.CompletedProcess[str]:
        return subprocess.run(
            [sys.executable, *arguments],
            cwd=ROOT,
            env=self.environment,
            capture_output=True,
            text=True,
            check=False,
        )

    def seed(self, module: str) -> None:
        """Fill the database as a module does; one that was made already is copied."""
        if POSTGRES:
            self.environment["VERIFYLOOP_DATABASE"] = databases.filled(self, module)
            return
        made = Path(os.environ.get(SEEDED, "")) / f"{module}.sqlite3"
        if SEEDED in os.environ and made.exists():
            shutil.copy(made, self.database)
            shutil.copy(made.with_suffix(".keys"), self.keys)
            return
        self.fill(module)
        with sqlite3.connect(self.database) as store:
            store.execute("PRAGMA wal_checkpoint(TRUNCATE)")

    def rows(self, question: str) -> list[tuple[Any, ...]]:
        """Ask the database itself, whichever it is."""
        if POSTGRES:
            return databases.rows(self.environment["VERIFYLOOP_DATABASE"], question)
        with sqlite3.connect(self.database) as store:
            return store.execute(question).fetchall()

    def fill(self, module: str) -> None:
        """Make the tables, and run a module that fills them."""
        for done in (self.manage("migrate", "-v", "0"), self.python("-m", module)):
            if done.returncode:
                raise RuntimeError(done.stdout + done.stderr)

    def launch(self, log: IO[str] | None = None) -> None:
        """Start the process of the server, and do not wait for it."""
        serve = ["-m", "gunicorn", "-c", "python:verifyloop.serving", "verifyloop.wsgi"]
        self.process = subprocess.Popen(
            [sys.executable, *serve],
            cwd=ROOT,
            env=self.environment,
            start_new_session=True,
            stderr=log,
        )

    def start(self, log: IO[str] | None = None) -> None:
        self.launch(log)
        # Long, because a shared machine may stand still for seconds; nothing is measured here.
        until = time.monotonic() + 60
        while time.monotonic() < until:
            try:
                urllib.request.urlopen(f"{self.address}/api/v1/session", timeout=5).read()
                return
            except OSError:
                time.sleep(0.05)
        raise RuntimeError("the server did not start")

    def kill(self) -> None:
        """Pull the plug: SIGKILL, nothing is tidied up."""
        if self.process:
            with contextlib.suppress(ProcessLookupError):
                os.killpg(self.process.pid, signal.SIGKILL)
            self.process.wait()
            self.process = None

    def close(self) -> None:
        self.kill()
        if self.own:
            self.own.cleanup()
