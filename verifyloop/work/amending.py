"""Issuing a paper again, with an error in its words put right."""

from __future__ import annotations

import uuid
from collections.abc import Mapping
from datetime import datetime

from calibration.engine.admission.amending import amended
from calibration.engine.job import events as core
from verifyloop.accounts.models import User
from verifyloop.accounts.permissions import require
from verifyloop.accounts.proving import proven
from verifyloop.register import book
from verifyloop.register.write_lock import writing
from verifyloop.work.appending import PLACE, keep
from verifyloop.work.at_hand import job_by_number
from verifyloop.work.folding import core_job, events_of
from verifyloop.work.issuing import rules
from verifyloop.work.models import Job
from verifyloop.work.storing import store, tail_of


@writing()
def amend(
    *,
    actor: User,
    number: str,
    changes: Mapping[str, str],
    reason: str,
    password: str,
    now: datetime,
) -> Job:
    """Issue the paper of a job again; the issues before it stay."""
    require(actor, "job.amend")
    proven(
        actor.username,
        password,
        (
            "The password is not right. Nothing was issued.",
            "Type the password you sign in with.",
            "password",
        ),
    )
    job = job_by_number(number)
    standing = events_of(job)
    ledger = core_job(job, standing, now).ledger
    at = now.isoformat(timespec="milliseconds")
    paper, what = amended(ledger, changes, reason, at)
    line, seal = book.head()
    beside = {"register_line": line, "register_seal": seal}
    paper["chain"] = {"events": len(standing), "seal": job.head, **beside}
    last = ledger.issued[-1][0]
    event = core.make_event(
        id=str(uuid.uuid4()),
        seq=len(standing) + 1,
        kind="issued",
        at=at,
        by=actor.display_name,
        role=actor.role,
        source="typed",
        data={
            "issue": last.issue + 1,
            "core": rules(),
            "paper": paper,
            "projected": last.projected,
            "what": what,
            "reason": reason.strip(),
        },
        account=actor.username,
        arrived=at,
    )
    before = job.seq
    store(job, [event], actor)
    job.seq, job.changed_at = event.seq, event.when
    job.tail = tail_of(job)
    keep(job, {name: getattr(job, name) for name in (*PLACE, "changed_at")}, before)
    return job
