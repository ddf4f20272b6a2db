"""What is to be said about the clocks that a job was recorded by."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime, timedelta
from itertools import pairwise

from calibration.engine.job.events import Event

#: A gap of more than this is shown.
SHOWN = timedelta(minutes=1)


def said_of(event: Event) -> str:
    """Return what is to be said about the time of an entry; empty when nothing.

    That it arrived later than it was made, and that the device's own clock showed another time.
    """
    said = []
    if event.arrived:
        late = datetime.fromisoformat(event.arrived) - event.when
        if late > SHOWN:
            said.append(f"arrived {words(late)} later")
    if event.wall:
        apart = datetime.fromisoformat(event.wall) - event.when
        if abs(apart) > SHOWN:
            ahead = "ahead" if apart > timedelta(0) else "behind"
            said.append(f"clock of the device {words(abs(apart))} {ahead}")
    return ", ".join(said)


def jumps(events: Sequence[Event]) -> tuple[str, ...]:
    """Return where the server's clock went back between two entries, in words."""
    said = []
    for one, other in pairwise(events):
        if not (one.arrived and other.arrived):
            continue
        back = datetime.fromisoformat(one.arrived) - datetime.fromisoformat(other.arrived)
        if back > SHOWN:
            said.append(
                f"Entry {other.seq} reached the server {words(back)} before entry {one.seq} by the "
                "server's clock: the clock was changed. Times before it may be wrong."
            )
    return tuple(said)


def words(apart: timedelta) -> str:
    """Return a length of time in words, in the unit that a person would use."""
    minutes = round(apart.total_seconds() / 60)
    if minutes < 120:
        return f"{minutes} min"
    hours = round(minutes / 60)
    return f"{hours} h" if hours < 48 else f"{round(hours / 24)} days"
