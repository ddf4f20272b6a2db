"""The certificate of a stored job."""

from __future__ import annotations

import json
from datetime import datetime
from pathlib import Path
from typing import Any

from calibration.engine.certificate import certificate
from verifyloop.errors import DomainError
from verifyloop.work.folding import core_job, events_of, state_of
from verifyloop.work.models import Job

SCHEMA_PATH = Path(__file__).with_name("certificate.schema.json")


def schema() -> dict[str, Any]:
    """Return the published JSON Schema of a certificate."""
    found: dict[str, Any] = json.loads(SCHEMA_PATH.read_text())
    return found


def certificate_of(job: Job, now: datetime) -> dict[str, Any]:
    """Return the certificate of a signed job."""
    if job.signed_at is None:
        raise DomainError(
            "certificate.not_signed",
            f"Job {job.number} is not signed yet.",
            "A certificate exists once the job is signed.",
        )
    events = events_of(job)
    state = state_of(job, events, now)
    return certificate(core_job(job, events, now), state, job.head)
