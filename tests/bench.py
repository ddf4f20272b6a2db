"""make bench: medians and 95th percentiles, over real HTTP, with 10,000 jobs of 40 events.

``VERIFYLOOP_BENCH_JOBS`` sets another number of jobs.
"""

from __future__ import annotations

import json
import os
import re
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from http.client import HTTPConnection
from pathlib import Path
from typing import Any

from tests import bench_core
from tests.bench_fill import EVENTS, JOBS, OPENED, OPENINGS, fill
from tests.bench_plant import bring_along
from tests.process import RealServer

ROOT = Path(__file__).resolve().parent.parent


def measure(work: Callable[[int], object], rounds: int) -> tuple[float, float]:
    """Return median and 95th percentile in milliseconds."""
    took = []
    for i in range(rounds):
        start = time.perf_counter()
        work(i)
        took.append(1000 * (time.perf_counter() - start))
    took.sort()
    return statistics.median(took), took[int(0.95 * len(took)) - 1]


def rows() -> list[tuple[str, str, str, str]]:
    """Measure everything; each row is what, median, 95th percentile, aim."""
    from django.utils import timezone

    from calibration.engine.job.fold import fold
    from tests.core.play import METHOD, Play
    from tests.server import works
    from verifyloop.work.models import Job

    server = RealServer(os.environ["VERIFYLOOP_DATA"], "verifyloop.settings")
    server.environment["VERIFYLOOP_BACKGROUND"] = "worker"
    server.start()
    client = Visitor(server)
    # What is measured is measured at the size of a large plant.
    found = bring_along(Visitor(server, "pia"), timezone.localdate())

    def add(what: str, took: tuple[float, float], aim: str) -> None:
        found.append((what, f"{took[0]:.1f} ms", f"{took[1]:.1f} ms", aim))

    number = client.post("/api/v1/jobs", {"tag": "PT-0001"})["job"]
    body = {"expected_seq": 1, "events": works.prepared(), "password": ""}
    seq = [client.post(f"/api/v1/jobs/{number}/events", body)["seq"]]

    def append(i: int) -> None:
        event = works.event(
            "reading_taken",
            run="as_found",
            point=i % 9,
            applied=works.GOOD[i % 9][0],
            reading=f"{works.GOOD[i % 9][1]}{i}",
            kept=True,
        )
        body = {"expected_seq": seq[0], "events": [event], "password": ""}
        seq[0] = client.post(f"/api/v1/jobs/{number}/events", body)["seq"]

    add("append one reading (HTTP, fold, fsync)", measure(append, 40), "p95 ≤ 25 ms")
    add("job state", measure(lambda i: client.get(f"/api/v1/jobs/{number}"), 60), "≤ 15 ms")
    add("safety strip", measure(lambda i: client.get("/api/v1/safety"), 60), "≤ 15 ms")
    put_into_block(client)
    inside = "with one sensor in a block"
    add(
        f"job state, {inside}",
        measure(lambda i: client.get(f"/api/v1/jobs/{number}"), 60),
        "≤ 15 ms",
    )
    add(f"safety strip, {inside}", measure(lambda i: client.get("/api/v1/safety"), 60), "≤ 15 ms")
    add("Today", measure(lambda i: client.get("/api/v1/today"), 60), "p95 ≤ 60 ms")
    add("Today, a filter", measure(lambda i: client.get("/api/v1/today?q=feed"), 40), "p95 ≤ 60 ms")
    add(
        "instrument search",
        measure(lambda i: client.get(f"/api/v1/instruments?q=pt-0{i % 800:03d}"), 60),
        "p95 ≤ 60 ms",
    )
    add("records, first page", measure(lambda i: client.get("/api/v1/records"), 40), "p95 ≤ 60 ms")
    add(
        "records, search",
        measure(lambda i: client.get(f"/api/v1/records?q=pt-0{i % 800:03d}"), 40),
        "p95 ≤ 60 ms",
    )
    play = Play(output_zero_percent=0.48).prepare().run("as_found")
    while len(play.events) < 199:
        play.push("noted", text=f"note {len(play.events)}")
    play.push("decided", step="judge", choice="adjust")
    add(
        "fold a 200-event job again",
        measure(lambda i: fold(METHOD, play.events, timezone.now()), 60),
        "≤ 5 ms",
    )

    def cold(i: int) -> None:
        from calibration.engine.judging import evaluation
        from calibration.engine.method import run_kind

        evaluation.evaluate.cache_clear()
        run_kind._planned.cache_clear()
        fold(METHOD, play.events, timezone.now())

    add("the same, nothing remembered", measure(cold, 60), "≤ 5 ms")
    for method in OPENED:
        add(
            f"open a job, {method}",
            measure(
                lambda n, m=method: client.post("/api/v1/jobs", {"tag": f"O-{m}-{n}"}), OPENINGS
            ),
            "p95 ≤ 60 ms",
        )
    signed = Job.objects.filter(signed_at__isnull=False).first()
    path = f"/api/v1/records/{signed.number}/certificate.pdf"
    add("certificate as PDF", measure(lambda i: client.raw("GET", path), 20), "≤ 300 ms")
    server.kill()
    return found


def put_into_block(client: Visitor) -> str:
    """Prepare a sensor and put it into its block; return its job, which goes on by itself."""
    from tests.server import works

    job = client.post("/api/v1/jobs", {"tag": "TE-1"})["job"]
    block = client.get(f"/api/v1/jobs/{job}/kit?quantity=heat_source")[0]["asset"]
    kit = (("probe", "temperature"), ("meter", "resistance"), ("block", "heat_source"))
    # A commit before has no such step: its answer is not asked for there.
    steps = [s["id"] for s in client.get(f"/api/v1/jobs/{job}")["steps"]]
    events = []
    if "how_read" in steps:
        said = "in Ω or mV"
        events.append(works.event("recorded", step="how_read", field="read_as", value=said))
    for role, quantity in kit:
        found = client.get(f"/api/v1/jobs/{job}/kit?quantity={quantity}")
        events.append(works.event("kit_chosen", role=role, asset=found[0]["asset"]))
    events += [
        works.event("recorded", step="operator", field="operator", value="Jo"),
        works.event("put_on", step="bypass"),
        *(works.event("confirmed", step="isolate", item=i) for i in ("well", "cool", "tagged")),
        works.event("recorded", step="identity", field="serial", value="S-77"),
        works.event("put_on", step="connect"),
        works.event("recorded", step="junction", field="temperature", value="23"),
        works.event("timer_waived", step="warm_up", reason="on since morning"),
        works.event("placed", run="as_found", block=block),
    ]
    body = {"expected_seq": 1, "events": events, "password": ""}
    client.post(f"/api/v1/jobs/{job}/events", body)
    return str(job)


class Visitor:
    """A person with one connection to the real server."""

    def __init__(self, server: RealServer, username: str = "ana", base: str = "/api/v1/") -> None:
        #: a commit before has addresses without a number
        self.base = base
        self.connection = HTTPConnection("127.0.0.1", server.port)
        self.cookies: dict[str, str] = {}
        self.token = ""
        self.token = self.get("/api/v1/session")["csrf_token"]
        who = {"username": username, "password": "long-enough-7"}
        self.token = self.post("/api/v1/session", who)["csrf_token"]

    def raw(
        self, method: str, path: str, body: object = None, shape: str = "application/json"
    ) -> bytes:
        headers = {
            "Cookie": "; ".join(f"{k}={v}" for k, v in self.cookies.items()),
            "X-CSRFToken": self.token,
            "Content-Type": shape,
        }
        path = path.replace("/api/v1/", self.base, 1)
        sent = body if isinstance(body, bytes) or not body else json.dumps(body)
        self.connection.request(method, path, sent, headers)
        answer = self.connection.getresponse()
        said = answer.read()
        assert answer.status == 200, (path, said[:300])
        for cookie in answer.headers.get_all("Set-Cookie") or []:
            name, _, value = cookie.split(";")[0].partition("=")
            self.cookies[name] = value
        return said

    def get(self, path: str) -> Any:
        return json.loads(self.raw("GET", path))

    def post(self, path: str, body: object) -> Any:
        return json.loads(self.raw("POST", path, body))


def _read(name: str) -> str:
    return (ROOT / "web/dist/assets" / name).read_text()


def first_screen() -> list[tuple[str, str]]:
    """Return what is sent for the first screen, as it lies there compressed: kind and size."""
    dist = ROOT / "web/dist"
    page = (dist / "index.html").read_text()
    needs = re.compile(r"""(?:from|import)\s*["']\./([\w.-]+\.js)["']""")
    names = set(re.findall(r"/assets/([\w.-]+\.(?:js|css))", page))
    names |= {more for n in names if n.endswith(".js") for more in needs.findall(_read(n))}

    def sent(name: str) -> int:
        path = dist / "assets" / name
        packed = path.with_name(f"{name}.br")
        return (packed if packed.exists() else path).stat().st_size

    scripts = sum(sent(n) for n in names if n.endswith(".js"))
    styles = sum(sent(n) for n in names if n.endswith(".css")) + len(page)
    fonts = sum(p.stat().st_size for p in (dist / "assets").glob("*.woff2"))
    return [
        ("first screen, brotli: scripts, styles, page", f"{(scripts + styles) / 1000:.0f} kB"),
        ("its fonts, kept for a year", f"{fonts / 1000:.0f} kB"),
    ]


def second_start() -> float:
    """Return how long ``make demo`` takes, the second time, until it answers. [s]"""
    from tests.process import free_port

    port = free_port()
    with tempfile.TemporaryDirectory() as folder:
        environment = {**os.environ, "VERIFYLOOP_DATA": folder, "PORT": str(port)}
        took = 0.0
        for _ in range(2):
            start = time.perf_counter()
            process = subprocess.Popen(
                ["make", "demo", f"PORT={port}", f"DEMO={folder}"],
                cwd=ROOT,
                env=environment,
                stdout=subprocess.DEVNULL,
                start_new_session=True,
            )
            while subprocess.run(
                ["curl", "-sf", "-o", "/dev/null", f"http://127.0.0.1:{port}/"], check=False
            ).returncode:
                time.sleep(0.1)
            took = time.perf_counter() - start
            os.killpg(process.pid, 9)
            process.wait()
    return took


def main() -> None:
    """Print the table."""
    with tempfile.TemporaryDirectory() as folder:
        os.environ["VERIFYLOOP_DATA"] = folder
        os.environ["DJANGO_SETTINGS_MODULE"] = "verifyloop.settings"
        import django
        from django.core.management import call_command

        django.setup()
        call_command("migrate", verbosity=0)
        print(f"filling {JOBS} jobs of {EVENTS} events ...", file=sys.stderr)
        fill()
        table = rows()
        os.environ.pop("VERIFYLOOP_DATA")
    print("| what | median | p95 | aim |\n|---|---|---|---|")
    for row in table:
        print("| " + " | ".join(row) + " |")
    for (what, size), aim in zip(first_screen(), ("≤ 100 kB", "none set"), strict=True):
        print(f"| {what} | {size} | | {aim} |")
    print(f"| `make demo`, second start | {second_start():.1f} s | | ≤ 6 s |")


if __name__ == "__main__":
    main()
    bench_core.show()
