"""Writing into the register, and reading what it says."""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator
from datetime import UTC, datetime
from typing import Any

from django.utils import timezone

from calibration.engine.job.sealing import canonical
from verifyloop.register import keys
from verifyloop.register.models import Entry
from verifyloop.register.who import account


def write(kind: str, subject: str, said: dict[str, Any]) -> Entry:
    """Write a line behind the last one."""
    entry = _sealed(last_seal(), kind, subject, said)
    entry.save(force_insert=True)
    return entry


def write_all(kind: str, every: Iterable[tuple[str, dict[str, Any]]]) -> None:
    """Write many lines behind the last one, each sealed with the one before it."""
    seal, lines = last_seal(), []
    for subject, said in every:
        lines.append(_sealed(seal, kind, subject, said))
        seal = lines[-1].seal
    Entry.objects.bulk_create(lines, batch_size=200)


def last_seal() -> str:
    """Return the seal of the last line; empty while there is none."""
    return Entry.objects.order_by("-pk").values_list("seal", flat=True).first() or ""


def _sealed(before: str, kind: str, subject: str, said: dict[str, Any]) -> Entry:
    entry = Entry(
        at=timezone.now(),
        kind=kind,
        subject=subject,
        account=account(),
        said=canonical(said),
    )
    entry.seal = keys.seal(before, text_of(entry))
    return entry


def text_of(entry: Entry) -> str:
    """Return what the seal of a line covers."""
    return canonical([stamp(entry.at), entry.kind, entry.subject, entry.account, entry.said])


def stamp(at: datetime) -> str:
    """Return a moment as it is sealed, whatever the zone it is given in."""
    return at.astimezone(UTC).isoformat(timespec="microseconds")


def head() -> tuple[int, str]:
    """Return number and seal of the last line; zero and nothing while there is none."""
    last = Entry.objects.order_by("-pk").values_list("pk", "seal").first()
    return last or (0, "")


def lines(kind: str) -> Iterator[tuple[str, dict[str, Any]]]:
    """Yield subject and content of the lines of a kind, oldest first."""
    found = Entry.objects.filter(kind=kind).order_by("pk").values_list("subject", "said")
    for subject, said in found.iterator(chunk_size=1000):
        yield subject, json.loads(said)


def broken_line() -> tuple[int, str] | None:
    """Return the first line whose seal does not fit, with why."""
    previous = ""
    for entry in Entry.objects.order_by("pk").iterator(chunk_size=1000):
        if not keys.keyed(entry.seal) or not keys.fits(previous, text_of(entry), entry.seal):
            return entry.pk, "a line of the register was changed, put in or taken out before it"
        previous = entry.seal
    return None
