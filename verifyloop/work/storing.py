"""Putting events into the chain of their job, and what the register says of it."""

from __future__ import annotations

import uuid
from collections.abc import Sequence

from calibration.engine import events as core
from calibration.engine.sealing import canonical
from verifyloop.accounts.models import User
from verifyloop.register import book, heads, keys
from verifyloop.work.folding import payload_of
from verifyloop.work.models import Event, Job

#: Events that the register names: with them a record begins, is closed, shown or ended.
REGISTERED = ("opened", "signed", "issued", "reviewed", "voided")


def store(job: Job, added: Sequence[core.Event], actor: User | None) -> None:
    """Seal events and store them behind those of the job."""
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
    Event.objects.bulk_create(rows)
    for row in rows:
        if row.kind in REGISTERED:
            book.write(row.kind, subject_of(job), {"seq": row.seq, "seal": row.seal})


def subject_of(job: Job) -> str:
    """Return how the register names a job."""
    return f"job {job.number}"


def settle(job: Job) -> None:
    """Say how far a job has come: on its row, and in the register apart from it."""
    job.tail = tail_of(job)
    heads.keep(subject_of(job), job.seq, job.head)


def tail_of(job: Job) -> str:
    """Return the seal over how far a job has come: its last events cannot be cut off unseen."""
    return keys.seal(job.number, canonical([job.seq, job.head]))
