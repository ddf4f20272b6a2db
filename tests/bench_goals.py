"""CPU of the server a request, at a plant's size, each beside bare Django and beside its goal.

    python -m tests.bench_goals FOLDER [--jobs N] [--only WORDS] [--keep]

The folder is filled once. Bare Django (`tests.bare`) is asked in the same minute on the same data:
how many times as much a row takes says more than its milliseconds, which change by a factor of two
from hour to hour. ``--keep`` writes these ratios down; without it a row is named that has become
worse than 1.3 times what was kept.
"""

from __future__ import annotations

import argparse
import json
import os
import shutil
import statistics
import subprocess
import sys
import time
import urllib.request
from collections.abc import Callable
from pathlib import Path
from typing import Any

TICK = os.sysconf("SC_CLK_TCK")
ROUNDS = 30
KEPT = Path(__file__).parent / "bench_kept.json"
WORSE = 1.3
#: what is asked, goal for the CPU of the server [ms]; a bare row stands behind it
GOALS = {
    "a job that there is not": 3.0,
    "append one reading": 6.8,
    "Today": 25.0,
    "job state": 12.0,
    "safety strip": 5.0,
    "job state, one in a block": 12.0,
    "safety strip, one in a block": 5.0,
    "sensors": 60.0,
    "instrument with 2,000 jobs": 30.0,
    "instrument with few": 12.0,
    "open a job there": 25.0,
    "open a pressure job": 25.0,
    "live frame": 2.0,
    "live frame, one in a block": 2.0,
    "instruments, search": 8.0,
    "records, last page": 25.0,
    "records, words": 25.0,
    "records, no hit": 25.0,
}


def filled(folder: Path, jobs: int) -> None:
    """Fill a folder once: instruments by a list, jobs, and histories."""
    if (folder / "filled").exists():
        return
    folder.mkdir(parents=True, exist_ok=True)
    from django.core.management import call_command
    from django.db import connection
    from django.utils import timezone

    from tests import bench_fill, bench_history
    from tests.bench import Visitor
    from tests.bench_plant import bring_along
    from tests.process import RealServer

    call_command("migrate", verbosity=0)
    bench_fill.fill()
    bench_history.add(jobs)
    connection.close()
    server = RealServer(str(folder), "verifyloop.settings")
    server.environment["VERIFYLOOP_BACKGROUND"] = "worker"
    server.start()
    bring_along(Visitor(server, "pia"), timezone.localdate())
    server.kill()
    (folder / "filled").write_text(str(jobs))


def spent(server: Any) -> float:
    """Return the CPU that a server and its processes have taken so far. [ms]"""
    group, total = os.getpgid(server.process.pid), 0
    for stat in Path("/proc").glob("[0-9]*/stat"):
        try:
            said = stat.read_text().rsplit(")", 1)[1].split()
        except OSError:
            continue
        if int(said[2]) == group:
            total += int(said[11]) + int(said[12])
    return 1000 * total / TICK


def measured(server: Any, work: Callable[[int], object], rounds: int = ROUNDS) -> dict[str, float]:
    """Return CPU a request, and median and 95th percentile of the wall. [ms]"""
    for i in range(2):
        work(i)
    walls, before = [], spent(server)
    for i in range(2, rounds + 2):
        begun = time.perf_counter()
        work(i)
        walls.append(1000 * (time.perf_counter() - begun))
    cpu = (spent(server) - before) / rounds
    walls.sort()
    p95 = walls[int(0.95 * len(walls)) - 1]
    return {
        "cpu": round(cpu, 2),
        "median": round(statistics.median(walls), 2),
        "p95": round(p95, 2),
    }


def asked(client: Any) -> dict[str, Callable[[int], object]]:
    """Return what is asked by name; what it needs is made here."""
    from tests.bench import put_into_block
    from tests.bench_history import HOT_TAG
    from tests.server import works

    number = client.post("/api/v1/jobs", {"tag": "PT-0001"})["job"]
    seq = [client.get(f"/api/v1/jobs/{number}")["seq"]]
    if seq[0] == 1:
        body = {"expected_seq": 1, "events": works.prepared()}
        seq[0] = client.post(f"/api/v1/jobs/{number}/events", body)["seq"]

    inside: list[str] = []
    rigged = client.post("/api/v1/jobs", {"tag": "RIG-1"})["job"]

    def append(i: int) -> None:
        applied, reading = works.GOOD[i % 9]
        data = {"run": "as_found", "point": i % 9, "applied": applied, "kept": True}
        event = works.event("reading_taken", reading=f"{reading}{i}", **data)
        body = {"expected_seq": seq[0], "events": [event]}
        seq[0] = client.post(f"/api/v1/jobs/{number}/events", body)["seq"]

    def get(path: str) -> Callable[[int], object]:
        return lambda i: client.raw("GET", f"/api/v1/{path}".replace("<i>", f"{i:03d}"))

    def opening(tags: Callable[[int], str]) -> Callable[[int], object]:
        def open_and_void(i: int) -> None:
            job = client.post("/api/v1/jobs", {"tag": tags(i)})["job"]
            void = {"expected_seq": 1, "events": [works.event("voided", reason="bench")]}
            client.post(f"/api/v1/jobs/{job}/events", void)

        return open_and_void

    def missing(i: int) -> None:
        try:
            client.raw("GET", "/api/v1/jobs/J00-00000")
        except AssertionError:
            return

    found = {
        "a job that there is not": missing,
        "append one reading": append,
        "Today": get("today"),
        "job state": get(f"jobs/{number}"),
        "safety strip": get("safety"),
        "live frame": get(f"rigs/{rigged}/frame"),
        "instruments, search": get("instruments?q=pt-0<i>"),
        "sensors": get("kit/sensors"),
        "instrument with 2,000 jobs": get(f"instruments/{HOT_TAG}"),
        "instrument with few": get("instruments/PT-0<i>"),
        "open a job there": opening(lambda i: HOT_TAG),
        "open a pressure job": opening(lambda i: f"O-pressure_transmitter-{i % 20}"),
        "records, last page": get("records?page=99999"),
        "records, words": get("records?q=pt-0<i>"),
        "records, no hit": get("records?q=nothinglikethis"),
        "_block": lambda i: inside.append(put_into_block(client)),
    }
    block = "one in a block"
    found |= {f"job state, {block}": get(f"jobs/{number}"), f"safety strip, {block}": get("safety")}
    found[f"live frame, {block}"] = lambda i: get(f"rigs/{inside[0]}/frame")(i)
    return found


def copied(folder: Path) -> Path:
    """Return a copy of the data; what is measured changes it."""
    work = folder.with_name(f"{folder.name}-now")
    shutil.rmtree(work, ignore_errors=True)
    subprocess.run(["cp", "-r", "--reflink=auto", str(folder), str(work)], check=True)
    return work


def rows(work: Path, only: str) -> dict[str, dict[str, float]]:
    """Measure every row."""
    from tests.bench import Visitor
    from tests.process import RealServer

    server = RealServer(str(work), "verifyloop.settings")
    server.start()
    client, found = Visitor(server), {}
    try:
        for name, ask in asked(client).items():
            if name.startswith("_"):
                ask(0)
            elif only in name:
                found[name] = measured(server, ask)
    finally:
        server.kill()
    return found


def bare(work: Path) -> dict[str, dict[str, float]]:
    """Measure what bare Django takes on the same data, signed in by a session in its table."""
    from django.contrib.auth import BACKEND_SESSION_KEY, HASH_SESSION_KEY, SESSION_KEY
    from django.contrib.sessions.backends.db import SessionStore
    from django.db import connection

    from tests.process import RealServer
    from verifyloop.accounts.models import User

    connection.close()
    connection.settings_dict["NAME"] = str(work / "verifyloop.sqlite3")
    user, session = User.objects.get(username="ana"), SessionStore()
    session[SESSION_KEY] = str(user.pk)
    session[BACKEND_SESSION_KEY] = "django.contrib.auth.backends.ModelBackend"
    session[HASH_SESSION_KEY] = user.get_session_auth_hash()
    session.save()
    connection.close()
    server = RealServer(str(work), "tests.bare_settings")
    server.launch()
    cookie = {"Cookie": f"sessionid={session.session_key}"}

    def ask(path: str, body: bytes | None = None) -> Callable[[int], object]:
        def work(i: int) -> bytes:
            sent = urllib.request.Request(f"{server.address}/{path}", data=body, headers=cookie)
            with urllib.request.urlopen(sent, timeout=30) as answer:
                return bytes(answer.read())

        return work

    try:
        for _ in range(200):
            try:
                ask("nothing")(0)
                break
            except OSError:
                time.sleep(0.1)
        return {
            "nothing": measured(server, ask("nothing")),
            "append": measured(server, ask("append/B-000001", b"x" * 400)),
            "a page of rows": measured(server, ask("rows")),
        }
    finally:
        server.kill()


def ratios(
    found: dict[str, dict[str, float]], least: dict[str, dict[str, float]]
) -> dict[str, float]:
    """Return how many times as much as bare Django a row takes: writing, a list, or nothing."""
    beside = {"append one reading": "append", "Today": "a page of rows"}
    return {n: found[n]["cpu"] / least[beside.get(n, "nothing")]["cpu"] for n in found}


def told(
    found: dict[str, dict[str, float]], least: dict[str, dict[str, float]], kept: dict[str, float]
) -> list[str]:
    """Print the table; return the rows that have become worse."""
    print("| what | CPU, median, p95 [ms] | times bare | goal, CPU [ms] |\n|---|---|---|---|")
    for name, took in least.items():
        said = ", ".join(f"{took[k]:.1f}" for k in ("cpu", "median", "p95"))
        print(f"| bare: {name} | {said} | | |")
    now = ratios(found, least)
    for name, took in found.items():
        said = ", ".join(f"{took[k]:.1f}" for k in ("cpu", "median", "p95"))
        print(f"| {name} | {said} | {now[name]:.1f} | {GOALS.get(name, '')} |")
    return [n for n, ratio in now.items() if n in kept and ratio > WORSE * kept[n]]


def main() -> None:
    """Fill where it is empty, measure, and print the table."""
    said = argparse.ArgumentParser()
    said.add_argument("folder", type=Path)
    said.add_argument("--jobs", type=int, default=10_000)
    said.add_argument("--only", default="")
    said.add_argument("--keep", action="store_true")
    given = said.parse_args()
    os.environ["VERIFYLOOP_DATA"] = str(given.folder.resolve())
    os.environ["VERIFYLOOP_BENCH_JOBS"] = str(given.jobs)
    os.environ["DJANGO_SETTINGS_MODULE"] = "verifyloop.settings"
    import django

    django.setup()
    filled(given.folder, given.jobs)
    work = copied(given.folder)
    try:
        least = bare(work)
        found = rows(work, given.only)
    finally:
        shutil.rmtree(work, ignore_errors=True)
    every = json.loads(KEPT.read_text()) if KEPT.exists() else {}
    worse = told(found, least, every.get(str(given.jobs), {}))
    if given.keep:
        now = {name: round(ratio, 2) for name, ratio in ratios(found, least).items()}
        KEPT.write_text(json.dumps({**every, str(given.jobs): now}, indent=1) + "\n")
    elif worse:
        print(f"worse than {WORSE} times what was kept: {', '.join(worse)}", file=sys.stderr)


if __name__ == "__main__":
    main()
