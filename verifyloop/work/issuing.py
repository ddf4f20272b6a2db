"""The paper of a signed job: worked out once, sealed into the chain, and read from there."""

from __future__ import annotations

import hashlib
import uuid
from datetime import datetime
from functools import lru_cache
from pathlib import Path
from typing import Any

from django.utils import timezone

import calibration
from calibration.engine.job import events as core
from calibration.engine.job.job import Job as CoreJob
from calibration.engine.job.ledger import Ledger
from calibration.engine.papers.certificate import Beside, certificate
from calibration.kernel.codec import encode
from verifyloop.plant.selectors import site_facts
from verifyloop.register import book
from verifyloop.work.folding import state_of_ledger
from verifyloop.work.models import Job
from verifyloop.work.projection import project, projected

#: Who issues a paper that nobody asked for.
PRODUCT = "Verify Loop"


@lru_cache(maxsize=1)
def rules() -> str:
    """Return which rules work here: their version and the first digits of their text's SHA-256."""
    digest = hashlib.sha256()
    root = Path(calibration.__file__).parent
    for path in sorted(root.rglob("*.py")):
        digest.update(path.relative_to(root).as_posix().encode() + b"\0" + path.read_bytes())
    return f"{calibration.VERSION}+{digest.hexdigest()[:12]}"


def first_issue(
    job: Job, ledger: Ledger, standing: list[core.Event], now: datetime, late: str = ""
) -> core.Event:
    """Return the event that issues the paper of a job that was just signed.

    ``late`` says why it is issued later than it was signed; the product issues it then.
    """
    assert ledger.signed is not None
    state = state_of_ledger(ledger, standing, now)
    project(job, standing, state, ledger)
    by = standing[-1] if not late else None
    beside = Beside(
        site=site_facts(),
        register=book.head(),
        rules=rules(),
        issued_at=now.isoformat(),
        late=late,
        events=standing,
    )
    content = {
        "issue": 1,
        "core": rules(),
        "paper": certificate(CoreJob(ledger, timezone.localtime(now)), state, job.head, beside),
        "projected": projected(job),
        "reason": late,
    }
    return core.make_event(
        id=str(uuid.uuid4()),
        seq=len(standing) + 1,
        kind="issued",
        at=(by.at if by else now.isoformat(timespec="milliseconds")),
        by=by.by if by else PRODUCT,
        role=by.role if by else "product",
        source="typed",
        data=encode(content),
        account=by.account if by else "",
        arrived=now.isoformat(timespec="milliseconds"),
    )


def paper_of(ledger: Ledger, issue: int = 0) -> dict[str, Any]:
    """Return the paper of a signed job as it is given out: newest issue or a given one.

    What came after the seal of the content stands beside it: the review, and later issues.
    """
    place = issue - 1 if issue else -1
    content = ledger.issued[place][0]
    said: dict[str, Any] = dict(content.paper)
    said["review"] = _review(ledger)
    said["followed_up"] = _followed_up(ledger)
    said["issues"] = [
        {"issue": c.issue, "at": e.at, "by": e.by, "what": c.what, "reason": c.reason}
        for c, e in ledger.issued
    ]
    newest = ledger.issued[-1][0].issue
    said["replaced_by"] = newest if content.issue < newest else None
    return said


def _followed_up(ledger: Ledger) -> dict[str, str] | None:
    if ledger.followed_up is None:
        return None
    content, event = ledger.followed_up
    return {"what": content.what, "by": event.by, "account": event.account, "at": event.at}


def _review(ledger: Ledger) -> dict[str, str] | None:
    if ledger.reviewed is None:
        return None
    content, event = ledger.reviewed
    return {
        "outcome": content.outcome,
        "by": content.name,
        "account": event.account,
        "at": event.at,
        "comment": content.comment,
        **({"account_note": content.account_note} if content.account_note else {}),
    }
