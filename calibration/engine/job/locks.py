"""Locks that people hang before hands go in: each hangs their own, and takes off only that one.

What is kept of them; :mod:`calibration.engine.admission.locking` says what may be entered.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from calibration.kernel.codec import about


@dataclass(frozen=True, kw_only=True)
class LockHung:
    """A person hung their own lock, and proved that nothing starts."""

    step: str = about("step")
    proven: str = about("how it was proven that it cannot start")


@dataclass(frozen=True, kw_only=True)
class LockTakenOff:
    """A person took their own lock off."""

    step: str = about("step in which it was hung")


@dataclass(frozen=True, kw_only=True)
class LockEnded:
    """The lock of somebody absent came off by a planner's decision."""

    step: str = about("step in which it was hung")
    account: str = about("whose lock it is, by the name they sign in with")
    procedure: str = about("site procedure by which it is done")
    reached: str = about("who was reached, or how it was tried")
    reason: str = about("why it cannot wait")


#: In the method: steps in which locks are hung, and in which they come off.
HANG, TAKE_OFF = "lock_on", "lock_off"


@dataclass(frozen=True)
class Past:
    """A lock that is off again: in which step, whose, since when, and how it came off."""

    step: str
    hung: Any
    off: Any


@dataclass
class Locks:
    """The locks of a job."""

    #: by step and person: the entry that hung it
    on: dict[tuple[str, str], Any] = field(default_factory=dict)
    past: list[Past] = field(default_factory=list)
    #: steps whose work is done, and whose last lock is off, in the present round
    closed: set[str] = field(default_factory=set)

    def on_step(self, step: str) -> list[Any]:
        """Return the entries of the locks that hang for a step."""
        return [event for (id, _), event in self.on.items() if id == step]


def hang(ledger: Any, content: LockHung, event: Any) -> None:
    """Hang a lock."""
    ledger.locks.on[content.step, event.person] = event


def take_off(ledger: Any, content: LockTakenOff, event: Any) -> None:
    """Take one's own lock off."""
    _off(ledger, content.step, event.person, event)


def end(ledger: Any, content: LockEnded, event: Any) -> None:
    """End the lock of somebody absent."""
    _off(ledger, content.step, content.account, event)


def _off(ledger: Any, step: str, person: str, event: Any) -> None:
    hung = ledger.locks.on.pop((step, person), None)
    if hung is None:
        return
    ledger.locks.past.append(Past(step, hung, event))
    if not ledger.locks.on_step(step) and _work_done(ledger, step):
        ledger.locks.closed.add(step)


def _work_done(ledger: Any, hung_in: str) -> bool:
    """Tell whether what is done under the locks of a step is done."""
    steps = ledger.method.steps
    first = next(n for n, s in enumerate(steps) if s.id == hung_in)
    last = next(n for n, s in enumerate(steps) if s.ends == hung_in)
    for step in steps[first + 1 : last]:
        if step.kind == "put_on" and step.id not in ledger.put_on:
            return False
        if step.kind == "take_off" and step.id not in ledger.taken_off:
            return False
        if any((step.id, item.id) not in ledger.confirmed for item in step.items):
            return False
    return True
