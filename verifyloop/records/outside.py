"""Heads of the register leave the machine by themselves, and come back to be compared.

A head says how far the register and each open job had come. Who sets the whole database back
does not reach the heads that have left. Where they go is a setting: ``VERIFYLOOP_HEADS``.
"""

from __future__ import annotations

import contextlib
import json
import logging
import urllib.request
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import datetime
from pathlib import Path
from smtplib import SMTPException
from typing import Any

from django.conf import settings
from django.core.mail import send_mail
from django.utils import timezone

from verifyloop.records.verify import Finding, against, head_now
from verifyloop.register import book
from verifyloop.register.models import Entry
from verifyloop.register.write_lock import writing

log = logging.getLogger("verifyloop.heads")
#: How long an address is waited for. [s]
PATIENCE = 10
#: Lines of the register by which a head that no longer fits is accounted for.
ACCOUNTED = ("restored", "acknowledged")
SITE = "site"


@dataclass
class Compared:
    """What does not fit the heads outside, which heads those are, and who did not answer."""

    findings: list[Finding] = field(default_factory=list)
    heads: list[dict[str, Any]] = field(default_factory=list)
    silent: list[str] = field(default_factory=list)


def send(now: datetime) -> list[str]:
    """Send the head of now to every place, and return those that could not be reached."""
    head = {**head_now(), "at": now.isoformat(timespec="seconds")}
    text, silent = json.dumps(head), []
    for place in settings.HEADS:
        try:
            _to(place, text)
        except (OSError, SMTPException, ValueError) as failed:
            silent.append(f"{_shown(place)}: {failed}")
            log.warning("a head could not leave: %s", silent[-1])
    return silent


def _to(place: str, text: str) -> None:
    kind, _, where = place.partition(":")
    if kind == "file":
        with Path(where).open("a") as file:
            file.write(text + "\n")
    elif kind == "mail":
        send_mail("Verify Loop: head of the register", text, settings.DEFAULT_FROM_EMAIL, [where])
    elif kind == "syslog":
        log.info("head", extra={"head": json.loads(text)})
    else:
        asked = urllib.request.Request(
            place, text.encode(), {"Content-Type": "application/json"}, method="POST"
        )
        with urllib.request.urlopen(asked, timeout=PATIENCE):
            pass


def _shown(place: str) -> str:
    """Return a place as it is told: an address may hold a secret behind its host."""
    return "/".join(place.split("/")[:3]) if "//" in place else place


def compare() -> Compared:
    """Hold the newest head of every place that can be read against the records."""
    found = Compared()
    for place in settings.HEADS:
        try:
            head = _from(place)
            wrong = against(head) if head else []
        except (OSError, ValueError, KeyError, TypeError, AttributeError) as failed:
            found.silent.append(f"{_shown(place)}: {failed}")
            continue
        if head and wrong and not _accounted(head):
            found.heads.append(head)
            found.findings += wrong
    return found


def _from(place: str) -> dict[str, Any]:
    """Return the newest head of a place; nothing where none came, or it cannot be read back."""
    kind, _, where = place.partition(":")
    text = ""
    if kind == "file" and Path(where).exists():
        lines = Path(where).read_text().split("\n")
        text = next((one for one in reversed(lines) if one.strip()), "")
    elif kind in ("http", "https"):
        with urllib.request.urlopen(place, timeout=PATIENCE) as answer:
            text = answer.read(1 << 24).decode()
    said: dict[str, Any] = json.loads(text) if text.strip() else {}
    return said


def _mark(head: dict[str, Any]) -> list[Any]:
    return [head["register_line"], head["register_seal"], head.get("at", "")]


def _accounted(head: dict[str, Any]) -> bool:
    """Tell whether the register says itself that it was set back behind this head."""
    return any(
        _mark(head) in said.get("heads", []) for kind in ACCOUNTED for _, said in book.lines(kind)
    )


def keep_state(found: Compared, now: datetime) -> None:
    """Keep what the last comparison found, for who looks after the site to see on screen."""
    said = {
        "at": now.isoformat(timespec="seconds"),
        "wrong": [f"{f.where}: {f.what}" for f in found.findings],
        "silent": found.silent,
    }
    with contextlib.suppress(OSError):
        _state().write_text(json.dumps(said))


def last_state() -> dict[str, Any]:
    """Return what the last comparison found; nothing where there was none."""
    try:
        said: dict[str, Any] = json.loads(_state().read_text())
    except (OSError, ValueError):
        return {}
    return said


def _state() -> Path:
    return Path(settings.DATA_DIR) / "heads.json"


def restored(folder: str, made_at: str) -> list[str]:
    """Write into the register that all of it was set back, and return what is lost by that."""
    found = compare()
    lost = [f"{f.where}: {f.what}" for f in found.findings]
    said: dict[str, Any] = {
        "from": folder,
        "made_at": made_at,
        "lost": lost,
        "silent": found.silent,
    }
    said["line"] = book.head()[0]
    book.write("restored", SITE, {**said, "heads": [_mark(h) for h in found.heads]})
    return lost


def unacknowledged() -> Iterator[tuple[Entry, dict[str, Any]]]:
    """Yield the restores that nobody has acknowledged yet, oldest first."""
    known = set(Entry.objects.filter(kind="acknowledged").values_list("subject", flat=True))
    for entry in Entry.objects.filter(kind="restored").order_by("pk"):
        if f"line {entry.pk}" not in known:
            yield entry, json.loads(entry.said)


def acknowledge(line: int) -> bool:
    """Write that a person knows of a restore; false where there is none that waits.

    Heads that only answer now, of before the restore, are accounted for too. They are asked
    before anything is written: nobody waits for the turn while a place does not answer.
    """
    found = compare()
    with writing():
        waiting = {entry.pk: said for entry, said in unacknowledged()}
        if line not in waiting:
            return False
        before = [h for h in found.heads if h["register_line"] >= waiting[line]["line"]]
        lost = [f"{f.where}: {f.what}" for f in found.findings] if before else []
        heads = [_mark(h) for h in before]
        book.write("acknowledged", f"line {line}", {"lost": lost, "heads": heads})
    keep_state(compare(), timezone.now())
    return True
