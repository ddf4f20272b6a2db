"""A PostgreSQL of the tests' own: Debian's, started in a folder of its own, gone at the end.

``python -m tests.postgres tests.server`` runs tests on it.
"""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from tests.databases import SEEDED
from tests.process import ROOT, free_port

#: Where Debian puts the programs of each version; the newest is taken.
PLACES = sorted(Path("/usr/lib/postgresql").glob("*/bin"), key=lambda p: int(p.parent.name))
#: Nothing here has to survive a pulled plug; more processes than a test of many at once asks for.
QUICK = "-c fsync=off -c synchronous_commit=off -c full_page_writes=off -c max_connections=200"
#: What is about the store: who writes at once, what is refused, lists, records, any request.
STORE = [
    f"tests.server.test_{name}"
    for name in (
        "allowed",
        "any_request.AtTheDoor",
        "any_request.Fuzz",
        "at_once",
        "backup",
        "every_table",
        "interleaved",
        "jobs",
        "lists.Fates",
        "lists.KitLists",
        "lists.RoundTrip",
        "past",
        "plans",
        "postgres",
        "query_counts",
        "store",
        "tampering",
        "together",
    )
]


def programs() -> Path | None:
    """Return where the programs of PostgreSQL lie; none where it is not installed."""
    return PLACES[-1] if PLACES else None


@contextmanager
def postgres() -> Iterator[str]:
    """Start a server and yield the address of an empty database on it."""
    there = programs()
    if there is None:
        raise SystemExit("PostgreSQL is needed. On Debian, as root: apt-get install postgresql")
    folder, port = Path(tempfile.mkdtemp(prefix="verifyloop-postgres-")), free_port()
    # It refuses to run as root: then the account that Debian made for it runs it.
    run = ["runuser", "-u", "postgres", "--"] if os.geteuid() == 0 else []
    if run:
        shutil.chown(folder, "postgres")
    data = str(folder / "data")

    def call(name: str, *arguments: str) -> None:
        subprocess.run(
            [*run, str(there / name), *arguments], check=True, stdout=subprocess.DEVNULL, cwd="/"
        )

    try:
        call("initdb", "-D", data, "-U", "verifyloop", "-A", "trust", "-E", "UTF8", "--locale=C")
        options = f"{QUICK} -c listen_addresses=127.0.0.1 -k {folder} -p {port}"
        call("pg_ctl", "-D", data, "-w", "-l", str(folder / "log"), "-o", options, "start")
        try:
            yield f"postgresql://verifyloop@127.0.0.1:{port}/postgres"
        finally:
            call("pg_ctl", "-D", data, "-m", "immediate", "stop")
    finally:
        shutil.rmtree(folder, ignore_errors=True)


def main(labels: list[str]) -> int:
    """Run tests on it, on all processors."""
    command = ["nice", "-n", "10", sys.executable, "manage.py", "test", "--noinput", "--parallel"]
    with postgres() as address, tempfile.TemporaryDirectory() as folder:
        own = {"VERIFYLOOP_DATABASE": address, SEEDED: folder}
        environment = {**os.environ, **own}
        done = subprocess.run(
            [*command, os.environ.get("W", str(os.cpu_count() or 2)), *(labels or STORE)],
            cwd=ROOT,
            env=environment,
            check=False,
        )
    return done.returncode


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
