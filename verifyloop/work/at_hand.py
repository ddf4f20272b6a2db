"""Jobs that people are at just now, kept added up in this process: a place of working only.

What is kept counts only while the store says the same newest seal, which stands for every entry
before it. It is in one pair of hands at a time: whoever comes meanwhile reads the job anew, and
whatever ends in an error is not put back.
"""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from typing import Any

from django.utils import timezone

from calibration.engine.job import events as core
from calibration.engine.job.ledger import Ledger
from verifyloop.errors import NotFound
from verifyloop.register import keys
from verifyloop.work.folding import core_job, events_of, read_payload
from verifyloop.work.models import Event, Job
from verifyloop.work.projection import FIELDS

#: So many jobs are kept in a process.
MOST = 64


@dataclass
class Standing:
    """A job as it was read, its entries, and what is added to them just now."""

    job: Job
    events: list[core.Event]
    ledger: Ledger
    added: list[core.Event] = field(default_factory=list)
    #: the columns of its row as they are saved
    saved: dict[str, Any] = field(init=False)

    def __post_init__(self) -> None:
        self.saved = self.columns()

    def columns(self) -> dict[str, Any]:
        """Return what lists show of the job."""
        return {name: getattr(self.job, name) for name in FIELDS}

    def has(self, kind: str) -> bool:
        """Tell whether something of a kind is added."""
        return any(e.kind == kind for e in self.added)


_kept: OrderedDict[str, Standing] = OrderedDict()
_hands = threading.Lock()


def job_by_number(number: str, *, to_write: bool = False) -> Job:
    """Return one job; ``to_write``: nobody else writes to it until the transaction ends."""
    every = Job.objects.select_related("instrument__area")
    every = every.select_for_update(of=("self",)) if to_write else every
    found = every.filter(number=number).first()
    if found is None:
        raise _unknown(number)
    return found


def _unknown(number: str) -> NotFound:
    return NotFound("job.unknown", f"There is no job '{number[:40]}'.", "Start from Today.")


def _caught_up(here: Standing, seq: int, head: str, tag: str) -> bool:
    """Add what others wrote since; tell whether the job is now as the store says.

    Each entry proves by its seal that it stands behind the one before.
    """
    job = here.job
    if job.instrument.tag != tag or job.seq > seq:
        return False
    if job.seq == seq:
        return job.head == head
    newer = Event.objects.filter(job=job, seq__gt=job.seq, seq__lte=seq).order_by("seq")
    before = job.head
    for kind, payload, seal in newer.values_list("kind", "payload", "seal"):
        if kind == "retracted" or not keys.fits(before, payload, seal):
            return False
        event, before = read_payload(payload), seal
        here.events.append(event)
        here.ledger.add(event)
    if before != head or len(here.events) != seq:
        return False
    job.seq, job.head = seq, head
    # Its columns were not read: all of them are saved with the next entry.
    here.saved = {}
    return True


@contextmanager
def at_hand(number: str, *, to_write: bool = False, anew: bool = False) -> Iterator[Standing]:
    """Have a job as it stands now; ``to_write``: nobody else writes until the transaction ends.

    ``anew``: its instrument is read again too, which other jobs and planners change.

    Raises
    ------
    NotFound
        ``job.unknown``.
    """
    with _hands:
        found = _kept.pop(number, None)
    rows = Job.objects.select_for_update(of=("self",)) if to_write else Job.objects
    newest = rows.filter(number=number).values_list("seq", "head", "instrument__tag").first()
    if newest is None:
        raise _unknown(number)
    if found is None or anew or not _caught_up(found, *newest):
        job = job_by_number(number)
        events = events_of(job)
        found = Standing(job, events, core_job(job, events, timezone.now()).ledger)
    yield found
    found.added = []
    if len(found.events) == found.job.seq:
        with _hands:
            _kept[number] = found
            while len(_kept) > MOST:
                _kept.popitem(last=False)
