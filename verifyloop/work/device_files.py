"""Files that devices wrote: read for a step of a job, kept with it, their columns mapped once."""

from __future__ import annotations

import base64
import binascii
import hashlib
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from calibration.engine.files import device_file
from calibration.engine.job.job import Job as CoreJob
from calibration.engine.method.method import Step
from calibration.kernel.codec import decode, encode
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import exact
from calibration.kernel.sheets import Table
from verifyloop.accounts.models import User
from verifyloop.accounts.permissions import require
from verifyloop.plant.models import FileColumns, Instrument
from verifyloop.register.write_lock import writing
from verifyloop.work.folding import core_job, events_of
from verifyloop.work.models import DeviceFile, Job

MOST_BYTES = 1_000_000
#: So many are kept for one step; more are no mistake of a person.
MOST_FILES = 20


@dataclass(frozen=True)
class Sent:
    """A file as a person chose it; ``columns`` where they said which is which."""

    name: str
    content: bytes
    columns: dict[str, Any] | None


@dataclass(frozen=True)
class Looked:
    """What a file says, or what has to be said of its columns first."""

    digest: str
    values: dict[str, str]
    said: tuple[str, ...]
    form: device_file.FileForm
    table: Table
    columns: dict[str, device_file.Mapped]
    #: nobody said yet which column is which, or the file has others
    asks: bool


def content_of(text: str) -> bytes:
    """Return the bytes of a file that were sent as base64.

    Raises
    ------
    InputError
        ``file.damaged``, ``file.too_long``.
    """
    try:
        content = base64.b64decode(text, validate=True)
    except (binascii.Error, ValueError):
        raise InputError(
            "file.damaged", "file", "The file did not arrive whole.", "Send it again."
        ) from None
    if len(content) > MOST_BYTES:
        raise InputError(
            "file.too_long",
            "file",
            "The file is larger than 1 MB; one run is a few lines.",
            "Choose the table of results, not the trace of the run.",
        )
    return content


def text_of(content: bytes) -> str:
    """Return the text of a file as devices write it: UTF-8, UTF-16 with its mark, or Windows."""
    if content[:2] in (b"\xff\xfe", b"\xfe\xff"):
        return content.decode("utf-16", errors="replace")
    try:
        return content.decode("utf-8-sig")
    except UnicodeDecodeError:
        return content.decode("cp1252", errors="replace")


@writing()
def look(*, actor: User, job: Job, sent: Sent, now: datetime) -> Looked:
    """Read a file for the present step of a job and keep it; ask for its columns once.

    Raises
    ------
    InputError
        ``file.not_read_here``, ``file.read_before``, ``file.too_many``, and those of
        :mod:`calibration.engine.files.device_file`.
    """
    require(actor, "job.record")
    core, form = _form(job, now)
    name = "".join(c for c in sent.name if c.isprintable()).strip()[:120] or "the file"
    known, text = _known(job.instrument, sent.columns), text_of(sent.content)
    digest = hashlib.sha256(sent.content).hexdigest()
    table = device_file.sheet(text, form, known)
    there = known is not None and all(m.header in table.headers for m in known.values())
    if known is None or (sent.columns is None and not there):
        table = device_file.sheet(text, form)
        return Looked(digest, {}, (), form, table, device_file.guess(table, form), asks=True)
    with exact():
        found = device_file.read(table, form, known, name)
    _not_read_before(job, digest)
    step = core.current.id if core.current is not None else ""
    _not_too_many(job, step, digest)
    DeviceFile.objects.update_or_create(
        job=job,
        step=step,
        digest=digest,
        defaults={
            "name": name,
            "content": sent.content,
            "values": dict(found.values),
            "at": now,
            "by": actor.display_name,
        },
    )
    if sent.columns is not None:
        FileColumns.objects.create(
            instrument=job.instrument, columns=encode(known), at=now, by=actor.display_name
        )
    return Looked(digest, dict(found.values), found.said, form, table, dict(known), asks=False)


def _form(job: Job, now: datetime) -> tuple[CoreJob, device_file.FileForm]:
    core = core_job(job, events_of(job), now)
    form = core.family.filed(core) if job.status == Job.Status.OPEN else None
    if form is None:
        raise InputError(
            "file.not_read_here",
            "file",
            "No file is read at the present step.",
            "Go on to the step that takes the values.",
        )
    return core, form


def _known(
    instrument: Instrument, said: dict[str, Any] | None
) -> dict[str, device_file.Mapped] | None:
    """Return where the columns are: as a person says now, or as was said once."""
    if said is not None:
        return {
            str(id)[:40]: decode(device_file.Mapped, place, f"columns.{id}")
            for id, place in list(said.items())[:20]
        }
    kept = instrument.file_columns.order_by("-pk").first()
    if kept is None:
        return None
    return {id: decode(device_file.Mapped, place, "columns") for id, place in kept.columns.items()}


def _not_too_many(job: Job, step: str, digest: str) -> None:
    others = DeviceFile.objects.filter(job=job, step=step).exclude(digest=digest)
    if others.count() >= MOST_FILES:
        raise InputError(
            "file.too_many",
            "file",
            f"{MOST_FILES} files were read at this step already.",
            "Use one of them, or type the values.",
        )


def _not_read_before(job: Job, digest: str) -> None:
    """Refuse a file whose values stand in this job or in another already."""
    for other in Job.objects.filter(device_files__digest=digest).distinct():
        events = events_of(other)
        gone = {e.content.event for e in events if e.kind == "retracted"}
        for event in events:
            kept = getattr(event.content, "read_from", None)
            if kept is not None and kept.digest == digest and event.id not in gone:
                raise InputError(
                    "file.read_before",
                    "file",
                    f"This very file was read in {other.number} already.",
                    "Choose the file of this run.",
                )


def read_from(job: Job, step: Step | None, said: object) -> dict[str, Any]:
    """Return what is kept of the file that an entry names by its digest.

    Raises
    ------
    InputError
        ``file.unknown``.
    """
    digest = said.get("digest") if isinstance(said, dict) else said
    kept = DeviceFile.objects.filter(
        job=job, step=step.id if step is not None else "", digest=str(digest)[:64]
    ).first()
    if kept is None:
        raise InputError(
            "file.unknown",
            "data.read_from",
            "That file was not read at this step.",
            "Read it again, or type the values.",
        )
    return {"name": kept.name, "digest": kept.digest, "values": kept.values}
