"""Attachments are put beside something, listed, and taken away with a reason."""

from __future__ import annotations

import hashlib
import os
from collections.abc import Iterator
from datetime import datetime
from pathlib import Path

from django.conf import settings

from calibration.kernel.errors import InputError
from verifyloop import form_values
from verifyloop.accounts.models import User
from verifyloop.accounts.permissions import require
from verifyloop.errors import Conflict, NotFound
from verifyloop.files.checking import checked
from verifyloop.files.models import Attachment
from verifyloop.register.write_lock import writing

#: So many lie beside one thing.
MOST = 100
#: What a photo of a job lies beside, what is one, and how many are behind a paper at most.
JOB, PHOTOS, MOST_PHOTOS = "job", ("jpg", "png"), 12


def folder() -> Path:
    """Return where contents lie."""
    return Path(settings.DATA_DIR) / "attachments"


def place_of(digest: str) -> Path:
    """Return where the content of a digest lies."""
    return folder() / digest[:2] / digest


def beside(about: str, key: str) -> list[Attachment]:
    """Return what lies beside something, newest first."""
    return list(Attachment.objects.filter(about=about, key=key, removed="").order_by("-at", "-pk"))


def add_file(
    *, actor: User, about: str, key: str, name: str, content: bytes, note: str, now: datetime
) -> Attachment:
    """Put a file beside something, once its content lies on the disk.

    Raises
    ------
    InputError
        ``file.*``.
    """
    require(actor, "file.add")
    found = checked(name, content)
    said = form_values.text(note, "note", "The note", 200, required=False)
    if Attachment.objects.filter(about=about, key=key, removed="").count() >= MOST:
        raise Conflict("file.many", f"{MOST} files lie here already.", "Take one away first.")
    digest = hashlib.sha256(found.content).hexdigest()
    _keep(place_of(digest), found.content)
    with writing():
        return Attachment.objects.create(
            about=about,
            key=key,
            name=found.name,
            kind=found.kind,
            size=len(found.content),
            digest=digest,
            note=said,
            by=actor.display_name,
            account=actor.username,
            at=now,
        )


def _keep(place: Path, content: bytes) -> None:
    """Write a content that is not there yet, whole or not at all."""
    if place.exists():
        return
    place.parent.mkdir(parents=True, exist_ok=True)
    half = place.with_name(f"{place.name}.{os.getpid()}.half")
    try:
        with half.open("wb") as file:
            file.write(content)
            file.flush()
            os.fsync(file.fileno())
        half.chmod(0o600)
        half.rename(place)
    except OSError:
        half.unlink(missing_ok=True)
        raise


@writing()
def take_away(*, actor: User, id: int, reason: str, now: datetime) -> Attachment:
    """Take a file away: it is shown no more, and kept."""
    one = attachment(id)
    if one.account != actor.username:
        require(actor, "file.remove")
    require(actor, "file.add")
    one.removed = form_values.text(form_values.reason(reason), "reason", "The reason", 200)
    one.removed_by, one.removed_at = actor.display_name, now
    one.save(update_fields=["removed", "removed_by", "removed_at"])
    return one


@writing()
def put_on_paper(*, actor: User, id: int, on: bool) -> Attachment:
    """Show a photo of a job behind its paper, or show it there no more.

    Raises
    ------
    InputError
        ``file.no_photo``, ``file.photos``.
    """
    require(actor, "file.add")
    one = attachment(id)
    if one.about != JOB or one.kind not in PHOTOS:
        raise InputError(
            "file.no_photo", "on", "Only a photo of a job is shown behind its paper.", "Add one."
        )
    if on and len(on_paper(one.key)) >= MOST_PHOTOS:
        said = f"{MOST_PHOTOS} photos are behind the paper already."
        raise InputError("file.photos", "on", said, "Take one off first.")
    one.on_paper = on
    one.save(update_fields=["on_paper"])
    return one


def on_paper(job: str) -> list[Attachment]:
    """Return the photos that are shown behind the paper of a job, oldest first."""
    photos = Attachment.objects.filter(about=JOB, key=job, removed="", on_paper=True)
    return list(photos.order_by("at", "pk"))


def attachment(id: int) -> Attachment:
    """Return one that was not taken away."""
    found = Attachment.objects.filter(pk=id, removed="").first()
    if found is None:
        raise NotFound("file.unknown", "There is no such file.", "Reload the page.")
    return found


def content_of(one: Attachment) -> bytes:
    """Return the content of an attachment, as it was kept.

    Raises
    ------
    NotFound
        ``file.lost`` when the disk has another one, or none.
    """
    place = place_of(one.digest)
    content = place.read_bytes() if place.exists() else b""
    if hashlib.sha256(content).hexdigest() != one.digest:
        raise NotFound("file.lost", f"{one.name} is not as it was kept.", "Tell who runs this.")
    return content


def lost() -> Iterator[Attachment]:
    """Yield every attachment whose content is not as it was kept."""
    for one in Attachment.objects.order_by("pk").iterator(chunk_size=200):
        try:
            content_of(one)
        except NotFound:
            yield one
