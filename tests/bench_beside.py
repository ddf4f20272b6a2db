"""make bench BEFORE=REV: this tree beside an earlier commit, turn by turn in one run.

The machine is noisy, so both are asked alternately, and medians and their ratio are printed.
"""

from __future__ import annotations

import os
import statistics
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Callable
from pathlib import Path
from types import SimpleNamespace

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "verifyloop.settings")
django.setup()

from tests.bench import ROOT, Visitor  # noqa: E402  (Django must be set up first)
from tests.process import free_port  # noqa: E402
from tests.server import works  # noqa: E402

JOBS, ROUNDS = 2_000, 80
#: Run in each tree by its own Python: fills its database, then folds when it is told to.
AGENT = """
import os, sys, time
sys.path.insert(0, os.getcwd())
import django
django.setup()
from django.core.management import call_command
call_command("migrate", verbosity=0)
from tests import bench
bench.fill()
try:
    from calibration.engine.job.fold import fold
except ImportError:
    from calibration.engine.fold import fold
from django.utils import timezone
from tests.core.play import METHOD, Play
play = Play(output_zero_percent=0.48).prepare().run("as_found")
while len(play.events) < 199:
    play.push("noted", text=f"note {len(play.events)}")
play.push("decided", step="judge", choice="adjust")
print("ready", flush=True)
for line in sys.stdin:
    took = []
    for turn in range(6):
        start = time.perf_counter()
        fold(METHOD, play.events, timezone.now())
        took.append(1000 * (time.perf_counter() - start))
    # The first one wakes the processor up.
    print(sorted(took[1:])[2], flush=True)
"""


class Side:
    """One tree with its own packages, data, server and folding process."""

    def __init__(self, tree: Path, folder: Path) -> None:
        self.tree, self.port = tree, free_port()
        self.python = str(tree / ".venv/bin/python")
        self.environment = {
            **os.environ,
            "VERIFYLOOP_DATA": str(folder),
            "VERIFYLOOP_BENCH_JOBS": str(JOBS),
            "DJANGO_SETTINGS_MODULE": "verifyloop.settings",
        }
        self.environment.pop("PYTHONPATH", None)
        self.folding = self._run("-c", AGENT)
        assert self.folding.stdout is not None
        assert self.folding.stdout.readline() == "ready\n"
        self.numbered = (tree / "verifyloop/serving.py").exists()
        self.server = self._run("-m", *self._serving())
        self._wait()

    def _serving(self) -> tuple[str, ...]:
        """Return how this tree is served: by what it had at its time."""
        if self.numbered:
            own = {"BIND": f"127.0.0.1:{self.port}", "WORKERS": "1", "THREADS": "6"}
            self.environment |= {f"VERIFYLOOP_{name}": value for name, value in own.items()}
            return ("gunicorn", "-c", "python:verifyloop.serving", "verifyloop.wsgi")
        port = ("--port", str(self.port))
        if (self.tree / "verifyloop/wsgi.py").exists():
            return ("waitress", *port, "--threads", "6", "verifyloop.wsgi:application")
        return ("uvicorn", "verifyloop.asgi:application", *port)

    def begin(self) -> None:
        """Sign in and prepare a job; its connection is not kept open for long by all servers."""
        base = "/api/v1/" if self.numbered else "/api/"
        here = SimpleNamespace(port=self.port)
        self.visitor = Visitor(here, base=base)  # type: ignore[arg-type]
        self.job = self.visitor.post("/api/v1/jobs", {"tag": "PT-0001"})["job"]
        body = {"expected_seq": 1, "events": works.prepared(), "password": ""}
        self.seq = self.visitor.post(f"/api/v1/jobs/{self.job}/events", body)["seq"]

    def _run(self, *arguments: str) -> subprocess.Popen[str]:
        return subprocess.Popen(
            [self.python, *arguments],
            cwd=self.tree,
            env=self.environment,
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
            text=True,
        )

    def _wait(self) -> None:
        for _ in range(400):
            try:
                base = "/api/v1/" if self.numbered else "/api/"
                urllib.request.urlopen(f"http://127.0.0.1:{self.port}{base}session").read()
                return
            except OSError:
                time.sleep(0.05)
        raise RuntimeError(f"the server of {self.tree} did not start")

    def append(self, i: int) -> None:
        """Send one reading."""
        value = {"applied": works.GOOD[i % 9][0], "reading": f"{works.GOOD[i % 9][1]}{i}"}
        event = works.event("reading_taken", run="as_found", point=i % 9, kept=True, **value)
        body = {"expected_seq": self.seq, "events": [event], "password": ""}
        self.seq = self.visitor.post(f"/api/v1/jobs/{self.job}/events", body)["seq"]

    def get(self, path: str) -> Callable[[int], None]:
        """Return what asks for an address."""
        return lambda i: self.visitor.get(path.format(job=self.job)) and None

    def fold(self) -> float:
        """Return how long its process takes to fold 200 events. [ms]"""
        assert self.folding.stdin is not None and self.folding.stdout is not None
        self.folding.stdin.write("go\n")
        self.folding.stdin.flush()
        return float(self.folding.stdout.readline())

    def close(self) -> None:
        """Stop both processes."""
        for process in (self.server, self.folding):
            process.kill()
            process.wait()


def took(work: Callable[[int], None], i: int) -> float:
    """Return how long something takes. [ms]"""
    start = time.perf_counter()
    work(i)
    return 1000 * (time.perf_counter() - start)


def beside(before: Side, now: Side) -> list[tuple[str, float, float]]:
    """Return medians of both, asked turn by turn. [ms]"""
    asked: dict[str, Callable[[Side, int], float]] = {
        "append one reading": lambda side, i: took(side.append, i),
        "job state": lambda side, i: took(side.get("/api/v1/jobs/{job}"), i),
        "safety strip": lambda side, i: took(side.get("/api/v1/safety"), i),
        "Today": lambda side, i: took(side.get("/api/v1/today"), i),
        "instrument search": lambda side, i: took(side.get("/api/v1/instruments?q=pt-0123"), i),
        "records, first page": lambda side, i: took(side.get("/api/v1/records"), i),
        "fold a 200-event job again": lambda side, i: side.fold(),
    }
    found = []
    for what, work in asked.items():
        pairs = [(work(before, i), work(now, i)) for i in range(ROUNDS)]
        a, b = (statistics.median(column) for column in zip(*pairs, strict=True))
        found.append((what, a, b))
    return found


def main(revision: str) -> None:
    """Print the table."""
    with tempfile.TemporaryDirectory() as place:
        tree = Path(place) / "tree"
        git = ["git", "-C", str(ROOT)]
        subprocess.run([*git, "worktree", "add", "-q", "--detach", str(tree), revision], check=True)
        sides: list[Side] = []
        try:
            subprocess.run(["make", "-C", str(tree), ".build/python-dev"], check=True)
            for name, at in (("before", tree), ("now", ROOT)):
                folder = Path(place) / name
                folder.mkdir()
                sides.append(Side(at, folder))
            for side in sides:
                side.begin()
            print(
                f"| what, median of {ROUNDS} | {revision[:10]} | now | ratio |\n|---|---|---|---|"
            )
            for what, a, b in beside(sides[0], sides[1]):
                print(f"| {what} | {a:.1f} ms | {b:.1f} ms | {b / a:.2f} |")
        finally:
            for side in sides:
                side.close()
            subprocess.run([*git, "worktree", "remove", "--force", str(tree)], check=False)


if __name__ == "__main__":
    main(sys.argv[1])
