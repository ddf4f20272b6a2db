"""Lists are stored in the background, in lots: each lot whole, others write in between.

What was accepted is a preview. A row that somebody changed since is skipped and named; a list
that was stopped, or whose worker died, goes on where it was: what is stored already is as the
file says, and so unchanged.
"""

from __future__ import annotations

import hashlib
import logging
import time
from collections.abc import Iterator, Mapping, Sequence
from datetime import datetime
from typing import Any

from django.utils import timezone
from django_tasks import task

from calibration.engine.job.sealing import canonical
from calibration.kernel.errors import InputError
from verifyloop import form_values
from verifyloop.accounts.models import User
from verifyloop.accounts.permissions import require
from verifyloop.errors import Conflict, DomainError, NotFound
from verifyloop.lists.kinds import ListKind, Row
from verifyloop.lists.models import Brought
from verifyloop.lists.services import Looked, Preview, Step, kind_of_list, look_at, mark_of
from verifyloop.plant.zone import zone_now
from verifyloop.register import book
from verifyloop.register.models import Entry
from verifyloop.register.who import in_the_name
from verifyloop.register.write_lock import writing

log = logging.getLogger("verifyloop.lists")
State = Brought.State
#: So many rows are stored at once, and so long others have the store to themselves after it. [s]
LOT, PAUSE = 20, 0.05
#: How often somebody who waits is told how far it is. [s]
TELL = 0.3
ACTIVE, OPEN = (State.WAITING, State.RUNNING), (State.STOPPED, State.REFUSED)
#: So many skipped rows are named.
NAMED = 200


def accept(
    *, actor: User, kind: str, name: str, content: bytes, mark: str, now: datetime
) -> Brought:
    """Begin to store a file whose preview has this mark."""
    require(actor, kind_of_list(kind).code)
    with writing():
        one = Brought.objects.create(
            kind=kind, name=name, content=content, mark=mark[:24], actor=actor, at=now
        )
        digest = hashlib.sha256(content).hexdigest()
        book.write("list", f"list {one.pk}", {"kind": kind, "name": name, "sha256": digest})
    store_list.enqueue(one.pk)
    return one


@task()
def store_list(number: int) -> None:
    """Store a list, from its beginning or from where it was."""
    # Taken once, however often it was asked for.
    if not Brought.objects.filter(pk=number, state=State.WAITING).update(state=State.RUNNING):
        return
    one = Brought.objects.select_related("actor").get(pk=number)
    with in_the_name(one.actor.username), timezone.override(zone_now()):
        try:
            _store(one)
        except (InputError, DomainError) as wrong:
            _end(one, State.REFUSED, {"code": wrong.code, "message": wrong.message})
        except Exception:
            # Whatever it was, nobody waits for it without end: it stands, and may go on.
            log.exception("list %s ended by a fault", number)
            said = "It ended by a fault of the server. What is stored stays."
            _end(one, State.STOPPED, {**one.said, "message": said})


def _store(one: Brought) -> None:
    spec, looked = kind_of_list(one.kind), None
    for step in look_at(actor=one.actor, kind=one.kind, name=one.name, content=bytes(one.content)):
        looked = step if isinstance(step, Looked) else looked
    if looked is None or any(r.fate == "refused" for r in looked.rows):
        raise _changed()
    # The mark is of the whole; once a part is stored, the rest of the same file is the work.
    if not one.done and mark_of(looked.rows) != one.mark:
        raise _changed()
    skipped = list(one.said.get("skipped", []))
    if not one.was:
        one.was = {r.key: _state(looked.before.get(r.key)) for r in looked.work}
    # What others changed since it was accepted is theirs, also while the list stood still.
    moved = {r.key for r in looked.work if one.was.get(r.key) != _state(looked.before.get(r.key))}
    skipped += sorted(moved - set(skipped))
    work = [r for r in looked.work if r.key not in moved]
    first = one.done
    one.total = first + len(work)
    one.save(update_fields=["total", "was"])
    standing = _Standing(spec, looked)
    for start in range(0, len(work), LOT):
        if Brought.objects.filter(pk=one.pk, stop=True).exists():
            _end(one, State.STOPPED, {"skipped": skipped})
            return
        skipped += _lot(one, spec, work[start : start + LOT], standing)
        one.done = first + min(len(work), start + LOT)
        one.save(update_fields=["done"])
        time.sleep(PAUSE)
    sums = {fate: sum(r.fate == fate for r in looked.rows) for fate in ("new", "changed")}
    _end(one, State.DONE, {"sums": sums, "skipped": skipped})


def _state(record: Mapping[str, Any] | None) -> str:
    """Return a short mark of what there is of a row; empty where there is nothing."""
    if record is None:
        return ""
    return hashlib.sha256(canonical(record).encode()).hexdigest()[:12]


class _Standing:
    """What there is of each row, read anew only where somebody else changed something."""

    def __init__(self, spec: ListKind, looked: Looked) -> None:
        self.spec, self.before, self.now = spec, looked.before, looked.before
        self.at = looked.at

    def moved(self, rows: Sequence[Row]) -> set[str]:
        """Return the keys of rows that are not as they were when they were looked at."""
        newer = Entry.objects.filter(pk__gt=self.at, kind__in=("row", "gone"))
        if newer.exists():
            self.now = dict(self.spec.records())
            self.at = book.head()[0]
        return {r.key for r in rows if self.now.get(r.key) != self.before.get(r.key)}


def _lot(one: Brought, spec: ListKind, rows: Sequence[Row], standing: _Standing) -> list[str]:
    """Store a lot, all of it or nothing, and return what was skipped."""
    with writing():
        moved = standing.moved(rows)
        for _ in spec.store([r for r in rows if r.key not in moved], one.actor, _why(one), one.at):
            pass
        standing.at = book.head()[0]
    return sorted(moved)


def _why(one: Brought) -> str:
    return f"list {one.pk}, {one.name}"[:200]


def _end(one: Brought, state: str, said: Mapping[str, Any]) -> None:
    one.state, one.stop, one.said = state, False, dict(said)
    if state == State.DONE:
        one.content, one.was = b"", {}
    with writing():
        one.save(update_fields=["state", "stop", "said", "content", "was"])
        kept = {"state": str(state), "done": one.done, "skipped": len(said.get("skipped", []))}
        book.write("list", f"list {one.pk}", kept)


def _changed() -> Conflict:
    return Conflict(
        "list.changed",
        "The plant has changed since this file was looked at.",
        "Look at it again; what was not stored yet is as it was.",
    )


def followed(number: int) -> Iterator[Step | Preview]:
    """Yield how far a list is until it ends, then what came of it.

    Raises
    ------
    Conflict
        ``list.changed``, ``list.stopped``; what a list was refused for.
    """
    while True:
        one = Brought.objects.defer("content").get(pk=number)
        yield Step("writing" if one.state != State.WAITING else "waiting", one.done, one.total)
        if one.state not in ACTIVE:
            break
        time.sleep(TELL)
    if one.state == State.REFUSED:
        raise Conflict(one.said["code"], one.said["message"], "Look at the file again.")
    if one.state == State.STOPPED:
        said = f"Stopped: {one.done} of {one.total} rows are stored."
        raise Conflict("list.stopped", said, "Let it go on below, or leave it so.")
    skipped = one.said.get("skipped", [])
    yield Preview(one.mark, {**one.said["sums"], "skipped": len(skipped)}, (), (), True)


def stop(*, actor: User, number: int) -> Brought:
    """Stop a list after the lot under way; what is stored stays."""
    one = brought(actor, number)
    if one.state not in ACTIVE:
        raise Conflict("list.ended", "That list is not being stored.", "Reload.")
    Brought.objects.filter(pk=number).update(stop=True)
    Brought.objects.filter(pk=number, state=State.WAITING).update(state=State.STOPPED, stop=False)
    return brought(actor, number)


def go_on(*, actor: User, number: int) -> Brought:
    """Let a list that was stopped go on with what is not stored yet."""
    one = brought(actor, number)
    if one.state not in OPEN or not one.content:
        raise Conflict("list.ended", "That list has nothing to go on with.", "Reload.")
    Brought.objects.filter(pk=number, state__in=OPEN).update(state=State.WAITING, stop=False)
    store_list.enqueue(number)
    return brought(actor, number)


def may_take_back(one: Brought) -> bool:
    """Tell whether what a list entered can be taken back, as far as nobody used it."""
    ended = one.state in (State.DONE, *OPEN) and not one.said.get("taken_back")
    return ended and hasattr(kind_of_list(one.kind), "take_back")


def take_back(*, actor: User, number: int, reason: str) -> Brought:
    """Take back what a list entered and nobody has used since; the register keeps that it was.

    Raises
    ------
    Conflict
        ``list.ended``.
    """
    one = brought(actor, number)
    if not may_take_back(one):
        raise Conflict("list.ended", "That list has nothing to take back.", "Reload.")
    said = form_values.text(form_values.reason(reason), "reason", "The reason", 200)
    with writing():
        taken, kept = kind_of_list(one.kind).take_back(_why(one))  # type: ignore[attr-defined]
        one.said = {**one.said, "taken_back": len(taken), "kept": kept}
        one.state, one.content = State.STOPPED, b""
        one.done = max(0, one.done - len(taken))
        one.save(update_fields=["said", "state", "content", "done"])
        told = {"taken_back": taken, "kept": kept, "reason": said}
        book.write("list", f"list {one.pk}", told)
    return brought(actor, number)


def brought(actor: User, number: int) -> Brought:
    """Return a list that was brought in, where somebody may bring in such lists."""
    one = Brought.objects.filter(pk=number).first()
    if one is None:
        raise NotFound("list.unknown", "There is no such list.", "Reload.")
    require(actor, kind_of_list(one.kind).code)
    return one


def begin_again() -> int:
    """Take up lists whose worker ended with them, and return how many there are."""
    numbers = list(Brought.objects.filter(state__in=ACTIVE).values_list("pk", flat=True))
    Brought.objects.filter(pk__in=numbers).update(state=State.WAITING)
    for number in numbers:
        store_list.enqueue(number)
    return len(numbers)
