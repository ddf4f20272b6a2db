"""A database of many jobs for ``make bench``: one real job, copied with its own seals."""

from __future__ import annotations

import json
import os
import uuid
from datetime import timedelta
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from verifyloop.work.models import Job

JOBS = int(os.environ.get("VERIFYLOOP_BENCH_JOBS", "10000"))
EVENTS, INSTRUMENTS, CHUNK = 40, 800, 500
#: Methods whose jobs are opened, and how many of each.
OPENED = (
    "pressure_transmitter",
    "trace_oxygen",
    "trace_new_sensor",
    "mixture_calibrate",
    "gc_calibrate",
)
OPENINGS = 20


def fill() -> None:
    """Make the instruments and copy one real signed job until there are that many."""
    from django.db import connection

    from verifyloop.plant.models import Instrument

    model = signed_job(EVENTS)
    with connection.cursor() as cursor:
        # The indexes of millions of events are kept in memory while they grow; nothing is flushed.
        cursor.execute("PRAGMA cache_size = -3000000")
        cursor.execute("PRAGMA synchronous = OFF")
    pressure = Instrument.objects.filter(tag__startswith="PT-")
    tags = list(pressure.values_list("pk", flat=True))
    for start in range(1, JOBS, CHUNK):
        copy(model, tags, range(start, min(start + CHUNK, JOBS)))


def signed_job(length: int) -> Job:
    """Return a job worked and signed by the rules, filled with notes to that many events."""
    from django.utils import timezone

    from tests.server import families, gcs, mixtures, traces, works
    from verifyloop.accounts.models import User
    from verifyloop.plant.models import Plan
    from verifyloop.work.appending import Batch, append_events
    from verifyloop.work.sent import NewEvent
    from verifyloop.work.services import open_job

    works.people()
    works.shelf()
    ana = User.objects.get(username="ana")
    today = timezone.localdate()
    for n in range(INSTRUMENTS):
        works.instrument(f"PT-{n:04d}", next_due=today + timedelta(days=n % 180))
    families.shelf()
    families.rig(families.instrument("TE-1", "pt100_sensor"), "pt100_sensor", pace=1.0)
    works.rig(works.instrument("RIG-1"), pace=1.0)
    makers = (works.instrument, traces.analyzer, traces.analyzer, mixtures.analyzer, gcs.device)
    for method, make in zip(OPENED, makers, strict=True):
        for n in range(OPENINGS):
            make(f"O-{method}-{n}", method=method)
    Plan.objects.filter(instrument__tag__startswith="O-").update(
        next_due=today + timedelta(days=90)
    )
    model = open_job(actor=ana, tag="PT-0000", now=timezone.now())
    sent = works.prepared() + works.readings() + works.returned()
    sent += [works.event("noted", text=f"note {n}") for n in range(length - 2 - len(sent))]
    sent.append(works.event("signed"))
    new = [NewEvent(uuid.UUID(e["id"]), e["kind"], e["data"]) for e in sent]
    append_events(
        Batch(
            actor=ana,
            number=model.number,
            expected_seq=1,
            events=new,
            now=timezone.now(),
            identity_proven=True,
        )
    )
    model.refresh_from_db()
    return model


def copy(model: Job, tags: list[int], numbers: range) -> None:
    """Write one copy a number, straight into the tables: the models are too slow for millions."""
    from django.db import connection, transaction

    from verifyloop.register.keys import seal
    from verifyloop.work.models import Event, Job

    originals = list(Event.objects.filter(job=model).order_by("seq"))
    texts = []
    for event in originals:
        said = {**json.loads(event.payload), "job": "<job>", "id": "<id>"}
        texts.append(json.dumps(said))
    fields = [f.column for f in Event._meta.concrete_fields if not f.primary_key]
    given = ("job_id", "seq", "uuid", "kind", "at", "by", "actor_id", "payload", "seal")
    assert sorted(fields) == sorted(given), fields
    at = [str(e.at.replace(tzinfo=None)) for e in originals]
    with transaction.atomic():
        jobs = []
        for n in numbers:
            job = Job.objects.get(pk=model.pk)
            job.pk, job.number = None, f"B-{n:06d}"
            job.instrument_id = tags[n % len(tags)]
            job.signed_at = job.changed_at = model.signed_at - timedelta(hours=n)
            jobs.append(job)
        rows = []
        for job in Job.objects.bulk_create(jobs):
            head = ""
            for event, moment, text in zip(originals, at, texts, strict=True):
                fresh = uuid.uuid4()
                payload = text.replace("<job>", job.number).replace("<id>", str(fresh))
                head = seal(head, payload)
                key = (job.pk, event.seq, fresh.hex, event.kind, moment, event.by)
                rows.append((*key, event.actor_id, payload, head))
        with connection.cursor() as cursor:
            places = ", ".join(["%s"] * len(given))
            cursor.executemany(
                f"INSERT INTO work_event ({', '.join(given)}) VALUES ({places})", rows
            )
