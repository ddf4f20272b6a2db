"""Putting events into the chain of their job, and what the register says of it."""

from __future__ import annotations

import uuid
from collections.abc import Sequence

from calibration.engine.job import events as core
from calibration.engine.job.sealing import canonical
from verifyloop.accounts.models import User
from verifyloop.register import book, keys
from verifyloop.work.folding import payload_of
from verifyloop.work.models import Event, Job

#: Events that the register names: with them a record begins, is closed, shown or ended.
REGISTERED = ("opened", "signed", "issued", "reviewed", "voided")


def store(job: Job, added: Sequence[core.Event], actor: User | None) -> None:
    """Seal events and store them behind those of the job."""
    put(job, sealed(job, added, actor))


def sealed(job: Job, added: Sequence[core.Event], actor: User | None) -> list[Event]:
    """Seal events behind those of the job; nothing is stored."""
    rows = []
    for event in added:
        payload = payload_of(job.number, event)
        job.head = keys.seal(job.head, payload)
        rows.append(
            Event(
                job=job,
                seq=event.seq,
                uuid=uuid.UUID(event.id),
                kind=event.kind,
                at=event.when,
                by=event.by,
                actor=actor,
                payload=payload,
                seal=job.head,
            )
        )
    return rows


def put(job: Job, rows: Sequence[Event]) -> None:
    """Store sealed events, and what the register says of them."""
    Event.objects.bulk_create(rows)
    for row in rows:
        if row.kind in REGISTERED:
            book.write(row.kind, subject_of(job), {"seq": row.seq, "seal": row.seal})


def subject_of(job: Job) -> str:
    """Return how the register names a job."""
    return f"job {job.number}"


def tail_of(job: Job) -> str:
    """Return the seal over how far a job has come: its last events cannot be cut off unseen."""
    return keys.seal(job.number, canonical([job.seq, job.head]))
