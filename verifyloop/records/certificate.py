"""The certificate of a stored job."""

from __future__ import annotations

import json
from datetime import datetime
from pathlib import Path
from typing import Any

from verifyloop.errors import DomainError, NotFound
from verifyloop.files.models import Attachment
from verifyloop.files.services import content_of, on_paper
from verifyloop.records.sheets.photos import Photo
from verifyloop.work.folding import core_job, events_of
from verifyloop.work.issuing import paper_of
from verifyloop.work.models import Job

SCHEMA_PATH = Path(__file__).with_name("certificate.schema.json")


def schema() -> dict[str, Any]:
    """Return the published JSON Schema of a certificate."""
    found: dict[str, Any] = json.loads(SCHEMA_PATH.read_text())
    return found


def certificate_of(job: Job, now: datetime, issue: int = 0) -> dict[str, Any]:
    """Return the certificate of a signed job as it was sealed; the newest issue, or a given one."""
    if job.signed_at is None:
        raise DomainError(
            "certificate.not_signed",
            f"Job {job.number} is not signed yet.",
            "A certificate exists once the job is signed.",
        )
    ledger = core_job(job, events_of(job), now).ledger
    if not 0 <= issue <= len(ledger.issued):
        raise NotFound(
            "certificate.no_such_issue",
            f"There is no issue {issue} of {job.number}.",
            f"Ask for an issue from 1 to {len(ledger.issued)}.",
        )
    return paper_of(ledger, issue)


def photos_of(job: Job) -> list[Photo]:
    """Return the photos that are shown behind the paper of a job."""
    return [
        Photo(one.name, one.note, one.by, one.at, one.digest, _content(one))
        for one in on_paper(job.number)
    ]


def _content(one: Attachment) -> bytes:
    try:
        return content_of(one)
    except NotFound:
        return b""
