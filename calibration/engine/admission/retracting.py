"""Which events may be taken back."""

from __future__ import annotations

from calibration.engine.job.events import Event, ReadingTaken
from calibration.engine.job.ledger import Ledger
from calibration.engine.method.family import family_of

_NEVER = (
    "opened",
    "retracted",
    "signed",
    "issued",
    "reviewed",
    "followed_up",
    "voided",
    "lock_hung",
    "lock_taken_off",
    "lock_ended",
)


def retractable(ledger: Ledger, event: Event) -> str:
    """Return why an event cannot be taken back; empty when it can."""
    if ledger.voided is not None:
        return "The job is voided; it never changes. Open a new one."
    if ledger.signed is not None:
        return "The job is signed; it never changes. Follow it with a new job."
    if event.kind in _NEVER:
        return "This entry cannot be taken back."
    if event.id in ledger.retracted:
        return "It was taken back already."
    for attempt in ledger.attempts:
        read = (t.event.id for points in attempt.readings.values() for t in points.values())
        if event.id == attempt.event.id or event.id in read:
            return "The test was repeated since: what was read stays on record."
    before = isinstance(event.content, ReadingTaken) and ledger.method.run(event.content.run).before
    if before and ledger.changes:
        return "The instrument was adjusted since: its as-found readings are history."
    if event.kind == "put_on" and event.seq < ledger.seq:
        return "It was on and other work followed. Take it off in its own step instead."
    own = family_of(ledger.method).events.get(event.kind)
    return own.stands if own is not None else ""
