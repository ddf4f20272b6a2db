"""Who may put a name under a job: people are compared, not the names they are shown by."""

from __future__ import annotations

from collections.abc import Sequence

from calibration.engine.job import events as core
from calibration.kernel.errors import InputError
from verifyloop.accounts.models import User
from verifyloop.work.models import Event, Job

#: What is no work at the instrument.
NO_WORK = ("opened", "signed", "issued", "reviewed", "followed_up")
#: What comes when the work is over, and keeps nobody from reviewing it.
AFTERWARDS = ("issued", "followed_up")


def may_sign(job: Job, actor: User, kind: str, added: Sequence[core.Event]) -> None:
    """Refuse a signature by someone who did nothing, and a review by someone who did something.

    Raises
    ------
    InputError
        ``signature.nothing_recorded``, ``review.own_work``.
    """
    own = Event.objects.filter(job=job, actor=actor)
    if kind == "signed":
        worked = any(e.kind not in NO_WORK for e in added)
        if not worked and not own.exclude(kind__in=NO_WORK).exists():
            raise InputError(
                "signature.nothing_recorded",
                "kind",
                "You recorded nothing in this job, so you cannot say that you did it.",
                "Let somebody sign who did the work.",
            )
    if kind == "reviewed" and own.exclude(kind__in=AFTERWARDS).exists():
        raise InputError(
            "review.own_work",
            "kind",
            "You have entries in this job, so you cannot review it.",
            "Ask another reviewer.",
        )
