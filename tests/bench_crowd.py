"""make bench BEFORE=REV: fifty people who write without a pause, beside an earlier commit.

Each writes into a job of their own. Both trees serve on the same database kind, turn by turn.
"""

from __future__ import annotations

import os
import statistics
import subprocess
import sys
import tempfile
import threading
import time
import urllib.request
import uuid
from contextlib import ExitStack
from pathlib import Path

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "tests.settings")
django.setup()

from tests.postgres import postgres  # noqa: E402  (Django must be set up first)
from tests.process import ROOT, free_port  # noqa: E402
from tests.server.test_killed import Poster  # noqa: E402

PEOPLE, TURNS, TURN_S = 50, 3, 6
#: Run in each tree by its own Python.
FILL = f"""
import os, sys
sys.path.insert(0, os.getcwd())
import django; django.setup()
from django.core.management import call_command
call_command("migrate", verbosity=0)
from tests.server import works
works.people(); works.shelf()
for n in range({PEOPLE}): works.instrument(f"W-{{n}}")
"""


class Crowd:
    """One tree with a server of its own, and fifty people at it."""

    def __init__(self, tree: Path, folder: Path, database: str) -> None:
        self.address = f"http://127.0.0.1:{free_port()}"
        self.python = str(tree / ".venv/bin/python")
        environment = {
            **os.environ,
            "VERIFYLOOP_DATA": str(folder),
            "DJANGO_SETTINGS_MODULE": "tests.settings",
            "VERIFYLOOP_BIND": self.address.removeprefix("http://"),
            "VERIFYLOOP_WORKERS": "2",
            "VERIFYLOOP_THREADS": "4",
            **({"VERIFYLOOP_DATABASE": database} if database else {}),
        }
        subprocess.run([self.python, "-c", FILL], cwd=tree, env=environment, check=True)
        serve = ["-m", "gunicorn", "-c", "python:verifyloop.serving", "verifyloop.wsgi"]
        self.server = subprocess.Popen(
            [self.python, *serve], cwd=tree, env=environment, stderr=subprocess.DEVNULL
        )
        self._wait()
        first = Poster(self.address)
        first.sign_in()
        self.people, self.jobs = [], []
        for n in range(PEOPLE):
            one = Poster(self.address)
            one.cookies, one.token = dict(first.cookies), first.token
            self.people.append(one)
            self.jobs.append([one.call("jobs", {"tag": f"W-{n}"})["job"], 1])

    def _wait(self) -> None:
        for _ in range(600):
            try:
                urllib.request.urlopen(f"{self.address}/api/v1/session").read()
                return
            except OSError:
                time.sleep(0.05)
        raise RuntimeError("the server did not start")

    def turn(self) -> tuple[float, list[float]]:
        """Let all write for a while; return entries a second, and how long each took. [s]"""
        took: list[float] = []
        until = time.monotonic() + TURN_S

        def write(n: int) -> None:
            job = self.jobs[n]
            while time.monotonic() < until:
                note = {"id": str(uuid.uuid4()), "kind": "noted", "data": {"text": "at once"}}
                body = {"expected_seq": job[1], "events": [note]}
                begun = time.monotonic()
                job[1] = self.people[n].call(f"jobs/{job[0]}/events", body)["seq"]
                took.append(time.monotonic() - begun)

        begun = time.monotonic()
        writers = [threading.Thread(target=write, args=(n,)) for n in range(PEOPLE)]
        for one in writers:
            one.start()
        for one in writers:
            one.join()
        return len(took) / (time.monotonic() - begun), took

    def close(self) -> None:
        """End the server."""
        self.server.terminate()
        self.server.wait()


def compared(kind: str, trees: tuple[Path, Path], place: Path) -> str:
    """Return a line of the table: both trees on one kind of database."""
    with ExitStack() as open_now:
        crowds = []
        for name, tree in zip(("before", "now"), trees, strict=True):
            folder = place / f"{name}-{kind}"
            folder.mkdir()
            database = open_now.enter_context(postgres()) if kind == "PostgreSQL" else ""
            crowds.append(Crowd(tree, folder, database))
            open_now.callback(crowds[-1].close)
        rates: tuple[list[float], list[float]] = ([], [])
        waits: tuple[list[float], list[float]] = ([], [])
        for n in range(2 * TURNS):
            rate, took = crowds[n % 2].turn()
            rates[n % 2].append(rate)
            waits[n % 2].extend(took)
    said = []
    for rate, wait in zip(rates, waits, strict=True):
        p95 = sorted(wait)[int(0.95 * len(wait))]
        said.append(f"{statistics.median(rate):.1f}/s, p95 {1000 * p95:.0f} ms")
    ratio = statistics.median(rates[1]) / statistics.median(rates[0])
    return f"| {PEOPLE} people, {kind} | {said[0]} | {said[1]} | {ratio:.2f} |"


def main(revision: str) -> None:
    """Print the table."""
    with tempfile.TemporaryDirectory() as place:
        tree = Path(place) / "tree"
        git = ["git", "-C", str(ROOT)]
        subprocess.run([*git, "worktree", "add", "-q", "--detach", str(tree), revision], check=True)
        try:
            subprocess.run(["make", "-C", str(tree), ".build/python-dev"], check=True)
            print(f"| what | {revision[:10]} | now | ratio |\n|---|---|---|---|")
            for kind in ("SQLite", "PostgreSQL"):
                print(compared(kind, (tree, ROOT), Path(place)), flush=True)
        finally:
            subprocess.run([*git, "worktree", "remove", "--force", str(tree)], check=False)


if __name__ == "__main__":
    main(sys.argv[1])
