"""When an entry was made: by the device's steady clock, else by its wall clock, else on arrival.

The time of arrival and what the device's clock showed are kept beside it. No entry is moved to
another moment to make it fit: what cannot be is refused.
"""

from __future__ import annotations

from datetime import datetime, timedelta

from calibration.engine.job.clocks import words
from calibration.kernel.errors import InputError
from verifyloop.work.sent import NewEvent

#: A clock may be this far ahead before it is asked about.
AHEAD = timedelta(seconds=60)
#: An entry may wait on a device for so long.
OLDEST = timedelta(days=31)
#: Clocks further apart than this decide about days: nobody signs by one of them.
APART = timedelta(hours=12)


def time_of(sent: NewEvent, now: datetime, opened: datetime) -> datetime:
    """Return when an entry was made.

    Raises
    ------
    InputError
        ``event.time``, ``event.before_job``.
    """
    if sent.at is not None and sent.at.tzinfo is None:
        raise InputError(
            "event.time", "at", "The time has no zone.", "Send it with its zone, as in ISO 8601."
        )
    if sent.age_s is not None:
        made = _aged(sent.age_s, now)
    elif sent.at is not None:
        made = sent.at
        if made > now + AHEAD:
            raise InputError(
                "event.time",
                "at",
                "The event lies in the future.",
                "Check the clock of the device; the entry is kept.",
            )
    else:
        made = now
    if made < opened - AHEAD:
        raise InputError(
            "event.before_job",
            "at",
            f"The entry is of {made:%Y-%m-%d %H:%M}, before the job was opened.",
            "Check the clock of the device; the entry is kept.",
        )
    return max(made, opened)


def _aged(age_s: float, now: datetime) -> datetime:
    if not 0 <= age_s <= OLDEST.total_seconds():
        raise InputError(
            "event.time",
            "age_s",
            "The entry is too old to be sent.",
            f"Send entries within {OLDEST.days} days, or enter it again.",
        )
    return now - timedelta(seconds=age_s)


def clocks_agree(sent: NewEvent, now: datetime) -> None:
    """Refuse a signature while server and device do not agree about the day.

    Raises
    ------
    InputError
        ``clock.differs``.
    """
    if sent.at is None or sent.age_s is None:
        return
    apart = abs(sent.at - (now - timedelta(seconds=sent.age_s)))
    if apart > APART:
        raise InputError(
            "clock.differs",
            "at",
            f"The clocks of this device and of the server are {words(apart)} apart.",
            "Have the wrong one put right, then sign: next due dates follow from the day.",
        )
