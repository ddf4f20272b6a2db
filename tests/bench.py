"""make bench: medians and 95th percentiles with 10,000 jobs of 40 events in the database."""

from __future__ import annotations

import gzip
import json
import os
import re
import statistics
import subprocess
import sys
import tempfile
import time
import uuid
from collections.abc import Callable
from datetime import timedelta
from pathlib import Path

from tests import bench_core

JOBS, EVENTS, INSTRUMENTS = 10_000, 40, 800
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


def fill() -> None:
    """Make the instruments and copy one real job over and over, each with its own seals."""
    from django.db import transaction
    from django.utils import timezone

    from calibration.engine.events import seal
    from tests.server import works
    from verifyloop.accounts.models import User
    from verifyloop.plant.models import Instrument
    from verifyloop.work.models import Event, Job
    from verifyloop.work.sent import NewEvent
    from verifyloop.work.services import append_events, open_job

    works.people()
    works.shelf()
    ana = User.objects.get(username="ana")
    today = timezone.localdate()
    for n in range(INSTRUMENTS):
        works.instrument(f"PT-{n:04d}", next_due=today + timedelta(days=n % 180))
    model = open_job(actor=ana, tag="PT-0000", now=timezone.now())
    sent = works.prepared() + works.readings() + works.returned()
    sent += [works.event("noted", text=f"note {n}") for n in range(EVENTS - 2 - len(sent))]
    sent.append(works.event("signed"))
    events = [NewEvent(uuid.UUID(e["id"]), e["kind"], e["data"]) for e in sent]
    append_events(
        actor=ana,
        number=model.number,
        expected_seq=1,
        events=events,
        now=timezone.now(),
        identity_proven=True,
    )
    model.refresh_from_db()
    originals = list(Event.objects.filter(job=model).order_by("seq"))
    payloads = [json.loads(e.payload) for e in originals]
    tags = list(Instrument.objects.values_list("pk", flat=True))
    for chunk in range(1, JOBS, 250):
        with transaction.atomic():
            jobs, rows = [], []
            for n in range(chunk, min(chunk + 250, JOBS)):
                job = Job.objects.get(pk=model.pk)
                job.pk, job.number = None, f"B-{n:05d}"
                job.instrument_id = tags[n % len(tags)]
                job.signed_at = model.signed_at - timedelta(hours=n)
                jobs.append(job)
            made = Job.objects.bulk_create(jobs)
            for job in made:
                head = ""
                for original, said in zip(originals, payloads, strict=True):
                    fresh = uuid.uuid4()
                    payload = json.dumps({**said, "job": job.number, "id": str(fresh)})
                    head = seal(head, payload)
                    rows.append(
                        Event(
                            job=job,
                            seq=original.seq,
                            uuid=fresh,
                            kind=original.kind,
                            at=original.at,
                            by=original.by,
                            actor=ana,
                            payload=payload,
                            seal=head,
                        )
                    )
            Event.objects.bulk_create(rows, batch_size=1000)


def rows() -> list[tuple[str, str, str, str]]:
    """Measure everything; each row is what, median, 95th percentile, aim."""
    from django.test import Client
    from django.utils import timezone

    from calibration.engine.fold import fold
    from tests.core.play import METHOD, Play
    from tests.server import works
    from verifyloop.accounts.models import User
    from verifyloop.work.models import Job

    client = Client()
    client.force_login(User.objects.get(username="ana"))
    found = []

    def add(what: str, took: tuple[float, float], aim: str) -> None:
        found.append((what, f"{took[0]:.1f} ms", f"{took[1]:.1f} ms", aim))

    number = client.post("/api/jobs", {"tag": "PT-0001"}, content_type="application/json").json()[
        "job"
    ]
    body = {"expected_seq": 1, "events": works.prepared(), "password": ""}
    client.post(f"/api/jobs/{number}/events", body, content_type="application/json")
    seq = [client.get(f"/api/jobs/{number}").json()["seq"]]

    def append(i: int) -> None:
        event = works.event(
            "reading_taken",
            run="as_found",
            point=i % 9,
            applied=works.GOOD[i % 9][0],
            reading=f"{works.GOOD[i % 9][1]}{i}",
            kept=True,
        )
        said = client.post(
            f"/api/jobs/{number}/events",
            {"expected_seq": seq[0], "events": [event], "password": ""},
            content_type="application/json",
        )
        assert said.status_code == 200, said.content
        seq[0] = said.json()["seq"]

    add("append one reading (HTTP, fold, fsync)", measure(append, 40), "p95 ≤ 25 ms")
    add("Today", measure(lambda i: client.get("/api/today"), 60), "p95 ≤ 60 ms")
    add(
        "instrument search",
        measure(lambda i: client.get(f"/api/instruments?q=pt-0{i % 800:03d}"), 60),
        "p95 ≤ 60 ms",
    )
    add("records, first page", measure(lambda i: client.get("/api/records"), 40), "none set")
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
        from calibration.engine import evaluation, runfacts

        evaluation.evaluate.cache_clear()
        runfacts._planned.cache_clear()
        fold(METHOD, play.events, timezone.now())

    add("the same, nothing remembered", measure(cold, 60), "≤ 5 ms")
    signed = Job.objects.filter(signed_at__isnull=False).first()
    path = f"/api/records/{signed.number}/certificate.pdf"
    add("certificate as PDF", measure(lambda i: client.get(path), 20), "≤ 300 ms")
    return found


def first_screen() -> str:
    """Return the gzipped size of the scripts that the first screen loads."""
    dist = ROOT / "web/dist"
    page = (dist / "index.html").read_text()
    names = set(re.findall(r"/assets/([\w.-]+\.js)", page))
    main = next(n for n in names if n.startswith("index"))
    text = (dist / "assets" / main).read_text()
    names |= {n for n in re.findall(r"assets/([\w.-]+\.js)", text) if n.startswith("TodayPage")}
    today = next(n for n in names if n.startswith("TodayPage"))
    names |= set(re.findall(r"\./([\w.-]+\.js)", (dist / "assets" / today).read_text()))
    size = sum(len(gzip.compress((dist / "assets" / n).read_bytes())) for n in names)
    return f"{size / 1000:.0f} kB"


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
                ["make", "demo", f"PORT={port}"],
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
    print(f"| scripts of the first screen, gzipped | {first_screen()} | | ≤ 200 kB |")
    print(f"| `make demo`, second start | {second_start():.1f} s | | ≤ 6 s |")


if __name__ == "__main__":
    main()
    bench_core.show()
